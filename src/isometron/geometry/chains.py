"""Short lines that run on from one another: an outline is hundreds of them, and a pencil draws it in one go."""

from __future__ import annotations

import numpy as np

from isometron.geometry.chain_loops import chain_order
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import HAIR

__all__ = ["chained", "runs", "straightened"]

_SAME = HAIR
"""mm of paper; ends so near to each other are one place."""


def chained(points: Floats, kind: Ints) -> tuple[Floats, Ints]:
    """Return lines (N, 4) in an order in which those that run on follow each other, and that order (N,).

    kind : (N,) only lines of one kind run on. A line that runs on starts exactly where the one before it ends.
    """
    if len(points) < 2:
        return points, np.arange(len(points))
    places = np.round(points.reshape(-1, 2) / _SAME).astype(np.int64)
    _, node = np.unique(places[:, 0] * 2_654_435_761 + places[:, 1], return_inverse=True)
    order, turned = chain_order(np.ascontiguousarray(node.reshape(-1, 2)), kind.astype(np.intp))
    node, points = node.reshape(-1, 2)[order], points[order]
    node[turned], points[turned] = node[turned][:, ::-1], points[turned][:, [2, 3, 0, 1]]
    on = (node[1:, 0] == node[:-1, 1]) & (kind[order][1:] == kind[order][:-1])
    points[1:][on, :2] = points[:-1][on, 2:]
    return points, order


def runs(points: Floats, kind: Ints | None = None) -> list[Floats]:
    """Return the polylines (M, 2) that lines (N, 4) make where one starts exactly where the one before it ends.

    kind : (N,) only lines of one kind run on.
    """
    if len(points) == 0:
        return []
    on: Bools = (points[1:, :2] == points[:-1, 2:]).all(axis=1)
    on = on if kind is None else on & (kind[1:] == kind[:-1])
    return [np.vstack([part[:1, :2], part[:, 2:]]) for part in np.split(points, np.flatnonzero(~on) + 1)]


def straightened(run: Floats, off: float = HAIR) -> Floats:
    """Return a polyline (M, 2) without the points that lie on the line between their neighbours, within ``off``.

    One that runs there and back along one line, as a ring seen on edge does, is that line once.
    """
    along = run[int(np.argmax(np.abs(run - run[0]).sum(axis=1)))] - run[0]
    length = float(np.hypot(*along))
    if length > 0.0:
        aside = ((run - run[0]) @ np.array([-along[1], along[0]])) / length
        if float(np.abs(aside).max()) <= off:
            place = (run - run[0]) @ along
            ends: Floats = run[[int(np.argmin(place)), int(np.argmax(place))]]
            return ends
    before, after = run[1:-1] - run[:-2], run[2:] - run[1:-1]
    cross = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0])
    reach = np.hypot(*(before + after).T)
    bent = cross > off * np.maximum(reach, 1e-300)
    kept: Floats = run[np.concatenate([[True], bent, [True]])]
    return kept
