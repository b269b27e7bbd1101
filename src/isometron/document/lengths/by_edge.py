"""Sizes and turns by what is measured on an edge: its true length, its length on paper, or its slope there."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, degrees, hypot

import numpy as np

from isometron.document.edits import Edit, resize_volume, turn_volume
from isometron.document.lengths.units import format_length, format_number, format_paper
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.intervals import turning_point
from isometron.volumes.building import build_scene
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["edge_drawn_long", "edge_sloping", "edge_truly_long"]

_LEAST, _MOST = 0.01, 1e7
_TURN = 2.0
"""Degrees between two turns that are tried."""
_MEETS = 1e-6


def edge_truly_long(document: Document, volume_id: str, number: int, mm: float) -> Edit:
    """Make an edge of a volume so long, by the size along it; number : its place among the volume's edges.

    Raises `DocumentError` in words where no size makes it so long.
    """
    axis, _ = _edge(document, volume_id, number)
    return _sized(document, volume_id, number, axis, mm, _true, format_length(mm, document.unit))


def edge_drawn_long(document: Document, volume_id: str, number: int, mm: float) -> Edit:
    """Make an edge of a volume so long on paper (mm), by the size along it; the volume's corner stays.

    Raises `DocumentError` in words where no size makes it so long.
    """
    axis, _ = _edge(document, volume_id, number)
    words = tr("{long} on paper", long=format_paper(mm, document.unit))
    return _sized(document, volume_id, number, axis, mm, _drawn, words)


def edge_sloping(document: Document, volume_id: str, number: int, slope_deg: float) -> Edit:
    """Turn a volume on the spot, as little as possible, so that an edge has a slope on paper, in degrees from the horizontal.

    Raises `DocumentError` in words where no turn gives it.
    """
    volume = document.volume(volume_id)
    _edge(document, volume_id, number)

    def off(yaw: float) -> float:
        """Return by how much the slope is too steep, -90 to 90; NaN where the edge has none."""
        slope = _slope(_ends(turn_volume(document, volume_id, yaw).document, volume_id, number), document)
        return (slope - slope_deg + 90.0) % 180.0 - 90.0

    turns = sorted(np.arange(-180.0, 180.0, _TURN).tolist(), key=abs)
    values = {by: off(volume.yaw_deg + by) for by in turns}
    spread = [value for value in values.values() if not np.isnan(value)]
    if abs(values[0.0]) > _MEETS and (not spread or max(spread) - min(spread) < _MEETS):
        raise DocumentError(tr("However it is turned, this edge keeps its slope on paper."))
    for by in turns:
        one, two = values[by], values.get(by + _TURN, float("nan"))
        # A slope that jumps from upright to upright has passed no slope between.
        if one == 0.0 or (one * two < 0.0 and abs(one - two) < 90.0):
            at = turning_point(lambda t: off(volume.yaw_deg + t) < 0.0, by, by + _TURN) if one else by
            yaw = volume.yaw_deg + at
            yaw = round((yaw + 180.0) % 360.0 - 180.0, 9) + 0.0
            edit = turn_volume(document, volume_id, yaw)
            words = tr("turn {volume} to {yaw}°: its edge slopes by {slope}°", volume=volume.name,
                       yaw=format_number(yaw, 2), slope=format_number(slope_deg, 2))  # fmt: skip
            return Edit(words, edit.document, edit.selection)
    raise DocumentError(
        tr("No turn gives this edge a slope of {slope}° on paper.", slope=format_number(slope_deg, 2))
    )


def _edge(document: Document, volume_id: str, number: int) -> tuple[int, Floats]:
    """Return the own direction and the ends of an edge; raises `DocumentError` for one that follows no size."""
    scene = build_scene([document.volume(volume_id)], document.volumes)
    if not 0 <= number < len(scene.edges):
        raise DocumentError(tr("This edge is not there any more."))
    axis = int(scene.edge_axis[number])
    if axis < 0:
        raise DocumentError(tr("A slanted edge runs along no size of its own: pull its ends."))
    return axis, scene.vertices[scene.edges[number]]


def _ends(document: Document, volume_id: str, number: int) -> Floats:
    return _edge(document, volume_id, number)[1]


def _true(ends: Floats, document: Document) -> float:
    return float(np.sqrt(((ends[1] - ends[0]) ** 2).sum()))


def _step(ends: Floats, document: Document) -> tuple[float, float] | None:
    """Return how far an edge goes on paper; None where it reaches behind the eye."""
    paper, depth = document.eye.project(ends)
    if not (depth > 0.0).all():
        return None
    du, dv = (paper[1] - paper[0]).tolist()
    return du, dv


def _drawn(ends: Floats, document: Document) -> float:
    step = _step(ends, document)
    return float("inf") if step is None else hypot(*step)


def _slope(ends: Floats, document: Document) -> float:
    step = _step(ends, document)
    return float("nan") if step is None else degrees(atan2(step[1], step[0]))


Measure = Callable[[Floats, Document], float]


def _sized(
    document: Document, volume_id: str, number: int, axis: int, mm: float, measure: Measure, words: str
) -> Edit:
    volume = document.volume(volume_id)

    def off(size: float) -> float:
        return (
            measure(_ends(resize_volume(document, volume_id, axis, size).document, volume_id, number), document) - mm
        )

    low = high = volume.size[axis]
    while low > _LEAST and off(low) > 0.0:
        low = max(low / 2.0, _LEAST)
    while high < _MOST and off(high) < 0.0:
        high = min(high * 2.0, _MOST)
    begins = off(low)
    if not (mm > 0.0 and begins <= 0.0 <= off(high)):
        raise DocumentError(tr("No size makes this edge {long} long.", long=words))
    size = turning_point(lambda tried: off(tried) < 0.0, low, high) if begins else low
    if abs(off(size)) > max(_MEETS * mm, 1e-4):
        raise DocumentError(tr("No size makes this edge {long} long: so it would reach to the eye.", long=words))
    edit = resize_volume(document, volume_id, axis, round(size, 6))
    told = tr("make {volume} {size} {way}: its edge is {long}", volume=volume.name, way=tr(DIRECTIONS[axis]),
              size=format_length(round(size, 2), document.unit), long=words)  # fmt: skip
    return Edit(told, edit.document, edit.selection)
