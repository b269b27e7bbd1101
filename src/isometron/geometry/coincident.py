"""Edges that lie on one another: a box flush with its neighbour shares edges, and a pencil rules them once."""

from __future__ import annotations

import numpy as np

from isometron.geometry.coincident_loops import line_keys, shared_out
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import MERGE_PARAMETER, SAME_DIRECTION, SAME_PLACE

__all__ = ["owned_spans"]


_OFF_GRID = 0.31830988618  # keeps round millimetres and inch fractions away from the rounding boundaries


def owned_spans(start: Floats, end: Floats, rank: Ints) -> tuple[Ints, Floats, Floats]:
    """Return the spans (edge, t0, t1) that each edge draws so that no stretch of a line is drawn twice.

    start, end : (E, 3) world ends. rank : (E,), the lower rank keeps a shared stretch; ties go to the earlier
    edge. Edges are compared only when they lie on one line to within `SAME_PLACE`. Sorted by edge.
    """
    start, end = np.ascontiguousarray(start), np.ascontiguousarray(end)
    along, key, mixed = line_keys(start, end, SAME_DIRECTION, SAME_PLACE, _OFF_GRID)
    a = np.einsum("ij,ij->i", along, start)
    b = np.einsum("ij,ij->i", along, end)
    order = np.lexsort((rank, mixed))
    edge, low, high = shared_out(np.minimum(a, b), np.maximum(a, b), key, mixed, order, SAME_PLACE)
    # Back from places along the lines to parts of the edges, which may run the other way.
    length = (b - a)[edge]
    one, two = (low - a[edge]) / length, (high - a[edge]) / length
    t0, t1 = np.maximum(np.minimum(one, two), 0.0), np.minimum(np.maximum(one, two), 1.0)
    kept = np.flatnonzero(t1 - t0 > MERGE_PARAMETER)
    edge, t0, t1 = edge[kept], t0[kept], t1[kept]
    order = np.lexsort((t0, edge))
    return edge[order], t0[order], t1[order]
