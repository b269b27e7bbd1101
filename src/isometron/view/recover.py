"""Recovering an eye from hand-placed vanishing points: two with a centre of vision, or three.

Two: f^2 = -(a - c)(b - c), the eye on the Thales circle over the points. Three: the centre of vision is the
orthocentre of their triangle, and f^2 = -(V1 - CV) . (V2 - CV) for every pair; only an acute triangle is the picture of
a rectangular box. Caprile and Torre, Using vanishing points for camera calibration (1990).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot, radians, sqrt, tan

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["NoEye", "ThreePointView", "TwoPointView", "eye_from_three", "eye_from_two", "triangle_angles"]

Place = tuple[float, float]

_ONE_PLACE = HAIR
"""Points nearer to each other than this (mm) are one."""


@dataclass(frozen=True)
class TwoPointView:
    """What two vanishing points and a centre of vision on one horizon mean; places are u along it, in the input's frame.

    angle_right, angle_left : between the picture plane and the edges going there, degrees, together 90.
    """

    viewing_distance: float
    angle_right: float
    angle_left: float
    measuring_right: float
    measuring_left: float
    diagonal_between: float

    def cone_radius(self, cone_deg: float = 60.0) -> float:
        """Return the cone's radius on paper, mm."""
        return self.viewing_distance * tan(radians(cone_deg) / 2)


@dataclass(frozen=True)
class ThreePointView:
    """What three vanishing points of right-angled directions mean, the third being the upright one.

    pitch : positive looking up; horizon_angle : slope of the line through the first two, -90 < angle <= 90. Degrees.
    """

    centre: Place
    viewing_distance: float
    pitch: float
    horizon_angle: float


@dataclass(frozen=True)
class NoEye:
    """Why no eye sees a right-angled box so.

    vertex, angle : which point of a triangle is too wide and by which angle in degrees (None for two points);
    nearest : points that do have an eye, as near to the given ones as moving one of them allows.
    """

    vertex: int | None
    angle: float | None
    nearest: tuple[Place, ...]


def eye_from_two(left: float, right: float, centre: float, *, least: float = 1.0) -> TwoPointView | NoEye:
    """Return the view of two points at ``left`` and ``right`` along the horizon and its centre of vision, mm.

    No eye when the centre is not strictly between the points; then ``nearest`` holds (centre, 0) moved between
    them, ``least`` of their distance in percent from the nearer one.
    """
    low, high = min(left, right), max(left, right)
    if not low < centre < high:
        margin = least / 100.0 * (high - low)
        return NoEye(None, None, ((low + margin if centre <= low else high - margin, 0.0),))
    f = sqrt(-(low - centre) * (high - centre))
    angle = degrees(atan2(f, high - centre))
    to_right, to_left = hypot(high - centre, f), hypot(low - centre, f)
    # The bisector at the eye divides the horizon in the ratio of the two arms.
    diagonal = (low * to_right + high * to_left) / (to_right + to_left)
    return TwoPointView(f, angle, 90.0 - angle, high - to_right, low + to_left, diagonal)


def triangle_angles(points: Floats) -> tuple[float, float, float]:
    """Return the angles in degrees at the corners of a triangle (3, 2)."""
    found = []
    for k in range(3):
        one, other = points[(k + 1) % 3] - points[k], points[(k + 2) % 3] - points[k]
        turn = float(one[0] * other[1] - one[1] * other[0])
        found.append(degrees(atan2(abs(turn), float(one @ other))))
    return found[0], found[1], found[2]


def eye_from_three(a: Place, b: Place, c: Place, *, acute: float = 89.0) -> ThreePointView | NoEye:
    """Return the view of three vanishing points, ``c`` the upright one, or which angle is not acute.

    Then ``nearest`` is the triangle with that corner moved straight away from its opposite side until its angle is
    ``acute`` degrees; three points on one line, or two in one place, have no such triangle, and it is empty.
    """
    points = np.array([a, b, c], dtype=np.float64)
    sides = [hypot(*(points[k] - points[k - 1])) for k in range(3)]
    if not min(sides) > _ONE_PLACE:
        return NoEye(None, None, ())
    angles = triangle_angles(points)
    widest = int(np.argmax(angles))
    if angles[widest] >= 90.0:
        return NoEye(widest, angles[widest], _widened(points, widest, acute))
    # Relative to one corner, so that the far origin of a hand-held frame costs no digits.
    p, q = points[0] - points[2], points[1] - points[2]
    # The altitudes from the third and the first corner: x . (p - q) = 0 and (x - p) . q = 0.
    foot = np.linalg.solve(np.array([p - q, q]), np.array([0.0, float(q @ p)]))
    centre = points[2] + foot
    square = -float((points[0] - centre) @ (points[1] - centre))
    f = sqrt(max(square, 0.0))
    along = points[1] - points[0]
    slope = degrees(atan2(along[1], along[0]))
    slope = slope - 180.0 if slope > 90.0 else slope + 180.0 if slope <= -90.0 else slope
    drop = hypot(*(points[2] - centre))
    pitch = degrees(atan2(f, drop))
    # Looking down the upright point lies below the horizon's side of the centre; unrolled that is below it.
    up = points[2][1] - centre[1] if abs(slope) < 90.0 else points[2][0] - centre[0]
    return ThreePointView((float(centre[0]), float(centre[1])), f, pitch if up > 0.0 else -pitch, slope)


def _widened(points: Floats, corner: int, acute: float) -> tuple[Place, ...]:
    """Move one corner off its opposite side, at right angles to it, until its angle is ``acute`` degrees."""
    one, other = points[(corner + 1) % 3], points[(corner + 2) % 3]
    along = (other - one) / hypot(*(other - one))
    foot = float((points[corner] - one) @ along)
    off = points[corner] - one - foot * along
    height = hypot(*off)
    length = hypot(*(other - one))
    if not (height > CLOSE * length and 0.0 < foot < length):
        return ()
    # With foot parts p and q the angle's tangent is h (p + q) / (h^2 - p q): solved for the height h.
    p, q, slope = foot, length - foot, tan(radians(acute))
    raised = (length + sqrt(length**2 + 4 * slope**2 * p * q)) / (2 * slope)
    moved = points.copy()
    moved[corner] = one + foot * along + off * (raised / height)
    a, b, c = ((float(u), float(v)) for u, v in moved)
    return a, b, c
