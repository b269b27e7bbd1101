"""Complements of parameter intervals on many edges at once, as flat arrays."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import MERGE_PARAMETER

__all__ = ["complement", "turning_point", "united"]

_HALVINGS = 50


def turning_point(tell: Callable[[float], object], low: float, high: float) -> float:
    """Return where between two parameters what is told of them changes, by halving; the last place that is told as ``low`` is."""
    begun = tell(low)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if tell(middle) == begun else (low, middle)
    return low


def complement(count: int, edge: Ints, start: Floats, end: Floats) -> tuple[Ints, Floats, Floats]:
    """Return what the disjoint, sorted intervals leave of edges 0 .. count - 1; slivers are dropped."""
    everyone = np.arange(count)
    edges = np.concatenate((everyone, edge))
    from_edge = np.concatenate((np.zeros(count), end))
    to_edge = np.concatenate((edge, everyone))
    upto = np.concatenate((start, np.ones(count)))
    a = np.lexsort((from_edge, edges))
    b = np.lexsort((upto, to_edge))
    gap_edge, gap_start, gap_end = edges[a], from_edge[a], upto[b]
    keep = gap_end - gap_start > MERGE_PARAMETER
    return gap_edge[keep], gap_start[keep], gap_end[keep]


def united(one: tuple[Ints, Floats, Floats], other: tuple[Ints, Floats, Floats]) -> tuple[Ints, Floats, Floats]:
    """Return the union of two sets of intervals (edge, start, end), sorted and disjoint; those that meet become one."""
    if not len(other[0]):
        return one
    edge, start, end = (np.concatenate(pair) for pair in zip(one, other, strict=True))
    order = np.lexsort((start, edge))
    edge, start, end = edge[order], start[order], end[order]
    # Edge by edge on one axis, so that one running maximum tells how far all before it reach.
    reach = np.maximum.accumulate(end + 2.0 * edge)
    fresh = np.append(True, start[1:] + 2.0 * edge[1:] > reach[:-1] + MERGE_PARAMETER)
    first = np.flatnonzero(fresh)
    last = np.append(first[1:], len(edge)) - 1
    return edge[first], start[first], reach[last] - 2.0 * edge[first]
