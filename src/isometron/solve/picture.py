"""The picture of a scene's edges: projected, clipped at the eye plane, and split into visible and hidden parts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.bodies import inside, shadows
from isometron.geometry.clipping import clip_to_window
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Segments, hidden_intervals, pair_intervals
from isometron.geometry.intervals import complement, union
from isometron.solve.marks import Lines, Role
from isometron.view.eye import Eye
from isometron.volumes.scene import Scene

__all__ = ["Picture", "edge_marks", "take_picture"]


@dataclass(frozen=True)
class Picture:
    """A scene seen by an eye.

    camera : (V, 3) camera coordinates; paper : (V, 2) mm, NaN behind the eye; hidden : (edge, t0, t1), the
    parts of edges that solid volumes hide (and, for see-through ones, their own body), sorted, disjoint, with
    t along the true edge; eye_inside : (B,) bodies that contain the eye.
    """

    eye: Eye
    scene: Scene
    camera: Floats
    paper: Floats
    hidden: tuple[Ints, Floats, Floats]
    eye_inside: Bools


def take_picture(eye: Eye, scene: Scene) -> Picture:
    """Project the scene and find what is hidden. No volume at all works."""
    camera = eye.to_camera(scene.vertices)
    paper = eye.picture(camera)
    contains = inside(scene.bodies, eye.place) if len(scene.bodies) else np.zeros(0, dtype=bool)
    hidden = _hidden(eye, scene, camera, paper)
    return Picture(eye, scene, camera, paper, hidden, contains)


def _hidden(eye: Eye, scene: Scene, camera: Floats, paper: Floats) -> tuple[Ints, Floats, Floats]:
    region = shadows(scene.bodies, eye.place)
    vertex_box = _vertex_bounds(camera, paper)
    segments = _segments(eye, scene, camera, vertex_box)
    solid = ~scene.see_through[scene.body_owner]
    # A see-through volume hides only its own back edges, as on the sketcher's transparent box.
    by_self = np.flatnonzero(~solid)
    count = np.bincount(scene.edge_owner, minlength=len(scene.volumes))
    first = np.searchsorted(scene.edge_owner, scene.body_owner[by_self])
    each = count[scene.body_owner[by_self]]
    own_edges = np.concatenate([np.arange(f, f + n) for f, n in zip(first, each, strict=True)] or [first])
    own = pair_intervals(region, segments.start, segments.end, own_edges, np.repeat(by_self, each))
    near, box = _body_bounds(scene, camera, segments.owner_box)
    active = np.flatnonzero(solid & region.active)
    others = hidden_intervals(region.select(active), segments, box[active], near[active])
    if len(own[0]) == 0:
        return others
    return union(*(np.concatenate(parts) for parts in zip(own, others, strict=True)))


def _vertex_bounds(camera: Floats, paper: Floats) -> Floats:
    """Return (V, 4) bounds of each vertex; a vertex behind the eye plane bounds nothing, so it is everywhere."""
    box = np.hstack([paper, paper])
    behind = ~(camera[:, 2] > 0.0)
    box[behind] = (-np.inf, -np.inf, np.inf, np.inf)
    return box


def _segments(eye: Eye, scene: Scene, camera: Floats, vertex_box: Floats) -> Segments:
    i, j = scene.edges.T
    a, b = vertex_box[i], vertex_box[j]
    box = np.hstack([np.minimum(a[:, :2], b[:, :2]), np.maximum(a[:, 2:], b[:, 2:])])
    depth = camera[:, 2]
    first = np.searchsorted(scene.vertex_owner, np.arange(len(scene.volumes)))
    if len(scene.volumes):
        low = np.minimum.reduceat(vertex_box[:, :2], first)
        high = np.maximum.reduceat(vertex_box[:, 2:], first)
        owner_box, owner_far = np.hstack([low, high]), np.maximum.reduceat(depth, first)
    else:
        owner_box, owner_far = np.zeros((0, 4)), np.zeros(0)
    relative = scene.vertices - eye.place
    return Segments(
        start=relative[i],
        end=relative[j],
        box=box,
        far=np.maximum(depth[i], depth[j]),
        owner=scene.edge_owner,
        owner_box=owner_box,
        owner_far=owner_far,
    )


def _body_bounds(scene: Scene, camera: Floats, owner_box: Floats) -> tuple[Floats, Floats]:
    """Bound each convex piece by its volume: depth and paper box."""
    if len(scene.volumes) == 0:
        return np.zeros(0), np.zeros((0, 4))
    first = np.searchsorted(scene.vertex_owner, np.arange(len(scene.volumes)))
    near = np.minimum.reduceat(camera[:, 2], first)
    return near[scene.body_owner], owner_box[scene.body_owner]


def edge_marks(picture: Picture, reach: float, *, hidden: bool) -> Lines:
    """Return the edges as lines on paper, within ``reach`` mm of the centre of vision to each side.

    No stretch is ruled twice (`Scene.spans`). Hidden parts are marks of their own role, or left out.
    """
    scene = picture.scene
    edge, start, end = picture.hidden
    shown = _common(complement(len(scene.edges), edge, start, end), scene.spans)
    role = np.where(scene.see_through[scene.edge_owner[shown[0]]], Role.CONSTRUCTION, Role.OBJECT)
    parts = [_on_paper(picture, shown, role, reach)]
    if hidden:
        dashed = _common(picture.hidden, scene.spans)
        parts.insert(0, _on_paper(picture, dashed, np.full(len(dashed[0]), Role.HIDDEN), reach))
    return Lines.joined(parts)


def _common(pieces: tuple[Ints, Floats, Floats], spans: tuple[Ints, Floats, Floats]) -> tuple[Ints, Floats, Floats]:
    """Cut pieces of edges down to the spans that their edges own."""
    edge, start, end = pieces
    first = np.searchsorted(spans[0], edge, side="left")
    count = np.searchsorted(spans[0], edge, side="right") - first
    row = np.repeat(np.arange(len(edge)), count)
    span = np.repeat(first - np.concatenate(([0], np.cumsum(count)[:-1])), count) + np.arange(count.sum())
    lo, hi = np.maximum(start[row], spans[1][span]), np.minimum(end[row], spans[2][span])
    keep = hi > lo
    return edge[row][keep], lo[keep], hi[keep]


def _on_paper(picture: Picture, pieces: tuple[Ints, Floats, Floats], role: Ints, reach: float) -> Lines:
    edge, lo, hi = pieces
    scene, f = picture.scene, picture.eye.viewing_distance
    a, b = (picture.camera[scene.edges[edge, k]] for k in (0, 1))
    along = b - a
    start, end = a + lo[:, None] * along, a + hi[:, None] * along
    t0, t1 = clip_to_window(start, end, f, reach)
    keep = t1 > t0
    start, along = start[keep], (end - start)[keep]
    p, q = start + t0[keep, None] * along, start + t1[keep, None] * along
    seen = (p[:, 2] > 0.0) & (q[:, 2] > 0.0)
    p, q = p[seen], q[seen]
    points = np.hstack([p[:, :2] * (f / p[:, 2:]), q[:, :2] * (f / q[:, 2:])])
    edge, role = edge[keep][seen], role[keep][seen]
    return Lines(points, role.astype(np.int8), scene.edge_owner[edge], edge)
