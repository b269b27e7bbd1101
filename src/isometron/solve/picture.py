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
from isometron.solve.rounds import edges_behind_rounds
from isometron.view.eye import Eye
from isometron.volumes.scene import Scene

__all__ = ["Picture", "edge_marks", "segments_of", "take_picture"]


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
    segments, near = segments_of(eye, scene, camera, paper)
    solid = (scene.solid & ~scene.turned)[scene.body_owner]
    # A see-through volume hides only its own back edges, as on the sketcher's transparent box.
    alone = np.flatnonzero(~scene.solid[scene.body_owner])
    own = pair_intervals(region, segments, scene.body_owner[alone], alone)
    active = np.flatnonzero(solid & region.active)
    hiding = scene.body_owner[active]
    found = [hidden_intervals(region.select(active), segments, segments.box[hiding], near[hiding])]
    if len(own[0]):
        found.append(own)
    if len(scene.rounds.frusta):
        found.append(edges_behind_rounds(eye, scene, np.arange(len(scene.edges))))
    return found[0] if len(found) == 1 else union(*(np.concatenate(parts) for parts in zip(*found, strict=True)))


def segments_of(eye: Eye, scene: Scene, camera: Floats, paper: Floats) -> tuple[Segments, Floats]:
    """Return the scene's edges as `Segments`, and the least depth (N,) of each volume."""
    if len(scene.volumes) == 0:
        nothing = np.zeros(0, dtype=np.intp)
        return Segments(np.zeros((0, 1, 3)), nothing.reshape(0, 2), nothing, np.zeros((0, 4)), np.zeros(0)), np.zeros(
            0
        )
    first = scene.first_vertex
    behind = ~(camera[:, 2] > 0.0)
    low, high = paper.copy(), paper.copy()
    # A vertex behind the eye plane has no picture, so its volume may reach anywhere on paper.
    low[behind], high[behind] = -np.inf, np.inf
    box = np.hstack([np.minimum.reduceat(low, first), np.maximum.reduceat(high, first)])
    depth = camera[:, 2]
    segments = Segments(
        vertices=(scene.vertices - eye.place)[scene.padded_vertices],
        ends=scene.local_ends,
        owner=scene.edge_owner,
        box=box,
        far=np.maximum.reduceat(depth, first),
    )
    return segments, np.minimum.reduceat(depth, first)


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
