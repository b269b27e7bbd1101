"""Turned bodies: a profile of lines, arcs and cubics about an axle, round or oblong."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import ceil, pi, sqrt

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.shell.parts import Angles, Meshed, Round, Seamed, loft, round_frame, strip, turns
from isometron.geometry.shell.surfaces import BOWED, LINE, SMOOTH, Surfaces, plane_row, turned_row
from isometron.geometry.tolerances import CLOSE

__all__ = ["Side", "Spun"]

_SMOOTH_ON = 1.0 - 1e-9
_FLAT = 1e-9


@dataclass(frozen=True)
class Side:
    """A side of a profile from (h, r) to (h, r), parts of the axle and of the half axes; straight, or a quarter of an ellipse about
    ``middle`` (h, r), or a cubic with slopes d r / d t at both ends, t from 0 to 1 along h."""

    one: tuple[float, float]
    two: tuple[float, float]
    middle: tuple[float, float] | None = None
    slopes: tuple[float, float] | None = None
    name: str = "side"

    @property
    def cubic(self) -> tuple[float, float, float, float]:
        """The factors of r by powers of t."""
        assert self.slopes is not None
        (r0, r1), (m0, m1) = (self.one[1], self.two[1]), self.slopes
        return r0, m0, 3.0 * (r1 - r0) - 2.0 * m0 - m1, 2.0 * (r0 - r1) + m0 + m1

    def ways(self) -> tuple[Floats, Floats]:
        """Return d h, d r (2,) at both ends, in parts."""
        (h0, r0), (h1, r1) = self.one, self.two
        if self.middle is not None:
            flat, steep = np.array([h1 - h0, 0.0]), np.array([0.0, r1 - r0])
            return (steep, flat) if self.middle[0] == h1 else (flat, steep)
        if self.slopes is not None:
            return np.array([h1 - h0, self.slopes[0]]), np.array([h1 - h0, self.slopes[1]])
        return np.array([h1 - h0, r1 - r0]), np.array([h1 - h0, r1 - r0])

    def points(self, chord: float) -> Floats:
        """Return points (N, 2) from end to end whose chords lie within a part of it."""
        (h0, r0), (h1, r1) = self.one, self.two
        if self.middle is not None:
            p, q = h1 - h0, r1 - r0
            n = max(ceil(turns(max(abs(p), abs(q)), chord) / 4), 2)
            t = np.linspace(0.0, pi / 2.0, n + 1)
            slow, quick = 1.0 - np.cos(t), np.sin(t)
            along, out = (slow, quick) if self.middle[0] == h1 else (quick, slow)
            found = np.column_stack([h0 + p * along, r0 + q * out])
        elif self.slopes is not None:
            c = self.cubic
            bend = max(abs(2.0 * c[2]), abs(2.0 * c[2] + 6.0 * c[3]))
            t = np.linspace(0.0, 1.0, max(ceil(sqrt(bend / 8.0 / chord)), 2) + 1)
            found = np.column_stack([h0 + t * (h1 - h0), c[0] + t * (c[1] + t * (c[2] + t * c[3]))])
        else:
            found = np.array([self.one, self.two])
        found[0], found[-1] = self.one, self.two
        return found


@dataclass(frozen=True)
class Spun(Seamed):
    """Sides in their order, h ascending, about ``axle`` (3,) from ``place`` (3,), with the half axes of width one; both ends are flat, or tips.

    chord : mm that chords of the profile may lie off; ends : the names of both ends.
    """

    sides: Sequence[Side]
    place: Floats
    axle: Floats
    first: Floats
    second: Floats
    chord: float
    ends: tuple[str, str]

    @property
    def own_names(self) -> tuple[str, ...]:
        """Of its sides, then of both ends."""
        return (*(side.name for side in self.sides), *self.ends)

    @cached_property
    def rounds(self) -> tuple[Round, ...]:
        """Each side goes all round; all of them are parted alike."""
        broad = max(float(np.sqrt(w @ w)) for w in (self.first, self.second))
        widest = broad * max(max(side.one[1], side.two[1]) for side in self.sides)
        none = np.zeros((0, 3))
        return tuple(Round(k, none, widest, True) for k, side in enumerate(self.sides) if side.one[0] != side.two[0])

    @cached_property
    def made(self) -> tuple[Surfaces, tuple[tuple[int, int, int], ...]]:
        """Surfaces of its sides and ends, then those that seams run on; and the seams."""
        rows = [self._row(side) for side in self.sides]
        unit = self.axle / np.sqrt(self.axle @ self.axle)
        low, high = self.sides[0].one[0], self.sides[-1].two[0]
        rows += [plane_row(self.place + low * self.axle, -unit), plane_row(self.place + high * self.axle, unit)]
        long, broad = float(np.sqrt(self.axle @ self.axle)), float(np.sqrt(self.first @ self.first))
        seams = []
        for k, (before, after) in enumerate(zip(self.sides[:-1], self.sides[1:], strict=True)):
            one, two = (way * (long, broad) for way in (before.ways()[1], after.ways()[0]))
            if float(one @ two) > _SMOOTH_ON * float(np.hypot(*one) * np.hypot(*two)):
                h, r = before.two
                seams.append((k, k + 1, len(rows)))
                # The ring between them: by the plane that it lies on, or by the cylinder where the sides stand on the axle.
                level = plane_row(self.place + h * self.axle, unit)
                steep = abs(one[0]) <= 0.1 * float(np.hypot(*one)) and r > CLOSE
                rows.append(self._cylinder(r) if steep else level)
        for side, cap, way in (
            (0, len(self.sides), self.sides[0].ways()[0]),
            (len(self.sides) - 1, len(self.sides) + 1, self.sides[-1].ways()[1]),
        ):
            r = self.sides[0].one[1] if cap == len(self.sides) else self.sides[-1].two[1]
            if abs(way[0]) * long <= _FLAT * abs(way[1]) * broad and r > CLOSE:  # a rounded rim runs on into the end
                seams.append((side, cap, len(rows)))
                rows.append(self._cylinder(r))
        return Surfaces.of(rows), tuple(seams)

    def _cylinder(self, r: float) -> tuple[int, Floats]:
        return turned_row(LINE, self.place, self.axle, r * self.first, r * self.second, (0.0, 1.0, 1.0))

    def _row(self, side: Side) -> tuple[int, Floats]:
        (h0, r0), (h1, r1) = side.one, side.two
        turned = (self.place, self.axle, self.first, self.second)
        if side.middle is not None:
            return turned_row(BOWED, *turned, (*side.middle, abs(h1 - h0), abs(r1 - r0)))
        if side.slopes is not None:
            return turned_row(SMOOTH, *turned, (h0, h1 - h0, *side.cubic))
        if h0 == h1:
            unit = self.axle / np.sqrt(self.axle @ self.axle)
            return plane_row(self.place + h0 * self.axle, unit if r0 > r1 else -unit)
        if r0 == r1:
            return self._cylinder(r0)
        a, b = r0 - r1, h1 - h0
        return turned_row(LINE, *turned, (a, b, a * h0 + b * r0))

    def meshed(self, angles: Angles) -> Meshed:
        """Return its triangles."""
        whole = self.rounds[0].row
        own = Surfaces.of([turned_row(LINE, self.place, self.axle, self.first, self.second, (0.0, 1.0, 1.0))])
        _, first, second = round_frame(own, 0)
        t = angles(whole)
        if float(cross_sign(first, second, self.axle)) < 0.0:
            t = t[::-1]
        broad = max(float(np.sqrt(w @ w)) for w in (self.first, self.second, self.axle))
        profile, sides = [], []
        for k, side in enumerate(self.sides):
            points = side.points(self.chord / broad)
            profile.append(points if k == len(self.sides) - 1 else points[:-1])
            sides += [k] * (len(points) - 1)
        points = np.concatenate(profile)
        unit = np.cos(t)[:, None] * first + np.sin(t)[:, None] * second
        rings = self.place + points[:, :1, None] * self.axle + points[:, 1:, None] * unit
        caps = len(self.sides)
        return loft(rings, np.repeat(np.array(sides)[:, None], len(t), axis=1), (caps, caps + 1), strip(len(t)))


def cross_sign(first: Floats, second: Floats, axle: Floats) -> float:
    """Return the sign of the box product of three vectors (3,)."""
    return float(np.sign(np.linalg.det(np.stack([first, second, axle]))))
