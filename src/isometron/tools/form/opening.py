"""Openings cut by the pencil: pulled from corner to corner on a face, or taken from the whole outline of it by a click."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.lengths.units import format_length
from isometron.document.marks.opening_edits import cut_opening
from isometron.document.model import DocumentError
from isometron.errors import IsometronError
from isometron.geometry.tolerances import HAIR
from isometron.solve.pick import SideHit
from isometron.tools.form.on_face import Caught, caught_on_face, face_near, lines_of, size_words, typed_sizes
from isometron.tools.form.opening_on_side import opening_on_side, side_words
from isometron.tools.form.typed_row import in_row, row_apart
from isometron.tools.marking import FaceUnder, round_side_words, side_caught
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import ARCH_FORMS, OpeningMark
from isometron.volumes.marks.holds import Held, Measured
from isometron.volumes.marks.places import mark_reach
from isometron.volumes.openings.shafts import outline_on_face
from isometron.wording import tr

__all__ = ["OpeningPlan", "opening_tool"]


@dataclass(frozen=True)
class OpeningPlan:
    """What is cut next: an opening without its face, its place and its size."""

    mark: OpeningMark


_Start = tuple[FaceUnder, Caught] | SideHit
"""Where an opening was begun: on a flat face, or on a round side."""
_BEGIN = tr("Press on a face or a round side where a corner of the opening lies, and pull to the opposite one.")
_PULL = tr(
    "Let go at the opposite corner, or type its size, such as 800 x 900 (or 800 x 900, 3 gap 400 for a row), and press Enter. Escape steps back."
)
_CLICK = tr("Click a face: the opening follows its outline at the distance set in the Form stage.")
_NO_FACE = tr("There is no face here. Press on a solid volume.")


def opening_tool(context: ToolContext, plan: Callable[[], OpeningPlan]) -> Tool:
    """Cut openings as ``plan`` says at that moment."""
    start: _Start | None = None
    shown = Preview(_BEGIN)
    while True:
        wish = plan().mark
        pencil = yield shown
        if pencil.act is Act.BACK:
            start, shown = None, Preview(_BEGIN)
            continue
        if start is None:
            begun = _begin(context, pencil, wish)
            if isinstance(begun, Edit):
                return begun
            start, shown = begun
            continue
        size, row = row_apart(pencil.text)
        wide, high, wrong = typed_sizes(context, size)
        mark = _pulled(context, start, pencil, wish, wide, high)
        if pencil.act is Act.ENTER and wrong:
            shown = Preview(_PULL, refusal=wrong, step=0)
            continue
        if mark is None:
            shown = Preview(_PULL, step=0)
            continue
        refusal = ""
        if pencil.act is Act.RELEASE or (pencil.act is Act.ENTER and pencil.text.strip()):
            done = _cut(context, _under(start), mark, row)
            if isinstance(done, Edit):
                return done
            refusal = done
            if pencil.act is Act.RELEASE:  # a corner that is refused is let go
                start, shown = None, Preview(_BEGIN, refusal=refusal)
                continue
        shown = _showing(context, _under(start), mark, pencil, refusal)


def _under(start: _Start) -> FaceUnder | SideHit:
    return start if isinstance(start, SideHit) else start[0]


def _cut(context: ToolContext, under: FaceUnder | SideHit, mark: OpeningMark, row: str = "") -> Edit | str:
    document = context.drawing.document
    name = document.volumes[under.owner].id
    try:
        return in_row(cut_opening(document, name, mark), name, row)
    except DocumentError as error:
        return str(error)


def _begin(context: ToolContext, pencil: Pencil, wish: OpeningMark) -> Edit | tuple[_Start | None, Preview]:
    """Return where an opening begins once it is pressed, else what is shown; an opening as a whole face at once."""
    prompt = _CLICK if wish.form == "inset" else _BEGIN
    side = side_caught(context, pencil) if wish.form != "inset" else None
    if side is not None:
        if pencil.act is Act.PRESS:
            return side, Preview(_PULL, step=0)
        return None, Preview(prompt, notes=(Note(round_side_words(context, pencil), pencil.u, pencil.v),))
    under = face_near(context, pencil.u, pencil.v)
    if under is None:
        return None, Preview(prompt, refusal=_NO_FACE if pencil.act is Act.PRESS else "")
    volume = context.drawing.document.volumes[under.owner]
    if wish.form == "inset":
        mark = msgspec.structs.replace(wish, face=under.face)
        refusal = ""
        if pencil.act is Act.PRESS:
            done = _cut(context, under, mark)
            if isinstance(done, Edit):
                return done
            refusal = done
        return None, _showing(context, under, mark, pencil, refusal, prompt=prompt, step=None)
    caught = caught_on_face(context, volume, under, pencil)
    if caught is None:
        return None, Preview(prompt)
    if pencil.act is Act.PRESS:
        return (under, caught), Preview(_PULL, step=0)
    name = face_name(volume, under.face)
    said = ", ".join([name, *dict.fromkeys(word for word in caught.words if word)])
    return None, Preview(prompt, notes=(Note(said, pencil.u, pencil.v),))


def _pulled(
    context: ToolContext,
    start: _Start,
    pencil: Pencil,
    wish: OpeningMark,
    wide: float | None,
    high: float | None,
) -> OpeningMark | None:
    """Return the opening between the corner it was begun at and the pencil, or as large as it is typed; None without a size."""
    if isinstance(start, SideHit):
        return opening_on_side(context, start, pencil, wish, wide, high)
    under, begun = start
    volume = context.drawing.document.volumes[under.owner]
    here = caught_on_face(context, volume, under, pencil, begun.at)
    if here is None:
        return None
    gaps = [there - at for at, there in zip(begun.at, here.at, strict=True)]
    signs = [-1.0 if gap < 0.0 else 1.0 for gap in gaps]
    sizes = [abs(gap) if typed is None else typed for gap, typed in zip(gaps, (wide, high), strict=True)]
    if wish.form == "ring":
        sizes = [sizes[0] if wide is not None and high is None else max(sizes)] * 2
        if wide is not None and high is not None:
            sizes = [wide, high]
    elif wide is not None and high is None and sizes[1] <= 0.0:
        sizes[1] = wide
    if min(sizes) <= 0.0:
        return None
    low = [at + min(sign * size, 0.0) for at, sign, size in zip(begun.at, signs, sizes, strict=True)]
    mark = msgspec.structs.replace(wish, face=under.face, wide=sizes[0], high=sizes[1])
    lengths = under.plane.wide, under.plane.high
    at = [_held(mark, column, low[column], lengths[column], begun.at[column]) for column in (0, 1)]
    return msgspec.structs.replace(mark, at=(at[0], at[1]))


def _held(mark: OpeningMark, column: int, low: float, length: float, begun: float) -> Held:
    """Return how an opening that begins at ``low`` mm is held: in the middle as a share, else by the side that it was pulled from.

    Upwards that is the lower one, unless it was begun right at the upper: a wall grows at its top.
    """
    before, after = mark_reach(mark, column)
    size = before + after
    if abs(low + size / 2.0 - length / 2.0) <= 1e-6 and not (mark.form in ARCH_FORMS and column):
        return 0.5
    at_end = begun >= length - HAIR * (1.0 + length) if column else begun > length / 2.0
    if not at_end:
        return Measured(from_="start", mm=round(low, 6), to="edge")
    return Measured(from_="end", mm=round(length - low - size, 6), to="edge")


def _showing(
    context: ToolContext,
    under: FaceUnder | SideHit,
    mark: OpeningMark,
    pencil: Pencil,
    refusal: str,
    *,
    prompt: str = _PULL,
    step: int | None = 0,
) -> Preview:
    """Return the opening as lines, and its size and how far it lies from the edges in words."""
    volume = context.drawing.document.volumes[under.owner]
    try:
        places = outline_on_face(volume, mark)
    except IsometronError as error:
        return Preview(prompt, refusal=refusal or str(error), step=step)
    if isinstance(under, SideHit):
        ways, moved = under.placement
        said, there = side_words(context, volume, under, mark), places @ ways.T + moved
    else:
        said, there = _words(context, under, volume, mark), np.array([under.on_copy(place) for place in places])
    notes = [Note(said, pencil.u, pencil.v)]
    return Preview(prompt, live=lines_of(context, there), notes=tuple(notes), refusal=refusal, step=step)


def _words(context: ToolContext, under: FaceUnder, volume: AnyVolume, mark: OpeningMark) -> str:
    unit = context.drawing.document.unit
    if mark.form == "inset":
        return tr("{far} inside the {face}", far=format_length(mark.inset, unit), face=face_name(volume, under.face))
    words = size_words(context, mark.wide, mark.high)
    edges = []
    for column, way in ((0, tr("from the side")), (1, tr("from the foot"))):
        held = mark.at[column]
        if isinstance(held, Measured):
            end = "" if held.from_ == "start" else tr(" (far end)")
            edges.append(f"{format_length(held.mm, unit)} {way}{end}")
        else:
            edges.append(tr("in the middle"))
    return f"{words}, {edges[0]}, {edges[1]}"
