"""A block said in one breath: sizes, a place and rows that are typed before it is begun, or while it is pulled."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError
from isometron.document.shapes.said import At, Beside, Said, add_in_rows, add_said, read_said, start_of, with_place
from isometron.geometry.frames import Floats
from isometron.tools.base import Base
from isometron.tools.pencil import Pencil, ToolContext
from isometron.tools.pulling import paper_direction, pulled_length
from isometron.tools.pulls import Pull, end_of, pulled_box
from isometron.volumes.box import box_corners
from isometron.wording import tr

__all__ = ["Line", "block_typed", "line_typed"]

_ON_LINE = 6.0
"""Pointer steps that a hand strays from the line that it pulls along without meaning a side of it."""


@dataclass(frozen=True)
class Line:
    """What a typed line makes of a block: where it stands, its pulls so far, and the rows of it, as typed."""

    base: Base
    pulls: tuple[Pull, ...]
    place: At | Beside | None
    rows: str

    def edit(self, context: ToolContext) -> Edit:
        """Return the edit that lays the whole block; raises `DocumentError`."""
        document = context.drawing.document
        box = pulled_box(context, self.base, list(self.pulls))
        if isinstance(self.place, Beside):
            box = with_place(document, box, self.place)
        return add_in_rows(document, box, self.rows)


def block_typed(context: ToolContext, text: str) -> Edit | Base:
    """Return the block that is typed before it is begun, or where it starts when only that is; raises `DocumentError`."""
    document = context.drawing.document
    said = read_said(document, text, named=False)
    if said.sizes or said.place is None:
        return add_said(document, text)
    return _base(document, said.place)


def line_typed(context: ToolContext, base: Base, done: list[Pull], current: Pull | None, pencil: Pencil) -> Line:
    """Return what a line that is typed while a block is pulled says; raises `DocumentError` for what is not understood."""
    document = context.drawing.document
    said = read_said(document, pencil.text, named=False)
    if said.place is not None:
        if done:
            raise DocumentError(tr("Where it stands is said before its sizes: press Escape to go back to the start."))
        base = _base(document, said.place)
    pulls = [*done]
    for size in said.sizes:
        if len(pulls) == 3:
            raise DocumentError(tr("A block has three sizes: {count} are left to say.", count=3 - len(done)))
        running = current if len(pulls) == len(done) else None
        pulls.append(_pull(context, base, pulls, running, pencil, size))
    _hold_rows(said, pulls)
    return Line(base, tuple(pulls), said.place, said.rows)


def _hold_rows(said: Said, pulls: list[Pull]) -> None:
    if said.rows and len(pulls) < 3:
        raise DocumentError(tr("Rows are said with the last size: 2000 x 1900 x 45, 3 x 2800."))


def _base(document: Document, place: At | Beside) -> Base:
    """Return where a block starts that is said to lie there: turned as the thing that is named, and joined to one that it stands beside."""
    corner, host = start_of(document, place)
    if host is None:
        return Base(corner, np.eye(3), (0.0, 0.0, 0.0), 2, 1.0, None, said=True)
    rotation: Floats = box_corners([host])[1][0]
    beside = isinstance(place, Beside)
    outward = -1.0 if isinstance(place, Beside) and place.side == "underside" and place.word != "inside" else 1.0
    angles = host.yaw_deg, host.pitch_deg, host.roll_deg
    return Base(corner, rotation, angles, 2, outward, host if beside else None, said=True)


def _pull(
    context: ToolContext, base: Base, done: list[Pull], running: Pull | None, pencil: Pencil, size: float
) -> Pull:
    """Return the next pull: the one that runs, then the other level one, then off the plane, each to the pencil's side."""
    level = [k for k in range(3) if k != base.normal and k not in [pull.axis for pull in done]]
    if not level or len(done) == 2:
        return Pull(base.normal, base.outward * size)
    axis = running.axis if running is not None and running.axis in level else level[0]
    length = (
        running.length
        if running is not None and running.axis == axis
        else _towards(context, base, done, axis, pencil)
    )
    return Pull(axis, size if length >= 0.0 else -size)


def _towards(context: ToolContext, base: Base, done: list[Pull], axis: int, pencil: Pencil) -> float:
    """Return a length on the side of a pull to which the pencil lies; one that stays on its line goes away from the eye."""
    eye, way = context.drawing.document.eye, base.rotation[:, axis]
    place = (
        base.place
        if not done
        else end_of(base, [replace(done[0], length=_along(context, base, done[0].axis, pencil))])
    )
    length, on_paper = pulled_length(eye, place, way, pencil.u, pencil.v), paper_direction(eye, place, way)
    if length is not None and on_paper is not None and done:
        paper, _ = eye.project(place)
        if abs(float(on_paper @ ((pencil.u, pencil.v) - paper[0]))) > _ON_LINE * context.grain:
            return length
    return float(way @ eye.axes[2]) or 1.0


def _along(context: ToolContext, base: Base, axis: int, pencil: Pencil) -> float:
    """Return how far along the first pull the pencil is, whatever was typed for it."""
    found = pulled_length(context.drawing.document.eye, base.place, base.rotation[:, axis], pencil.u, pencil.v)
    return 0.0 if found is None else found
