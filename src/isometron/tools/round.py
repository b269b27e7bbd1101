"""A round body in two pulls: the ring on the ground or on a face, then its height. Typing gives the diameter, the height, or both and rows."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import replace

import numpy as np

from isometron.document.edits import Edit, fresh_id, fresh_name
from isometron.document.lengths.units import format_length
from isometron.document.model import DocumentError
from isometron.document.shapes.said import add_in_rows, is_said, read_said
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.tools.base import Base
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.picture_catch import edge_snap
from isometron.tools.pulling import on_plane, pulled_length, rounded
from isometron.tools.pulls import rests, standing, step_at, strokes_from_base, typed_length
from isometron.tools.snapping import Snap, nearest_snap
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["round_tool"]

_LEAST = 0.01
_LONGEST = 1e6
_START = tr("Press where the ring's centre lies: on the ground, or on a face of another volume.")
_RING = tr(
    "Pull the ring open: let go, or type its diameter (or 650 x 210 with its height) and press Enter. Escape steps back."
)
_HEIGHT = tr("Pull its height: let go, or type it and press Enter. Escape steps back.")
_CATCH = 8.0
"""The ground catches a ring within this many pointer steps."""
_ANGLES = np.linspace(0.0, 2 * np.pi, 61)


def round_tool(context: ToolContext) -> Tool:
    """Draw a cylinder: press at its centre, pull the ring open, pull the height."""
    return strokes_from_base(context, _START, _draw)


def _draw(context: ToolContext, base: Base) -> Generator[Preview, Pencil, Edit | None]:
    radius: float | None = None
    length: float | None = None
    refusal, pressed = "", base
    taken: tuple[float, float] | None = None
    while True:
        pencil = yield _shown(context, base, radius, length, refusal)
        refusal = ""
        if pencil.act is Act.BACK:
            if length is None:
                return None
            length, taken = None, None
            continue
        if rests(context, pencil, taken):
            continue
        sizes, rows, words = _typed(context, pencil.text, 2 if length is None else 1)
        finished = pencil.act is Act.RELEASE or pencil.act is Act.ENTER
        if pencil.act is Act.ENTER and words:
            refusal = words
            continue
        if length is None:
            base = _stood(context, pressed, sizes[0] / 2) if sizes else pressed
            found = sizes[0] / 2 if sizes else _radius(context, base, pencil)
            radius = found if found is not None else radius
            if not finished or radius is None or radius <= _LEAST:
                continue
            length, taken = 0.0, (pencil.u, pencil.v) if sizes else None
            if len(sizes) < 2:
                continue
        pulled = sizes[-1] if sizes else _pulled(context, base, pencil)
        length = pulled if pulled is not None else length
        if finished and radius is not None and length > _LEAST:
            try:
                return add_in_rows(context.drawing.document, _body(context, base, radius, length), rows)
            except DocumentError as error:
                refusal, length = str(error), 0.0


def _typed(context: ToolContext, text: str, left: int) -> tuple[tuple[float, ...], str, str]:
    """Return the sizes that are typed of those that are ``left``, the rows behind them, and words for what is not understood."""
    if not is_said(text):
        size, words = typed_length(context, text)
        return (() if size is None else (size,)), "", words
    try:
        said = read_said(context.drawing.document, text, named=False)
    except DocumentError as error:
        return (), "", str(error)
    if said.place is not None:
        return (
            (),
            "",
            tr(
                "Where a round lies is pressed. Type its diameter x its height, rows behind a comma: 650 x 210, 2 x 2650."
            ),
        )
    if len(said.sizes) > left:
        return (), "", tr("A round has two sizes, diameter x height: 650 x 210.")
    if said.rows and len(said.sizes) < left:
        return (), "", tr("Rows are said with the last size: 650 x 210, 2 x 2650.")
    return said.sizes, said.rows, ""


def _radius(context: ToolContext, base: Base, pencil: Pencil) -> float | None:
    """Return the rounded distance from the centre to where the pencil is, in the plane of the ring."""
    eye = context.drawing.document.eye
    place = on_plane(eye, base.place, base.rotation[:, base.normal], pencil.u, pencil.v)
    if place is None:
        return None
    gap = place - base.place
    far = float(np.sqrt(gap @ gap))
    snap = edge_snap(context, base.place, gap / far, far) if far > _LEAST else None
    snap = snap or nearest_snap(_on_ground(base), far, _CATCH * context.per_step(base.place))
    if snap is not None:
        return min(snap.length, _LONGEST)
    # The diameter is what is told, so the diameter is what comes out round.
    return rounded(2 * min(far, _LONGEST), step_at(context, base.place)) / 2


def _stood(context: ToolContext, base: Base, radius: float) -> Base:
    """Return the base moved up or down its face so that a ring of a typed radius stands on the ground, where the hand meant that."""
    normal = base.rotation[:, base.normal]
    for snap in _on_ground(base):
        if abs(snap.length - radius) <= _CATCH * context.per_step(base.place):
            up = np.array([0.0, 0.0, 1.0]) - normal[2] * normal
            return replace(base, place=base.place + (radius - snap.length) * up / float(np.sqrt(up @ up)))
    return base


def _on_ground(base: Base) -> list[Snap]:
    """Return the radius at which a ring on a face that stands or leans touches the ground."""
    steep = float(np.sqrt(max(1.0 - base.rotation[2, base.normal] ** 2, 0.0)))
    return (
        [Snap(float(base.place[2]) / steep, tr("on the ground"))] if steep > HAIR and base.place[2] > _LEAST else []
    )


def _pulled(context: ToolContext, base: Base, pencil: Pencil) -> float | None:
    outward = base.outward * base.rotation[:, base.normal]
    length = pulled_length(context.drawing.document.eye, base.place, outward, pencil.u, pencil.v)
    if length is None:
        return None
    snap = edge_snap(context, base.place, outward, length)
    if snap is not None:
        return max(min(snap.length, _LONGEST), 0.0)
    return max(rounded(min(length, _LONGEST), step_at(context, base.place)), 0.0)


def _shown(context: ToolContext, base: Base, radius: float | None, length: float | None, refusal: str) -> Preview:
    document = context.drawing.document
    if radius is None:
        return Preview(_RING, refusal=refusal, step=0)
    outward = base.outward * base.rotation[:, base.normal]
    rings = [base.place] if not length else [base.place, base.place + length * outward]
    lines = [_ring(context, base, centre, radius) for centre in rings]
    at = document.eye.project(base.place)[0][0]
    stands = any(abs(radius - snap.length) <= HAIR for snap in _on_ground(base))
    words = f"⌀ {format_length(2 * radius, document.unit)}" + (tr(" · on the ground") if stands else "")
    notes = [Note(words, float(at[0]), float(at[1]))]
    if length:
        top = document.eye.project(rings[1])[0][0]
        notes.append(Note(format_length(length, document.unit), float(top[0]), float(top[1])))
    prompt = _RING if length is None else _HEIGHT
    return Preview(
        prompt, np.concatenate(lines), notes=tuple(notes), refusal=refusal, step=0 if length is None else 1
    )


def _ring(context: ToolContext, base: Base, centre: Floats, radius: float) -> Floats:
    one, two = (base.rotation[:, k] for k in range(3) if k != base.normal)
    points = centre + radius * (np.cos(_ANGLES)[:, None] * one + np.sin(_ANGLES)[:, None] * two)
    paper, depth = context.drawing.document.eye.project(points)
    lines: Floats = np.hstack([paper[:-1], paper[1:]])
    return lines[(depth[:-1] > 0.0) & (depth[1:] > 0.0)]


def _body(context: ToolContext, base: Base, radius: float, length: float) -> Turned:
    document = context.drawing.document
    low = np.full(3, -radius)
    low[base.normal] = min(base.outward * length, 0.0)
    size = [2 * radius] * 3
    size[base.normal] = length
    corner = np.round(base.place + base.rotation @ low, 6) + 0.0
    name = fresh_name(document, tr("Round"))
    yaw, pitch, roll = base.angles
    body = Turned(
        id=fresh_id(document, name),
        name=name,
        corner=(float(corner[0]), float(corner[1]), float(corner[2])),
        size=(size[0], size[1], size[2]),
        yaw_deg=yaw,
        pitch_deg=pitch,
        roll_deg=roll,
        axle=DIRECTIONS[base.normal],
    )
    return standing(base, body)
