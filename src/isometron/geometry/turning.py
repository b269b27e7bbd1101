"""Where rounded sides of turned bodies turn away from the eye: exactly, for any profile curve.

A side is the curve (at(t), wide(t)) turned about the axle. The normal at the angle p is along (at' cos p, at' sin p, -wide'),
so the eye (ex, ey, ez) sees it edge on where

    at' r cos(p - pe) = wide at' - wide' (at - ez),    r = |(ex, ey)|, pe their angle

(any text on contours of surfaces of revolution, e.g. Cipolla and Giblin, *Visual Motion of Curves and Surfaces*, chapter 3).
Contours go over into contours when a body is stretched, so elliptical sections are done in the measure of their own halves.
"""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import CLOSE
from isometron.geometry.turning_loops import Contours

__all__ = ["KNOTS", "SAMPLES", "crease_contours", "local_eye", "turning_lines"]

SAMPLES = 97
"""Places along each curve that are known, ends included: 96 steps, so that every second, fourth or eighth will do too."""
KNOTS = 33
"""Places along each stretch of a turned body's curve at which it is asked what the body hides of its own outline."""
_STRIDES = (8, 4, 2, 1)
_STEPS_TO_MM = 7.2
"""Times the root of a side's size on paper (mm): as many steps stray by less than 0.008 mm from a quarter round."""


def turning_lines(
    frames: Floats, curves: Floats, eye: Floats, look: Floats, distance: float
) -> tuple[Floats, Ints, Floats]:
    """Return the lines (N, 2, 3) of all contours, the sides (N,) they are on, and at both ends the step along the curve and the angle
    about the axle (N, 4).

    frames : (K, 12) middle, axle, and the two half axes of the widest section; curves : (K, `SAMPLES`, 4) at, wide and their
    derivatives by the step, as parts of the axle and of the halves. eye, look : (3,), and the viewing distance, mm.
    """
    size = np.sqrt(np.maximum((frames[:, 6:9] ** 2).sum(axis=1), (frames[:, 9:] ** 2).sum(axis=1)))
    depth = (frames[:, :3] - eye) @ look
    shown = np.flatnonzero(
        depth + size + np.sqrt((frames[:, 3:6] ** 2).sum(axis=1)) > 0.0
    )  # of what lies behind the eye nothing is
    if len(shown) == 0:
        return np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp), np.zeros((0, 4))
    frames, curves, size, depth = frames[shown], curves[shown], size[shown], depth[shown]
    steps = _STEPS_TO_MM * np.sqrt(size * distance / np.maximum(depth, 1e-3 * size))
    strides = np.array(_STRIDES)[np.searchsorted([(SAMPLES - 1) / s for s in _STRIDES[:-1]], steps)]
    e = local_eye(frames, eye)
    away, towards = np.hypot(e[:, 0], e[:, 1]), np.arctan2(e[:, 1], e[:, 0])
    side, places = Contours().find(  # type: ignore[no-untyped-call]
        np.ascontiguousarray(curves), strides, e[:, 2].copy(), away, np.maximum((np.pi / 2) / steps, 1e-3)
    )
    angles = [towards[side, None] + sign * places[..., 2] for sign in (1.0, -1.0)]
    both = [_world(frames[side], places[..., :2], angle) for angle in angles]
    params = [np.stack([places[..., 3], angle], axis=2).reshape(-1, 4) for angle in angles]
    return np.concatenate(both), shown[np.concatenate([side, side])], np.concatenate(params)


def crease_contours(creases: Floats, eye: Floats) -> tuple[Floats, Floats, Ints]:
    """Return the parts of rings at which a side bends that are seen edge on: rings (N, 9), spans (N, 2) in turns, and creases (N,).

    creases : (K, 16) frames as of `turning_lines`, how far along and how wide the rings are, and how the side widens along the axle
    before and after each. Between the angles at which the two sides are seen edge on one looks at the eye and the other does not.
    """
    e = local_eye(creases[:, :12], eye)
    away, towards = np.hypot(e[:, 0], e[:, 1]), np.arctan2(e[:, 1], e[:, 0])
    at, wide = creases[:, 12], creases[:, 13]
    with np.errstate(divide="ignore", invalid="ignore"):
        cosine = (wide[:, None] - creases[:, 14:] * (at - e[:, 2])[:, None]) / away[:, None]
    low, high = np.sort(np.arccos(np.clip(np.nan_to_num(cosine), -1.0, 1.0)), axis=1).T
    rows = np.flatnonzero(high - low > CLOSE)
    own = creases[rows]
    rings = np.hstack(
        [own[:, :3] + own[:, 12:13] * own[:, 3:6], own[:, 13:14] * own[:, 6:9], own[:, 13:14] * own[:, 9:12]]
    )
    spans = [
        np.column_stack([towards[rows] + start, (high - low)[rows]]) / (2.0 * np.pi)
        for start in (low[rows], -high[rows])
    ]
    return np.concatenate([rings, rings]), np.concatenate(spans), np.concatenate([rows, rows])


def local_eye(frames: Floats, eye: Floats) -> Floats:
    """Return the eye (K, 3) in units of the two halves and of the axle, from the middle of the lower end."""
    way = eye - frames[:, :3]
    ways = [frames[:, 6:9], frames[:, 9:], frames[:, 3:6]]
    return np.column_stack([(way * one).sum(axis=1) / (one * one).sum(axis=1) for one in ways])


def _world(frames: Floats, at: Floats, angle: Floats) -> Floats:
    """Return world places (N, 2, 3) of places (N, 2, 2) along curves at angles (N, 2)."""
    along, wide = at[..., :1], at[..., 1:]
    middle, axle, first, second = (frames[:, None, k : k + 3] for k in (0, 3, 6, 9))
    world: Floats = (
        middle + along * axle + wide * (np.cos(angle)[..., None] * first + np.sin(angle)[..., None] * second)
    )
    return world
