"""Pulls from a base: where they end, the wire they make, the lines to their vanishing points, the box they finish."""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import dataclass, replace
from typing import TypeVar

import msgspec
import numpy as np

from isometron.document.edits import Edit, fresh_id, fresh_name
from isometron.document.joins import joined_as_it_lies
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError
from isometron.document.model import DocumentError
from isometron.geometry.frames import Floats
from isometron.solve.on_sheet import beyond
from isometron.tools.base import Base, find_base
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.picture_catch import marked_corner, over_picture
from isometron.tools.pulling import on_plane, round_step
from isometron.view.vanishing import vanishing
from isometron.volumes.box import BOX_EDGES, Box
from isometron.volumes.turned import Turned
from isometron.wording import tr

__all__ = [
    "Pull",
    "end_of",
    "guides",
    "pulled_box",
    "rests",
    "standing",
    "step_at",
    "strokes_from_base",
    "told_beyond",
    "typed_length",
    "wire",
]

_STILL = 3.0
"""Pointer steps that a hand moves while it types."""
_SNAP = 8.0
"""Corners catch the pencil within this many pointer steps."""


@dataclass(frozen=True)
class Pull:
    """One finished or running pull: own direction 0, 1, 2, signed length in mm, and what caught it, in words."""

    axis: int
    length: float
    why: str = ""


def rests(context: ToolContext, pencil: Pencil, at: tuple[float, float] | None) -> bool:
    """Tell whether the pencil is still where a typed length was taken (paper mm): a hand that only lets go there begins nothing."""
    if at is None or pencil.act not in (Act.MOVE, Act.RELEASE):
        return False
    return bool(np.hypot(pencil.u - at[0], pencil.v - at[1]) <= _STILL * context.grain)


def end_of(base: Base, done: list[Pull]) -> Floats:
    """Return where (3,) the pulls have led from the base."""
    place = base.place.copy()
    for pull in done:
        place = place + pull.length * base.rotation[:, pull.axis]
    return place


def box_of(base: Base, pulls: list[Pull]) -> Floats:
    """Return the corners (8, 3) of what has been pulled so far; without a pull they lie on each other."""
    size, low = np.zeros(3), np.zeros(3)
    for pull in pulls:
        size[pull.axis], low[pull.axis] = abs(pull.length), min(pull.length, 0.0)
    bits = (np.arange(8)[:, None] >> np.arange(3)) & 1
    corners: Floats = base.place + (low + bits * size) @ base.rotation.T
    return corners


def wire(context: ToolContext, base: Base, pulls: list[Pull]) -> Floats:
    """Return the edges (N, 4) of what has been pulled so far: a line, a rectangle, a box."""
    if not pulls:
        return np.zeros((0, 4))
    corners = box_of(base, pulls)
    paper, depth = context.drawing.document.eye.project(corners)
    i, j = BOX_EDGES.T
    long = np.abs(corners[i] - corners[j]).max(axis=1) > 0.0
    seen = (depth[i] > 0.0) & (depth[j] > 0.0) & long
    lines: Floats = np.hstack([paper[i[seen]], paper[j[seen]]])
    return lines


def told_beyond(context: ToolContext, base: Base, pulls: list[Pull]) -> str:
    """Return what of a box that is pulled lies behind the eye, or leaves the sheet, with the way to bring it in; else nothing."""
    document, corners = context.drawing.document, box_of(base, pulls)
    paper, depth = document.eye.project(corners)
    if (depth <= 0.0).any():
        return tr("a corner lies behind the eye: *Step back until all is seen* in Check brings it in")
    off = beyond(document.sheet, paper)
    if off is None:
        return ""
    far, edge = off
    return tr(
        "leaves the sheet by {far:.0f} mm at the {edge}: *Fill the sheet* in Check brings it in",
        far=max(far, 1.0),
        edge=edge,
    )


def guides(context: ToolContext, base: Base, place: Floats, axes: range | list[int]) -> Floats:
    """Return lines (N, 4) from ``place`` to the vanishing points of the given own directions."""
    eye = context.drawing.document.eye
    paper, depth = eye.project(place)
    if not depth[0] > 0.0:
        return np.zeros((0, 4))
    points = [vanishing(eye, base.rotation[:, k]).at for k in axes]
    return np.array([[*paper[0], *at] for at in points if at is not None]).reshape(-1, 4)


def pulled_box(context: ToolContext, base: Base, pulls: list[Pull], stem: str = "Block") -> Box:
    """Return the box of three pulls, with an id and a name that are free in the document."""
    document = context.drawing.document
    size, low = [0.0, 0.0, 0.0], np.zeros(3)
    for pull in pulls:
        size[pull.axis], low[pull.axis] = abs(pull.length), min(pull.length, 0.0)
    corner = np.round(base.place + base.rotation @ low, 6) + 0.0
    name = fresh_name(document, stem)
    yaw, pitch, roll = base.angles
    box = Box(
        id=fresh_id(document, name),
        name=name,
        corner=(float(corner[0]), float(corner[1]), float(corner[2])),
        size=(size[0], size[1], size[2]),
        yaw_deg=yaw,
        pitch_deg=pitch,
        roll_deg=roll,
    )
    return standing(base, box)


Standing = TypeVar("Standing", Box, Turned)


def standing(base: Base, volume: Standing) -> Standing:
    """Return a volume that was begun on a face of another one joined to that one: it goes where that one goes."""
    if base.host is None:
        return volume
    return msgspec.structs.replace(volume, joined=joined_as_it_lies(volume, base.host))


Typed = Callable[[ToolContext, str], "Edit | Base"]
"""What is made of words that are typed before anything is pressed: the whole thing, or where it starts; raises `DocumentError`."""


def strokes_from_base(
    context: ToolContext,
    prompt: str,
    draw: Callable[[ToolContext, Base], Generator[Preview, Pencil, Edit | None]],
    typed: Typed | None = None,
) -> Tool:
    """Begin on the ground or on a face, draw from there, and begin anew when the drawing was given up."""
    pencil = yield Preview(prompt, takes_words=typed is not None)
    while True:
        begun = yield from start_on_base(context, pencil, prompt, typed)
        edit = begun if isinstance(begun, Edit) else (yield from draw(context, begun))
        if edit is not None:
            return edit
        pencil = yield Preview(prompt, takes_words=typed is not None)


def start_on_base(
    context: ToolContext, pencil: Pencil, prompt: str, typed: Typed | None = None
) -> Generator[Preview, Pencil, Base | Edit]:
    """Wait for a press on the ground or on a face; what lies under the pencil is said, with guides along its directions."""
    takes = typed is not None
    while True:
        base, refusal = _base_under(context, pencil), ""
        if pencil.act is Act.PRESS and base is not None:
            return base
        if typed is not None and pencil.text and pencil.act is Act.ENTER:
            try:
                return typed(context, pencil.text)
            except DocumentError as error:
                refusal = str(error)
        words = (Note(pencil.text, pencil.u, pencil.v),) if takes and pencil.text else ()
        if pencil.act is Act.BACK or words:
            pencil = yield Preview(prompt, notes=words, refusal=refusal, takes_words=takes)
            continue
        if base is None:
            refusal = tr("Above the horizon there is no ground. Press below it.")
            pencil = yield Preview(prompt, refusal=refusal, takes_words=takes)
            continue
        paper, _ = context.drawing.document.eye.project(base.place)
        note = Note(tr("start {what}", what=base.words), float(paper[0, 0]), float(paper[0, 1]))
        lines = guides(context, base, base.place, range(3))
        pencil = yield Preview(prompt, notes=(note,), guides=lines, takes_words=takes)


def _base_under(context: ToolContext, pencil: Pencil) -> Base | None:
    """Return the base under the pencil; over a picture it starts at a corner that is marked there, and at no round figure."""
    reach = _SNAP * context.grain
    corner = marked_corner(context, pencil.u, pencil.v, reach)
    u, v = corner or (pencil.u, pencil.v)
    base = find_base(context.drawing, u, v, context.grain, reach, upright=pencil.straight)
    if base is None or base.host is not None or not over_picture(context):
        return base
    there = on_plane(context.drawing.document.eye, base.place, base.rotation[:, base.normal], u, v)
    return base if there is None else replace(base, place=there)


def typed_length(context: ToolContext, text: str) -> tuple[float | None, str]:
    """Return the length that has been typed and what is wrong with it; None and no words while nothing is typed."""
    if not text.strip():
        return None, ""
    try:
        length = abs(read_length(text, context.drawing.document))
    except LengthError as error:
        return None, str(error)
    if not 0.01 <= length <= 1e7:
        return None, tr("A length lies between 0.01 mm and 10 km.")
    return length, ""


def step_at(context: ToolContext, place: Floats) -> float:
    """Return the round step of lengths, mm, that one step of the pointer covers at a place."""
    return round_step(context.per_step(place), context.drawing.document.unit)
