"""Rotations and camera axes. Angles in radians unless a name ends in ``_deg``; matrices act on column vectors.

World axes: x right, y away, z up, right-handed. Positive yaw turns counter-clockwise seen from above.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, sin
from typing import TypeVar, cast

import numpy as np
from numpy.typing import ArrayLike, NDArray

__all__ = [
    "Bools",
    "Floats",
    "Ints",
    "after_each_other",
    "box_rotation",
    "box_rotations",
    "camera_axes",
    "half_turn",
    "square_to",
]

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]

Row = TypeVar("Row", bound=np.ndarray)


def after_each_other(parts: Sequence[Row]) -> Row:
    """Return arrays joined along their first axis; one that has all the rows is returned as it is."""
    filled = [part for part in parts if len(part)]
    return cast(Row, np.concatenate(filled)) if len(filled) > 1 else filled[0] if filled else parts[0]


def square_to(one: Floats, two: Floats) -> Floats:
    """Return the cross product of two vectors (3,): a tenth of what NumPy takes, which is made for rows of them."""
    (a, b, c), (x, y, z) = one.tolist(), two.tolist()
    return np.array([b * z - c * y, c * x - a * z, a * y - b * x])


def half_turn(angle_deg: float) -> float:
    """Return the same direction as an angle from -180 up to 180 degrees."""
    return (angle_deg + 180.0) % 360.0 - 180.0


def camera_axes(yaw: float, pitch: float = 0.0, roll: float = 0.0) -> Floats:
    """Return the rows right, up, look of a camera as a (3, 3) array.

    Yaw 0 and pitch 0 look along +y; positive yaw turns towards -x, positive pitch looks up. Roll turns the
    head about the line of sight by the right-hand rule, so a positive roll lowers the right-hand side.
    At a pitch of exactly 90 degrees (straight up) the axes stay well defined by the yaw.
    """
    sy, cy, sp, cp, sr, cr = sin(yaw), cos(yaw), sin(pitch), cos(pitch), sin(roll), cos(roll)
    right, up = (cy, sy, 0.0), (sy * sp, -cy * sp, cp)
    return np.array(
        [
            [cr * x - sr * y for x, y in zip(right, up, strict=True)],
            [sr * x + cr * y for x, y in zip(right, up, strict=True)],
            [-sy * cp, cy * cp, sp],
        ]
    )


def box_rotation(yaw: float, pitch: float = 0.0, roll: float = 0.0) -> Floats:
    """Return R = Rz(yaw) Rx(pitch) Ry(roll), (3, 3); its columns are the box's own axes a, b, c."""
    rotation: Floats = box_rotations(np.array([[yaw, pitch, roll]]))[0]
    return rotation


def box_rotations(angles: ArrayLike) -> Floats:
    """Return the rotations of ``angles`` (N, 3) yaw, pitch, roll in radians, as (N, 3, 3)."""
    angles = np.asarray(angles, dtype=np.float64).reshape(-1, 3)
    (sy, sp, sr), (cy, cp, cr) = np.sin(angles).T, np.cos(angles).T
    out = np.empty((len(angles), 3, 3))
    out[:, 0, 0], out[:, 0, 1], out[:, 0, 2] = cy * cr - sy * sp * sr, -sy * cp, cy * sr + sy * sp * cr
    out[:, 1, 0], out[:, 1, 1], out[:, 1, 2] = sy * cr + cy * sp * sr, cy * cp, sy * sr - cy * sp * cr
    out[:, 2, 0], out[:, 2, 1], out[:, 2, 2] = -cp * sr, sp, cp * cr
    return out
