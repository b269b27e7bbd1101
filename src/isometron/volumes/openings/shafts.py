"""Openings as outlines on the faces of a body that are carried straight into it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import msgspec
import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.faces.corners import Corner, OutlineError, outline_through
from isometron.geometry.faces.insets import between_levels, inset, polygon_inset, with_arcs
from isometron.geometry.faces.shaft import CarveError, Shaft, chorded
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import own_faces
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.marks.mirroring import mirror_of
from isometron.volumes.marks.places import face_plane, has_face, places_of, side_under
from isometron.volumes.openings.outlines import opening_outline
from isometron.volumes.openings.side_shafts import side_shaft, with_places
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["outline_on_face", "shafts_of"]


_GRAIN = 0.12
"""Radians: the outline of a face is made of chords where rounds bound it."""


def shafts_of(volume: Volume) -> Iterator[tuple[int, OpeningMark, Shaft | IsometronError]]:
    """Yield the openings of a volume with the numbers of their marks, those of a row one by one, and their mirror images; of one
    that has no outline why.

    A mark whose face is not there now has none.
    """
    ways, moved = mirror_of(volume)
    for number, mark in enumerate(volume.marks):
        if not isinstance(mark, OpeningMark) or not has_face(volume, mark):
            continue
        side = side_under(volume, mark)
        if side is not None:
            for one, found in _in_side(volume, mark, side):
                yield number, one, found
                if mark.mirrored and isinstance(found, Shaft):
                    yield number, one, _mirrored(found, ways, moved)
            continue
        plane = face_plane(volume, mark.face)
        if not plane.has_area:
            continue
        for at in places_of(mark, plane) if mark.form != "inset" else [(0.0, 0.0)]:
            one = msgspec.structs.replace(mark, at=(Measured(mm=at[0]), Measured(mm=at[1])), count=1)
            try:
                shaft = _shaft(volume, one, plane)
            except IsometronError as error:
                yield number, one, error
                continue
            yield number, one, shaft
            if mark.mirrored:
                yield number, one, _mirrored(shaft, ways, moved)


def _in_side(
    volume: Volume, mark: OpeningMark, side: RoundSurface
) -> Iterator[tuple[OpeningMark, Shaft | IsometronError]]:
    up = stand_of(volume)[1][:, 2]
    for along, about, one in with_places(volume, mark, side):
        try:
            yield one, side_shaft(one, side, along, about, up)
        except IsometronError as error:
            yield one, error


def outline_on_face(volume: Volume, mark: OpeningMark) -> Floats:
    """Return places (K, 3) round the first opening of a mark on its face; raises `IsometronError` where it has no outline."""
    side = side_under(volume, mark)
    if side is not None:
        along, about, one = next(with_places(volume, mark, side))
        bare = msgspec.structs.replace(one, goes="through")
        shaft = side_shaft(bare, side, along, about, stand_of(volume)[1][:, 2])
        places = shaft.at(chorded(shaft.outline))
        return places - side.met(places, -shaft.frame[9:])[:, None] * shaft.frame[9:]
    plane = face_plane(volume, mark.face)
    at = next(iter(places_of(mark, plane)))
    one = msgspec.structs.replace(mark, at=(Measured(mm=at[0]), Measured(mm=at[1])), count=1, goes="through")
    shaft = _shaft(volume, one, plane)
    return shaft.at(chorded(shaft.outline))


def _shaft(volume: Volume, mark: OpeningMark, plane: FacePlane) -> Shaft:
    x, y = plane.x / plane.wide, plane.y / plane.high
    corner = plane.middle - plane.x / 2.0 - plane.y / 2.0
    outline = opening_outline(mark) if mark.form != "inset" else _inset(volume, mark, plane)
    if mark.form != "inset":
        at = [held.mm if isinstance(held, Measured) else 0.0 for held in mark.at]
        corner = corner + at[0] * x + at[1] * y
    frame = np.concatenate([corner, x, y, plane.outward])
    grain = _GRAIN if mark.form == "inset" else 0.0
    if mark.goes != "pocket":
        return Shaft(frame, outline, walls=1 if mark.goes == "wall" else 0, grain=grain)
    if mark.depth <= 0.0:
        raise CarveError(tr("A pocket needs a depth."))
    return Shaft(frame, outline, depth=mark.depth, grain=grain)


def _mirrored(shaft: Shaft, ways: Floats, moved: Floats) -> Shaft:
    parts = shaft.frame.reshape(4, 3) @ ways.T
    parts[0] += moved
    return replace(shaft, frame=parts.reshape(-1))


def _inset(volume: Volume, mark: OpeningMark, plane: FacePlane) -> Outline:
    """Return the outline of a face, or of a part of its height, so far inwards, from the lower left of its middle lines."""
    own = own_faces(volume).get(mark.face) if isinstance(mark.face, str) else None
    if own is None:
        loop = (np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])) * (plane.wide, plane.high)
    else:
        world = own.corner + own.loops[0][:, :1] * own.x + own.loops[0][:, 1:] * own.y
        loop = np.array([plane.parts_of(place) for place in world]) * (plane.wide, plane.high)
    low, high = loop[:, 1].min(), loop[:, 1].max()
    levels = [low + part * (high - low) for part in mark.part]
    if not levels[1] - levels[0] > CLOSE:
        raise CarveError(tr("The part of the face that an opening takes ends above where it begins."))
    if mark.part != (0.0, 1.0):
        loop = between_levels(loop, levels[0], levels[1])
    area = float((loop[:, 0] * np.roll(loop[:, 1], -1) - loop[:, 1] * np.roll(loop[:, 0], -1)).sum())
    loop = loop if area > 0.0 else loop[::-1]
    try:
        outline = inset(with_arcs(loop), mark.inset)
    except OutlineError:
        # Rounds that a slanted face cuts are chords of ellipses: those are followed chord by chord.
        outline = with_arcs(polygon_inset(loop, mark.inset))
    return _rounded(outline, mark.round) if mark.round > 0.0 else outline


def _rounded(outline: Outline, radius: float) -> Outline:
    """Return an outline with its sharp corners between straight sides rounded; one with bends, or without room for it, as it is."""
    if outline.bends:
        return outline
    try:
        return outline_through([Corner(float(x), float(y), round=radius) for x, y in outline.corners])
    except OutlineError:
        return outline
