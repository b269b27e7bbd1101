"""The picture of a scene's edges: projected, clipped at the eye plane, and split into visible and hidden parts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.bodies import inside
from isometron.geometry.clipping import clip_to_window
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves, Hiders
from isometron.geometry.intervals import complement
from isometron.solve.marks import Lines, Role
from isometron.view.eye import Eye
from isometron.volumes.scene import Scene

__all__ = ["Picture", "edge_marks", "take_picture"]

_OWN_CHORD, _OWN_STRAIGHT = 0.12, 1e-3
"""An outline is not hidden by less than this part of its own body's radius, where the side is rounded or straight:
a rounded side is made of straight pieces that stand out from it by a little."""


@dataclass(frozen=True)
class Picture:
    """A scene seen by an eye.

    camera : (V, 3) camera coordinates; paper : (V, 2) mm, NaN behind the eye; hiders : all that hides; hidden : (edge, t0, t1), the
    parts of edges that solid volumes hide (and, for see-through ones, their own body), sorted, disjoint, with
    t along the true edge; eye_inside : (B,) bodies that contain the eye.
    """

    eye: Eye
    scene: Scene
    camera: Floats
    paper: Floats
    hiders: Hiders
    hidden: tuple[Ints, Floats, Floats]
    eye_inside: Bools


def take_picture(eye: Eye, scene: Scene) -> Picture:
    """Project the scene and find what is hidden. No volume at all works."""
    camera = eye.to_camera(scene.vertices)
    contains = inside(scene.bodies, eye.place) if len(scene.bodies) else np.zeros(0, dtype=bool)
    hiders = hiders_of(eye, scene)
    edges = Curves.lines(scene.vertices[scene.edges], scene.edge_owner, scene.edge_laid)
    return Picture(eye, scene, camera, eye.picture(camera), hiders, hiders.hidden(edges), contains)


def hiders_of(eye: Eye, scene: Scene) -> Hiders:
    """Return all that hides in a scene. A turned body is hidden behind by its round pieces, not by its bounding box."""
    frusta = scene.rounds.frusta
    largest = np.zeros(len(scene.volumes))
    np.maximum.at(largest, frusta.owner, frusta.reach)
    rounded = scene.rounds.smooth.any(axis=1)
    least = np.where(rounded, _OWN_CHORD * largest[frusta.owner], _OWN_STRAIGHT * frusta.reach)
    return Hiders(
        eye.place, eye.axes, eye.viewing_distance, scene.bodies, scene.body_owner, frusta, scene.solid, scene.turned, least
    )  # fmt: skip


def edge_marks(picture: Picture, reach: float, *, hidden: bool) -> Lines:
    """Return the edges as lines on paper, within ``reach`` mm of the centre of vision to each side.

    No stretch is ruled twice (`Scene.spans`). Hidden parts are marks of their own role, or left out.
    """
    scene = picture.scene
    edge, start, end = picture.hidden
    shown = _common(complement(len(scene.edges), edge, start, end), scene.spans)
    # What is drawn on a see-through volume is drawn firmly all the same.
    light = (scene.see_through[scene.edge_owner] & ~scene.edge_laid) | scene.edge_soft
    role = np.where(light[shown[0]], Role.CONSTRUCTION, Role.OBJECT)
    parts = [_on_paper(picture, shown, role, reach)]
    if hidden:
        dashed = _common(_without(picture.hidden, scene.edge_soft), scene.spans)
        parts.insert(0, _on_paper(picture, dashed, np.full(len(dashed[0]), Role.HIDDEN), reach))
    return Lines.joined(parts)


def _without(pieces: tuple[Ints, Floats, Floats], edges: Bools) -> tuple[Ints, Floats, Floats]:
    """Leave out the pieces of some edges: construction behind a volume is not drawn at all."""
    kept = ~edges[pieces[0]]
    return pieces[0][kept], pieces[1][kept], pieces[2][kept]


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
    # An edge that runs through the eye itself is a point: what is left of its rounding is no line.
    within = (np.abs(points) <= reach * (1.0 + 1e-9)).all(axis=1)
    rows = np.flatnonzero(keep)[seen][within]
    edge = edge[rows]
    return Lines(points[within], role[rows].astype(np.int8), scene.edge_owner[edge], edge)
