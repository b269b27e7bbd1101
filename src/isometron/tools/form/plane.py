"""A plane set by three places that are clicked."""

from __future__ import annotations

import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import DocumentError
from isometron.document.planes.plane_edits import plane_through
from isometron.geometry.frames import Floats
from isometron.solve.pick import corner_under, pick_face
from isometron.tools.form.on_face import CATCH, lines_of
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import on_plane
from isometron.wording import tr

__all__ = ["plane_tool"]

_PLACES = (
    tr("Click the first of three places that the plane goes through; corners catch."),
    tr("Click the second place. Escape steps back."),
    tr("Click the third place. Escape steps back."),
)


def plane_tool(context: ToolContext) -> Tool:
    """Set a plane through three places."""
    places: list[tuple[Floats, int]] = []
    refusal = ""
    notes: tuple[Note, ...] = ()
    lines = np.zeros((0, 4))
    while True:
        pencil = yield Preview(
            _PLACES[len(places)], live=lines, notes=notes, refusal=refusal, step=len(places) or None
        )
        refusal, notes, lines = "", (), np.zeros((0, 4))
        if pencil.act is Act.BACK:
            places = places[:-1]
            continue
        place, owner, words = _place(context, pencil)
        if place is None:
            refusal = (
                tr("There is nothing here. Click on a volume, or on the ground.") if pencil.act is Act.PRESS else ""
            )
            continue
        notes = (Note(words, pencil.u, pencil.v),)
        drawn = np.array([*(p for p, _ in places), place])
        lines = lines_of(context, drawn) if len(drawn) > 1 else lines
        if pencil.act is not Act.PRESS:
            continue
        places.append((place, owner))
        if len(places) == 3:
            done = _kept(context, places)
            if isinstance(done, Edit):
                return done
            refusal, places = done, places[:2]


def _kept(context: ToolContext, places: list[tuple[Floats, int]]) -> Edit | str:
    document = context.drawing.document
    owners = {owner for _, owner in places}
    one = owners.pop() if len(owners) == 1 else -1
    try:
        return plane_through(
            document, (places[0][0], places[1][0], places[2][0]), document.volumes[one].id if one >= 0 else ""
        )
    except DocumentError as error:
        return str(error)


def _place(context: ToolContext, pencil: Pencil) -> tuple[Floats | None, int, str]:
    """Return the place under the pencil, whose it is (-1 for nobody's), and what it is in words."""
    within = CATCH * context.grain
    corner = corner_under(context.drawing, pencil.u, pencil.v, within)
    if corner is not None and not pencil.straight:
        return corner[1], corner[0], tr("corner")
    hit = pick_face(context.drawing, pencil.u, pencil.v)
    if hit is not None:
        return hit.place, hit.owner, context.drawing.document.volumes[hit.owner].name
    ground = on_plane(context.drawing.document.eye, np.zeros(3), np.array([0.0, 0.0, 1.0]), pencil.u, pencil.v)
    return ground, -1, tr("on the ground")
