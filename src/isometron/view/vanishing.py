"""Vanishing points, measuring points, 45-degree points, the horizon (domain: geometry of the two- and three-point view).

Sources: Kemp, The Science of Art (1990), on measuring points; Hartley and Zisserman (2004), section 8.6, on
vanishing points as pictures of directions.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import PARALLEL
from isometron.view.eye import Eye

__all__ = [
    "Horizon",
    "LevelPoints",
    "Vanishing",
    "box_vanishing",
    "horizon",
    "level_points",
    "measuring_point",
    "point_count",
    "vanishing",
]


@dataclass(frozen=True)
class Vanishing:
    """Where a direction vanishes: a paper point ``at``, or never, and then its ``direction`` on the paper (unit)."""

    at: tuple[float, float] | None
    direction: tuple[float, float] | None

    @property
    def finite(self) -> bool:
        """Whether the direction has a vanishing point."""
        return self.at is not None


def vanishing(eye: Eye, direction: ArrayLike) -> Vanishing:
    """Return where the world ``direction`` (3,) vanishes: f (Dx/Dz, Dy/Dz) in camera axes.

    A direction with |direction . look| below `PARALLEL` (of its length) is parallel to the picture. Its
    sense on the paper is that of the direction itself.
    """
    camera = eye.axes @ np.asarray(direction, dtype=np.float64)
    camera = camera / np.sqrt(camera @ camera)
    if abs(camera[2]) >= PARALLEL:
        u, v = camera[:2] * (eye.viewing_distance / camera[2])
        return Vanishing((float(u) + 0.0, float(v) + 0.0), None)  # + 0.0 makes -0.0 plain
    length = hypot(camera[0], camera[1])
    return Vanishing(None, (float(camera[0] / length), float(camera[1] / length)))


def box_vanishing(eye: Eye, rotation: Floats) -> tuple[Vanishing, Vanishing, Vanishing]:
    """Return where the columns a, b, c of a box's ``rotation`` (3, 3) vanish."""
    a, b, c = (vanishing(eye, rotation[:, k]) for k in range(3))
    return a, b, c


def point_count(eye: Eye, rotation: Floats) -> int:
    """Return 1, 2 or 3: how many of the box's directions have a vanishing point in this view."""
    return sum(v.finite for v in box_vanishing(eye, rotation))


@dataclass(frozen=True)
class Horizon:
    """The horizon line n . (u, v) = offset on paper, n a unit vector pointing to the sky side; None straight down."""

    normal: tuple[float, float]
    offset: float

    @property
    def level(self) -> bool:
        """Whether it runs parallel to the lower edge of an unrolled sheet."""
        return abs(self.normal[0]) < PARALLEL

    def height_at(self, u: float) -> float:
        """Return v of the horizon at ``u``; only for a horizon that is not upright."""
        return (self.offset - self.normal[0] * u) / self.normal[1]

    def ends(self, reach: float) -> Floats:
        """Return a stretch (4,) of the line that reaches ``reach`` mm to both sides of its point nearest the CV."""
        x, y = self.normal[0] * self.offset, self.normal[1] * self.offset
        dx, dy = self.normal[1] * reach, -self.normal[0] * reach
        return np.array([x - dx, y - dy, x + dx, y + dy])


def horizon(eye: Eye) -> Horizon | None:
    """Return the picture of all level directions, or None when the eye looks straight up or down.

    A paper point lies on it when its sight line is level: u right_z + v up_z + f look_z = 0.
    """
    right_z, up_z, look_z = eye.axes[:, 2].tolist()
    length = hypot(right_z, up_z)
    if length < PARALLEL:
        return None
    return Horizon((right_z / length, up_z / length), float(-eye.viewing_distance * look_z / length) + 0.0)


@dataclass(frozen=True)
class LevelPoints:
    """Points on the horizon for a level view of an upright box; u in mm, None where a point is infinitely far.

    ``station`` is the eye folded down into the paper about the horizon. For one point: ``distance_points``.
    For two: the vanishing points right and left, the 45-degree points between and outside them, and the
    measuring points of the edges going to the right and to the left.
    """

    case: Literal[1, 2]
    station: tuple[float, float]
    distance_points: tuple[float, float] | None = None
    right: float | None = None
    left: float | None = None
    diagonal_between: float | None = None
    diagonal_outside: float | None = None
    measuring_right: float | None = None
    measuring_left: float | None = None


def level_points(eye: Eye, rotation: Floats) -> LevelPoints | None:
    """Return the station, measuring and 45-degree points of a box, or None.

    They are the two-point construction's own, so they exist only for a level, unrolled view of an upright box
    (third column of ``rotation`` along z). A measuring point lies on the horizon as far from its vanishing
    point as the station point is.
    """
    if abs(eye.axes[2, 2]) >= PARALLEL or abs(eye.axes[0, 2]) >= PARALLEL:
        return None
    if hypot(rotation[0, 2], rotation[1, 2]) >= PARALLEL:
        return None
    f = eye.viewing_distance
    a, b, _ = box_vanishing(eye, rotation)
    if a.at is None or b.at is None:
        return LevelPoints(1, (0.0, -f), distance_points=(-f, f))
    right, left = max(a.at[0], b.at[0]), min(a.at[0], b.at[0])
    diagonals = [vanishing(eye, rotation[:, 0] + s * rotation[:, 1]) for s in (1.0, -1.0)]
    on_paper = [d.at[0] if d.at is not None else None for d in diagonals]
    between = next(u for u in on_paper if u is not None and left < u < right)
    outside = next((u for u in on_paper if u is not None and not left < u < right), None)
    return LevelPoints(
        2,
        (0.0, -f),
        right=right,
        left=left,
        diagonal_between=between,
        diagonal_outside=outside,
        measuring_right=right - hypot(right, f),
        measuring_left=left + hypot(left, f),
    )


def measuring_point(eye: Eye, point: tuple[float, float], towards: tuple[float, float]) -> tuple[float, float] | None:
    """Return the measuring point of a level direction's vanishing ``point``, on the side of ``towards``.

    It lies on the horizon as far from the vanishing point as the eye is, sqrt(f^2 + u^2 + v^2), in tilted
    views too. None when there is no horizon.
    """
    line = horizon(eye)
    if line is None:
        return None
    along = np.array([line.normal[1], -line.normal[0]])
    side = 1.0 if (np.array(towards) - point) @ along >= 0.0 else -1.0
    reach = hypot(eye.viewing_distance, *point)
    u, v = np.array(point) + side * reach * along
    return float(u), float(v)
