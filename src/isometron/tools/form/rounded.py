"""Edges rounded by the pencil: pulled in from the edge to where the round begins, or all those of a face by a click."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from isometron.document.edits import Edit
from isometron.document.lengths.units import format_length
from isometron.document.marks.edge_edits import round_edges
from isometron.document.model import DocumentError
from isometron.geometry.frames import Floats
from isometron.solve.pick import FaceHit, face_of_hit, pick_face
from isometron.tools.form.on_face import CATCH
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import rounded
from isometron.tools.pulls import step_at, typed_length
from isometron.volumes.faces.names import edge_name, face_name
from isometron.volumes.openings.edges import OuterEdge, outer_edges
from isometron.volumes.rounded import RoundedEdge
from isometron.wording import tr

__all__ = ["RoundPlan", "rounded_tool"]


@dataclass(frozen=True)
class RoundPlan:
    """How edges are rounded by a click: the radius, mm."""

    radius: float = 20.0


_BEGIN = tr(
    "Press on an edge and pull in on a face to where the round begins; a click takes the radius set below. On a face: all its edges."
)
_PULL = tr("Let go where the round begins, or type its radius and press Enter. Escape steps back.")
_NOTHING = tr("There is no edge to round here: press on an outer edge of a block or a cut body.")


@dataclass(frozen=True)
class _Taken:
    """Edges that are rounded together, and where the pencil took them (3,)."""

    owner: int
    edges: tuple[OuterEdge, ...]
    words: str
    place: Floats


def rounded_tool(context: ToolContext, plan: Callable[[], RoundPlan]) -> Tool:
    """Round edges: by as much as is pulled, typed, or set."""
    taken: _Taken | None = None
    shown = Preview(_BEGIN)
    while True:
        pencil = yield shown
        if pencil.act is Act.BACK:
            taken, shown = None, Preview(_BEGIN)
            continue
        if taken is None:
            found = _under(context, pencil)
            if pencil.act is Act.PRESS:
                taken = found
                shown = (
                    Preview(_BEGIN, refusal=_NOTHING)
                    if found is None
                    else Preview(_PULL, live=_lines(context, found, 0.0), step=0)
                )
            else:
                shown = Preview(_BEGIN) if found is None else _said(context, found, pencil, found.words)
            continue
        typed, wrong = typed_length(context, pencil.text)
        radius = _pulled(context, taken, pencil) if typed is None else typed
        refusal = wrong if pencil.act is Act.ENTER else ""
        if pencil.act is Act.RELEASE or (pencil.act is Act.ENTER and typed is not None and not wrong):
            done = _round(context, taken, radius, plan())
            if isinstance(done, Edit):
                return done
            refusal = done
            if pencil.act is Act.RELEASE:
                taken, shown = None, Preview(_BEGIN, refusal=refusal)
                continue
        shown = _pulling(context, taken, pencil, radius or plan().radius, refusal)


def _round(context: ToolContext, taken: _Taken, radius: float | None, wish: RoundPlan) -> Edit | str:
    document = context.drawing.document
    edges = [
        RoundedEdge(between=edge.between, radius=wish.radius if radius is None else radius) for edge in taken.edges
    ]
    volume = document.volumes[taken.owner]
    long = format_length(round(edges[0].radius, 3), document.unit)
    told = tr("Rounded by {radius}: {edges} of {volume}", radius=long, edges=taken.words, volume=volume.name)
    try:
        return replace(round_edges(document, volume.id, edges), told=told)
    except DocumentError as error:
        return str(error)


def _under(context: ToolContext, pencil: Pencil) -> _Taken | None:
    """Return the edge near the pencil that is nearest to the eye, else all edges of the face under it."""
    drawing, eye = context.drawing, context.drawing.document.eye
    best: tuple[float, _Taken] | None = None
    for owner, volume in enumerate(drawing.document.volumes):
        if volume.put_away or volume.locked:
            continue
        for edge in outer_edges(volume):
            place = _near(context, edge.ends, pencil)
            if place is not None:
                away = float(np.sqrt(((place - eye.place) ** 2).sum()))
                if best is None or away < best[0]:
                    words = tr(
                        "the edge {edge}", edge=edge_name(volume, RoundedEdge(between=edge.between, radius=0.0))
                    )
                    best = (away, _Taken(owner, (edge,), words, place))
    hit = pick_face(drawing, pencil.u, pencil.v, locked=False)
    if best is not None and (hit is None or best[0] <= float(np.sqrt(((hit.place - eye.place) ** 2).sum())) * 1.02):
        return best[1]
    return None if hit is None else _of_face(context, hit)


def _of_face(context: ToolContext, hit: FaceHit) -> _Taken | None:
    face = face_of_hit(context.drawing, hit)
    volume = context.drawing.document.volumes[hit.owner]
    edges = tuple(edge for edge in outer_edges(volume) if face in edge.between)
    if face is None or not edges:
        return None
    return _Taken(hit.owner, edges, tr("all edges of the {face}", face=face_name(volume, face)), hit.place)


def _near(context: ToolContext, ends: Floats, pencil: Pencil) -> Floats | None:
    """Return the place of an edge that is drawn within reach of the pencil (3,)."""
    eye = context.drawing.document.eye
    paper, depth = eye.project(ends)
    if not (depth > 0.0).all():
        return None
    way, off = paper[1] - paper[0], np.array([pencil.u, pencil.v]) - paper[0]
    part = float(np.clip((off @ way) / max(float(way @ way), 1e-300), 0.0, 1.0))
    if float(np.hypot(*(off - part * way))) > CATCH * context.grain:
        return None
    # The picture of a straight way is gone quicker near its far end.
    true = part * depth[0] / (depth[1] + part * (depth[0] - depth[1]))
    place: Floats = ends[0] + true * (ends[1] - ends[0])
    return place


def _pulled(context: ToolContext, taken: _Taken, pencil: Pencil) -> float | None:
    """Return the radius at which the round begins at the pencil; None where it has not moved."""
    if len(taken.edges) > 1:
        return None
    (edge,) = taken.edges
    eye = context.drawing.document.eye
    if float(np.hypot(*(eye.project(taken.place)[0][0] - (pencil.u, pencil.v)))) <= 0.5 * CATCH * context.grain:
        return None
    along = edge.ends[1] - edge.ends[0]
    along = along / np.sqrt(along @ along)
    hit = pick_face(context.drawing, pencil.u, pencil.v, locked=False)
    if hit is None or hit.owner != taken.owner:
        return None
    off = hit.place - edge.ends[0]
    off = off - (off @ along) * along
    radius = rounded(float(np.sqrt(off @ off)) / edge.half, step_at(context, taken.place))
    return radius if radius > 0.0 else None


def _pulling(context: ToolContext, taken: _Taken, pencil: Pencil, radius: float, refusal: str) -> Preview:
    words = tr("radius {radius}", radius=format_length(round(radius, 3), context.drawing.document.unit))
    return Preview(
        _PULL, live=_lines(context, taken, radius), notes=(Note(words, pencil.u, pencil.v),), refusal=refusal, step=0
    )


def _said(context: ToolContext, taken: _Taken, pencil: Pencil, words: str) -> Preview:
    return Preview(_BEGIN, live=_lines(context, taken, 0.0), notes=(Note(words, pencil.u, pencil.v),))


def _lines(context: ToolContext, taken: _Taken, radius: float) -> Floats:
    """Return edges as lines on paper (N, 4): the edge itself, or the two lines at which its round begins."""
    eye = context.drawing.document.eye
    ends: list[Floats] = []
    for edge in taken.edges:
        ends += [edge.ends] if radius <= 0.0 else [edge.ends + radius * edge.half * way for way in edge.ways]
    paper, depth = eye.project(np.concatenate(ends))
    lines: Floats = paper.reshape(-1, 4)[(depth.reshape(-1, 2) > 0.0).all(axis=1)]
    return lines
