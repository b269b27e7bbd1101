"""Rectangles pulled by two corners on a face, each coordinate caught by what lies there."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError, format_length
from isometron.geometry.frames import Floats
from isometron.tools.marking import FaceUnder, face_under
from isometron.tools.pencil import Pencil, ToolContext
from isometron.tools.pulling import rounded
from isometron.tools.pulls import step_at
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import DivideMark, FaceRef, OpeningMark
from isometron.volumes.marks.places import face_plane, line_places, mark_reach, places_of
from isometron.wording import tr

__all__ = ["CATCH", "Caught", "caught_on_face", "face_near", "lines_of", "size_words", "spans_on", "typed_sizes"]

_BETWEEN = re.compile(r"\s*[×;]\s*|\s+x\s+|(?<=[\d\"'″′mncft])\s*x\s*(?=[\d.,])|(?<=[\d\"'″′mncft\s])x\s*$")
"""Between a width and a height; an x within a name is none."""
CATCH = 8.0
"""A coordinate is caught within this many pointer steps."""
Span = tuple[float, float]


@dataclass(frozen=True)
class Caught:
    """A place on a face, mm from the lower left of its middle lines, and in words what caught each coordinate; empty for nothing."""

    at: tuple[float, float]
    words: tuple[str, str]


def spans_on(volume: AnyVolume, face: FaceRef) -> tuple[list[Span], list[Span]]:
    """Return what openings on a face take up along its two directions, from and to, mm."""
    found: tuple[list[Span], list[Span]] = ([], [])
    for mark in volume.marks:
        if not isinstance(mark, OpeningMark) or mark.face != face or mark.form == "inset":
            continue
        for place in places_of(mark, face_plane(volume, face)):
            for column in (0, 1):
                before, after = mark_reach(mark, column)
                found[column].append((place[column] - before, place[column] + after))
    return found


def _gaps(spans: Iterable[Span], length: float) -> set[float]:
    """Return the clear widths between neighbours, and between the edges and their neighbours."""
    ordered = sorted(spans)
    ends = [0.0, *(end for span in ordered for end in span), length]
    return {round(b - a, 6) for a, b in zip(ends[::2], ends[1::2], strict=True) if b - a > 1e-6}


def _targets(context: ToolContext, volume: AnyVolume, under: FaceUnder, column: int) -> list[tuple[float, str]]:
    """Return the places along a face that catch, mm, the strongest first, with words for each."""
    length = (under.plane.wide, under.plane.high)[column]
    found = [(0.0, tr("at the edge")), (length, tr("at the edge")), (length / 2.0, tr("in the middle"))]
    found += [(part * length, tr("at a quarter")) for part in (0.25, 0.75)]
    for mark in volume.marks:
        if isinstance(mark, DivideMark) and mark.face == under.face:
            found += [(place, tr("on a division")) for place in line_places(mark, under.plane)[column]]
    spans = spans_on(volume, under.face)[column]
    found += [(end, tr("in line with an opening")) for span in spans for end in span]
    for gap in _gaps(spans, length) if spans else ():
        found += [(place, tr("an equal gap")) for low, high in spans for place in (low - gap, high + gap)]
    return [*found, *_level_with(context, volume, under, column)]


def _level_with(context: ToolContext, volume: AnyVolume, under: FaceUnder, column: int) -> list[tuple[float, str]]:
    """Return where along a face other things begin, end and have their middle, wherever they stand."""
    plane = under.plane
    way, size = (plane.x / plane.wide, plane.wide) if column == 0 else (plane.y / plane.high, plane.high)
    ways, moved = under.placement
    found = []
    for other in context.drawing.document.volumes:
        if other.put_away or other.id == volume.id:
            continue
        along = ((box_corners([other])[0][0] - moved) @ ways - plane.middle) @ way + size / 2.0
        low, high = float(along.min()), float(along.max())
        found += [(at, tr("level with {volume}", volume=other.name)) for at in (low, high)]
        found.append(((low + high) / 2.0, tr("level with the middle of {volume}", volume=other.name)))
    return found


def caught_on_face(
    context: ToolContext,
    volume: AnyVolume,
    under: FaceUnder,
    pencil: Pencil,
    start: tuple[float, float] | None = None,
) -> Caught | None:
    """Return where the pencil is on a face, its coordinates caught one by one; with Shift only rounded.

    start : where a rectangle was begun: widths and heights of other openings catch from there too.
    """
    place = under.met(context, pencil)
    if place is None:
        return None
    at, words = [], []
    within = CATCH * context.per_step(under.place)
    sizes = under.plane.wide, under.plane.high
    for column, (part, size) in enumerate(zip(under.plane.parts_of(place), sizes, strict=True)):
        mm = min(max(part * size, 0.0), size)
        targets = _targets(context, volume, under, column)
        if start is not None:
            widths = {high - low for low, high in spans_on(volume, under.face)[column]}
            targets += [(start[column] + sign * w, tr("as large as an opening")) for w in widths for sign in (-1, 1)]
            targets = [(place, why) for place, why in targets if abs(place - start[column]) > 1e-6]
        near = [t for t in targets if abs(t[0] - mm) <= within and 0.0 <= t[0] <= size]
        if near and not pencil.straight:
            mm, why = min(near, key=lambda t: abs(t[0] - mm))
        else:
            step = step_at(context, under.place)
            origin = 0.0 if start is None else start[column]
            mm, why = min(max(origin + rounded(mm - origin, step), 0.0), size), ""
        at.append(mm)
        words.append(why)
    return Caught((at[0], at[1]), (words[0], words[1]))


def face_near(context: ToolContext, u: float, v: float) -> FaceUnder | None:
    """Return the face under the pencil, or beside it within reach: a press on a face's very edge may miss it by a hair."""
    for reach in (0.0, 2.0, 5.0, CATCH):
        for k in range(8 if reach else 1):
            angle = k * np.pi / 4
            found = face_under(
                context, u + reach * context.grain * np.cos(angle), v + reach * context.grain * np.sin(angle)
            )
            if found is not None:
                return found
    return None


def typed_sizes(context: ToolContext, text: str) -> tuple[float | None, float | None, str]:
    """Return the width and the height that are typed, ``800`` or ``800 x 900``, and words where they are none."""
    cells = [cell.strip() for cell in _BETWEEN.split(text)] if text.strip() else []
    try:
        sizes = [read_length(cell, context.drawing.document) for cell in cells if cell]
    except LengthError as error:
        return None, None, str(error)
    if any(not size > 0.0 for size in sizes) or len(sizes) > 2:
        return None, None, tr("Type a width, or a width and a height such as 800 x 900.")
    return (sizes[0] if sizes else None), (sizes[1] if len(sizes) > 1 else None), ""


def size_words(context: ToolContext, wide: float, high: float) -> str:
    """Return a width and a height in words."""
    unit = context.drawing.document.unit
    return f"{format_length(round(wide, 3), unit)} x {format_length(round(high, 3), unit)}"


def lines_of(context: ToolContext, points: Floats, *, closed: bool = True) -> Floats:
    """Return lines on paper (N, 4) through world places (K, 3); none where one lies behind the eye."""
    paper, depth = context.drawing.document.eye.project(points)
    after = np.roll(np.arange(len(points)), -1)
    seen = (depth > 0.0) & (depth[after] > 0.0)
    if not closed:
        seen[-1] = False
    lines: Floats = np.hstack([paper[seen], paper[after[seen]]])
    return lines
