"""Regions of a plane with straight and bent sides, solids as what such regions have in common, and the outline of all solids.

Every side is parted where it meets the others; a part is a piece of the outline where what lies on its left is of the cut and what
lies on its right is not, or the other way round. So what runs inside another solid, or along a joint, drops out by itself.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.sections.pieces import Piece, arc, crossings, straight

__all__ = ["Outlined", "Region", "Room", "Solid", "TooManySides", "outline_of", "region_of"]

_BESIDE = 1e-7
"""Of the size of all: how far beside a piece it is asked what lies there."""


@dataclass(frozen=True)
class Region:
    """What an odd number of closed loops of pieces goes round."""

    pieces: tuple[Piece, ...]

    @cached_property
    def _chords(self) -> tuple[Floats, Floats]:
        ends = np.array([piece.at(np.array([0.0, 1.0])) for piece in self.pieces])
        return ends[:, 0], ends[:, 1]

    @cached_property
    def _arcs(self) -> list[tuple[Floats, Floats, Floats, float]]:
        """Of each arc its centre, the inverse of its half axes, the way to its middle there, and how far along it its chord lies."""
        found = []
        for piece in self.pieces:
            if piece.sweep != 0.0:
                half = piece.sweep / 2.0
                inverse = np.linalg.inv(np.column_stack([piece.first, piece.second]))
                found.append((piece.centre, inverse, np.array([np.cos(half), np.sin(half)]), float(np.cos(half))))
        return found

    @cached_property
    def box(self) -> Floats:
        """Least and greatest coordinates (2, 2)."""
        one, two = self._chords
        bent = [piece for piece in self.pieces if piece.sweep != 0.0]
        places = np.concatenate([one, two, *(piece.at(piece.extremes(way)) for piece in bent for way in np.eye(2))])
        return np.array([places.min(axis=0), places.max(axis=0)])

    def holds(self, places: Floats) -> Bools:
        """Tell which places (N, 2) lie inside."""
        one, two = self._chords
        x, y = places[:, :1], places[:, 1:]
        with np.errstate(divide="ignore", invalid="ignore"):
            at = one[:, 0] + (y - one[:, 1]) / (two[:, 1] - one[:, 1]) * (two[:, 0] - one[:, 0])
        odd = np.count_nonzero(((one[:, 1] > y) != (two[:, 1] > y)) & (x < at), axis=1) % 2 == 1
        for centre, inverse, middle, chord in self._arcs:
            own = (places - centre) @ inverse.T
            odd ^= (own @ middle > chord) & ((own * own).sum(axis=1) < 1.0)
        found: Bools = odd
        return found


def region_of(outline: Outline) -> Region:
    """Return the inside of an outline."""
    pieces: list[Piece] = []
    count = len(outline.corners)
    for k in range(count):
        bend = outline.bends.get(k)
        if bend is not None:
            pieces += arc(bend.centre, bend.first, bend.second, bend.start, bend.sweep)
        else:
            pieces.append(straight(outline.corners[k], outline.corners[(k + 1) % count]))
    return Region(tuple(pieces))


@dataclass(frozen=True)
class Solid:
    """What all of some regions have in common, without what each of some others have in common. owner : whose it is; plain : one region whose
    sides do not cross and have it on their left."""

    inside: tuple[Region, ...]
    without: tuple[tuple[Region, ...], ...] = ()
    owner: int = 0
    plain: bool = False

    def holds(self, places: Floats) -> Bools:
        """Tell which places (N, 2) lie inside."""
        found = np.ones(len(places), dtype=bool)
        for region in self.inside:
            found &= region.holds(places)
        for taken in self.without:
            gone = np.ones(len(places), dtype=bool)
            for region in taken:
                gone &= region.holds(places)
            found &= ~gone
        return found

    @property
    def regions(self) -> tuple[Region, ...]:
        """All regions whose sides may be sides of it."""
        return (*self.inside, *(region for taken in self.without for region in taken))


@dataclass(frozen=True)
class Outlined:
    """The outline of a cut. pieces : with the cut on the left of each; owner : whose side each is."""

    pieces: tuple[Piece, ...] = ()
    owner: tuple[int, ...] = ()
    size: float = field(default=1.0)

    @property
    def area(self) -> float:
        """Area of the cut, holes left out."""
        return sum(piece.swept for piece in self.pieces)

    @property
    def length(self) -> float:
        """Length of all outlines."""
        return sum(piece.length for piece in self.pieces)

    @cached_property
    def loops(self) -> list[list[Piece]]:
        """The pieces in order, loop by loop; where several go on from a place, the one that turns most to the left."""
        left = list(range(len(self.pieces)))
        starts = np.array([piece.at(np.array([0.0]))[0] for piece in self.pieces]).reshape(-1, 2)
        found = []
        slack = 1e-6 * self.size
        while left:
            here = left.pop(0)
            loop = [self.pieces[here]]
            first = starts[here]
            while True:
                end = loop[-1].at(np.array([1.0]))[0]
                if float(np.abs(end - first).max()) <= slack:
                    break
                after = [k for k in left if float(np.abs(starts[k] - end).max()) <= slack]
                if not after:
                    break
                way = loop[-1].way(np.array([1.0]))[0]
                best = max(after, key=lambda k: _turn(way, self.pieces[k].way(np.array([0.0]))[0]))
                left.remove(best)
                loop.append(self.pieces[best])
            found.append(loop)
        return found


def _turn(one: Floats, two: Floats) -> float:
    return float(np.arctan2(one[0] * two[1] - one[1] * two[0], one @ two))


class TooManySides(Exception):  # noqa: N818 (an answer, not a fault)
    """More sides meet each other than there is room to look at."""


@dataclass
class Room:
    """How many pairs of sides may still be looked at."""

    pairs: int

    def take(self, count: int) -> None:
        """Take so many; raises `TooManySides` where that is more than are left."""
        self.pairs -= count
        if self.pairs < 0:
            raise TooManySides


def outline_of(
    solids: Sequence[Solid], within: Callable[[Piece], bool] | None = None, room: Room | None = None
) -> Outlined:
    """Return the outline of what solids cut out of a plane together; touching ones become one.

    within : tells which sides are asked for; of the others no piece is told. room : raises `TooManySides` beyond it.
    """
    alone, solids = _alone(solids) if within is None else ([], solids)
    sides = [(piece, solid.owner, region) for solid in solids for region in solid.regions for piece in region.pieces]
    if alone:
        if room is not None:
            room.take(sum(len(solid.inside[0].pieces) for solid in alone))
        pieces = tuple(piece for solid in alone for piece in solid.inside[0].pieces)
        owners = tuple(solid.owner for solid in alone for _ in solid.inside[0].pieces)
        rest = outline_of(solids, room=room) if solids else Outlined()
        size = max([rest.size, *(float(np.abs(solid.inside[0].box).max()) for solid in alone)])
        return Outlined((*pieces, *rest.pieces), (*owners, *rest.owner), size)
    if not sides:
        return Outlined()
    boxes = np.array([_box(piece) for piece, _, _ in sides])
    ends = np.array([piece.at(np.array([0.0, 1.0])) for piece, _, _ in sides])
    size = max(float(np.abs(boxes).max()), 1.0)
    slack = 1e-9 * size
    if room is not None:
        room.take(sum(int(_near(boxes, row, slack).sum()) for row in range(len(sides))))
    parts: list[tuple[Piece, int]] = []
    for row, (piece, owner, _) in enumerate(sides):
        if within is not None and not within(piece):
            continue
        near = np.flatnonzero(_near(boxes, row, slack))
        cuts = {0.0, 1.0}
        for other in near:
            if other != row:
                cuts |= set(crossings(piece, sides[other][0]))
        # Ends of others that lie on it; those beside its bounds cannot.
        low_box, high_box = boxes[row, :2] - slack, boxes[row, 2:] + slack
        inside = ((ends[near] >= low_box) & (ends[near] <= high_box)).all(axis=2)
        for other, end in np.argwhere(inside):
            if near[other] != row and (part := piece.part_of(ends[near[other], end], slack)) is not None:
                cuts.add(part)
        ordered, length = sorted(min(max(u, 0.0), 1.0) for u in cuts), piece.length
        for low, high in pairwise(ordered):
            if (high - low) * length > slack:
                parts.append((piece.part(low, high), owner))
    return _kept(parts, solids, size)


def _alone(solids: Sequence[Solid]) -> tuple[list[Solid], list[Solid]]:
    """Part solids into those whose outline is their own, for no other comes near, and all others."""
    if not any(solid.plain for solid in solids):
        return [], list(solids)
    boxes = [np.array([region.box for region in solid.inside]) for solid in solids]
    low = np.array([box[:, 0].max(axis=0) for box in boxes])
    high = np.array([box[:, 1].min(axis=0) for box in boxes])
    slack = 1e-6 * max(float(np.abs(low).max()), float(np.abs(high).max()), 1.0)
    meet = ((low[:, None] <= high[None] + slack) & (high[:, None] >= low[None] - slack)).all(axis=2).sum(axis=1) > 1
    parted = [(solid, solid.plain and not together) for solid, together in zip(solids, meet.tolist(), strict=True)]
    return [solid for solid, own in parted if own], [solid for solid, own in parted if not own]


def _near(boxes: Floats, row: int, slack: float) -> Bools:
    """Tell which bounds (N,) meet those of a row."""
    found: Bools = (
        (boxes[:, 0] <= boxes[row, 2] + slack) & (boxes[:, 2] >= boxes[row, 0] - slack)
        & (boxes[:, 1] <= boxes[row, 3] + slack) & (boxes[:, 3] >= boxes[row, 1] - slack)
    )  # fmt: skip
    return found


def _box(piece: Piece) -> Floats:
    places = np.concatenate([piece.at(piece.extremes(way)) for way in np.eye(2)])
    return np.concatenate([places.min(axis=0), places.max(axis=0)])


def _kept(parts: Sequence[tuple[Piece, int]], solids: Sequence[Solid], size: float) -> Outlined:
    """Return the parts that part the cut from what is not of it, each once, and turned so that it lies on their left."""
    if not parts:
        return Outlined(size=size)
    half = np.array([0.5])
    middle = np.concatenate([piece.at(half) for piece, _ in parts])
    way = np.concatenate([piece.way(half) for piece, _ in parts])
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-300)[:, None]
    sides = [np.zeros(len(parts), dtype=bool) for _ in (0, 1)]
    for number, sign in enumerate((1.0, -1.0)):
        places = middle + sign * _BESIDE * size * normal[:, :]
        for solid in solids:
            sides[number] |= solid.holds(places)
    left, right = sides
    pieces, owner = [], []
    taken: set[tuple[int, int]] = set()
    for k in np.flatnonzero(left != right).tolist():
        key = (round(float(middle[k, 0]) / (1e-6 * size)), round(float(middle[k, 1]) / (1e-6 * size)))
        if any((key[0] + i, key[1] + j) in taken for i in (-1, 0, 1) for j in (-1, 0, 1)):
            continue
        taken.add(key)
        pieces.append(parts[k][0] if left[k] else parts[k][0].turned())
        owner.append(parts[k][1])
    return Outlined(tuple(pieces), tuple(owner), size)
