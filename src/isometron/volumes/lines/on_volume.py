"""The lines that marks draw on a volume: the surface each lies on, and its path there."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.volumes.lines.paths import Path, path_through
from isometron.volumes.lines.surfaces import FlatSurface, RoundSurface, Surface
from isometron.volumes.marks.face_marks import CurveMark
from isometron.volumes.marks.holds import held_at
from isometron.volumes.marks.places import ROUND_SIDE, face_plane
from isometron.volumes.profile import profile_sides
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["line_on", "round_side", "surface_of"]

_SMALL = 1e-4
"""Of an axle's length: the step that the slope of a side is measured by."""


def surface_of(volume: Volume, face: int | str) -> tuple[Surface, tuple[float, float]]:
    """Return the surface of a face, or of a round side, and how far it reaches along its two directions, mm.

    Raises `NoFace` where the body has no such face now.
    """
    if face == ROUND_SIDE and isinstance(volume, Turned):
        side = round_side(volume)
        return side, (volume.size[DIRECTIONS.index(volume.axle)], 2.0 * np.pi * side.around)
    plane = face_plane(volume, face)
    x, y = plane.x / max(plane.wide, 1e-300), plane.y / max(plane.high, 1e-300)
    return FlatSurface(plane.middle - plane.x / 2.0 - plane.y / 2.0, x, y), (plane.wide, plane.high)


def round_side(volume: Turned) -> RoundSurface:
    """Return the round side of a turned body, unrolled at its greatest radius; its angle begins as in `turned.side_place`."""
    corner, rotation = turned_frame(volume)
    k = DIRECTIONS.index(volume.axle)
    a, b = (k + 1) % 3, (k + 2) % 3
    long, half = volume.size[k], (volume.size[a] / 2.0, volume.size[b] / 2.0)
    origin = corner + rotation[:, a] * half[0] + rotation[:, b] * half[1]
    wide = max(half)
    return RoundSurface(
        origin, rotation[:, k], rotation[:, a], rotation[:, b], wide, lambda h: _radius(volume, h, long, wide),
        (half[0] / wide, half[1] / wide),
    )  # fmt: skip


def _radius(volume: Turned, along: Floats, long: float, wide: float) -> tuple[Floats, Floats]:
    """Return how far the side lies from the axle, and how fast that grows along it."""
    part = np.clip(along / long, 0.0, 1.0)
    low, high = np.clip(part - _SMALL, 0.0, 1.0), np.clip(part + _SMALL, 0.0, 1.0)
    here, before, after = (_widths(volume, at) for at in (part, low, high))
    return wide * here, wide * (after - before) / np.maximum((high - low) * long, 1e-300)


def _widths(volume: Turned, part: Floats) -> Floats:
    sides = profile_sides(volume.profile)
    found = np.zeros(len(part))
    for side in sides:
        inside = (part >= side.one.at - 1e-12) & (part <= side.two.at + 1e-12)
        if inside.any():
            found[inside] = side.width(part[inside])
    return found


def line_on(mark: CurveMark, volume: Volume) -> tuple[Surface, Path]:
    """Return the surface that a line is drawn on, and its path there, mm along the surface's two directions, as far as the face
    reaches."""
    surface, reach = surface_of(volume, mark.face)
    places = np.array([[held_at(own, length) for own, length in zip(p.at, reach, strict=True)] for p in mark.points])
    path = path_through(mark.points, places, closed=mark.closed)
    if mark.face == ROUND_SIDE or not isinstance(surface, FlatSurface):
        return surface, path
    plane = face_plane(volume, mark.face)
    size = np.array([plane.wide, plane.high])
    return surface, path.within([loop * size for loop in plane.loops]) if plane.loops else path
