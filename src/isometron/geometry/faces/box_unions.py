"""Unions of boxes along the axes: their edges, and their surface as flat faces.

Space is parted into cells by the planes of all boxes. An edge is drawn where, of the four cells round a line, one or three are
filled, or two that only touch along it; a face lies between a filled cell and an empty one.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from itertools import pairwise

import numpy as np

from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import HAIR

__all__ = ["BoxUnion"]

Cell = tuple[int, int]
Node = tuple[int, int, int]
"""A place where planes of all three directions meet, by the numbers of its ticks."""


class BoxUnion:
    """The union of boxes (M, 2, 3), least and greatest coordinates each. filled : the cells, with an empty one before and behind."""

    def __init__(self, boxes: Floats) -> None:
        self.ticks = [_ticks(boxes[:, :, k]) for k in range(3)]
        self.filled: Bools = np.zeros([len(t) + 1 for t in self.ticks], dtype=bool)
        for low, high in boxes:
            cells = [slice(_row(t, lo) + 1, _row(t, hi) + 1) for t, lo, hi in zip(self.ticks, low, high, strict=True)]
            self.filled[tuple(cells)] = True

    @cached_property
    def edges(self) -> tuple[Floats, Ints]:
        """The edges (E, 2, 3) of the union, and the axis (E,) that each runs along."""
        ends: list[Floats] = []
        axes: list[int] = []
        for axis in range(3):
            one, two = (k for k in range(3) if k != axis)
            drawn = _drawn(np.moveaxis(self.filled, (axis, one, two), (0, 1, 2)))
            for i, j in zip(*np.nonzero(drawn.any(axis=0)), strict=True):
                for start, end in _runs(drawn[:, i, j]):
                    pair = np.empty((2, 3))
                    pair[:, one], pair[:, two] = self.ticks[one][i], self.ticks[two][j]
                    pair[:, axis] = self.ticks[axis][start - 1], self.ticks[axis][end - 1]
                    ends.append(pair)
                    axes.append(axis)
        return np.array(ends).reshape(-1, 2, 3), np.array(axes, dtype=np.intp)

    @cached_property
    def faces(self) -> FlatFaces:
        """The surface: one face for all cells of a plane that hang together; where faces meet their sides have the same ends."""
        found = [
            (axis, k, sign, list(_sides(axis, k, cells, out=sign > 0)))
            for axis in range(3)
            for k in range(len(self.ticks[axis]))
            for sign in (-1, 1)
            for cells in _together(self._bare(axis, k, sign))
        ]
        corners = {end for *_, sides in found for side in sides for end in side}
        frames, count, ends = [], [], []
        for axis, k, sign, sides in found:
            parted = [piece for side in sides for piece in _parted(side, corners)]
            x, y, normal = np.eye(3)[[(axis + 1) % 3, (axis + 2) % 3, axis]]
            frames.append(np.concatenate([normal * self.ticks[axis][k], x, y, sign * normal]))
            count.append(len(parted))
            ends += [(axis, [self._place(node) for node in piece]) for piece in parted]
        places = np.array([piece for _, piece in ends]).reshape(-1, 2, 3)
        across = np.array([((axis + 1) % 3, (axis + 2) % 3) for axis, _ in ends], dtype=np.intp).reshape(-1, 2)
        flat = np.take_along_axis(places, np.repeat(across[:, None], 2, axis=1), axis=2)
        own = len(frames)
        return FlatFaces(
            np.array(frames).reshape(-1, 12), np.zeros(own), np.zeros(own, dtype=bool), np.array(count, dtype=np.intp),
            flat.reshape(-1, 4), np.ascontiguousarray(places[:, 0]), np.zeros((len(flat), 7)),
        )  # fmt: skip

    def _bare(self, axis: int, k: int, sign: int) -> Bools:
        """Tell on which cells of plane k, along the next axis and the one after, the union ends, looking towards ``sign``."""
        filled = np.moveaxis(self.filled, (axis, (axis + 1) % 3, (axis + 2) % 3), (0, 1, 2))
        inner, outer = (filled[k], filled[k + 1]) if sign > 0 else (filled[k + 1], filled[k])
        found: Bools = inner & ~outer
        return found

    def _place(self, node: Node) -> Floats:
        return np.array([ticks[n] for ticks, n in zip(self.ticks, node, strict=True)])


def _ticks(values: Floats) -> Floats:
    """Return sorted places, those that lie within a nanometre of each other once."""
    ordered = np.sort(values.reshape(-1))
    if not len(ordered):
        return ordered
    ticks: Floats = ordered[np.concatenate([[True], np.diff(ordered) > HAIR])]
    return ticks


def _row(ticks: Floats, value: float) -> int:
    return int(np.argmin(np.abs(ticks - value)))


def _drawn(filled: Bools) -> Bools:
    """Tell for the cells along the first axis and each line between four cells whether an edge runs there."""
    a, b, c, d = filled[:, :-1, :-1], filled[:, 1:, :-1], filled[:, 1:, 1:], filled[:, :-1, 1:]
    count = a.astype(int) + b + c + d
    edge: Bools = (count % 2 == 1) | ((count == 2) & (a == c))
    return edge


def _runs(flags: Bools) -> list[tuple[int, int]]:
    """Return the runs (first, one past the last) of true flags."""
    steps = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(int)))
    return [(int(a), int(b)) for a, b in zip(steps[::2], steps[1::2], strict=True)]


def _together(mask: Bools) -> Iterator[Bools]:
    """Yield the parts of a mask (A, B) whose cells hang together by their sides."""
    left = {(int(i), int(j)) for i, j in zip(*np.nonzero(mask), strict=True)}
    while left:
        part, ask = np.zeros_like(mask), [min(left)]
        left.discard(ask[0])
        while ask:
            i, j = ask.pop()
            part[i, j] = True
            near = {(i - 1, j), (i + 1, j), (i, j - 1), (i, j + 1)} & left
            left -= near
            ask += sorted(near)
        yield part


def _sides(axis: int, k: int, cells: Bools, *, out: bool) -> Iterator[tuple[Node, Node]]:
    """Yield the sides of a face of some cells (A, B), counter-clockwise as seen from where it looks."""
    for turned in (False, True):
        own = cells.T if turned else cells
        # Along the first direction of ``own``, between each row of cells and the next.
        for j in range(own.shape[1] - 1):
            for over in (False, True):
                here, there = (own[:, j], own[:, j + 1]) if over else (own[:, j + 1], own[:, j])
                for start, end in _runs(here & ~there):
                    nodes = [_node(axis, k, (j, at) if turned else (at, j)) for at in (start - 1, end - 1)]
                    # The face lies before the line where the empty cell is the next one: to the right of its way.
                    yield (nodes[1], nodes[0]) if over ^ turned ^ (not out) else (nodes[0], nodes[1])


def _node(axis: int, k: int, at: Cell) -> Node:
    found = [0, 0, 0]
    found[axis], found[(axis + 1) % 3], found[(axis + 2) % 3] = k, at[0], at[1]
    return found[0], found[1], found[2]


def _parted(side: tuple[Node, Node], corners: set[Node]) -> Iterator[tuple[Node, Node]]:
    """Yield the pieces of a side between the corners that lie on it."""
    one, two = side
    axis = next(k for k in range(3) if one[k] != two[k])
    step = 1 if two[axis] > one[axis] else -1
    nodes = [(*one[:axis], n, *one[axis + 1 :]) for n in range(one[axis], two[axis] + step, step)]
    on = [node for node in nodes if node in corners or node in (one, two)]
    yield from pairwise(on)
