"""A plane set by places that are clicked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import DocumentError
from isometron.document.planes.plane_edits import plane_square_to, plane_through
from isometron.geometry.frames import Floats
from isometron.solve.pick import corner_under, nearest_edge, pick_face
from isometron.tools.form.on_face import CATCH, lines_of
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import on_plane
from isometron.wording import tr

__all__ = ["PlanePlan", "plane_tool"]

_PLACES = (
    tr("Click the first of three places that the plane goes through; corners catch, an edge counts for two of them."),
    tr("Click the second place. Escape steps back."),
    tr("Click the third place. Escape steps back."),
)
_LINE = (
    tr("Click where the line begins that the plane lies square to; corners catch, an edge is a whole line."),
    tr("Click where it ends: the plane goes through there. Escape steps back."),
)
Places = list[tuple[Floats, int]]


@dataclass(frozen=True)
class PlanePlan:
    """How a plane is set: through three places, or through the end of a line square to it."""

    square: bool = False


def plane_tool(context: ToolContext, plan: Callable[[], PlanePlan]) -> Tool:
    """Set a plane through places."""
    places: Places = []
    refusal = ""
    notes: tuple[Note, ...] = ()
    lines = np.zeros((0, 4))
    while True:
        square = plan().square
        prompts = _LINE if square else _PLACES
        places = places[: len(prompts) - 1]
        pencil = yield Preview(
            prompts[len(places)], live=lines, notes=notes, refusal=refusal, step=len(places) or None
        )
        refusal, notes, lines = "", (), np.zeros((0, 4))
        if pencil.act is Act.BACK:
            places = places[:-1]
            continue
        here, words = _here(context, pencil, room=len(prompts) - len(places))
        if not here:
            refusal = (
                tr("There is nothing here. Click on a volume, or on the ground.") if pencil.act is Act.PRESS else ""
            )
            continue
        notes = (Note(words, pencil.u, pencil.v),)
        drawn = np.array([p for p, _ in (*places, *here)])
        lines = lines_of(context, drawn, closed=len(drawn) > 2) if len(drawn) > 1 else lines
        if pencil.act is not Act.PRESS:
            continue
        places = [*places, *here]
        if len(places) == len(prompts):
            done = _kept(context, places, square=square)
            if isinstance(done, Edit):
                return done
            refusal, places = done, places[:-1]


def _here(context: ToolContext, pencil: Pencil, room: int) -> tuple[Places, str]:
    """Return the place under the pencil, or both ends of the edge there, and what it is in words."""
    place, owner, words = _place(context, pencil)
    if room >= 2 and words != tr("corner") and not pencil.straight:
        edge = nearest_edge(context.drawing, pencil.u, pencil.v, CATCH * context.grain)
        if edge is not None:
            scene = context.drawing.scene
            ends = scene.vertices[scene.edges[edge[1]]]
            return [(end, edge[0]) for end in ends], tr("edge of {volume}", volume=scene.volumes[edge[0]].name)
    return ([] if place is None else [(place, owner)]), words


def _kept(context: ToolContext, places: Places, *, square: bool) -> Edit | str:
    document = context.drawing.document
    owners = {owner for _, owner in places}
    one = owners.pop() if len(owners) == 1 else -1
    whose = document.volumes[one].id if one >= 0 else ""
    try:
        if square:
            return plane_square_to(document, places[0][0], places[1][0], whose)
        return plane_through(document, (places[0][0], places[1][0], places[2][0]), whose)
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
