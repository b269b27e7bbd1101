"""Measuring between two points, as a ruler and a tape would: on paper, and true."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from isometron.document.lengths.units import format_length, format_paper
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.pick import corner_under, pick_face
from isometron.tools.pencil import Act, Note, Preview, Tool, ToolContext
from isometron.tools.pulling import on_plane
from isometron.wording import tr

__all__ = ["Spot", "measure_tool", "spot_at"]

_CATCH = 9.0
_PROMPT = tr("Press on the first point: a corner, a face or the ground.")


@dataclass(frozen=True)
class Spot:
    """A picked point: where it is in the world (3,), where it is drawn, and on what it lies."""

    place: Floats
    at: tuple[float, float]
    words: str
    kind: Literal["corner", "face", "ground"]


def spot_at(drawing: Drawing, u: float, v: float, within: float) -> Spot | None:
    """Return the point under the pencil: the nearest corner, else the face met first, else the ground, else None."""
    eye = drawing.document.eye
    corner = corner_under(drawing, u, v, within)
    if corner is not None:
        owner, place = corner
        paper, _ = eye.project(place)
        at = (float(paper[0, 0]), float(paper[0, 1]))
        return Spot(place, at, tr("corner of {name}", name=drawing.document.volumes[owner].name), "corner")
    face = pick_face(drawing, u, v)
    if face is not None:
        return Spot(face.place, (u, v), tr("face of {name}", name=drawing.document.volumes[face.owner].name), "face")
    ground = on_plane(eye, np.zeros(3), np.array([0.0, 0.0, 1.0]), u, v)
    return None if ground is None else Spot(ground, (u, v), tr("ground"), "ground")


def measure_tool(context: ToolContext) -> Tool:
    """Measure from point to point until the tool is laid aside; it never edits anything.

    A press sets the first point, the next the second; the figures stay until a third press begins anew.
    """
    points: list[Spot] = []
    pencil = yield Preview(_PROMPT)
    while True:
        spot = spot_at(context.drawing, pencil.u, pencil.v, _CATCH * context.grain)
        if pencil.act is Act.BACK:
            points = points[:-1]
        elif pencil.act is Act.PRESS and spot is not None:
            points = [spot] if len(points) == 2 else [*points, spot]
        pencil = yield _preview(context, points, spot)


def _preview(context: ToolContext, points: list[Spot], spot: Spot | None) -> Preview:
    if not points:
        notes = () if spot is None else (Note(spot.words, *spot.at),)
        return Preview(_PROMPT, notes=notes)
    first, second = points[0], points[1] if len(points) == 2 else spot
    if second is None:
        return Preview(tr("Press on the second point."), step=1)
    words = _distance(context.drawing, first, second)
    middle = ((first.at[0] + second.at[0]) / 2, (first.at[1] + second.at[1]) / 2)
    prompt = tr("From {what} to {what2}: {what3}.", what=first.words, what2=second.words, what3=words)
    return Preview(prompt, live=np.array([[*first.at, *second.at]]), notes=(Note(words, *middle),), step=len(points))


def _distance(drawing: Drawing, first: Spot, second: Spot) -> str:
    unit = drawing.document.unit
    true = float(np.sqrt(((second.place - first.place) ** 2).sum()))
    drawn = float(np.hypot(second.at[0] - first.at[0], second.at[1] - first.at[1]))
    return tr("true {true}, on paper {drawn}", true=format_length(true, unit), drawn=format_paper(drawn, unit))
