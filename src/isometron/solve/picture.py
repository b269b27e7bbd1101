"""The picture of a scene's edges: projected, clipped at the eye plane, and split into visible and hidden parts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.bodies import inside
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Hiders, Parts
from isometron.geometry.piece_loops import LinePieces
from isometron.solve.marks import Lines, Role
from isometron.view.eye import Eye
from isometron.volumes.scene import Scene

__all__ = ["Picture", "edge_marks", "hiders_of", "ruled", "take_picture"]


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
    hiders = hiders_of(eye, scene)
    contains = np.zeros(len(scene.bodies), dtype=bool)
    around = hiders.around
    contains[around] = inside(scene.bodies.select(around), eye.place)
    return Picture(eye, scene, camera, eye.picture(camera), hiders, hiders.hidden(scene.edge_curves), contains)


def hiders_of(eye: Eye, scene: Scene) -> Hiders:
    """Return all that hides in a scene. A turned body is hidden behind by its round pieces, not by its bounding box."""
    return Hiders(
        eye.place, eye.axes, eye.viewing_distance, scene.bodies, scene.body_owner, scene.rounds.frusta, scene.solid,
        scene.turned, scene.rounds.own_least,
    )  # fmt: skip


def edge_marks(picture: Picture, reach: float, *, hidden: bool) -> Lines:
    """Return the edges as lines on paper, within ``reach`` mm of the centre of vision to each side.

    No stretch is ruled twice (`Scene.spans`). Hidden parts are marks of their own role, or left out; construction behind a
    volume is not drawn at all.
    """
    scene = picture.scene
    pieces = LinePieces(picture.camera, scene.edges, picture.eye.viewing_distance, reach)
    dashed = ~scene.edge_soft & hidden
    points, edge, back = pieces.cut(picture.hidden, scene.spans, dashed.view(np.uint8))
    role = np.where(back, Role.HIDDEN, np.where(scene.edge_light[edge], Role.CONSTRUCTION, Role.OBJECT))
    return Lines(points, role.astype(np.int8), scene.edge_owner[edge], edge)


_NOWHERE: Parts = np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros(0)


def ruled(
    eye: Eye, ends: Floats, reach: float, hidden: Parts = _NOWHERE, *, with_hidden: bool = False
) -> tuple[Floats, Ints, Bools]:
    """Return what is drawn of lines ``ends`` (N, 2, 3): points (M, 4) mm, the lines (M,), and whether hidden (M,).

    hidden : the parts that are hidden; they are left out, or told apart ``with_hidden``.
    """
    count = len(ends)
    whole = np.arange(count), np.zeros(count), np.ones(count)
    pieces = LinePieces(eye.to_camera(ends), np.arange(2 * count).reshape(count, 2), eye.viewing_distance, reach)
    points, line, back = pieces.cut(hidden, whole, np.full(count, with_hidden, dtype=np.uint8))
    return points, line, back
