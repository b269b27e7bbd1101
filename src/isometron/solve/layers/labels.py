"""The layer that lays all labels: free of lines, of each other and of what else is in the way, for every surface alike."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from isometron.geometry.clipping import clip_rows
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.solve.lettering import ABOVE, BELOW, lettering_width
from isometron.solve.marks import Arcs, Curves, Label, Marks, Role

__all__ = ["label_box", "lay_labels"]

_WEIGHT = np.full(len(Role), 1.0)
_WEIGHT[[Role.GRID, Role.GUIDE, Role.CONE]] = 0.25
_WEIGHT[[Role.OBJECT, Role.STEP_EDGE, Role.HORIZON]] = 3.0
"""How much lettering is spoilt by a line of each role, when it must lie on one."""
_ON_LABEL, _OFF_FRAME = 100.0, 1000.0
_CHORDS = 24
_STEPS = 100
"""So many places are tried each way at most."""
_ROOM = 0.3
"""Parts of the size that are kept free round lettering."""
_BETWEEN = 0.5
"""Parts of the size between two labels side by side."""
_CELL, _MOST_CELLS = 0.2, 600
"""Parts of the size that a cell is wide in which marks are looked for, and cells to a side at most."""
_EXACTLY = 24
"""Places that are looked at exactly, the best by the rough count first."""
_OUTWARD = np.array([-1.0, -1.0, 1.0, 1.0])


def label_box(label: Label) -> Floats:
    """Return least u, v and greatest u, v of a label's lettering, mm."""
    wide = lettering_width(label.text) * label.size
    left = label.u - wide * (label.anchor + 1) / 2
    return np.array([left, label.v - BELOW * label.size, left + wide, label.v + ABOVE * label.size])


def lay_labels(
    labels: Sequence[Label],
    stream: Sequence[Marks],
    frame: tuple[float, float, float, float],
    *,
    least: float = 0.0,
    taken: Floats | None = None,
    held: Sequence[tuple[float, float]] | None = None,
) -> tuple[Label, ...]:
    """Return labels where they stand clear, each moved no further than it may be; those come first that were first.

    stream : the marks they should not lie on; frame : left, lower, right, upper that they stay within; least : size in mm
    below which none is set; taken : boxes (N, 4) that they should not lie on either; held : how far each was moved before,
    which it stays where that is clear.
    """
    if not labels:
        return ()
    boxes = [] if taken is None else [np.asarray(box, dtype=np.float64) for box in taken]
    laid = []
    for number, label in enumerate(labels):
        larger = max(1.0, least / label.size)
        found, cost = _laid(replace(label, size=label.size * larger), larger, stream, frame, boxes,
                      None if held is None else held[number])  # fmt: skip
        if cost > 0.0 and label.short:
            shorter = replace(label, size=label.size * larger, text=label.short)
            other, other_cost = _laid(shorter, larger, stream, frame, boxes, None)
            found = other if other_cost < cost else found
        if found is not None:
            laid.append(found)
            room = _BETWEEN * found.size
            boxes.append(label_box(found) + np.array([-room, 0.0, room, 0.0]))
    return tuple(laid)


def _near(stream: Sequence[Marks], box: Floats) -> tuple[Floats, Floats]:
    """Return the marks that may come into a box as lines (N, 4), with their weights (N,)."""
    parts, weights = [np.zeros((0, 4))], [np.zeros(0)]
    for marks in stream:
        for kind, bag in marks.bags():
            if kind in _BOUNDS:
                rows = _bounds_meet(_BOUNDS[kind](bag), box)
                if len(rows):
                    own = bag.select(rows)
                    lines = _CHORDS_OF[kind](own)
                    parts.append(lines)
                    weights.append(np.repeat(_WEIGHT[own.role], len(lines) // len(own)))
    return np.concatenate(parts), np.concatenate(weights)


def _arc_bounds(arcs: Arcs) -> Floats:
    radius = np.maximum(arcs.shape[:, 2], arcs.shape[:, 3])[:, None]
    return np.hstack([arcs.shape[:, :2] - radius, arcs.shape[:, :2] + radius])


def _curve_bounds(curves: Curves) -> Floats:
    points = curves.points.reshape(-1, 4, 2)
    return np.hstack([points.min(axis=1), points.max(axis=1)])


def _joined(points: Floats) -> Floats:
    """Return points (N, M, 2) along N curves as lines (N (M - 1), 4)."""
    return np.concatenate([points[:, :-1], points[:, 1:]], axis=2).reshape(-1, 4)


def _arc_chords(arcs: Arcs) -> Floats:
    u, v, a, b, angle, first, last = (column[:, None] for column in arcs.shape.T)
    t = first + (last - first) * np.linspace(0.0, 1.0, _CHORDS + 1)
    x, y = a * np.cos(t), b * np.sin(t)
    return _joined(
        np.stack([u + x * np.cos(angle) - y * np.sin(angle), v + x * np.sin(angle) + y * np.cos(angle)], axis=2)
    )


_BOUNDS: dict[str, Callable[[Any], Floats]] = {
    "lines": lambda lines: lines.points,
    "arcs": _arc_bounds,
    "curves": _curve_bounds,
}
_CHORDS_OF: dict[str, Callable[[Any], Floats]] = {
    "lines": lambda lines: lines.points,
    "arcs": _arc_chords,
    "curves": lambda curves: _joined(curves.at(np.linspace(0.0, 1.0, _CHORDS + 1))),
}


def _laid(
    label: Label,
    larger: float,
    stream: Sequence[Marks],
    frame: tuple[float, float, float, float],
    taken: list[Floats],
    held: tuple[float, float] | None,
) -> tuple[Label | None, float]:
    """Return a label where it costs least, None where it is spared, and what it costs."""
    box, room = label_box(label), _ROOM * label.size
    free = np.array(label.free) * larger
    kept_in = bool((free > 0.0).any())

    def costs(boxes: Floats, struck: Floats) -> Floats:
        """Return what it costs to stand in boxes (N, 4) that marks strike so much; 0 where it stands clear."""
        cost = struck + _ON_LABEL * _overlaps(np.array(taken).reshape(-1, 4), boxes)
        if kept_in:
            cost += _OFF_FRAME * ((boxes[:, :2] < frame[:2]) | (boxes[:, 2:] > frame[2:])).any(axis=1)
        found: Floats = cost
        return found

    first = np.zeros(2) if held is None or (np.abs(held) > free).any() else np.array(held)

    def exact(one: Floats) -> float:
        """Return what it costs to stand in a box (4,), by what crosses it."""
        lines, weight = _near(stream, one + room * _OUTWARD)
        return float(costs(one[None], _crossed(lines, one[None], room) @ weight)[0])

    # Mostly it can stay, and few marks are near enough to be asked.
    if exact(box + np.tile(first, 2)) == 0.0:
        return replace(label, u=label.u + float(first[0]), v=label.v + float(first[1])), 0.0
    places = _places(free, label.size)
    boxes = box + np.tile(places, 2)
    rough = costs(boxes, _struck(stream, boxes + room * _OUTWARD, _CELL * label.size))
    best, least = 0, np.inf
    for row in np.argsort(rough, kind="stable")[:_EXACTLY]:
        cost = exact(boxes[row])
        if cost < least:
            best, least = int(row), cost
        if least == 0.0:
            break
    if label.spare and least >= _ON_LABEL:
        return None, least
    du, dv = places[best]
    return replace(label, u=label.u + float(du), v=label.v + float(dv)), least


def _places(free: Floats, size: float) -> Floats:
    """Return shifts (N, 2) to try, the nearest first, none of them before the place itself."""
    ways = []
    for reach in free:
        step = max(0.5 * size, float(reach) / _STEPS)
        count = int(reach / step) if reach > 0.0 else 0
        ways.append(step * np.arange(-count, count + 1))
    shifts = np.stack(np.meshgrid(*ways), axis=2).reshape(-1, 2)
    far = np.hypot(*(shifts / np.maximum(free, 0.5 * size)).T)
    found: Floats = shifts[np.argsort(far, kind="stable")]
    return found


def _bounds_meet(lines: Floats, box: Floats) -> np.ndarray:
    """Return the rows of lines or boxes (N, 4) that may come into a box."""
    u0, v0, u1, v1 = lines.T
    left, lower, right, upper = box
    off = ((u0 > right) & (u1 > right)) | ((u0 < left) & (u1 < left))
    return np.flatnonzero(~(off | ((v0 > upper) & (v1 > upper)) | ((v0 < lower) & (v1 < lower))))


def _struck(stream: Sequence[Marks], boxes: Floats, cell: float) -> Floats:
    """Return how much of the marks, mm by their weights, lies in each box (N, 4), to a cell's width more all round.

    The marks are sampled into cells, whose sums up to each corner give the sum in any box (summed-area table, Crow 1984):
    what it takes does not grow with the number of boxes.
    """
    low, high = boxes[:, :2].min(axis=0) - cell, boxes[:, 2:].max(axis=0) + cell
    cell = max(cell, float((high - low).max()) / _MOST_CELLS)
    lines, weight = _near(stream, np.concatenate([low, high]))
    lines, rows = clip_rows(lines, *map(float, low), *map(float, high))
    way = lines[:, 2:] - lines[:, :2]
    length = np.hypot(way[:, 0], way[:, 1])
    count = np.ceil(2.0 * length / cell).astype(np.intp) + 1
    line = np.repeat(np.arange(len(lines)), count)
    part = (np.arange(len(line)) - np.repeat(np.cumsum(count) - count, count)) / np.maximum(count[line] - 1, 1)
    across, up = ((lines[line, :2] + part[:, None] * way[line] - low) / cell).astype(np.intp).T
    wide, high_ = (int(n) + 1 for n in (high - low) / cell)
    cells = np.bincount(up * wide + across, (weight[rows] * length / count)[line], minlength=wide * high_)
    sums = np.zeros((high_ + 1, wide + 1))
    sums[1:, 1:] = cells[: wide * high_].reshape(high_, wide).cumsum(axis=0).cumsum(axis=1)
    (u0, v0), (u1, v1) = (((corner - low) / cell).astype(np.intp).T for corner in (boxes[:, :2], boxes[:, 2:]))
    found: Floats = sums[v1 + 1, u1 + 1] - sums[v0, u1 + 1] - sums[v1 + 1, u0] + sums[v0, u0]
    return np.where(found > HAIR, found, 0.0)


def _overlaps(taken: Floats, boxes: Floats) -> Floats:
    """Return how many of the taken boxes each box (N, 4) lies on."""
    over = (taken[None, :, :2] < boxes[:, None, 2:]).all(axis=2) & (taken[None, :, 2:] > boxes[:, None, :2]).all(
        axis=2
    )
    found: Floats = over.sum(axis=1).astype(np.float64)
    return found


def _crossed(lines: Floats, boxes: Floats, room: float) -> Floats:
    """Tell (N boxes, M lines) which boxes, wider by ``room`` all round, a line passes (clipping by Liang and Barsky 1984)."""
    start, along = lines[None, :, :2], (lines[:, 2:] - lines[:, :2])[None]
    with np.errstate(divide="ignore", invalid="ignore"):
        one = (boxes[:, None, :2] - room - start) / along
        two = (boxes[:, None, 2:] + room - start) / along
    flat = np.broadcast_to(along == 0.0, one.shape)
    inside = (start >= boxes[:, None, :2] - room) & (start <= boxes[:, None, 2:] + room)
    enter = np.where(flat, np.where(inside, -np.inf, np.inf), np.minimum(one, two)).max(axis=2)
    leave = np.where(flat, np.where(inside, np.inf, -np.inf), np.maximum(one, two)).min(axis=2)
    found: Floats = (np.maximum(enter, 0.0) < np.minimum(leave, 1.0)).astype(np.float64)
    return found
