"""The block: three pulls, each on the line to its own vanishing point, then one edit."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import replace

import numpy as np

from isometron.document.edits import Edit, add_volume
from isometron.document.lengths.units import format_length
from isometron.document.model import DocumentError
from isometron.document.shapes.said import is_said
from isometron.geometry.frames import Floats
from isometron.solve.seen_ways import seen_way
from isometron.tools.along_edges import run_along
from isometron.tools.base import Base
from isometron.tools.on_base import length_on_base, nearest_edge
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.picture_catch import edge_snap, over_picture
from isometron.tools.pulling import on_plane, paper_direction, pulled_length, round_step, rounded
from isometron.tools.pulls import (
    Pull,
    end_of,
    guides,
    pulled_box,
    rests,
    strokes_from_base,
    told_beyond,
    typed_length,
    wire,
)
from isometron.tools.said_block import Line, block_typed, line_typed
from isometron.tools.snapping import Snap, level_targets, nearest_snap, size_targets
from isometron.wording import tr

__all__ = ["block_tool"]

_LEVEL = 4.0
"""Levels and equal sizes catch a pull within this many pointer steps."""

_ALONG = 0.7
"""Cosine of the angle within which a hand goes along a direction."""
_LEAST = 3.0
"""Pointer steps: a shorter pull is a click."""
_LONGEST_BY_HAND = 1e6
"""Near a vanishing point a hair's breadth is kilometres; beyond one kilometre a length must be typed."""

_START = tr(
    "Press where the block's first corner stands: on the ground, or on a face. Or type it: 420 x 400 x 45 at 0, 0, 300."
)
_KEYS = tr("type a length (or 420 x 400 x 45) and press Enter, or let go")


def block_tool(context: ToolContext) -> Tool:
    """Draw a block: press and pull along one direction, then the other, then off the plane. Back undoes a pull."""
    return strokes_from_base(context, _START, _pulls, block_typed)


def _pulls(context: ToolContext, base: Base) -> Generator[Preview, Pencil, Edit | None]:
    done: list[Pull] = []
    current: Pull | None = None
    refusal = ""
    # Where the pencil took a typed pull, whose end is elsewhere, and whether the next one goes on from there.
    taken: tuple[float, float] | None = None
    goes_on: bool | None = None
    begun = base
    line: Line | None = None
    words: tuple[Note, ...] = ()
    edge: Floats | None = None  # where the edge begins along which the third pull counts
    while True:
        shown = (
            _preview(context, base, done, current, refusal, edge) if line is None else _said(context, line, refusal)
        )
        pencil = yield replace(shown, notes=(*shown.notes, *words), step=len(done) + (base.said is True))
        refusal, line, words = "", None, ()
        if not done and current is None and not begun.said:
            base = run_along(context, begun, pencil)
        if pencil.act is Act.BACK:
            if not done:
                return None
            done.pop()
            current, taken, goes_on, edge = None, None, None, None
            continue
        if goes_on is None and rests(context, pencil, taken):
            continue
        at = pencil.u, pencil.v
        if is_said(pencil.text):
            words = (Note(pencil.text, *at),)
            try:
                line = line_typed(context, base, done, current, pencil)
                if pencil.act is Act.ENTER and len(line.pulls) == 3:
                    return line.edit(context)
            except DocumentError as error:
                refusal = str(error) if pencil.act is Act.ENTER else ""
            if pencil.act is Act.ENTER and line is not None and not refusal:
                begun = base = line.base
                done, current, taken = [*line.pulls], None, at
                goes_on, line, words = None, None, ()
            continue
        if taken is not None:
            # What is typed without a move takes the side on which the pencil lies.
            if goes_on is None and at != taken:
                goes_on = _goes_on(context, base, done, taken, pencil)
            if goes_on:
                pencil = _from_the_end(context, base, done, taken, pencil)
        typed, refusal = typed_length(context, pencil.text)
        # A half-typed length is no mistake yet; it is said when the person wants to use it.
        if pencil.act is not Act.ENTER:
            refusal = ""
        if len(done) == 2 and edge is None:
            edge = nearest_edge(context.drawing.document.eye, base, done, pencil)
        current = _pull(context, base, done, pencil, typed, edge) or current
        if pencil.act is Act.ENTER and typed is not None and current is None:
            refusal = tr("Pull a little way first, so that the length has a direction.")
        finished = pencil.act is Act.RELEASE or (pencil.act is Act.ENTER and not refusal)
        if not finished or current is None:
            continue
        least = 0.01 if typed is not None else _LEAST * context.per_step(end_of(base, done))
        if abs(current.length) < least:
            # Where the pencil only lets go, on the way to the next pull, nothing was meant to come of it.
            if done or typed is not None:
                refusal = tr("That pull came to nothing: pull farther, or type how long it is.")
            continue
        done.append(current)
        # The pencil is not where a typed pull ends: the next one begins when it moves, and not before.
        taken = at if typed is not None or goes_on else None
        current, goes_on = None, None
        if len(done) == 3:
            try:
                return add_volume(context.drawing.document, pulled_box(context, base, done))
            except DocumentError as error:
                refusal = str(error)
                done.pop()


def _said(context: ToolContext, line: Line, refusal: str) -> Preview:
    """Show what a typed line makes of the block so far."""
    return _preview(context, line.base, [*line.pulls[:2]], line.pulls[2] if len(line.pulls) == 3 else None, refusal)


def _goes_on(context: ToolContext, base: Base, done: list[Pull], taken: tuple[float, float], pencil: Pencil) -> bool:
    """Tell whether a pencil sets off along the next pull's direction from where it took the last one, and not to the wire's end."""
    eye, place = context.drawing.document.eye, end_of(base, done)
    if len(done) == 2:
        way, gone = paper_direction(eye, place, base.rotation[:, base.normal]), np.array([pencil.u, pencil.v]) - taken
        return way is not None and abs(float(way @ gone)) > _ALONG * float(np.hypot(*gone))
    step = _on_base(context, base, place, taken, pencil)
    axis = _axis(context, base, done, place, pencil)
    if step is None or axis is None:
        return False
    along = abs(float(step @ base.rotation[:, axis]))
    return along > _ALONG * float(np.sqrt(step @ step))


def _on_base(
    context: ToolContext, base: Base, place: Floats, taken: tuple[float, float], pencil: Pencil
) -> Floats | None:
    """Return how far (3,) the pencil has gone in the plane that a block is begun on; None beyond the horizon."""
    eye, normal = context.drawing.document.eye, base.rotation[:, base.normal]
    one, two = (on_plane(eye, place, normal, *at) for at in (taken, (pencil.u, pencil.v)))
    return None if one is None or two is None else two - one


def _from_the_end(
    context: ToolContext, base: Base, done: list[Pull], taken: tuple[float, float], pencil: Pencil
) -> Pencil:
    """Return the pencil as if it had set off from the end of the last pull, and not from where it took it."""
    eye, place = context.drawing.document.eye, end_of(base, done)
    step = _on_base(context, base, place, taken, pencil) if len(done) == 1 else None
    start = eye.project(place)[0][0]
    paper, depth = (start, np.ones(1)) if step is None else eye.project(place + step)
    if step is not None and depth[0] > 0.0:
        return replace(pencil, u=float(paper[0, 0]), v=float(paper[0, 1]))
    return replace(pencil, u=float(start[0]) + pencil.u - taken[0], v=float(start[1]) + pencil.v - taken[1])


def _pull(
    context: ToolContext,
    base: Base,
    done: list[Pull],
    pencil: Pencil,
    typed: float | None,
    edge: Floats | None = None,
) -> Pull | None:
    eye = context.drawing.document.eye
    place = end_of(base, done) if edge is None else edge
    axis = _axis(context, base, done, place, pencil)
    if axis is None:
        return None
    direction = base.rotation[:, axis]
    if len(done) == 1:
        length = length_on_base(eye, base, done, axis, pencil)
    else:
        length = pulled_length(eye, place, direction, pencil.u, pencil.v)
    if length is None:
        return None
    step = round_step(context.per_step(place + length * direction), context.drawing.document.unit)
    length, why = _caught(
        context, place, direction, axis, min(max(length, -_LONGEST_BY_HAND), _LONGEST_BY_HAND), step
    )
    if axis == base.normal and length * base.outward < 0.0:
        length, why = 0.0, ""
    if typed is not None:
        sense = base.outward if axis == base.normal else (1.0 if length >= 0.0 else -1.0)
        length, why = sense * typed, ""
    return Pull(axis, length, why)


def _caught(
    context: ToolContext, place: Floats, direction: Floats, axis: int, length: float, step: float
) -> tuple[float, str]:
    """Return the length that the pull stops at and why: level with another volume, of equal size, or a round one."""
    levels = level_targets(context.drawing, set(), place, direction)
    sense = 1.0 if length >= 0.0 else -1.0
    sizes = [Snap(sense * t.length, t.words) for t in size_targets(context.drawing, None, axis, 0.0)]
    # A level at the start itself is where the stroke began, not a length.
    targets = [target for target in (*levels, *sizes) if abs(target.length) > step]
    snap = nearest_snap(targets, length, _LEVEL * context.per_step(place + length * direction))
    snap = snap or edge_snap(context, place, direction, length)
    if snap is not None:
        return snap.length, snap.words
    return (length if over_picture(context) else rounded(length, step)), ""


def _axis(context: ToolContext, base: Base, done: list[Pull], place: Floats, pencil: Pencil) -> int | None:
    """The first pull takes the in-plane direction nearest to the stroke, the second the other one, then off it."""
    if len(done) == 2:
        return base.normal
    plane = [k for k in range(3) if k != base.normal]
    if len(done) == 1:
        return next(k for k in plane if k != done[0].axis)
    eye = context.drawing.document.eye
    paper, _ = eye.project(place)
    stroke = np.array([pencil.u, pencil.v]) - paper[0]
    if not float(np.hypot(*stroke)) > context.grain:
        return None
    fits = {}
    for k in plane:
        direction = paper_direction(eye, place, base.rotation[:, k])
        if direction is not None:
            fits[k] = abs(float(direction @ stroke))
    return max(fits, key=lambda k: fits[k]) if fits else None


def _preview(
    context: ToolContext, base: Base, done: list[Pull], current: Pull | None, refusal: str, edge: Floats | None = None
) -> Preview:
    document = context.drawing.document
    pulls = [*done, *([current] if current is not None else [])]
    live = wire(context, base, pulls)
    notes = []
    for number, pull in enumerate(pulls):
        start, end = end_of(base, pulls[:number]), end_of(base, pulls[: number + 1])
        if number == 2 and edge is not None:  # told where it counts
            start, end = edge, edge + (end - start)
        paper, depth = document.eye.project(np.vstack([start, end]))
        if (depth > 0.0).all():
            u, v = paper.mean(axis=0)
            words = format_length(abs(pull.length), document.unit)
            # What caught it is said of the running pull only: three notes of it would cover the block.
            if pull is current and pull.why:
                words += f" · {pull.why}"
            notes.append(Note(words, float(u), float(v)))
    wanted = range(3) if len(done) < 2 else [base.normal]
    lines = guides(
        context,
        base,
        end_of(base, done) if edge is None else edge,
        [k for k in wanted if k not in [p.axis for p in done]],
    )
    ordinal = (tr("First"), tr("Second"), tr("Third"))[len(done)]
    way = _way(context, base, done, current)
    told = told_beyond(context, base, pulls)
    prompt = tr("{ordinal} pull{way}: {keys}. Escape steps back.", ordinal=ordinal, way=way, keys=_KEYS)
    return Preview(
        f"{ordinal}: {told}." if told else prompt,
        live,
        lines,
        tuple(notes),
        refusal,
        step=len(done),
    )


def _way(context: ToolContext, base: Base, done: list[Pull], current: Pull | None) -> str:
    axis = current.axis if current is not None else (base.normal if len(done) == 2 else None)
    if axis is None:
        return tr(", along either direction") if not done else tr(", along the other direction")
    side = -1.0 if current is not None and current.length < 0.0 else 1.0
    way = seen_way(context.drawing.document.eye, end_of(base, done), side * base.rotation[:, axis])
    return f" {way}"
