"""A start near an edge or a corner: which face it belongs to is told by the way the first movement takes."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import SAME_PLACE
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Role
from isometron.solve.pick import FaceHit, face_of_hit
from isometron.tools.base import Base, base_on
from isometron.tools.pencil import Pencil, ToolContext
from isometron.tools.pulling import paper_direction

__all__ = ["run_along"]

_CLEARLY = 0.06
"""By so much (cosine) a face must lie better along the movement than the one under the pencil."""
_PARALLEL, _SAME, _FARTHER = 0.9, 1e-6, 4.0
"""Cosine of edges that run alike, mm between those that are one, and how many times as far off the next one must be."""
_CATCH = 8.0
"""Pointer steps within which an edge is near."""


def run_along(context: ToolContext, base: Base, pencil: Pencil) -> Base:
    """Return the base that the first movement, from the base's own place to the pencil, runs along.

    It is the one under the pencil, unless an edge or a corner lies there of which another face, of the selected volume or else of
    the nearest visible one, has a direction that lies clearly better along the movement.
    """
    drawing = context.drawing
    paper, depth = drawing.document.eye.project(base.place)
    if not depth[0] > 0.0:
        return base
    start = paper[0]
    gone = np.array([pencil.u, pencil.v]) - start
    far = float(np.hypot(*gone))
    if far <= context.grain:
        return base
    best, along = base, _along(drawing, base, gone / far) + _CLEARLY
    for other in _bases_at(context, start):
        fits = _along(drawing, other, gone / far)
        if fits > along:
            best, along = other, fits
    return best


def _along(drawing: Drawing, base: Base, way: Floats) -> float:
    """Return how well (cosine) a way on paper runs along one of the two directions of a base's plane."""
    eye, found = drawing.document.eye, 0.0
    for axis in range(3):
        seen = None if axis == base.normal else paper_direction(eye, base.place, base.rotation[:, axis])
        if seen is not None:
            found = max(found, abs(float(seen @ way)))
    return found


def _bases_at(context: ToolContext, start: Floats) -> list[Base]:
    """Return a base on each face that looks at the eye and meets an edge near a paper place (2,)."""
    drawing, reach = context.drawing, _CATCH * context.grain
    found = _edge_place(drawing, start, reach, context.selected)
    if found is None:
        return []
    owner, place = found
    bases = []
    for hit in _faces_through(drawing, owner, place):
        if face_of_hit(drawing, hit) is not None:
            bases.append(base_on(drawing, hit, float(start[0]), float(start[1]), context.grain, reach))
    return bases


def _edge_place(
    drawing: Drawing, start: Floats, reach: float, selected: tuple[str, ...]
) -> tuple[int, Floats] | None:
    """Return whose visible edge lies near a paper place, and where on it (3,): of a selected volume first, else the nearest one."""
    lines = drawing.edges
    shown = lines.select((lines.role != Role.HIDDEN) & drawing.scene.solid[lines.owner])
    if len(shown) == 0:
        return None
    points = shown.points
    way = points[:, 2:] - points[:, :2]
    length = np.maximum((way**2).sum(axis=1), np.finfo(float).tiny)
    part = np.clip(((start - points[:, :2]) * way).sum(axis=1) / length, 0.0, 1.0)
    off = np.hypot(*(points[:, :2] + part[:, None] * way - start).T)
    near = np.flatnonzero(off <= reach)
    # On a thing that is drawn thinner than a finger all is near an edge: there the one across must be farther by far.
    unit = way / np.sqrt(length)[:, None]
    for row in near.tolist():
        across = (shown.owner == shown.owner[row]) & (np.abs(unit @ unit[row]) > _PARALLEL) & (off > off[row] + _SAME)
        if across.any() and off[row] * _FARTHER > off[across].min():
            near = near[near != row]
    if not len(near):
        return None
    wanted = np.array([drawing.document.volumes[row].id in selected for row in shown.owner[near]])
    rows = near[wanted] if wanted.any() else near
    places = [_on_edge(drawing, int(shown.edge[row]), start) for row in rows]
    depth = drawing.document.eye.to_camera(np.array(places))[:, 2]
    first = int(np.argmin(depth))
    return int(shown.owner[rows[first]]), places[first]


def _on_edge(drawing: Drawing, edge: int, start: Floats) -> Floats:
    """Return the place (3,) on an edge of the scene that is drawn nearest to a paper place."""
    ends = drawing.scene.vertices[drawing.scene.edges[edge]]
    paper, depth = drawing.document.eye.project(ends)
    if not (depth > 0.0).all():
        return ends[0]  # type: ignore[no-any-return]
    way = paper[1] - paper[0]
    t = float(np.clip((start - paper[0]) @ way / max(float(way @ way), np.finfo(float).tiny), 0.0, 1.0))
    # What is a part t of the way on paper is nearer to the far end in the world, by the depths.
    share = t * depth[0] / (t * depth[0] + (1.0 - t) * depth[1])
    found: Floats = ends[0] + share * (ends[1] - ends[0])
    return found


def _faces_through(drawing: Drawing, owner: int, place: Floats) -> list[FaceHit]:
    """Return the faces of a volume that look at the eye and that a place (3,) on one of its edges lies on."""
    scene = drawing.scene
    bodies, faces = scene.bodies.select(scene.body_owner == owner), scene.faces.select(scene.face_owner == owner)
    normals = np.concatenate([bodies.normals.reshape(-1, 3), faces.normals])
    offsets = np.concatenate([bodies.offsets.reshape(-1), faces.offsets])
    facing = normals @ (drawing.document.eye.place - place) > 0.0
    on = np.abs(normals @ place - offsets) <= 10 * SAME_PLACE
    return [FaceHit(owner, int(k), place, normals[k]) for k in np.flatnonzero(facing & on)]
