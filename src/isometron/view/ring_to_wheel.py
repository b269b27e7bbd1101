"""From a ring as it is wanted on paper to the circle in space that it may be the picture of."""

from __future__ import annotations

from dataclasses import dataclass
from math import asin, atan2, cos, degrees, radians, sin, sqrt

import numpy as np

from isometron.geometry.frames import Floats
from isometron.view.eye import Eye

__all__ = ["StandingWheel", "WantedRing", "circles_of", "standing_wheel"]

_ALIKE = 1e-9
_STEPS = 90
_GOLD = (sqrt(5.0) - 1.0) / 2.0


@dataclass(frozen=True)
class WantedRing:
    """An ellipse on paper: centre u, v, semi-axes in mm, the minor axis's direction in degrees, counter-clockwise from +u."""

    centre: tuple[float, float]
    semi_major: float
    semi_minor: float
    minor_axis_deg: float

    @property
    def degree(self) -> float:
        """How open it is, degrees: the arc sine of minor by major."""
        return degrees(asin(min(self.semi_minor / self.semi_major, 1.0)))


@dataclass(frozen=True)
class StandingWheel:
    """A wheel that stands on the ground: where it touches it (3,), its diameter, and the direction of its level axle in degrees
    from 0 up to 180; degree_off, axis_off : degrees by which its picture differs from what is wanted."""

    contact: Floats
    diameter: float
    axle_azimuth_deg: float
    degree_off: float
    axis_off: float

    @property
    def sum_of_squares(self) -> float:
        """What is least."""
        return self.degree_off**2 + self.axis_off**2

    @property
    def axle(self) -> Floats:
        """The axle's direction (3,)."""
        angle = radians(self.axle_azimuth_deg)
        return np.array([cos(angle), sin(angle), 0.0])


def circles_of(eye: Eye, ring: WantedRing, diameter: float) -> list[tuple[Floats, Floats]]:
    """Return the circles of a diameter that have exactly this picture: centre (3,) and the normal (3,) towards the eye.

    The cone of sight lines is cut in a circle by two families of planes, square to the plane of its least and its greatest
    axis (Kanatani and Liu, 3D interpretation of conics and orthogonality, 1993); one where it is a right circular cone.
    """
    turn = radians(ring.minor_axis_deg)
    minor, major = np.array([cos(turn), sin(turn)]), np.array([-sin(turn), cos(turn)])
    square = np.outer(major, major) / ring.semi_major**2 + np.outer(minor, minor) / ring.semi_minor**2
    centre = np.array(ring.centre)
    conic = np.empty((3, 3))
    conic[:2, :2] = square
    conic[:2, 2] = conic[2, :2] = -square @ centre
    conic[2, 2] = float(centre @ square @ centre) - 1.0
    scale = np.diag([eye.viewing_distance, eye.viewing_distance, 1.0])
    cone = scale @ conic @ scale
    values, axes = np.linalg.eigh(cone)
    if np.count_nonzero(values > 0.0) == 1:
        values, axes = -values[::-1], axes[:, ::-1]
    low, middle, high = values  # one below nothing, two above
    sine, cosine = sqrt(max((high - middle) / (high - low), 0.0)), sqrt((middle - low) / (high - low))
    found = []
    for sign in (1.0, -1.0) if high - middle > _ALIKE * (high - low) else (1.0,):
        normal = sign * sine * axes[:, 2] + cosine * axes[:, 0]
        along = sign * cosine * axes[:, 2] - sine * axes[:, 0]
        mixed, own = float(normal @ cone @ along), float(normal @ cone @ normal)
        far = diameter / 2.0 / sqrt((mixed / middle) ** 2 - own / middle)
        place = far * normal - far * mixed / middle * along
        place = place if place[2] > 0.0 else -place
        normal = normal if float(normal @ place) < 0.0 else -normal
        found.append((eye.place + place @ eye.axes, normal @ eye.axes))
    return found


def standing_wheel(eye: Eye, ring: WantedRing) -> StandingWheel | None:
    """Return, of all wheels that stand on the ground with a level axle and whose picture has this centre and this semi-major
    axis, the one whose degree and minor axis come nearest to what is wanted; None where there is none.

    The least of (degree off)^2 + (axis off)^2 over the axle's direction: sought in steps, then by the golden section.
    """
    tried = [(angle, _wheel(eye, ring, angle)) for angle in np.arange(_STEPS) * 180.0 / _STEPS]
    found = [(wheel.sum_of_squares, angle) for angle, wheel in tried if wheel is not None]
    if not found:
        return None
    best: StandingWheel | None = None
    step = 180.0 / _STEPS
    for _, angle in sorted(found)[:3]:
        wheel = _least(eye, ring, angle - step, angle + step)
        if wheel is not None and (best is None or wheel.sum_of_squares < best.sum_of_squares):
            best = wheel
    return best


def _least(eye: Eye, ring: WantedRing, low: float, high: float) -> StandingWheel | None:
    """Return the best wheel between two directions of its axle."""

    def off(angle: float) -> float:
        wheel = _wheel(eye, ring, angle)
        return float("inf") if wheel is None else wheel.sum_of_squares

    one, two = high - _GOLD * (high - low), low + _GOLD * (high - low)
    first, second = off(one), off(two)
    while high - low > 1e-3:
        if first < second:
            high, two, second = two, one, first
            one = high - _GOLD * (high - low)
            first = off(one)
        else:
            low, one, first = one, two, second
            two = low + _GOLD * (high - low)
            second = off(two)
    return _settled(eye, ring, (low + high) / 2.0)


def _settled(eye: Eye, ring: WantedRing, angle: float) -> StandingWheel | None:
    """Return the wheel at the least near a direction, by Newton's rule on what the two misfits do there: a sum of squares is
    known to half its digits only, its slope to all of them."""
    step = 1e-3
    for _ in range(8):
        before, here, after = (_wheel(eye, ring, a) for a in (angle - step, angle, angle + step))
        if before is None or here is None or after is None:
            return here
        offs = [np.array([w.degree_off, w.axis_off]) for w in (before, here, after)]
        slope, bend = (offs[2] - offs[0]) / (2 * step), (offs[2] - 2 * offs[1] + offs[0]) / step**2
        curve = float(slope @ slope + offs[1] @ bend)
        if not curve > 0.0:
            break
        move = float(offs[1] @ slope) / curve
        angle -= min(max(move, -step), step)
        if abs(move) < 1e-11:
            break
    return _wheel(eye, ring, angle)


def _wheel(eye: Eye, ring: WantedRing, azimuth_deg: float) -> StandingWheel | None:
    """Return the wheel with its axle in a direction whose picture has the wanted centre and semi-major axis (Newton's rule in
    where it touches the ground and its radius; its slopes are kept while it comes on well)."""
    angle = radians(azimuth_deg)
    level = (-sin(angle), cos(angle))
    unknown = _guess(eye, ring)
    if unknown is None:
        return None
    see = _Seeing(eye, level)
    wanted = np.array([*ring.centre, ring.semi_major])
    inverse, before = None, float("inf")
    for _ in range(60):
        now = see.picture(unknown)
        if now is None:
            return None
        off = np.array(now[:3]) - wanted
        size = float(np.abs(off).max())
        if inverse is None or size > 0.1 * before:
            inverse = see.inverse(unknown)
            if inverse is None:
                return None
        before = size
        move = inverse @ off
        most = float(np.abs(move).max())
        unknown = unknown - move * min(1.0, 0.5 * abs(float(unknown[2])) / max(most, 1e-300))
        if most <= 1e-13 * abs(float(unknown[2])) or size <= 1e-13:
            break
    now = see.picture(unknown)
    if now is None or float(np.abs(np.array(now[:3]) - wanted).max()) > 1e-6 or unknown[2] <= 0.0:
        return None
    degree, axis = now[3], now[4]
    axis_off = (axis - ring.minor_axis_deg + 90.0) % 180.0 - 90.0
    return StandingWheel(
        np.array([unknown[0], unknown[1], 0.0]), 2.0 * float(unknown[2]), azimuth_deg % 180.0, degree - ring.degree, axis_off
    )  # fmt: skip


def _guess(eye: Eye, ring: WantedRing) -> Floats | None:
    """Return where a wheel would stand, and its radius, if its picture were neither stretched nor off its centre."""
    ray = eye.ray(*ring.centre)
    part = ring.semi_major * float(ray @ eye.axes[2]) / eye.viewing_distance - float(ray[2])
    if part <= 0.0:
        return None
    far = float(eye.place[2]) / part
    place = eye.place + far * ray
    return np.array([place[0], place[1], place[2]]) if place[2] > 0.0 else None


class _Seeing:
    """The pictures of standing wheels with their axle in one direction, in plain numbers: they are asked for by the thousand."""

    def __init__(self, eye: Eye, level: tuple[float, float]) -> None:
        f = eye.viewing_distance
        scale = np.array([[f], [f], [1.0]])
        self._axes = (scale * eye.axes).tolist()
        self._level = (scale[:, 0] * (eye.axes @ np.array([*level, 0.0]))).tolist()
        self._up = (scale[:, 0] * eye.axes[:, 2]).tolist()
        self._place = eye.place.tolist()

    def picture(self, unknown: Floats) -> tuple[float, float, float, float, float] | None:
        """Return centre u, v, semi-major axis, degree and minor axis in degrees; None where it is no ellipse.

        The dual conic of the picture is H diag(1, 1, -1) H', and of an ellipse about p with the shape S it is S - p p', -p; -p', -1.
        """
        x, y, radius = (float(v) for v in unknown)
        if radius <= 0.0:
            return None
        off = (x - self._place[0], y - self._place[1], radius - self._place[2])
        c = [row[0] * off[0] + row[1] * off[1] + row[2] * off[2] for row in self._axes]
        a, b = [radius * v for v in self._level], [radius * v for v in self._up]
        last = c[2] * c[2] - a[2] * a[2] - b[2] * b[2]
        if last <= 0.0 or c[2] <= 0.0:
            return None
        u, v = ((c[k] * c[2] - a[k] * a[2] - b[k] * b[2]) / last for k in (0, 1))
        uu, uv, vv = ((a[i] * a[j] + b[i] * b[j] - c[i] * c[j]) / last for i, j in ((0, 0), (0, 1), (1, 1)))
        uu, uv, vv = uu + u * u, uv + u * v, vv + v * v
        mean, spread = (uu + vv) / 2.0, sqrt(((uu - vv) / 2.0) ** 2 + uv * uv)
        least = (uu * vv - uv * uv) / (mean + spread)
        major = 0.5 * degrees(atan2(2.0 * uv, uu - vv))
        ratio = sqrt(max(least, 0.0) / (mean + spread))
        return u, v, sqrt(mean + spread), degrees(asin(min(ratio, 1.0))), major + 90.0

    def inverse(self, unknown: Floats) -> Floats | None:
        """Return the inverse of how centre and semi-major axis change with the unknowns."""
        slopes = np.empty((3, 3))
        step = 1e-5 * max(abs(float(unknown[2])), 1.0)
        for k in range(3):
            ahead, behind = unknown.copy(), unknown.copy()
            ahead[k] += step
            behind[k] -= step
            one, two = self.picture(ahead), self.picture(behind)
            if one is None or two is None:
                return None
            slopes[:, k] = [(p - q) / (2 * step) for p, q in zip(one[:3], two[:3], strict=True)]
        try:
            return np.asarray(np.linalg.inv(slopes), dtype=np.float64)
        except np.linalg.LinAlgError:
            return None
