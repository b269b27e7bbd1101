"""Measuring between two points, as a ruler and a tape would: on paper, and true."""

from __future__ import annotations

from dataclasses import dataclass
from math import gcd
from typing import Literal

import numpy as np

from isometron.document.lengths.units import format_length, format_paper
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.pick import corner_under, pick_face
from isometron.tools.pencil import Act, Note, Preview, Tool, ToolContext
from isometron.tools.picture_catch import marked_place
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

    A press sets the first point, the next the second; the figures stay until a third press begins anew. From the second measure on each
    is told as a share of the one before it too: "a bit less than half of the last".
    """
    points: list[Spot] = []
    last: tuple[Spot, Spot] | None = None
    pencil = yield Preview(_PROMPT)
    while True:
        spot = _marked(context, pencil.u, pencil.v) or spot_at(
            context.drawing, pencil.u, pencil.v, _CATCH * context.grain
        )
        if pencil.act is Act.BACK:
            points = points[:-1]
        elif pencil.act is Act.PRESS and spot is not None:
            if len(points) == 2:
                last, points = (points[0], points[1]), [spot]
            else:
                points = [*points, spot]
        pencil = yield _preview(context, points, spot, last)


def _marked(context: ToolContext, u: float, v: float) -> Spot | None:
    """Return the end of a mark of a picture under the pencil, where it is known how it stands in the world."""
    found = marked_place(context, u, v, _CATCH * context.grain)
    return None if found is None else Spot(found[1], found[0], tr("mark"), "corner")


def _preview(
    context: ToolContext, points: list[Spot], spot: Spot | None, last: tuple[Spot, Spot] | None = None
) -> Preview:
    before = np.zeros((0, 4)) if last is None else np.array([[*last[0].at, *last[1].at]])
    if not points:
        notes = () if spot is None else (Note(spot.words, *spot.at),)
        return Preview(_PROMPT, guides=before, notes=notes)
    first, second = points[0], points[1] if len(points) == 2 else spot
    if second is None:
        return Preview(tr("Press on the second point."), step=1)
    words = _distance(context.drawing, first, second)
    if last is not None:
        words = tr("{words} · {share} of the last", words=words, share=_share(last, (first, second)))
    middle = ((first.at[0] + second.at[0]) / 2, (first.at[1] + second.at[1]) / 2)
    prompt = tr("From {what} to {what2}: {what3}.", what=first.words, what2=second.words, what3=words)
    return Preview(
        prompt,
        live=np.array([[*first.at, *second.at]]),
        guides=before,
        notes=(Note(words, *middle),),
        step=len(points),
    )


_FRACTIONS = [(a, b) for b in (2, 3, 4, 5, 6, 8) for a in range(1, 3 * b) if gcd(a, b) == 1] + [
    (n, 1) for n in range(1, 9)
]
"""Shares that people say: halves to eighths, up to three times."""
_NEAR = 0.03


def _share(last: tuple[Spot, Spot], now: tuple[Spot, Spot]) -> str:
    """Return how long a measure is against the one before it, true and on paper, and the plain fraction that is near to it."""
    true, drawn = (
        one / other if other > 0.0 else float("inf")
        for one, other in zip(_both(now), _both(last), strict=True)
    )  # fmt: skip
    a, b = min(_FRACTIONS, key=lambda f: (abs(f[0] / f[1] / max(true, 1e-9) - 1.0), f[1]))
    said = f"{a}" if b == 1 else f"{a}/{b}"
    off = a / b / max(true, 1e-9) - 1.0
    words = tr("{true} true, {drawn} on paper", true=f"{true:.3g}", drawn=f"{drawn:.3g}")
    if abs(off) > _NEAR:
        return words
    if abs(off) < _NEAR / 10.0:
        return f"{said} ({words})"
    return (
        tr("a bit less than {said} ({words})", said=said, words=words)
        if off > 0.0
        else tr("a bit more than {said} ({words})", said=said, words=words)
    )


def _both(ends: tuple[Spot, Spot]) -> tuple[float, float]:
    """Return the true and the drawn distance, mm."""
    one, other = ends
    true = float(np.sqrt(((other.place - one.place) ** 2).sum()))
    return true, float(np.hypot(other.at[0] - one.at[0], other.at[1] - one.at[1]))


def _distance(drawing: Drawing, first: Spot, second: Spot) -> str:
    unit = drawing.document.unit
    true, drawn = _both((first, second))
    return tr("true {true}, on paper {drawn}", true=format_length(true, unit), drawn=format_paper(drawn, unit))
