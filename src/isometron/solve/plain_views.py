"""Side, front and plan: the three plain views of a document, in true millimetres.

Each is what an eye sees from so far away that perspective is gone: hidden parts are found from there, and every straight
end is then put exactly where it lies.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, get_args

import msgspec
import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.solve.drawing import near_marks
from isometron.solve.layers.layer import Seen
from isometron.solve.layers.register import LAYERS
from isometron.solve.marks import NOTHING, Lines, Marks
from isometron.solve.picture import Picture
from isometron.view.eye import Eye
from isometron.volumes.building import scene_of
from isometron.volumes.scene import Scene

__all__ = ["VIEWS", "PlainView", "ViewName", "bounds_of", "plain_view", "view_axes"]

ViewName = Literal["side", "front", "plan"]
VIEWS: tuple[ViewName, ...] = get_args(ViewName)

_FAR = 2e4
"""The eye stands this many sizes of the object away: what perspective is left is mended end by end."""

_WAYS: dict[ViewName, tuple[float, float]] = {"side": (0.0, 0.0), "front": (90.0, 0.0), "plan": (0.0, -90.0)}
"""Yaw and pitch of each view: along y, from the right end, from above."""

_SAME = HAIR
"""Stretches shorter than this, mm, are none."""

_END = 2e-4
"""An end found this near to an edge's own end, as a part of it, is that end."""


@dataclass(frozen=True)
class PlainView:
    """One view: marks in mm of the object, to the right and up as it is looked at; low, high : (2,) what it covers."""

    name: ViewName
    marks: Marks
    low: Floats
    high: Floats


def view_axes(name: ViewName) -> Floats:
    """Return the world directions (2, 3) that run right and up in a view."""
    yaw, pitch = _WAYS[name]
    axes: Floats = np.round(
        Eye(position=(0.0, 0.0, 0.0), yaw_deg=yaw, pitch_deg=pitch, viewing_distance=1.0).axes[:2], 12
    )
    return axes + 0.0


def bounds_of(scene: Scene, name: ViewName) -> tuple[Floats, Floats]:
    """Return the least and greatest (2,) of a scene in a view, mm; a square metre when it is empty."""
    shown = scene.vertices[~scene.put_away[scene.vertex_owner]] if len(scene.vertices) else scene.vertices
    if len(shown) == 0:
        return np.array([-500.0, 0.0]), np.array([500.0, 1000.0])
    flat = shown @ view_axes(name).T
    return flat.min(axis=0), flat.max(axis=0)


def plain_view(document: Document, name: ViewName, *, hidden: bool = True) -> PlainView:
    """Return one view of a document, hidden parts as marks of their own role or left out."""
    scene = scene_of(document.volumes)
    low, high = bounds_of(scene, name)
    if not document.volumes:
        return PlainView(name, NOTHING, low, high)
    size = max(float(np.ptp(scene.vertices, axis=0).max()), 1.0)
    eye = _far_eye(scene, name, _FAR * size)
    sheet = msgspec.structs.replace(document.sheet, width=size, height=size)
    show = msgspec.structs.replace(document.show, hidden="dashed" if hidden else "left out")
    seen = Seen(msgspec.structs.replace(document, eye=eye, sheet=sheet, show=show), Picture(eye, lambda: scene))
    found = [*near_marks(seen).values(), LAYERS["sections"].marks(seen)]
    marks = Marks.joined(found).placed(view_axes(name) @ eye.place)
    on_edge = marks.lines.edge >= 0
    exact = _exact(scene, name, marks.lines.select(on_edge))
    return PlainView(name, replace(marks, lines=Lines.joined([exact, marks.lines.select(~on_edge)])), low, high)


def _far_eye(scene: Scene, name: ViewName, far: float) -> Eye:
    middle = (scene.vertices.min(axis=0) + scene.vertices.max(axis=0)) / 2
    yaw, pitch = _WAYS[name]
    at = Eye(position=(0.0, 0.0, 0.0), yaw_deg=yaw, pitch_deg=pitch, viewing_distance=1.0)
    x, y, z = middle - far * at.axes[2]
    # The viewing distance is as large: what lies as far away as the middle is drawn in its true size.
    return msgspec.structs.replace(at, position=(float(x), float(y), float(z)), viewing_distance=far)


def _exact(scene: Scene, name: ViewName, lines: Lines) -> Lines:
    """Put both ends of every line on its edge as the view shows it, to the last digit."""
    if len(lines) == 0:
        return lines
    flat = scene.vertices @ view_axes(name).T
    start, end = (flat[scene.edges[lines.edge, k]] for k in (0, 1))
    along = end - start
    square = (along**2).sum(axis=1)
    seen = np.sqrt(square) > CLOSE  # an edge seen end on is a point
    points = []
    for k in (0, 2):
        t = ((lines.points[seen, k : k + 2] - start[seen]) * along[seen]).sum(axis=1) / square[seen]
        t = np.where(t < _END, 0.0, np.where(t > 1.0 - _END, 1.0, t))  # never beyond the edge
        points.append(start[seen] + t[:, None] * along[seen])
    return _once(Lines(np.hstack(points), lines.role[seen], lines.owner[seen], lines.edge[seen]))


def _once(lines: Lines) -> Lines:
    """Return lines so that no stretch is drawn twice: in a plain view many edges lie exactly behind others.

    Of two that share a stretch, the one painted later (a visible edge before a hidden one) keeps it.
    """
    order = np.argsort(-lines.role.astype(int), kind="stable")
    points, keys, spans = _carriers(lines.points)
    kept: list[tuple[int, float, float]] = []
    taken: dict[tuple[float, ...], list[tuple[float, float]]] = {}
    for row in order:
        there = taken.setdefault(tuple(keys[row]), [])
        first, last = spans[row]
        free = _left_free(float(first), float(last), there)
        there += free
        kept += [(int(row), low, high) for low, high in free]
    if not kept:
        return lines.select(np.zeros(0, dtype=np.intp))
    rows = np.array([row for row, _, _ in kept])
    start, along = points[rows, :2], points[rows, 2:] - points[rows, :2]
    first, whole = spans[rows, 0], spans[rows, 1] - spans[rows, 0]
    ends = [start + ((np.array([k[n] for k in kept]) - first) / whole)[:, None] * along for n in (1, 2)]
    return Lines(np.hstack(ends), lines.role[rows], lines.owner[rows], lines.edge[rows])


def _carriers(points: Floats) -> tuple[Floats, Floats, Floats]:
    """Return lines (N, 4) from their lesser end on, a key (N, 3) of the endless line each lies on, and where along it
    each runs (N, 2)."""
    points = points.copy()
    along = points[:, 2:] - points[:, :2]
    along /= np.maximum(np.hypot(*along.T), 1e-300)[:, None]
    back = (along[:, 0] < -CLOSE) | ((np.abs(along[:, 0]) <= CLOSE) & (along[:, 1] < 0.0))
    points[back] = points[back][:, [2, 3, 0, 1]]
    along[back] *= -1.0
    off = along[:, 0] * points[:, 1] - along[:, 1] * points[:, 0]
    keys = np.column_stack([np.round(along, 7), np.round(off, 4)]) + 0.0
    spans = np.column_stack([(along * points[:, :2]).sum(axis=1), (along * points[:, 2:]).sum(axis=1)])
    return points, keys, spans


def _left_free(low: float, high: float, taken: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return the stretches of low to high that none of the taken ones covers."""
    free = [(low, high)] if high - low > _SAME else []
    for start, end in taken:
        free = [
            piece
            for first, last in free
            for piece in ((first, min(last, start)), (max(first, end), last))
            if piece[1] - piece[0] > _SAME
        ]
    return free
