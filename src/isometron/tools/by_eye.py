"""A cube by eye: upright, then both back uprights where they feel right; then what was drawn, and where a cube would be."""

from __future__ import annotations

from collections.abc import Generator

import numpy as np

from isometron.document.edits import Edit, add_volume
from isometron.document.lengths.units import format_number, format_paper
from isometron.document.model import DocumentError
from isometron.tools.base import Base
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import pulled_length
from isometron.tools.pulls import Pull, end_of, guides, pulled_box, strokes_from_base, wire
from isometron.wording import tr

__all__ = ["by_eye_tool"]

_SHORTEST = 0.01
_LONGEST = 1e6

_START = tr("A cube by eye: press where its nearest upright stands, and pull it up.")
_PROMPTS = (
    tr("Pull the nearest upright to its height."),
    tr("Pull one back upright to where a cube's would stand. No figures: trust the eye."),
    tr("Now the other back upright."),
)


def by_eye_tool(context: ToolContext) -> Tool:
    """Draw a cube by eye without any figure; then hear what it is. Enter takes the true cube, a click what was drawn."""
    return strokes_from_base(context, _START, _draw)


def _draw(context: ToolContext, base: Base) -> Generator[Preview, Pencil, Edit | None]:
    done: list[Pull] = []
    current: Pull | None = None
    while True:
        pulls = [*done, *([current] if current is not None else [])]
        lines = guides(context, base, end_of(base, done[:1]) if done else base.place, range(3))
        pencil = yield Preview(_PROMPTS[len(done)], wire(context, base, pulls), lines, step=len(done))
        if pencil.act is Act.BACK:
            if not done:
                return None
            done.pop()
            current = None
            continue
        current = _pull(context, base, done, pencil) or current
        if pencil.act not in (Act.RELEASE, Act.ENTER) or current is None or abs(current.length) < _SHORTEST:
            continue
        done.append(current)
        current = None
        if len(done) == 3:
            edit = yield from _answer(context, base, done)
            if edit is not None:
                return edit
            done.pop()


def _pull(context: ToolContext, base: Base, done: list[Pull], pencil: Pencil) -> Pull | None:
    """Return the running pull: off the base first, then the direction the stroke goes in, then the other one."""
    eye = context.drawing.document.eye
    place = base.place
    if not done:
        axes = [base.normal]
    else:
        taken = {pull.axis for pull in done}
        axes = [k for k in range(3) if k not in taken]
    found = []
    for axis in axes:
        direction = base.rotation[:, axis]
        length = pulled_length(eye, place, direction, pencil.u, pencil.v)
        if length is not None and abs(length) <= _LONGEST:
            end, depth = eye.project(place + length * direction)
            miss = float(np.hypot(end[0, 0] - pencil.u, end[0, 1] - pencil.v)) if depth[0] > 0.0 else np.inf
            found.append((miss, Pull(axis, float(length))))
    if not found:
        return None
    pull = min(found, key=lambda one: one[0])[1]
    if pull.axis == base.normal and pull.length * base.outward < _SHORTEST:
        return None
    return pull


def _cube(done: list[Pull]) -> list[Pull]:
    upright = abs(done[0].length)
    return [Pull(pull.axis, float(np.copysign(upright, pull.length))) for pull in done]


def _answer(context: ToolContext, base: Base, done: list[Pull]) -> Generator[Preview, Pencil, Edit | None]:
    """Say what was drawn, show the cube, and take one of them; back gives None."""
    document = context.drawing.document
    cube = _cube(done)
    ratio = " : ".join(format_number(abs(pull.length) / abs(done[0].length), 2) for pull in done)
    notes = []
    for pull, true in zip(done[1:], cube[1:], strict=True):
        off, at = _off(context, base, pull, true)
        notes.append(Note(off, *at))
    prompt = tr(
        "Upright and both sides are 1 : 1 : 1 in a cube; yours are {ratio}. Dashed: the cube. Enter takes the cube, "
        "a click keeps what you drew, Escape goes back to the last upright.",
        ratio=ratio,
    )
    refusal = ""
    while True:
        pencil = yield Preview(
            prompt, wire(context, base, done), wire(context, base, cube), tuple(notes), refusal, step=3
        )
        if pencil.act is Act.BACK:
            return None
        chosen = {Act.ENTER: cube, Act.PRESS: done}.get(pencil.act)
        if chosen is not None:
            try:
                stem = tr("Cube") if chosen is cube else tr("By eye")
                return add_volume(document, pulled_box(context, base, chosen, stem))
            except DocumentError as error:
                refusal = str(error)


def _off(context: ToolContext, base: Base, drawn: Pull, true: Pull) -> tuple[str, tuple[float, float]]:
    """Return in words how far a back upright is off, and where to say it."""
    document = context.drawing.document
    ends = np.vstack([base.place + pull.length * base.rotation[:, pull.axis] for pull in (drawn, true)])
    paper, depth = document.eye.project(ends)
    at = (float(paper[0, 0]), float(paper[0, 1]))
    if not (depth > 0.0).all():
        return tr("a cube's edge would end behind the eye"), at
    gap = float(np.hypot(*(paper[0] - paper[1])))
    far = format_paper(gap, document.unit)
    if gap < 0.05:
        return tr("exactly a cube's"), at
    if abs(drawn.length) > abs(true.length):
        return tr("{far} too far back", far=far), at
    return tr("{far} too near", far=far), at
