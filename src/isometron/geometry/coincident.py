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

    start, end : (E, 3) world ends. rank : (E,) from 0 to less than 2^31, the lower rank keeps a shared stretch; ties go to the earlier
    edge. Edges are compared only when they lie on one line to within `SAME_PLACE`. Sorted by edge.
    """
    start, end = np.ascontiguousarray(start), np.ascontiguousarray(end)
    reach, key, mixed = line_keys(start, end, SAME_DIRECTION, SAME_PLACE, _OFF_GRID)
    order = np.argsort(mixed * (int(rank.max(initial=0)) + 1) + rank, kind="stable")
    spans: tuple[Ints, Floats, Floats] = shared_out(reach, key, mixed, order, SAME_PLACE, MERGE_PARAMETER)
    return spans
