"""Bodies cut by outlines: what is left of a box inside a side view (x, z), a plan (x, y) and a front (y, z), in mm.

Rounds are worked with as chords; what is drawn of them (arcs, and where they turn away from the eye) is true.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import ceil, pi

import numpy as np

from isometron.geometry.faces.slab_loops import Slabs, TooMuchWork
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.outlines import Bend, Outline
from isometron.geometry.tolerances import EXACT, HAIR

__all__ = ["VIEW_AXES", "CutFaces", "TooMuchWork", "cut_body", "rectangle"]

VIEW_AXES = ((0, 2), (0, 1), (1, 2))
"""The own directions that a side view, a plan and a front are drawn in, in their order."""
CHORDS = 24
"""Chords to a quarter turn of a round: 0.05 % of its radius from it."""
_JOINED, _UNEVEN = HAIR, 0.02


def rectangle(wide: float, high: float) -> Outline:
    """Return the outline of a view that cuts nothing away."""
    return Outline(np.array([(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]), {})


@dataclass(frozen=True)
class _Chords:
    """All outlines as straight sides, one after the other.

    points : (P, 2); first : (4,); after : (P,); bend : (P,) the round that a side is a chord of, -1 for none; smooth : (P,)
    corners where the outline does not turn; view : (P,) the outline; side : (P,) its side, counted in it.
    """

    points: Floats
    first: Ints
    after: Ints
    bend: Ints
    smooth: Bools
    view: Ints
    side: Ints
    bends: list[tuple[int, Bend]]


def _chords(outlines: Sequence[Outline]) -> _Chords:
    points: list[Floats] = []
    bend: list[int] = []
    smooth: list[bool] = []
    view: list[int] = []
    side: list[int] = []
    bends: list[tuple[int, Bend]] = []
    first = [0]
    for number, outline in enumerate(outlines):
        sharp = outline.sharp()
        for k, corner in enumerate(outline.corners):
            points.append(corner[None])
            smooth.append(not sharp[k])
            round_ = outline.bends.get(k)
            if round_ is None:
                bend.append(-1)
                side.append(k)
                continue
            count = max(ceil(abs(round_.sweep) / (pi / 2) * CHORDS), 2)
            points.append(round_.at(round_.start + round_.sweep * _parts(count)[1:-1]))
            bend += [len(bends)] * count
            side += [k] * count
            smooth += [True] * (count - 1)
            bends.append((number, round_))
        first.append(len(bend))
        view += [number] * (first[-1] - first[-2])
    after = np.arange(1, len(bend) + 1)
    after[np.array(first[1:]) - 1] = first[:-1]
    return _Chords(
        _snapped(np.concatenate(points), np.array(view), first), np.array(first), after, np.array(bend),
        np.array(smooth), np.array(view), np.array(side), bends,
    )  # fmt: skip


def _parts(count: int) -> Floats:
    """Return where chords of a round end (count + 1,), 0 to 1: a little uneven, so that none of them lies level."""
    k = np.arange(count + 1.0)
    parts: Floats = (k + _UNEVEN * k * (count - k) / count**2) / count
    return parts


def _snapped(points: Floats, view: Ints, first: Sequence[int]) -> Floats:
    """Return the points with coordinates that differ by less than a hair, in whatever outlines, made the same."""
    points = points.copy()
    for axis in range(3):
        columns = [(number, own.index(axis)) for number, own in enumerate(VIEW_AXES) if axis in own]
        values = np.concatenate([points[first[n] : first[n + 1], column] for n, column in columns])
        order = np.argsort(values, kind="stable")
        ordered = values[order]
        starts = np.concatenate([[True], np.diff(ordered) > HAIR])
        values[order] = ordered[np.flatnonzero(starts)[np.cumsum(starts) - 1]]
        n, column = columns[0]
        points[first[n] : first[n + 1], column] = values[: first[n + 1] - first[n]]
        m, other = columns[1]
        points[first[m] : first[m + 1], other] = values[first[n + 1] - first[n] :]
    return points


@dataclass(frozen=True)
class _Planes:
    """Planes of sides. of_side : (P,); normal : (F, 3) outward; offset : (F,); origin, along, across : (F, 3), a place on a
    plane is origin + s along + c across; bend : (F,) of what a plane is a chord of, -1 for none."""

    of_side: Ints
    normal: Floats
    offset: Floats
    origin: Floats
    along: Floats
    across: Floats
    bend: Ints
    levels: list[tuple[int, float, float]]


def _planes(chords: _Chords) -> _Planes:
    start, end = chords.points, chords.points[chords.after]
    way = end - start
    axes = np.array(VIEW_AXES)[chords.view]
    rows = np.arange(len(start))
    normal, along, across, origin = (np.zeros((len(start), 3)) for _ in range(4))
    size = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-300)
    normal[rows, axes[:, 0]], normal[rows, axes[:, 1]] = way[:, 1] / size, -way[:, 0] / size
    along[rows, axes[:, 0]], along[rows, axes[:, 1]] = way.T
    origin[rows, axes[:, 0]], origin[rows, axes[:, 1]] = start.T
    across[rows, 3 - axes.sum(axis=1)] = 1.0
    slanted = np.flatnonzero((way != 0.0).all(axis=1))
    of_side, levels = _numbered(chords, slanted, normal, origin)
    unit, axis = np.eye(3), [key[0] for key in levels]
    others = np.array(_OTHERS)[axis].reshape(-1, 2)
    at, sign = np.array([[key[1], key[2]] for key in levels]).reshape(-1, 2).T
    normal = np.concatenate([normal[slanted], sign[:, None] * unit[axis]])
    origin = np.concatenate([origin[slanted], at[:, None] * unit[axis]])
    offset = np.einsum("fk,fk->f", normal, origin)
    along = np.concatenate([along[slanted], unit[others[:, 0]]])
    across = np.concatenate([across[slanted], unit[others[:, 1]]])
    bend = np.concatenate([chords.bend[slanted], np.full(len(levels), -1)])
    return _Planes(of_side, normal, offset, origin, along, across, bend, levels)


def _numbered(
    chords: _Chords, slanted: Ints, normal: Floats, origin: Floats
) -> tuple[Ints, list[tuple[int, float, float]]]:
    """Return the plane (P,) of each side, and the level planes (axis, place, way outward): outlines share those."""
    of_side = np.full(len(normal), -1)
    of_side[slanted] = np.arange(len(slanted))
    levels: dict[tuple[int, float, float], int] = {}
    for k in np.flatnonzero((of_side < 0) & (np.abs(normal).max(axis=1) > 0.0)):
        axis = int(np.argmax(np.abs(normal[k])))
        key = axis, float(origin[k, axis]), float(np.sign(normal[k, axis]))
        of_side[k] = levels.setdefault(key, len(slanted) + len(levels))
    # A side without length passes on the plane of the next.
    for k in np.flatnonzero(of_side < 0)[::-1]:
        of_side[k] = of_side[chords.after[k]]
    return of_side, list(levels)


_OTHERS = ((1, 2), (0, 2), (0, 1))


def _view_of(one: int, two: int) -> int:
    """Return the number of the view that is drawn in two own directions."""
    return VIEW_AXES.index((min(one, two), max(one, two)))


def _met_by(view: int) -> tuple[int, int, int, int]:
    """Return the outlines that share a view's first and its second axis, each with the column of it."""
    a, b = VIEW_AXES[view]
    one, two = _view_of(a, 3 - a - b), _view_of(b, 3 - a - b)
    return one, VIEW_AXES[one].index(a), two, VIEW_AXES[two].index(b)


_MEETS = tuple(map(_met_by, range(3)))


@dataclass(frozen=True)
class CutFaces:
    """The faces of a cut body, in its own axes.

    normal, offset : (F, 3), (F,) of the planes, outward; origin, along, across : (F, 3) of each a place and its two directions
    (unit); sides : (F, 3) the side of each view's outline that it stands on, -1 for none; bend : (F,) the round that a plane is a chord of, -1 for a flat
    face; ends : (S, 2, 3) the sides of the faces, with ``face`` (S,) to the left seen along normal or against it, ``beyond``
    (S,) the plane on the other side. smooth : pairs of planes that run on into one another, as numbers face F + other.
    rounds : (B, 12) centre, half axes and the way through of every round, span : (B, 2) start and sweep, radians.
    sheets : (K, 7) the round, its angle, low and high there, and the same at the other end, of those that bulge.
    """

    normal: Floats
    offset: Floats
    origin: Floats
    along: Floats
    across: Floats
    bend: Ints
    sides: Ints
    ends: Floats
    face: Ints
    beyond: Ints
    smooth: Ints
    rounds: Floats
    span: Floats
    sheets: Floats

    @cached_property
    def once(self) -> Ints:
        """Rows (E,) of ``ends`` so that every edge is there once."""
        return np.flatnonzero((self.face < self.beyond) | (self.beyond < 0))

    @cached_property
    def edges(self) -> tuple[Floats, Bools]:
        """Straight edges: ends (E, 2, 3), and whether each (E,) is tangent: a round runs on smoothly there."""
        rows = self._drawn[(self._arc < 0) & ~self._seam]
        return self.ends[rows], np.isin(self._pair(rows), self.smooth)

    @property
    def seams(self) -> Floats:
        """Where two rounds meet: short straight pieces (K, 2, 3) of a curve that is no ellipse."""
        return self.ends[self._drawn[self._seam]]

    @property
    def _seam(self) -> Bools:
        """Drawn edges (E,) between chords of two rounds."""
        seam: Bools = (self.bend[self.face[self._drawn]] >= 0) & (self.bend[self.beyond[self._drawn]] >= 0)
        return seam & (self._arc < 0)

    @cached_property
    def arcs(self) -> tuple[Floats, Floats]:
        """Where rounds are cut by flat faces: centre and half axes (G, 9), start and sweep (G, 2) in radians."""
        rows = np.flatnonzero(self._arc >= 0)
        bend, edge = self._arc[rows], self._drawn[rows]
        flat = np.where(self.bend[self.face[edge]] >= 0, self.beyond[edge], self.face[edge])
        part = self._part_of(self.ends[edge], bend)
        low, high = part.min(axis=1), part.max(axis=1)
        key = bend * (len(self.bend) + 1) + flat
        order = np.lexsort([low, key])
        key, low, high = key[order], low[order], high[order]
        begins = np.ones(len(order), dtype=bool)
        # Pieces of one round on one plane run on from each other.
        begins[1:] = (key[1:] != key[:-1]) | (low[1:] > high[:-1] + _JOINED)
        run = np.flatnonzero(begins)
        last = np.append(run[1:], len(order)) - 1 if len(run) else run
        at = order[run]
        rings = self._on_plane(bend[at], flat[at])
        start = self.span[bend[at], 0] + low[run] * self.span[bend[at], 1]
        return rings, np.column_stack([start, (high[last] - low[run]) * self.span[bend[at], 1]])

    def _pair(self, rows: Ints) -> Ints:
        one, two = self.face[rows], self.beyond[rows]
        pair: Ints = np.minimum(one, two) * len(self.bend) + np.maximum(one, two)
        return pair

    @cached_property
    def _drawn(self) -> Ints:
        """Rows of ``ends`` that are edges: chords of one round meet in none, nor do flat sides that run straight on."""
        one, two = self.bend[self.face[self.once]], self.bend[self.beyond[self.once]]
        straight_on = (one < 0) & (two < 0) & np.isin(self._pair(self.once), self.smooth)
        drawn: Ints = self.once[((one < 0) | (one != two)) & ~straight_on]
        return drawn

    @cached_property
    def _arc(self) -> Ints:
        """The round (E,) that drawn edges are arcs of, -1 for straight ones."""
        face, beyond = self.face[self._drawn], self.beyond[self._drawn]
        one, two = self.bend[face], self.bend[beyond]
        found: Ints = np.where((one >= 0) != (two >= 0), np.maximum(one, two), -1)
        flat = np.where(one >= 0, beyond, face)
        rows = np.flatnonzero(found >= 0)
        through = np.einsum("fk,fk->f", self.normal[flat[rows]], self.rounds[found[rows], 9:])
        found[rows[np.abs(through) < EXACT]] = -1
        found[beyond < 0] = -1
        return found

    def _part_of(self, places: Floats, bend: Ints) -> Floats:
        """Return how far along its round (E,) each place (E, 2, 3) lies, 0 to 1."""
        off = places - self.rounds[bend, None, :3]
        x, y = (
            (off * half).sum(axis=2) / (half * half).sum(axis=2)
            for half in (self.rounds[bend, None, 3:6], self.rounds[bend, None, 6:9])
        )
        start, sweep = self.span[bend, :1], self.span[bend, 1:]
        turn = np.sign(sweep) * (np.arctan2(y, x) - start)
        # The middle of the way that is no part of the round is as far as possible from both of its ends.
        slack = (2 * pi - np.abs(sweep)) / 2
        part: Floats = ((turn + slack) % (2 * pi) - slack) / np.abs(sweep)
        return part

    def _on_plane(self, bend: Ints, flat: Ints) -> Floats:
        """Return the rings (G, 9) that the planes cut out of the rounds' cylinders."""
        way, normal = self.rounds[bend, 9:], self.normal[flat]
        through = np.einsum("fk,fk->f", normal, way)[:, None]
        centre, first, second = (self.rounds[bend, k : k + 3] for k in (0, 3, 6))
        off = self.offset[flat] - np.einsum("fk,fk->f", normal, centre)
        parts = [centre + off[:, None] / through * way]
        for half in (first, second):
            parts.append(half - np.einsum("fk,fk->f", normal, half)[:, None] / through * way)
        return np.concatenate(parts, axis=1)

    @property
    def area(self) -> Floats:
        """Area (F,) of what is left on each plane, mm2 (a sum of triangles about the origin: Green's theorem)."""
        cross = np.cross(self.ends[:, 0] - self._any[self.face], self.ends[:, 1] - self._any[self.face])
        signed = np.einsum("sk,sk->s", cross, self.normal[self.face]) / 2
        area: Floats = np.abs(np.bincount(self.face, weights=signed, minlength=len(self.bend)))
        return area

    @property
    def volume(self) -> float:
        """Volume in mm3 (the divergence theorem)."""
        return float(self.area @ self.offset) / 3.0

    @cached_property
    def _any(self) -> Floats:
        """A place on each plane (F, 3)."""
        place: Floats = self.offset[:, None] * self.normal
        return place


def cut_body(side: Outline, plan: Outline, front: Outline) -> CutFaces:
    """Return the body inside three outlines, counter-clockwise ones; raises `TooMuchWork`."""
    chords = _chords((side, plan, front))
    planes = _planes(chords)
    bent = np.zeros(len(chords.points), dtype=np.uint8)
    bulges = np.array([bend.sweep > 0.0 for _, bend in chords.bends], dtype=bool)
    has = chords.bend >= 0
    bent[has] = bulges[chords.bend[has]]
    frames = np.ascontiguousarray(np.hstack([planes.normal, planes.along, planes.across]))
    slabs = Slabs(  # type: ignore[no-untyped-call]
        np.ascontiguousarray(chords.points), chords.first, chords.after, planes.of_side, bent, frames
    )
    slanted = np.flatnonzero(planes.of_side < len(planes.bend) - len(planes.levels))
    for k in slanted:
        if (chords.points[k] == chords.points[chords.after[k]]).all():
            continue
        slabs.slanted(k, *_MEETS[chords.view[k]])
    base = len(planes.bend) - len(planes.levels)
    for number, (axis, at, sign) in enumerate(planes.levels):
        b, e = _OTHERS[axis]
        one, two, three = _view_of(axis, b), _view_of(axis, e), _view_of(b, e)
        slabs.level(
            base + number, at, sign, one, VIEW_AXES[one].index(axis), two, VIEW_AXES[two].index(axis), three,
            VIEW_AXES[three].index(b),
        )  # fmt: skip
    rows, sheets = slabs.found()
    return _body(chords, planes, rows, sheets)


def _body(chords: _Chords, planes: _Planes, rows: Floats, sheets: Floats) -> CutFaces:
    face, beyond = rows[:, 0].astype(np.intp), rows[:, 5].astype(np.intp)
    along, across = planes.along[face][:, None], planes.across[face][:, None]
    ends = planes.origin[face][:, None] + rows[:, [1, 3], None] * along + rows[:, [2, 4], None] * across
    before = np.empty_like(chords.after)
    before[chords.after] = np.arange(len(before))
    corner = np.flatnonzero(chords.smooth)
    one, two = planes.of_side[before[corner]], planes.of_side[corner]
    rounds, span = _rounds(chords.bends)
    sides = np.full((len(planes.bend), 3), -1)
    sides[planes.of_side[::-1], chords.view[::-1]] = chords.side[::-1]
    return CutFaces(
        planes.normal, planes.offset, planes.origin, _unit(planes.along), planes.across, planes.bend, sides, ends, face, beyond,
        np.unique(np.minimum(one, two) * len(planes.bend) + np.maximum(one, two)), rounds, span,
        _sheets(chords, sheets),
    )  # fmt: skip


def _unit(ways: Floats) -> Floats:
    long: Floats = ways / np.sqrt(np.maximum((ways * ways).sum(axis=1), 1e-300))[:, None]
    return long


def _rounds(bends: Sequence[tuple[int, Bend]]) -> tuple[Floats, Floats]:
    rounds = np.zeros((len(bends), 12))
    for row, (view, bend) in zip(rounds, bends, strict=True):
        axes = VIEW_AXES[view]
        for start, pair in ((0, bend.centre), (3, bend.first), (6, bend.second)):
            row[start + axes[0]], row[start + axes[1]] = pair
        row[9 + 3 - sum(axes)] = 1.0
    return rounds, np.array([[bend.start, bend.sweep] for _, bend in bends]).reshape(-1, 2)


def _sheets(chords: _Chords, sheets: Floats) -> Floats:
    """Return the sheets with angles on their rounds in place of parts of their chords."""
    side = sheets[:, 0].astype(np.intp)
    bend = chords.bend[side]
    found = sheets.copy()
    found[:, 0] = bend
    if len(sheets) == 0:
        return found
    start, sweep = np.array([[b.start, b.sweep] for _, b in chords.bends]).T
    own = np.flatnonzero(chords.bend >= 0)
    first = np.full(len(start), len(chords.bend))
    np.minimum.at(first, chords.bend[own], own)
    count = np.bincount(chords.bend[own], minlength=len(start))
    ends = np.concatenate([_parts(n) for n in count])
    opening = np.concatenate([[0], np.cumsum(count + 1)[:-1]])
    chord = opening[bend] + side - first[bend]
    for column in (1, 4):
        part = ends[chord] + sheets[:, column] * (ends[chord + 1] - ends[chord])
        found[:, column] = start[bend] + part * sweep[bend]
    return found
