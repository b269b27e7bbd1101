"""Unions and complements of parameter intervals on many edges at once, as flat arrays."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import MERGE_PARAMETER

__all__ = ["complement", "union"]


def union(edge: Ints, start: Floats, end: Floats) -> tuple[Ints, Floats, Floats]:
    """Merge overlapping intervals of each edge; ends that meet within ``MERGE_PARAMETER`` are joined.

    ``edge``, ``start``, ``end`` : (M,) with 0 <= start <= end <= 1. Returns the same three, sorted by edge
    and start, disjoint. M = 0 works.
    """
    if len(edge) == 0:
        return edge, start, end
    order = np.lexsort((start, edge))
    # Laid end to end on one axis (edge k occupies [2k, 2k + 1]) a single running maximum serves all edges.
    base = 2.0 * edge[order]
    starts, ends = base + start[order], base + end[order]
    reach = np.maximum.accumulate(ends)
    first = np.concatenate(([True], starts[1:] > reach[:-1] + MERGE_PARAMETER))
    last = np.concatenate((first[1:], [True]))
    merged_edge = edge[order][first]
    return merged_edge, start[order][first], reach[last] - 2.0 * merged_edge


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
