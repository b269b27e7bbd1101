"""Vanishing points, measuring points, 45-degree points, the horizon (domain: geometry of the two- and three-point view).

Sources: Kemp, The Science of Art (1990), on measuring points; Hartley and Zisserman (2004), section 8.6, on
vanishing points as pictures of directions.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import PARALLEL
from isometron.view.eye import Eye

__all__ = [
    "Horizon",
    "Vanishing",
    "box_vanishing",
    "horizon",
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
