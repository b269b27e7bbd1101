"""The space that bodies with openings, and hollow ones, fill: for asking what shares it and what touches it, never for drawing."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import msgspec
import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.shaft import chorded
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import convex_pieces
from isometron.geometry.prisms import prisms
from isometron.geometry.tolerances import CLOSE, HAIR, SAME_PLACE
from isometron.volumes.box import Box, box_corners
from isometron.volumes.kinds import kind_of
from isometron.volumes.openings.solids import opened_body
from isometron.volumes.shells.openings import Opening
from isometron.volumes.volume import Volume

__all__ = ["opened_pieces"]

_CHORDS = 4


def opened_pieces(volume: Volume) -> ConvexBodies:
    """Return convex pieces that fill about what a body with openings, or a hollow one, does.

    A hollow body is the walls behind its outer faces; of a solid box what openings take from one pair of sides is left out,
    of the other kinds nothing is.
    """
    faces, cut = opened_body(volume)
    corners, rotations = box_corners([volume])
    if len(faces) and volume.wall > 0.0:
        return _walls(volume, faces).placed(rotations[0], corners[0, 0])
    if len(faces) and isinstance(volume, Box):
        return _layers(volume, cut).placed(rotations[0], corners[0, 0])
    plain = msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=(), copies=(), mirror=None)
    kind = kind_of(type(volume))
    return kind.solids([plain]).bodies if kind.filled is None else kind.filled(plain)


def _walls(volume: Volume, body: FlatFaces) -> ConvexBodies:
    """Return the walls behind the outer faces of a hollow body."""
    faces = body.chorded(_CHORDS)
    first = faces.first
    outside = np.array(volume.size) / 2.0
    found = []
    for row in range(len(faces)):
        frame = faces.frames[row]
        towards = float((frame[:3] - outside) @ frame[9:]) > 0.0  # the faces of its inside look at its middle
        if not towards or not _outer(frame, volume):
            continue
        for piece in _pieces(faces, slice(int(first[row]), int(first[row + 1]))):
            places = frame[:3] + piece[:, :1] * frame[3:6] + piece[:, 1:] * frame[6:9]
            found.append(prisms([places], -volume.wall * frame[9:]))
    return stacked(found)


def _outer(frame: Floats, volume: Volume) -> bool:
    """Whether a face of a box lies on its outside; of other bodies that is not asked."""
    if not isinstance(volume, Box):
        return True
    axis = int(np.argmax(np.abs(frame[9:])))
    return min(abs(float(frame[axis])), abs(float(frame[axis] - volume.size[axis]))) <= SAME_PLACE


def _pieces(faces: FlatFaces, sides: slice) -> list[Floats]:
    """Return convex pieces (K, 2) of a face of sides in any order."""
    import shapely

    lines = shapely.linestrings(np.round(faces.sides[sides], 6).reshape(-1, 2, 2))
    whole = shapely.build_area(shapely.geometrycollections(lines))
    found: list[Floats] = []
    for part in shapely.get_parts(whole):
        if part.area > CLOSE:
            rings = [np.array(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
            found += convex_pieces(rings[0], rings[1:])
    return found


def _layers(volume: Box, cut: Sequence[Opening]) -> ConvexBodies:
    """Return a solid box in layers between the bottoms of the openings on that pair of its sides that has the most."""
    shafts = [one.shaft for one in cut]
    ways = [int(np.argmax(np.abs(shaft.frame[9:]))) for shaft in shafts]
    axis = max(range(3), key=ways.count)
    size = volume.size[axis]
    taken = []
    for shaft, way in zip(shafts, ways, strict=True):
        if way == axis:
            depth = min(shaft.depth, size)
            span = (size - depth, size) if shaft.frame[9 + axis] > 0.0 else (0.0, depth)
            taken.append((span, shaft.at(chorded(shaft.outline, _CHORDS))))
    levels = sorted({0.0, size, *(level for span, _ in taken for level in span)})
    a, b = (k for k in range(3) if k != axis)
    found = []
    for low, high in pairwise(levels):
        if high - low > HAIR:
            holes = [places[:, [a, b]] for span, places in taken if span[0] < high - HAIR and span[1] > low + HAIR]
            found += [
                _prism(piece, (a, b, axis), low, high) for piece in _without(volume.size[a], volume.size[b], holes)
            ]
    return stacked(found)


def _without(wide: float, high: float, holes: Sequence[Floats]) -> list[Floats]:
    """Return convex pieces of a rectangle without some polygons."""
    import shapely

    area = shapely.box(0.0, 0.0, wide, high).difference(shapely.union_all([shapely.Polygon(hole) for hole in holes]))
    found: list[Floats] = []
    for part in shapely.get_parts(area):
        if part.area > CLOSE:
            rings = [np.array(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
            found += convex_pieces(rings[0], rings[1:])
    return found


def _prism(piece: Floats, axes: tuple[int, int, int], low: float, high: float) -> ConvexBodies:
    places, way = np.zeros((len(piece), 3)), np.zeros(3)
    places[:, axes[0]], places[:, axes[1]], places[:, axes[2]] = piece[:, 0], piece[:, 1], low
    way[axes[2]] = high - low
    return prisms([places], way)
