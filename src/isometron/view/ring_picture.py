"""The picture of a ring: the conic it is drawn as, and everything a person with a template asks of it.

A ring is the circle centre + r (cos t e1 + sin t e2). In camera axes, divided by the viewing distance, its picture is
the unit circle mapped by H = [r e1, r e2, centre] (columns in camera axes). Hartley and Zisserman, Multiple View Geometry
(2004), section 2.3; the kind of conic follows from how far in depth the circle reaches.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import asin, atan2, cos, degrees, hypot, sin, sqrt
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.conics import circle_picture, ellipse_of
from isometron.geometry.frames import Floats
from isometron.geometry.piece_loops import camera_rings, ring_ellipses
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye
from isometron.view.vanishing import Vanishing, vanishing

__all__ = ["Circle", "RingPicture", "ring_picture", "rings_to_ellipses"]

Place = tuple[float, float]
Kind = Literal["ellipse", "parabola", "hyperbola", "segment", "behind"]

_TOUCH = CLOSE
"""A circle within this part of its radius of the eye plane, or of the eye, counts as touching."""

_ROUND = CLOSE


@dataclass(frozen=True)
class Circle:
    """A circle in the world: centre (3,), radius in mm, unit normal (3,), and a unit direction (3,) in its plane."""

    centre: Floats
    radius: float
    normal: Floats
    first: Floats

    @property
    def second(self) -> Floats:
        """The direction normal x first."""
        (a, b, c), (x, y, z) = self.normal.tolist(), self.first.tolist()
        return np.array([b * z - c * y, c * x - a * z, a * y - b * x])

    @staticmethod
    def of(centre: ArrayLike, radius: float, normal: ArrayLike, hint: ArrayLike) -> Circle:
        """Return a circle from a normal of any length and any direction not along it."""
        n = np.asarray(normal, dtype=np.float64)
        n = n / np.sqrt(n @ n)
        e = np.asarray(hint, dtype=np.float64)
        e = e - (e @ n) * n
        return Circle(np.asarray(centre, dtype=np.float64), float(radius), n, e / np.sqrt(e @ e))

    def points(self, angles: ArrayLike) -> Floats:
        """Return the points (N, 3) at parameters in radians."""
        t = np.asarray(angles, dtype=np.float64)[:, None]
        points: Floats = self.centre + self.radius * (np.cos(t) * self.first + np.sin(t) * self.second)
        return points


@dataclass(frozen=True)
class RingPicture:
    """What a circle looks like on paper, mm from the centre of vision; angles in degrees.

    conic : (3, 3) in units of the viewing distance; centre, semi_major, semi_minor, major_angle : of an ellipse
    (for a hyperbola of the whole curve: semi_transverse, semi_conjugate and the angle of the transverse axis);
    true_centre : where the circle's own centre is drawn; touching : its touching points with the square on first
    and second, None behind the eye plane; corners : of that square; deviation : angle between the minor axis and the
    line to the normal's vanishing point; widest : the largest angle off the line of sight; ends : of a segment.
    """

    kind: Kind
    true_centre: Place | None
    touching: tuple[Place | None, ...]
    corners: tuple[Place | None, ...]
    normal: Vanishing
    conic: Floats | None = None
    centre: Place | None = None
    semi_major: float = 0.0
    semi_minor: float = 0.0
    major_angle: float | None = None
    deviation: float | None = None
    widest: float = 0.0
    ends: tuple[Place, Place] | None = None

    @property
    def degree(self) -> float:
        """How open the ellipse is: asin(minor / major), 90 for a round one."""
        return degrees(asin(min(self.semi_minor / self.semi_major, 1.0)))

    @property
    def centre_offset(self) -> Place | None:
        """From the ellipse's centre to the picture of the circle's own centre."""
        if self.centre is None or self.true_centre is None:
            return None
        return self.true_centre[0] - self.centre[0], self.true_centre[1] - self.centre[1]


def ring_picture(eye: Eye, circle: Circle) -> RingPicture:
    """Return the picture of a circle, whatever conic it is."""
    f, r = eye.viewing_distance, circle.radius
    centre = eye.to_camera(circle.centre)[0]
    e1, e2 = eye.axes @ circle.first, eye.axes @ circle.second
    square = [(1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, 1), (-1, -1), (1, -1)]
    seen = [_on_paper(centre + r * (x * e1 + y * e2), f) for x, y in square]
    common = RingPicture(
        "behind", _on_paper(centre, f), tuple(seen[:4]), tuple(seen[4:]), vanishing(eye, circle.normal)
    )
    reach = r * hypot(e1[2], e2[2])
    nearest = centre[2] - reach
    if centre[2] + reach <= _TOUCH * r:
        return common
    normal = np.cross(e1, e2)
    if abs(float(normal @ centre)) <= _TOUCH * r:
        return _segment(common, centre, e1, e2, r, f)
    conic = circle_picture(np.column_stack([r * e1, r * e2, centre]))
    if abs(nearest) <= _TOUCH * r:
        return replace(common, kind="parabola", conic=conic)
    if nearest < 0.0:
        return _hyperbola(common, conic, f)
    return _ellipse(common, conic, (centre, r * e1, r * e2), f)


def _on_paper(camera: Floats, f: float) -> Place | None:
    if not camera[2] > 0.0:
        return None
    return float(f * camera[0] / camera[2]), float(f * camera[1] / camera[2])


def _ellipse(common: RingPicture, conic: Floats, arms: tuple[Floats, Floats, Floats], f: float) -> RingPicture:
    shape = ellipse_of(conic)
    if shape is None:
        return common
    u, v, a, b, angle = shape
    centre, semi_major, semi_minor = (u * f, v * f), a * f, b * f
    round_ = a - b <= _ROUND * a
    if round_:
        semi_minor = semi_major
    major = None if round_ else degrees(angle) % 180.0
    deviation = None if major is None else _deviation(common.normal, centre, major + 90.0)
    return replace(
        common, kind="ellipse", conic=conic, centre=centre, semi_major=semi_major, semi_minor=semi_minor,
        major_angle=major, deviation=deviation, widest=_widest(*arms),
    )  # fmt: skip


def _deviation(normal: Vanishing, centre: Place, minor_angle: float) -> float | None:
    """Return the angle, 0 to 90, between the minor axis and the line from the centre to where the axle vanishes."""
    if normal.at is not None:
        du, dv = normal.at[0] - centre[0], normal.at[1] - centre[1]
    else:
        assert normal.direction is not None
        du, dv = normal.direction
    if hypot(du, dv) == 0.0:
        return None
    gap = (degrees(atan2(dv, du)) - minor_angle) % 180.0
    return min(gap, 180.0 - gap)


def _widest(centre: Floats, one: Floats, two: Floats) -> float:
    """Return the largest angle off the line of sight of any point of a circle, of centre and half axes (3,) seen by the eye.

    tan^2 of the angle is a ratio of trigonometric polynomials of degree two; sampled and then refined by Newton's
    method on its derivative would do, but golden-section search on a bracket cannot fail.
    """
    t = np.linspace(0.0, 2 * np.pi, 181)
    x, y, z = centre[:, None] + one[:, None] * np.cos(t) + two[:, None] * np.sin(t)
    best = float(t[int(np.argmax(np.arctan2(np.hypot(x, y), z)))])
    (c0, c1, c2), (p0, p1, p2), (q0, q1, q2) = centre.tolist(), one.tolist(), two.tolist()

    def off(angle: float) -> float:
        a, b = cos(angle), sin(angle)
        return atan2(hypot(c0 + a * p0 + b * q0, c1 + a * p1 + b * q1), c2 + a * p2 + b * q2)

    low, high = best - float(t[1]), best + float(t[1])
    ratio = (sqrt(5.0) - 1.0) / 2.0
    for _ in range(60):
        one_, two_ = high - ratio * (high - low), low + ratio * (high - low)
        low, high = (one_, high) if off(one_) < off(two_) else (low, two_)
    return degrees(off((low + high) / 2))


def _hyperbola(common: RingPicture, conic: Floats, f: float) -> RingPicture:
    """Return the whole curve's centre and axes: the eigenvalues of its quadratic part have opposite signs."""
    q = conic[:2, :2]
    centre = np.linalg.solve(q, -conic[:2, 2])
    level = float(conic[2, 2] + conic[:2, 2] @ centre)
    values, axes = np.linalg.eigh(q)
    squares = -level / values
    k = int(np.argmax(squares))
    angle = degrees(atan2(axes[1, k], axes[0, k])) % 180.0
    return replace(
        common, kind="hyperbola", conic=conic, centre=(float(centre[0]) * f, float(centre[1]) * f),
        semi_major=sqrt(float(squares[k])) * f, semi_minor=sqrt(float(-squares[1 - k])) * f, major_angle=angle,
    )  # fmt: skip


def _segment(common: RingPicture, centre: Floats, e1: Floats, e2: Floats, r: float, f: float) -> RingPicture:
    """Return the ends of a circle seen on edge: where the sight line touches it, in the plane that holds the eye."""
    x, y = -float(e1 @ centre), -float(e2 @ centre)  # the eye in the circle's own plane
    away = hypot(x, y)
    if away <= r * (1.0 + _TOUCH):
        return replace(common, kind="segment")  # the eye is inside: it surrounds the eye
    along = atan2(y, x)
    half = np.arccos(r / away)
    ends = [_on_paper(centre + r * (np.cos(t) * e1 + np.sin(t) * e2), f) for t in (along + half, along - half)]
    if ends[0] is None or ends[1] is None:
        return replace(common, kind="segment")
    return replace(common, kind="segment", ends=(ends[0], ends[1]))


def rings_to_ellipses(eye: Eye, centres: Floats, first: Floats, second: Floats) -> tuple[Floats, np.ndarray]:
    """Return ellipses (N, 5) centre u, v, semi-axes a >= b, angle of a in radians, and which rows are ellipses (N,).

    centres, first, second : (N, 3); the ring is centre + cos t first + sin t second, so the two carry the radii and
    need not be at right angles. The dual conic is mapped in closed form; rows that reach the eye plane are False.
    """
    rings = np.hstack([centres, first, second])
    shapes, good = ring_ellipses(camera_rings(rings, eye.place, eye.axes), eye.viewing_distance)
    return shapes, good
