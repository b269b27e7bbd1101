"""Straight pieces and arcs of ellipses in a plane: where they meet, how far they reach, how long they are."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, hypot, pi

import numpy as np

from isometron.geometry.along import summed_along
from isometron.geometry.frames import Floats

__all__ = ["Piece", "arc", "crossings", "straight"]

_SAME = 1e-9
_ON_CIRCLE = 1e-5


@dataclass(frozen=True)
class Piece:
    """centre + cos t first + sin t second for t from 0 to ``sweep``; of a straight one ``first`` is the start, ``second`` the
    way to the end, and ``sweep`` is 0. All (2,); an arc sweeps half a turn at most."""

    centre: Floats
    first: Floats
    second: Floats
    sweep: float

    def at(self, u: Floats) -> Floats:
        """Return the places (N, 2) at parts (N,) from 0 to 1."""
        u = np.atleast_1d(u)[:, None]
        if self.sweep == 0.0:
            line: Floats = self.first + u * self.second
            return line
        t = u * self.sweep
        found: Floats = self.centre + np.cos(t) * self.first + np.sin(t) * self.second
        return found

    def way(self, u: Floats) -> Floats:
        """Return the derivatives (N, 2) at parts (N,)."""
        u = np.atleast_1d(u)[:, None]
        if self.sweep == 0.0:
            return np.broadcast_to(self.second, (len(u), 2))
        t = u * self.sweep
        found: Floats = self.sweep * (-np.sin(t) * self.first + np.cos(t) * self.second)
        return found

    def part(self, low: float, high: float) -> Piece:
        """Return the piece between two parts of it."""
        if self.sweep == 0.0:
            return Piece(self.centre, self.first + low * self.second, (high - low) * self.second, 0.0)
        a = low * self.sweep
        first = np.cos(a) * self.first + np.sin(a) * self.second
        second = -np.sin(a) * self.first + np.cos(a) * self.second
        return Piece(self.centre, first, second, (high - low) * self.sweep)

    def turned(self) -> Piece:
        """Return the piece gone the other way."""
        if self.sweep == 0.0:
            return Piece(self.centre, self.first + self.second, -self.second, 0.0)
        a = self.sweep
        first = np.cos(a) * self.first + np.sin(a) * self.second
        second = np.sin(a) * self.first - np.cos(a) * self.second
        return Piece(self.centre, first, second, a)

    @property
    def length(self) -> float:
        """Its length."""
        if self.sweep == 0.0:
            return float(np.hypot(*self.second))
        return summed_along(lambda t: np.hypot(*self.way(t).T))

    @property
    def swept(self) -> float:
        """The area that the way from the origin sweeps along it (Green's theorem)."""
        if self.sweep == 0.0:
            return float(self.first[0] * self.second[1] - self.first[1] * self.second[0]) / 2.0
        one, two = self.at(np.array([0.0, 1.0]))
        gap = two - one
        own = float(self.first[0] * self.second[1] - self.first[1] * self.second[0]) * self.sweep
        return (float(self.centre[0] * gap[1] - self.centre[1] * gap[0]) + own) / 2.0

    def extremes(self, way: Floats) -> Floats:
        """Return the parts (N,) at which it may reach farthest along a direction (2,): its ends and where it turns back."""
        found = [0.0, 1.0]
        if self.sweep != 0.0:
            angle = float(np.arctan2(self.second @ way, self.first @ way))
            found += [t / self.sweep for t in (angle, angle + pi, angle + 2 * pi, angle - pi) if 0.0 < t < self.sweep]
        return np.array(found)

    def part_of(self, place: Floats, slack: float) -> float | None:
        """Return the part at which a place (2,) lies on it; None where it does not."""
        if self.sweep == 0.0:
            (x, y), (wide, high) = (place - self.first).tolist(), self.second.tolist()
            u = (x * wide + y * high) / max(wide * wide + high * high, 1e-300)
            on = -1e-9 <= u <= 1.0 + 1e-9 and abs(x - u * wide) <= slack and abs(y - u * high) <= slack
            return u if on else None
        x, y = np.linalg.solve(np.column_stack([self.first, self.second]), place - self.centre)
        u = float(np.arctan2(y, x)) % (2 * pi) / self.sweep
        u = u - 2 * pi / self.sweep if u > 1.0 + _SAME and abs(u - 2 * pi / self.sweep) < 1e-6 else u
        if not -1e-9 <= u <= 1.0 + 1e-9:
            return None
        return u if float(np.abs(self.at(np.array([u]))[0] - place).max()) <= slack else None


def straight(one: Floats, two: Floats) -> Piece:
    """Return the straight piece between two places (2,)."""
    return Piece(np.zeros(2), np.asarray(one, dtype=float), np.asarray(two, dtype=float) - one, 0.0)


def arc(centre: Floats, first: Floats, second: Floats, start: float, sweep: float) -> list[Piece]:
    """Return the arc centre + cos t first + sin t second from t = start over ``sweep``, in pieces of a quarter turn at most."""
    count = max(ceil(abs(sweep) / (pi / 2) - 1e-9), 1)
    found = []
    for k in range(count):
        t = start + sweep * k / count
        one = np.cos(t) * first + np.sin(t) * second
        two = (-np.sin(t) * first + np.cos(t) * second) * (1.0 if sweep > 0.0 else -1.0)
        found.append(Piece(np.asarray(centre, dtype=float), one, two, abs(sweep) / count))
    return found


def crossings(one: Piece, two: Piece) -> list[float]:
    """Return the parts of ``one`` at which it crosses or touches ``two``; of pieces that run along each other none."""
    if one.sweep == 0.0 and two.sweep == 0.0:
        return _lines(one, two)
    if two.sweep == 0.0:
        return _wave(one, two)
    inverse = np.linalg.inv(np.column_stack([two.first, two.second]))
    parts: list[Floats] = [inverse @ (one.first - two.centre), inverse @ one.second] if one.sweep == 0.0 else [
        inverse @ (one.centre - two.centre), inverse @ one.first, inverse @ one.second
    ]  # fmt: skip
    if one.sweep != 0.0 and _apart(*parts):
        return []
    found = (
        _line_circle(parts[0], parts[1])
        if one.sweep == 0.0
        else _ellipse_circle(parts[0], parts[1], parts[2], one.sweep)
    )
    kept = []
    for u in found:
        if -_SAME <= u <= 1.0 + _SAME:
            place = inverse @ (one.at(np.array([u]))[0] - two.centre)
            angle = float(np.arctan2(place[1], place[0])) % (2 * pi)
            if angle <= two.sweep + 1e-9 or angle >= 2 * pi - 1e-9:
                kept.append(u)
    return kept


def _apart(centre: Floats, first: Floats, second: Floats) -> bool:
    """Tell of an ellipse that it lies wholly within the unit circle, or wholly round it, without solving: most of nested rings do."""
    off, size = float(np.hypot(*centre)), float(first @ first + second @ second) ** 0.5
    least = abs(float(first[0] * second[1] - first[1] * second[0])) / max(size, 1e-300)
    return bool(off + size < 1.0 - _ON_CIRCLE or least - off > 1.0 + _ON_CIRCLE)


def _lines(one: Piece, two: Piece) -> list[float]:
    (a, b), (c, d), (x, y) = one.second.tolist(), two.second.tolist(), (two.first - one.first).tolist()
    cross = a * d - b * c
    if abs(cross) <= 1e-12 * hypot(a, b) * hypot(c, d):
        return []
    u, v = (x * d - y * c) / cross, (x * b - y * a) / cross
    return [u] if -_SAME <= u <= 1.0 + _SAME and -_SAME <= v <= 1.0 + _SAME else []


def _wave(one: Piece, two: Piece) -> list[float]:
    """Return where an arc crosses a straight piece: a + b cos t + c sin t = 0."""
    normal = np.array([-two.second[1], two.second[0]])
    a, b, c = (float(normal @ v) for v in (one.centre - two.first, one.first, one.second))
    size = float(np.hypot(b, c))
    if size <= 0.0 or abs(a) > size:
        return []
    middle, half = float(np.arctan2(c, b)), float(np.arccos(-a / size))
    found = []
    for t in (middle - half, middle + half):
        t %= 2 * pi
        t = t - 2 * pi if t > 2 * pi - 1e-9 else t
        u = t / one.sweep
        if -_SAME <= u <= 1.0 + _SAME:
            place = one.at(np.array([u]))[0] - two.first
            v = float(place @ two.second) / float(two.second @ two.second)
            if -_SAME <= v <= 1.0 + _SAME:
                found.append(u)
    return found


def _line_circle(start: Floats, way: Floats) -> list[float]:
    a, b, c = float(way @ way), float(start @ way), float(start @ start) - 1.0
    root = b * b - a * c
    if root < 0.0:
        return []
    return [(-b - root**0.5) / a, (-b + root**0.5) / a]


def _ellipse_circle(centre: Floats, first: Floats, second: Floats, sweep: float) -> list[float]:
    """Return where an ellipse crosses the unit circle: the roots on the unit circle of a polynomial of the fourth degree."""
    a0 = float(centre @ centre) - 1.0 + float(first @ first + second @ second) / 2.0
    a1, b1 = 2.0 * float(centre @ first), 2.0 * float(centre @ second)
    a2, b2 = float(first @ first - second @ second) / 2.0, float(first @ second)
    coefficients = np.array([a2 - 1j * b2, a1 - 1j * b1, 2.0 * a0, a1 + 1j * b1, a2 + 1j * b2]) / 2.0
    if np.abs(coefficients).max() <= 1e-12:
        return []  # the same ellipse
    found = []
    for root in np.roots(coefficients):
        if abs(abs(root) - 1.0) > _ON_CIRCLE:
            continue
        t = float(np.angle(root))
        for _ in range(4):  # to the last digits, by Newton's rule
            value = a0 + a1 * np.cos(t) + b1 * np.sin(t) + a2 * np.cos(2 * t) + b2 * np.sin(2 * t)
            slope = -a1 * np.sin(t) + b1 * np.cos(t) - 2 * a2 * np.sin(2 * t) + 2 * b2 * np.cos(2 * t)
            if abs(slope) < 1e-12:
                break
            t -= value / slope
        t %= 2 * pi
        t = t - 2 * pi if t > 2 * pi - 1e-9 else t
        found.append(t / sweep)
    return found
