"""Edges that lie on one another: a box flush with its neighbour shares edges, and a pencil rules them once."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import MERGE_PARAMETER, SAME_DIRECTION, SAME_PLACE

__all__ = ["owned_spans"]


_OFF_GRID = 0.31830988618  # keeps round millimetres and inch fractions away from the rounding boundaries


def owned_spans(start: Floats, end: Floats, rank: Ints) -> tuple[Ints, Floats, Floats]:
    """Return the spans (edge, t0, t1) that each edge draws so that no stretch of a line is drawn twice.

    start, end : (E, 3) world ends. rank : (E,), the lower rank keeps a shared stretch; ties go to the earlier
    edge. Edges are compared only when they lie on one line to within `SAME_PLACE`. Sorted by edge.
    """
    count = len(start)
    whole = np.arange(count), np.zeros(count), np.ones(count)
    if count == 0:
        return whole
    along, group = _lines(start, end)
    a = np.einsum("ij,ij->i", along, start)
    b = np.einsum("ij,ij->i", along, end)
    order = np.lexsort((np.arange(count), rank, group))
    sizes = np.bincount(group[order])
    shared = np.flatnonzero(sizes > 1)
    if len(shared) == 0:
        return whole
    first = np.concatenate(([0], np.cumsum(sizes)))
    alone = np.ones(count, dtype=bool)
    spans: list[tuple[int, float, float]] = []
    for line in shared:
        members = order[first[line] : first[line + 1]]
        if _apart(a[members], b[members]):
            continue
        alone[members] = False
        spans += _share_out(members, a, b)
    edges = np.concatenate((np.flatnonzero(alone), np.array([s[0] for s in spans], dtype=np.intp)))
    t0 = np.concatenate((np.zeros(int(alone.sum())), np.array([s[1] for s in spans])))
    t1 = np.concatenate((np.ones(int(alone.sum())), np.array([s[2] for s in spans])))
    order = np.lexsort((t0, edges))
    return edges[order], t0[order], t1[order]


def _lines(start: Floats, end: Floats) -> tuple[Floats, Ints]:
    """Return the unit direction (E, 3), one sign per line, and a group number per infinite line."""
    along = end - start
    along = along / np.sqrt(np.einsum("ij,ij->i", along, along))[:, None]
    grid = np.rint(along / SAME_DIRECTION)
    lead = np.where(grid[:, 0] != 0, grid[:, 0], np.where(grid[:, 1] != 0, grid[:, 1], grid[:, 2]))
    along = np.where((lead < 0)[:, None], -along, along)
    foot = start - np.einsum("ij,ij->i", start, along)[:, None] * along
    key = np.hstack([np.rint(along / SAME_DIRECTION), np.rint(foot / SAME_PLACE + _OFF_GRID)]).astype(np.int64)
    # Integers, so that -0 and 0 are equal; sorting whole rows compares exactly, where a hash might confuse lines.
    order = np.lexsort(key.T)
    fresh = np.any(key[order][1:] != key[order][:-1], axis=1)
    group = np.empty(len(key), dtype=np.intp)
    group[order] = np.concatenate(([0], np.cumsum(fresh)))
    return along, group


def _apart(a: Floats, b: Floats) -> bool:
    low, high = np.minimum(a, b), np.maximum(a, b)
    order = np.argsort(low)
    return bool(np.all(high[order][:-1] <= low[order][1:] + SAME_PLACE))


def _share_out(members: Ints, a: Floats, b: Floats) -> list[tuple[int, float, float]]:
    """Give each stretch of one line to the first member that covers it."""
    taken: list[tuple[float, float]] = []
    spans: list[tuple[int, float, float]] = []
    for edge in members:
        low, high = sorted((a[edge], b[edge]))
        for lo, hi in _without(low, high, taken):
            t = sorted(((lo - a[edge]) / (b[edge] - a[edge]), (hi - a[edge]) / (b[edge] - a[edge])))
            if t[1] - t[0] > MERGE_PARAMETER:
                spans.append((int(edge), float(max(t[0], 0.0)), float(min(t[1], 1.0))))
        taken.append((low, high))
    return spans


def _without(low: float, high: float, taken: list[tuple[float, float]]) -> list[tuple[float, float]]:
    left = [(low, high)]
    for t0, t1 in taken:
        left = [
            piece
            for lo, hi in left
            for piece in ((lo, min(hi, t0)), (max(lo, t1), hi))
            if piece[1] - piece[0] > SAME_PLACE
        ]
    return left
