"""Marking a picture with the pencil: an edge by a pull, a ring by points, the leading corner by a press; the picture's own edges catch."""

from __future__ import annotations

from collections.abc import Generator

import numpy as np

from isometron.document.edits import Edit
from isometron.document.pictures.placing import picture_under, to_paper, to_pixels
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.errors import IsometronError
from isometron.geometry.conics import ellipse_of, ellipse_through
from isometron.geometry.frames import Floats
from isometron.match.bundles import direction_of
from isometron.match.marking import add_line, add_ring, set_corner
from isometron.pictures.edges import REACH, Caught, bowed, caught_line, caught_point, caught_ring
from isometron.pictures.rasters import Pixels, grey_of
from isometron.solve.drawing import Drawing
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.wording import tr

__all__ = ["corner_tool", "direction_words", "edge_tool", "ring_lines", "ring_tool", "unit_of"]

_LEAST = 6.0
"""Steps of the pointer that a pull is long at least."""
_MOST_RING, _LEAST_RING = 5, 3
_BENT_FROM, _STRAIGHT = 0.25, 0.8
"""Of the picture's longer side: an edge so long may show how the lens bends."""
_NO_PICTURE = tr(
    "No picture lies under the drawing. Lay one on the sheet (Eye, Photograph), or go back to its eye (N)."
)
_EDGE = tr("Pull along an edge of the picture, from end to end. Its own edge catches the line; Shift leaves it free.")
_RING = tr(
    "Click three to five points on a ring; five tell of the eye. Enter: done with fewer. Shift leaves a point free."
)
_CORNER = tr("Press on the foot of the leading corner: there the thing stands on the ground.")


def direction_words(along: str) -> str:
    """Return what a direction of a thing is called."""
    return {"long": tr("right-going"), "wide": tr("left-going"), "high": tr("upright")}[along]


def unit_of(drawing: Drawing, picture: SheetPicture, grain: float) -> float:
    """Return how many pixels of a picture one step of the pointer covers, one at least."""
    return max(grain / picture.pixel, 1.0)


def _grey(context: ToolContext, picture: SheetPicture) -> Pixels | None:
    return grey_of(picture, context.drawing.document.file_of(picture))


def _pixel(context: ToolContext, picture: SheetPicture, pencil: Pencil) -> Floats:
    found: Floats = to_pixels(picture, context.drawing.document.sheet, [[pencil.u, pencil.v]])[0]
    return found


def _on_paper(context: ToolContext, picture: SheetPicture, pixels: Floats) -> Floats:
    return to_paper(picture, context.drawing.document.sheet, pixels)


def _lines_through(points: Floats) -> Floats:
    """Return the lines (N - 1, 4) from point to point (N, 2)."""
    return np.hstack([points[:-1], points[1:]])


def _nothing(words: str) -> Generator[Preview, Pencil, Edit | None]:
    while True:
        yield Preview(words, refusal=words)


def edge_tool(context: ToolContext) -> Tool:
    """Mark edges: press at one end, pull to the other, let go."""
    picture = picture_under(context.drawing.document)
    if picture is None:
        return (yield from _nothing(_NO_PICTURE))
    pencil = yield Preview(_EDGE)
    while True:
        if pencil.act is not Act.PRESS:
            pencil = yield Preview(_EDGE)
            continue
        edit = yield from _pulled(context, picture, pencil)
        if edit is not None:
            return edit
        pencil = yield Preview(_EDGE)


def _pulled(context: ToolContext, picture: SheetPicture, pressed: Pencil) -> Generator[Preview, Pencil, Edit | None]:
    start, refusal = np.array([pressed.u, pressed.v]), ""
    first = _pixel(context, picture, pressed)
    pencil = pressed
    while True:
        far = float(np.hypot(pencil.u - start[0], pencil.v - start[1]))
        points, words = np.array([first, first]), ""
        if far > _LEAST * context.grain:
            points, words = _caught(context, picture, first, _pixel(context, picture, pencil), free=pencil.straight)
            if pencil.act in (Act.RELEASE, Act.ENTER):
                try:
                    return add_line(context.drawing.document, picture, points)
                except IsometronError as error:
                    refusal = str(error)
        elif pencil.act is Act.RELEASE:
            refusal = tr("That was a click. Keep the button down and pull along the edge.")
            return (yield from _after(refusal))
        paper = _on_paper(context, picture, points)
        notes = (Note(words, *map(float, paper.mean(axis=0))),) if words else ()
        pencil = yield Preview(_EDGE, live=_lines_through(paper), notes=notes, refusal=refusal, step=0)
        if pencil.act is Act.BACK:
            return None


def _after(refusal: str) -> Generator[Preview, Pencil, Edit | None]:
    yield Preview(_EDGE, refusal=refusal)
    return None


def _caught(
    context: ToolContext, picture: SheetPicture, first: Floats, last: Floats, *, free: bool
) -> tuple[Floats, str]:
    """Return the points of a pulled line as the picture's edge has them, and what it would be, in words."""
    points = np.array([first, last])
    grey = None if free else _grey(context, picture)
    caught = None
    if grey is not None:
        unit = unit_of(context.drawing, picture, context.grain)
        caught = caught_line(grey, (float(first[0]), float(first[1])), (float(last[0]), float(last[1])), unit)
        found = points if caught is None else caught.points
        if np.hypot(*(last - first)) > _BENT_FROM * max(picture.width, picture.height):
            # A long edge that a lens bends: a straight line along it finds but a part of it.
            sure = caught is not None and caught.sure > _STRAIGHT
            found = bowed(grey, found, *(() if sure else (min(REACH * unit, 30.0),)))
        if caught is not None or len(found) > 2:
            points, caught = found, caught or Caught(found, 1.0)
    thing, along = direction_of(picture, points)
    words = direction_words(along)
    if thing:
        words = tr("{direction} of another thing", direction=words)
    return points, words if caught is not None else tr("{direction}, free", direction=words)


def ring_tool(context: ToolContext) -> Tool:
    """Mark a ring: three to five presses on it."""
    picture = picture_under(context.drawing.document)
    if picture is None:
        return (yield from _nothing(_NO_PICTURE))
    points: list[Floats] = []
    free: list[bool] = []
    pencil = yield Preview(_RING)
    while True:
        refusal = ""
        if pencil.act is Act.BACK and points:
            points.pop()
            free.pop()
        elif pencil.act is Act.PRESS:
            at = _pixel(context, picture, pencil)
            if all(np.hypot(*(at - other)) * picture.pixel > _LEAST * context.grain for other in points):
                points.append(at)
                free.append(pencil.straight)
        if len(points) == _MOST_RING or (pencil.act is Act.ENTER and len(points) >= _LEAST_RING):
            try:
                return add_ring(context.drawing.document, picture, _ring_caught(context, picture, points, free))
            except IsometronError as error:
                refusal = str(error)
                points.pop()
                free.pop()
        shown = np.array([*points, _pixel(context, picture, pencil)])
        pencil = yield _ring_preview(context, picture, shown, len(points), refusal)


def _ring_caught(context: ToolContext, picture: SheetPicture, points: list[Floats], free: list[bool]) -> Floats:
    every = np.array(points)
    grey = _grey(context, picture)
    if grey is None or all(free):
        return every
    reach = min(6.0 * unit_of(context.drawing, picture, context.grain), 20.0)
    # The first time the ellipse through rough points is rough as well.
    once = caught_ring(grey, every, reach)
    twice = caught_ring(grey, once, 3.0)
    found: Floats = np.where(np.array(free)[:, None], every, twice)
    return found


def _ring_preview(context: ToolContext, picture: SheetPicture, shown: Floats, count: int, refusal: str) -> Preview:
    paper = _on_paper(context, picture, shown)
    size = 4.0 * context.grain
    crosses = [[u - size, v, u + size, v] for u, v in paper[:-1]] + [
        [u, v - size, u, v + size] for u, v in paper[:-1]
    ]
    lines = np.array(crosses).reshape(-1, 4)
    if len(shown) >= _MOST_RING:
        lines = np.vstack([lines, ring_lines(paper)])
    note = (Note(tr("point {number} of 5", number=count + 1), float(paper[-1, 0]), float(paper[-1, 1])),)
    return Preview(_RING, live=lines, notes=note if count else (), refusal=refusal, step=count or None)


def ring_lines(paper: Floats, count: int = 72) -> Floats:
    """Return the ellipse through five or more points on paper (N, 2) as lines (M, 4); none where there is none."""
    conic = ellipse_through(paper)
    shape = None if conic is None else ellipse_of(conic)
    if shape is None:
        return np.zeros((0, 4))
    u, v, a, b, angle = shape
    t = np.linspace(0.0, 2.0 * np.pi, count + 1)
    along, across = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
    points = np.array([u, v]) + a * np.cos(t)[:, None] * along + b * np.sin(t)[:, None] * across
    return _lines_through(points)


def corner_tool(context: ToolContext) -> Tool:
    """Mark the leading corner's foot: one press."""
    picture = picture_under(context.drawing.document)
    if picture is None:
        return (yield from _nothing(_NO_PICTURE))
    pencil, refusal = (yield Preview(_CORNER)), ""
    while True:
        if pencil.act is Act.PRESS:
            at = _pixel(context, picture, pencil)
            try:
                return set_corner(context.drawing.document, picture, (float(at[0]), float(at[1])))
            except IsometronError as error:
                refusal = str(error)
        pencil = yield Preview(
            _CORNER, notes=(Note(tr("foot of the leading corner"), pencil.u, pencil.v),), refusal=refusal
        )


def caught_at(context: ToolContext, picture: SheetPicture, at: Floats, way: Floats) -> tuple[float, float]:
    """Return a pixel moved across a direction (2,) on to the picture's edge."""
    grey = _grey(context, picture)
    point = (float(at[0]), float(at[1]))
    return (
        point
        if grey is None
        else caught_point(grey, point, way, min(5.0 * unit_of(context.drawing, picture, context.grain), 20.0))
    )
