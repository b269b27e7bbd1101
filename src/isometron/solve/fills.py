"""Regions filled with a tone, as flat arrays: thousands of them are moved, chosen and painted without a loop over each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import HAIR
from isometron.solve.bag import NOBODY, Bag, Role

__all__ = ["NO_FILLS", "Fills", "arc_side", "cubic_side"]

_NO_PATCH = -1
_STRAIGHT = -1
_WIDTH = 7


def arc_side(shape: Floats) -> Floats:
    """Return a side that is an elliptical arc, as a row of `Arcs` (7,): it runs from the point of its first parameter to that of its last."""
    return np.asarray(shape, dtype=np.float64)


def cubic_side(handles: Floats) -> Floats:
    """Return a side that is a cubic, by the two points (4,) that pull it (Bézier's form)."""
    return np.concatenate([np.asarray(handles, dtype=np.float64), np.full(_WIDTH - 4, np.nan)])


@dataclass(frozen=True)
class Fills(Bag):
    """Regions filled with a tone; what an odd number of its rings goes round is filled.

    points : (P, 2) the corners of all rings, mm; side : (P,) the row of ``bends`` that the side from a corner to the next one is, -1 where
    it is straight; bends : (B, 7) arcs and cubics, see `arc_side`, `cubic_side`; ring_first : (R + 1,) into points; fill_first : (N + 1,) into rings; tone : (N,)
    0 white to 1 black; patch : (N,) the face of its owner that it is on, -1 for none; role, owner : (N,).
    """

    points: Floats
    side: Ints
    bends: Floats
    ring_first: Ints
    fill_first: Ints
    tone: Floats
    patch: Ints
    role: NDArray[np.int8]
    owner: Ints

    @staticmethod
    def of(regions: Sequence[Sequence[Floats]], tone: float | Floats, role: Role = Role.TONE, owner: int | Ints = NOBODY,
           patch: int | Ints = _NO_PATCH) -> Fills:  # fmt: skip
        """Return regions of straight sides, each as its outline (K, 2) and its holes."""
        n, rings = len(regions), [np.asarray(ring, dtype=np.float64) for region in regions for ring in region]
        points = np.concatenate([np.zeros((0, 2)), *rings])
        return Fills(
            points, np.full(len(points), _STRAIGHT), np.zeros((0, _WIDTH)), _starts([len(ring) for ring in rings]),
            _starts([len(region) for region in regions]), np.broadcast_to(np.asarray(tone, dtype=np.float64), n).copy(),
            np.broadcast_to(np.asarray(patch, dtype=np.intp), n).copy(), np.full(n, role, np.int8), np.broadcast_to(np.asarray(owner, dtype=np.intp), n).copy(),
        )  # fmt: skip

    def select(self, rows: Ints | Bools) -> Fills:
        """Return the fills of the given rows."""
        rows = np.arange(len(self))[rows]
        rings = _ranges(self.fill_first[rows], self.fill_first[rows + 1])
        places = _ranges(self.ring_first[rings], self.ring_first[rings + 1])
        side = self.side[places]
        bent = np.flatnonzero(side >= 0)
        bends = self.bends[side[bent]]
        side[bent] = np.arange(len(bent))
        return Fills(
            self.points[places], side, bends, _starts(np.diff(self.ring_first)[rings]), _starts(np.diff(self.fill_first)[rows]),
            self.tone[rows], self.patch[rows], self.role[rows], self.owner[rows],
        )  # fmt: skip

    @classmethod
    def joined(cls, parts: Sequence[Fills]) -> Fills:
        """Return the fills of all parts in their order."""
        if len(parts) == 1:
            return parts[0]
        before = np.cumsum([0, *(len(part.bends) for part in parts)])
        side = [np.where(part.side >= 0, part.side + n, part.side) for part, n in zip(parts, before, strict=False)]

        def of(name: str) -> Any:
            return np.concatenate([getattr(part, name) for part in parts])

        return cls(
            of("points"), np.concatenate(side), of("bends"), _starts(np.concatenate([np.diff(p.ring_first) for p in parts])),
            _starts(np.concatenate([np.diff(p.fill_first) for p in parts])), of("tone"), of("patch"), of("role"), of("owner"),
        )  # fmt: skip

    def placed(self, shift: Floats, scale: float = 1.0) -> Fills:
        """Return them at ``scale`` times each place plus ``shift`` (2,) mm."""
        bends = self.bends.copy()
        arc = ~np.isnan(bends[:, 6])
        bends[:, :4] *= scale
        bends[:, :2] += shift
        bends[~arc, 2:4] += shift
        return replace(self, points=scale * self.points + shift, bends=bends)

    @cached_property
    def after(self) -> Ints:
        """Of each corner (P,) the next one of its ring."""
        found = np.arange(1, len(self.points) + 1)
        full = np.diff(self.ring_first) > 0
        found[self.ring_first[1:][full] - 1] = self.ring_first[:-1][full]
        return found

    def straightened(self, within: float) -> Fills:
        """Return them with bent sides as chords that lie within so many mm of them."""
        bent = np.flatnonzero(self.side >= 0)
        if not len(bent):
            return self
        rows = self.side[bent]
        arc = ~np.isnan(self.bends[rows, 6])
        count = np.ones(len(self.points), dtype=np.intp)
        count[bent] = np.where(arc, _arc_chords(self.bends[rows], within), self._cubic_chords(bent, rows, within))
        place = np.repeat(np.arange(len(self.points)), count)
        part = (np.arange(len(place)) - np.repeat(np.cumsum(count) - count, count)) / count[place]
        points = self.points[place].copy()
        inner = np.flatnonzero(part > 0.0)
        points[inner] = self._at(place[inner], part[inner])
        length = np.concatenate([[0], np.cumsum(count)])
        return replace(
            self, points=points, side=np.full(len(points), _STRAIGHT), bends=np.zeros((0, _WIDTH)), ring_first=length[self.ring_first]
        )  # fmt: skip

    def _cubic_chords(self, bent: Ints, rows: Ints, within: float) -> Ints:
        """Chords of a cubic lie off it by its second difference over 8 n^2 at most (Wang's formula, Goldman 2003)."""
        p, q = self.points[bent], self.points[self.after[bent]]
        one, two = self.bends[rows, 0:2], self.bends[rows, 2:4]
        bow = np.maximum(np.hypot(*(p - 2 * one + two).T), np.hypot(*(one - 2 * two + q).T))
        return _whole(np.sqrt(0.75 * np.nan_to_num(bow) / within))

    def _at(self, places: Ints, part: Floats) -> Floats:
        """Return points (K, 2) of bent sides at parts (K,) of their way."""
        bend = self.bends[self.side[places]]
        u, v, a, b, turn, first, last = bend.T
        t = first + part * (last - first)
        x, y = a * np.cos(t), b * np.sin(t)
        found = np.column_stack([u + x * np.cos(turn) - y * np.sin(turn), v + x * np.sin(turn) + y * np.cos(turn)])
        cubic = np.flatnonzero(np.isnan(bend[:, 6]))
        s, t = 1.0 - part[cubic, None], part[cubic, None]
        p, q = self.points[places[cubic]], self.points[self.after[places[cubic]]]
        one, two = bend[cubic, 0:2], bend[cubic, 2:4]
        found[cubic] = s**3 * p + 3.0 * s * s * t * one + 3.0 * s * t * t * two + t**3 * q
        return found

    def rings(self, row: int) -> list[Floats]:
        """Return the rings (K, 2) of one of them, whose sides are straight."""
        first = self.ring_first
        return [self.points[first[k] : first[k + 1]] for k in range(self.fill_first[row], self.fill_first[row + 1])]

    def sides_of(self, row: int) -> list[tuple[Floats, list[Floats | None]]]:
        """Return of each ring of one of them the corners (K, 2), and of each side what it is, None for straight."""
        found = []
        for k in range(self.fill_first[row], self.fill_first[row + 1]):
            own = slice(int(self.ring_first[k]), int(self.ring_first[k + 1]))
            found.append((self.points[own], [None if n < 0 else self.bends[n] for n in self.side[own].tolist()]))
        return found

    def alike(self, other: Bag) -> bool:
        """Whether the two hold the same fills."""
        return self is other or (
            isinstance(other, Fills)
            and all(np.array_equal(getattr(self, n), getattr(other, n), equal_nan=True) for n in ("points", "bends", "tone"))
            and all(np.array_equal(getattr(self, n), getattr(other, n)) for n in ("side", "ring_first", "fill_first", "patch", "role", "owner"))
        )  # fmt: skip


def _starts(lengths: Sequence[int] | Ints) -> Ints:
    return np.concatenate([[0], np.cumsum(np.asarray(lengths, dtype=np.intp))]).astype(np.intp)


def _ranges(first: Ints, last: Ints) -> Ints:
    """Return the numbers from each first to before each last, after each other."""
    count = last - first
    found: Ints = np.repeat(first - np.concatenate([[0], np.cumsum(count)[:-1]]), count) + np.arange(int(count.sum()))
    return found


def _whole(count: Floats) -> Ints:
    return np.clip(np.ceil(count - HAIR), 1, 4096).astype(np.intp)


def _arc_chords(bends: Floats, within: float) -> Ints:
    radius = np.maximum(np.maximum(bends[:, 2], bends[:, 3]), within)
    step = 2.0 * np.arccos(1.0 - within / radius)
    return _whole(np.nan_to_num(np.abs(bends[:, 6] - bends[:, 5])) / step)


NO_FILLS = Fills.of((), 0.0)
