"""Laying marks on the body: those that keep to the bounding volume's construction faces are moved to the body's own faces."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
import numpy as np

from isometron.document.edits import Edit, with_volumes
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import holds
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.faces.plane import BodyFace, FacePlane, plane_of_face
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, FaceMark, RingMark
from isometron.volumes.marks.holds import Apart, reheld
from isometron.volumes.marks.places import face_plane, mark_place, mark_reach
from isometron.wording import tr

__all__ = ["lay_on_body"]


def lay_on_body(document: Document, ids: Iterable[str]) -> Edit:
    """Move the marks of volumes from construction faces straight on to the faces of the body behind them.

    A mark behind which there is no face stays where it is. Raises `DocumentError` where nothing can be moved.
    """
    wanted = set(ids)
    volumes, names = [], []
    for volume in document.volumes:
        laid = tuple(_laid(mark, volume) for mark in volume.marks) if volume.id in wanted else volume.marks
        if laid != volume.marks:
            names.append(volume.name)
            volume = msgspec.structs.replace(volume, marks=laid)
        volumes.append(volume)
    if not names:
        raise DocumentError(tr("No mark floats before a face of the body here: there is nothing to lay on it."))
    words = tr("lay the marks of {names} on the body", names=", ".join(names))
    return Edit(words, with_volumes(document, tuple(volumes)), asks=frozenset({"mark"}))


def _laid(mark: FaceMark, volume: AnyVolume) -> FaceMark:
    """Return a mark on the body's own face that lies straight behind it, of the same size in mm."""
    if not isinstance(mark, RingMark | ArchMark | DivideMark) or isinstance(mark.face, str):
        return mark
    plane = face_plane(volume, mark.face)
    if not plane.has_area:
        return mark
    at = (plane.wide / 2.0, plane.high / 2.0) if isinstance(mark, DivideMark) else mark_place(mark, plane)
    place = plane.middle + (at[0] / plane.wide - 0.5) * plane.x + (at[1] / plane.high - 0.5) * plane.y
    found = _behind(volume, plane, place)
    if found is None:
        return mark
    face, met = found
    own = plane_of_face(face)
    if isinstance(mark, DivideMark):
        return msgspec.structs.replace(mark, face=face.id)
    x, y = own.parts_of(met)
    if not (0.0 <= x <= 1.0 and 0.0 <= y <= 1.0):
        return mark
    sizes = (own.wide, own.high)
    foot = isinstance(mark, ArchMark) and at[1] <= HAIR
    places = x * own.wide, 0.0 if foot else y * own.high
    reach = [mark_reach(mark, column) for column in (0, 1)]
    held = [reheld(*each) for each in zip(mark.at, sizes, places, reach, strict=True)]
    step = [
        way if isinstance(way, Apart) else way * was / max(size, CLOSE)
        for way, was, size in zip(mark.step, (plane.wide, plane.high), sizes, strict=True)
    ]
    return msgspec.structs.replace(mark, face=face.id, at=tuple(held), step=tuple(step))


def _behind(volume: AnyVolume, plane: FacePlane, place: Floats) -> tuple[BodyFace, Floats] | None:
    """Return the nearest own face that a line straight inward from a construction face meets, and where; it looks outward."""
    best: tuple[float, BodyFace, Floats] | None = None
    for face in own_faces(volume).values():
        looks = float(face.outward @ plane.outward)
        if looks < HAIR:
            continue
        deep = float((place - face.corner) @ face.outward) / looks
        met = place - deep * plane.outward
        at = np.array([(met - face.corner) @ face.x, (met - face.corner) @ face.y])
        beside = not holds(face.loops[0], at) or any(holds(hole, at, -HAIR) for hole in face.loops[1:])
        if deep > -HAIR and not beside and (best is None or deep < best[0]):
            best = deep, face, met
    return None if best is None else best[1:]
