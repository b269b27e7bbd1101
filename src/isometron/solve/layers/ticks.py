"""Edge ticks: proportional ticks on two opposite edges of the sheet, so that a ruler laid across equal numbers runs to a
vanishing point off the page; and the fan of those lines.

All lines through a point V cut two parallel edges in proportion to the edges' distances from V (intercept theorem,
Euclid, Elements VI.2).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import floor, hypot

import numpy as np

from isometron.document.model import Document
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Label, Lines, Marks, Role, Singles
from isometron.solve.measures import going
from isometron.solve.picture import Picture
from isometron.view.vanishing import Vanishing, vanishing

__all__ = ["TICKS", "EdgeTicks", "edge_ticks", "fan_lines", "tick_labels", "tick_lines"]

_SPACING = {"mm": 10.0, "cm": 10.0, "m": 10.0, "in": 12.7}
"""Millimetres between ticks on the edge where they are wider."""

_SHORT, _LONG, _ROW, _EVERY = 2.5, 4.5, 6.5, 5
_FREE = (3.0, 3.0)
_FAN = 2
"""The fan has a line through every second pair of ticks: more would be grey."""
LETTERS = {"left": "L", "right": "R", "up": "U", "down": "D", "away": "V"}


@dataclass(frozen=True)
class EdgeTicks:
    """Ticks for one vanishing point: (N,) numbers, and where they lie on the two edges, (N, 2) each, mm.

    upright : whether the edges are the left and the right one (or the lower and the upper one); row : place in the
    order of the points, so that rows of ticks stand beside each other.
    """

    letter: str
    numbers: Floats
    first: Floats
    second: Floats
    upright: bool
    row: int


def edge_ticks(document: Document, rotation: Floats) -> list[EdgeTicks]:
    """Return the ticks for each vanishing point off the page of the directions in the columns of ``rotation``."""
    found: list[EdgeTicks] = []
    left, lower, right, upper = document.sheet.rectangle
    for k in range(3):
        point = vanishing(document.eye, rotation[:, k])
        if point.at is None or (left <= point.at[0] <= right and lower <= point.at[1] <= upper):
            continue
        sideways = max(left - point.at[0], point.at[0] - right) >= max(lower - point.at[1], point.at[1] - upper)
        row = sum(ticks.upright == sideways for ticks in found)
        found.append(_ticks(document, point, sideways, row))
    return found


def _ticks(document: Document, point: Vanishing, sideways: bool, row: int) -> EdgeTicks:
    assert point.at is not None
    left, lower, right, upper = document.sheet.rectangle
    edges, across, low, high = ((left, right), 0, lower, upper) if sideways else ((lower, upper), 1, left, right)
    level = point.at[1 - across]
    reach = [abs(edge - point.at[across]) for edge in edges]
    spacing = [_SPACING[document.unit] * r / max(reach) for r in reach]
    first, last = (floor((end - level) / min(spacing)) for end in (low, high))
    numbers = np.arange(first, last + 2, dtype=np.float64)
    places = [level + numbers * s for s in spacing]
    kept = np.any([(p >= low) & (p <= high) for p in places], axis=0)
    ends = []
    for edge, place in zip(edges, places, strict=True):
        pair = np.empty((int(kept.sum()), 2))
        pair[:, across], pair[:, 1 - across] = edge, place[kept]
        ends.append(pair)
    return EdgeTicks(LETTERS.get(going(point), "V"), numbers[kept], ends[0], ends[1], sideways, row)


def tick_lines(document: Document, rotation: Floats) -> Lines:
    """Return the ticks as lines inside the sheet's edges; every fifth is longer, each point has a row of its own."""
    parts = [np.zeros((0, 4))]
    for ticks in edge_ticks(document, rotation):
        length = np.where(ticks.numbers % _EVERY == 0.0, _LONG, _SHORT)
        for ends, sense in ((ticks.first, 1.0), (ticks.second, -1.0)):
            start, end = ends.copy(), ends.copy()
            across = 0 if ticks.upright else 1
            start[:, across] += sense * ticks.row * _ROW
            end[:, across] += sense * (ticks.row * _ROW + length)
            parts.append(np.hstack([start, end]))
    return Lines.of(clip_to_rectangle(np.concatenate(parts), *document.sheet.rectangle), Role.TICK)


def tick_labels(document: Document, rotation: Floats) -> list[Label]:
    """Return the numbers of every fifth tick, with the letter of their point."""
    labels = []
    left, lower, right, upper = document.sheet.rectangle
    for ticks in edge_ticks(document, rotation):
        inset = (ticks.row + 1) * _ROW - 0.8
        for ends, sense in ((ticks.first, 1.0), (ticks.second, -1.0)):
            for number, (u, v) in zip(ticks.numbers, ends, strict=True):
                if number and number % _EVERY == 0.0 and left <= u <= right and lower <= v <= upper:
                    text = f"{ticks.letter}{number:g}"
                    if ticks.upright:
                        labels.append(
                            Label(
                                text, u + sense * inset, v - 2.9, Role.TICK, anchor=-int(sense), size=2.2, free=_FREE
                            )
                        )
                    else:
                        labels.append(Label(text, u + 0.8, v + sense * inset - 1.1, Role.TICK, size=2.2, free=_FREE))
    return labels


def fan_lines(document: Document, rotation: Floats) -> Lines:
    """Return the lines across the sheet through equal ticks: a fan to each vanishing point."""
    parts = [np.zeros((0, 4))]
    for ticks in edge_ticks(document, rotation):
        parts.append(np.hstack([ticks.first, ticks.second])[ticks.numbers % _FAN == 0.0])
    for k in range(3):
        at = vanishing(document.eye, rotation[:, k]).at
        if at is not None:
            parts.append(_rays_on_sheet(document, at))
    return Lines.of(clip_to_rectangle(np.concatenate(parts), *document.sheet.rectangle), Role.GUIDE)


def _rays_on_sheet(document: Document, at: tuple[float, float]) -> Floats:
    """Return rays every 7.5 degrees from a point that lies on the sheet; none for one off it."""
    left, lower, right, upper = document.sheet.rectangle
    if not (left <= at[0] <= right and lower <= at[1] <= upper):
        return np.zeros((0, 4))
    angles = np.radians(np.arange(0.0, 360.0, 7.5))
    far = hypot(right - left, upper - lower) * np.column_stack([np.cos(angles), np.sin(angles)])
    rays: Floats = np.hstack([np.tile(at, (len(angles), 1)), far + at])
    return rays


def _directions(document: Document, picture: Picture) -> Floats:
    """Return the directions (columns) that ticks and fan serve: of the volume they were asked for, or the world's."""
    row = document.index_of(document.show.guides_of)
    return np.eye(3) if row is None else picture.scene.rotations[row]


def _marks(seen: Seen) -> Marks:
    document, show = seen.document, seen.document.show
    if not (show.construction and (show.fan or show.edge_ticks)):
        return NOTHING
    directions = _directions(document, seen.picture)
    fan = [fan_lines(document, directions)] if show.fan else []
    if not show.edge_ticks:
        return Marks(lines=Lines.joined(fan))
    return Marks(
        lines=Lines.joined([*fan, tick_lines(document, directions)]),
        labels=Singles(tuple(tick_labels(document, directions))),
    )


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return any(document.volumes[row].id == document.show.guides_of for row in rows)


TICKS = Layer(_marks, leans_on=_leans_on)
