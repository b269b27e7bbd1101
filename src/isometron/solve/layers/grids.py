"""The grid in module squares, on the ground or on a face of a volume, by direct calculation."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import ceil, floor

import numpy as np

from isometron.document.model import Document
from isometron.document.store.budget import LEAST_GRID
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Lines, Marks, Role
from isometron.solve.picture import Picture, ruled
from isometron.volumes.box import BOX_FACE_CORNERS
from isometron.volumes.faces.plane import BodyFace, FacePlane, plane_of_face
from isometron.volumes.kinds import own_faces
from isometron.volumes.volume import Volume

__all__ = ["GRIDS", "grid_segments"]

_MOST = 150
"""A grid has at most so many lines each way; a finer one would be grey."""

_ROUND = 2


def grid_segments(document: Document, picture: Picture) -> Floats:
    """Return the grid's lines in the world, (N, 2, 3) mm: N = 0 without a module or when its face is gone."""
    module, on = document.show.grid_module, document.show.grid_on
    if not module >= LEAST_GRID:
        return np.zeros((0, 2, 3))
    if not on:
        return _ground(document, picture, module)
    volume_id, _, number = on.rpartition(":")
    row = document.index_of(volume_id)
    if row is None:
        return np.zeros((0, 2, 3))
    if not number.isdigit():
        return _on_own_face(document.volumes[row], number, module)
    if int(number) >= len(BOX_FACE_CORNERS):
        return np.zeros((0, 2, 3))
    corners = picture.scene.corners_of(row)[BOX_FACE_CORNERS[int(number)]]
    return _squares(corners[0], corners[1] - corners[0], corners[3] - corners[0], module)


def _on_own_face(volume: Volume, face: str, module: float) -> Floats:
    """The grid on a body's own face, from the corner of its extent, as far as the face goes."""
    if face not in own_faces(volume):
        return np.zeros((0, 2, 3))
    own = own_faces(volume)[face]
    plane = plane_of_face(own)
    low, high = own.loops[0].min(axis=0), own.loops[0].max(axis=0)
    origin = own.corner + low[0] * own.x + low[1] * own.y
    lines = _squares(origin, (high - low)[0] * own.x, (high - low)[1] * own.y, module)
    inside = replace(plane, loops=tuple(_as_parts(plane, own, loop) for loop in own.loops))
    kept = [start + np.outer(part, end - start) for start, end in lines for part in inside.on_face(start, end)]
    return np.array(kept).reshape(-1, 2, 3)


def _as_parts(plane: FacePlane, own: BodyFace, loop: Floats) -> Floats:
    return np.array([plane.parts_of(own.corner + x * own.x + y * own.y) for x, y in loop])


def _ground(document: Document, picture: Picture, module: float) -> Floats:
    """The ground under all volumes and a few squares round them, in squares counted from the world's origin."""
    scene = picture.scene
    if len(scene.vertices):
        low, high = scene.vertices[:, :2].min(axis=0), scene.vertices[:, :2].max(axis=0)
    else:
        low, high = np.array([-2 * module, -2 * module]), np.array([2 * module, 2 * module])
    low = np.floor(low / module) - _ROUND
    high = np.ceil(high / module) + _ROUND
    origin = np.array([*(low * module), 0.0])
    across, away = np.array([(high - low)[0] * module, 0.0, 0.0]), np.array([0.0, (high - low)[1] * module, 0.0])
    return _squares(origin, across, away, module)


def _squares(origin: Floats, across: Floats, away: Floats, module: float) -> Floats:
    """Return the lines of squares over a rectangle: its rim, and one each module from the origin."""
    segments = []
    for one, other in ((across, away), (away, across)):
        length = float(np.sqrt(one @ one))
        count = floor(length / module + CLOSE)
        step = max(1, ceil(count / _MOST))
        places = np.unique(np.round([*(module * step * np.arange(count // step + 1)), length], 9)) / length
        for part in places:
            foot = origin + part * one
            segments.append([foot, foot + other])
    return np.array(segments)


def _marks(seen: Seen) -> Marks:
    """Return the grid on paper."""
    if not seen.document.show.construction:
        return NOTHING
    segments = grid_segments(seen.document, seen.picture)
    if len(segments) == 0:
        return NOTHING
    return Marks(lines=Lines.of(ruled(seen.picture.eye, segments, seen.reach)[0], Role.GRID))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return document.show.construction and document.show.grid_module > 0.0


GRIDS = Layer(_marks, leans_on=_leans_on)
