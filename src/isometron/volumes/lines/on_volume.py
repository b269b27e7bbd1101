"""The lines that marks draw on a volume: the surface each lies on, and its path there."""

from __future__ import annotations

import numpy as np

from isometron.volumes.kinds import own_sides
from isometron.volumes.lines.paths import Path, path_through
from isometron.volumes.lines.surfaces import FlatSurface, RoundSurface, Surface
from isometron.volumes.marks.face_marks import CurveMark
from isometron.volumes.marks.holds import held_at
from isometron.volumes.marks.places import face_plane
from isometron.volumes.volume import Volume

__all__ = ["line_on", "surface_of"]


def surface_of(volume: Volume, face: int | str) -> tuple[Surface, tuple[float, float]]:
    """Return the surface of a face, or of a round side, and how far it reaches along its two directions, mm.

    Raises `NoFace` where the body has no such face now.
    """
    side = own_sides(volume).get(face) if isinstance(face, str) else None
    if side is not None:
        return side, side.reach
    plane = face_plane(volume, face)
    x, y = plane.x / max(plane.wide, 1e-300), plane.y / max(plane.high, 1e-300)
    return FlatSurface(plane.middle - plane.x / 2.0 - plane.y / 2.0, x, y), (plane.wide, plane.high)


def line_on(mark: CurveMark, volume: Volume) -> tuple[Surface, Path]:
    """Return the surface that a line is drawn on, and its path there, mm along the surface's two directions, as far as the face
    reaches."""
    surface, reach = surface_of(volume, mark.face)
    places = np.array([[held_at(own, length) for own, length in zip(p.at, reach, strict=True)] for p in mark.points])
    path = path_through(mark.points, places, closed=mark.closed)
    if not isinstance(surface, FlatSurface):
        round_ = isinstance(surface, RoundSurface) and surface.turn < 2.0 * np.pi
        corners = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]) * reach
        return surface, path.within([corners]) if round_ else path
    plane = face_plane(volume, mark.face)
    size = np.array([plane.wide, plane.high])
    return surface, path.within([loop * size for loop in plane.loops]) if plane.loops else path
