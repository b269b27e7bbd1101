"""A mark that stands several times, in a row or mirrored, becomes as many marks, each with a place, a name and figures of its own."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from isometron.document.edits import Edit, change_volume
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import SAME_PLACE
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.marks.holds import reheld
from isometron.volumes.marks.mirroring import mirror_of
from isometron.volumes.marks.places import Placed, face_plane, mark_reach, places_of, side_under
from isometron.wording import tr

__all__ = ["can_split", "split_mark"]


def can_split(volume: AnyVolume, number: int) -> bool:
    """Whether a mark of a volume stands more than once on flat faces."""
    if not 0 <= number < len(volume.marks):
        return False
    mark = volume.marks[number]
    return isinstance(mark, Placed) and (mark.count > 1 or mark.mirrored) and side_under(volume, mark) is None


def split_mark(document: Document, volume_id: str, number: int) -> Edit:
    """Let each of a row of a mark, and of its mirror images, be a mark of its own; nothing moves.

    Raises `DocumentError` for one that stands alone or on a round side, and where an image lies on no flat face.
    """
    volume = document.volume(volume_id)
    if not can_split(volume, number):
        raise DocumentError(tr("This mark stands once, or on a round side: there is nothing to part."))
    mark = volume.marks[number]
    assert isinstance(mark, Placed)
    made = [*_in_row(mark, face_plane(volume, mark.face))]
    if mark.mirrored:
        made += [_image(volume, each) for each in made]
    stem = mark.name or mark.__struct_config__.tag
    named = [msgspec.structs.replace(each, name=f"{stem} {k}") for k, each in enumerate(made, start=1)]
    marks = (*volume.marks[:number], *named, *volume.marks[number + 1 :])
    return change_volume(document, volume_id, tr("part a mark of"), marks=marks)


def _in_row(mark: Placed, plane: FacePlane) -> Iterator[Placed]:
    """Yield a mark for each of a row, held as the first one is."""
    alone = msgspec.structs.replace(mark, count=1, step=(0.0, 0.0), mirrored=False)
    for place in places_of(mark, plane):
        at = [
            reheld(own, size, mm, mark_reach(mark, column))
            for column, (own, size, mm) in enumerate(zip(mark.at, (plane.wide, plane.high), place, strict=True))
        ]
        yield msgspec.structs.replace(alone, at=(at[0], at[1]))


def _image(volume: AnyVolume, mark: Placed) -> Placed:
    """Return the mirror image of a mark that stands alone, as shares of the face it lies on."""
    plane = face_plane(volume, mark.face)
    x, y = next(places_of(mark, plane))
    ways, moved = mirror_of(volume)
    spot: Floats = ways @ plane.spot(x / plane.wide, y / plane.high) + moved
    face = _face_at(volume, spot, ways @ plane.outward)
    across, up = face_plane(volume, face).parts_of(spot)
    return msgspec.structs.replace(mark, face=face, at=(round(across, 9), round(up, 9)))


def _face_at(volume: AnyVolume, spot: Floats, outward: Floats) -> FaceRef:
    """Return the flat face that a place (3,) lies on and that looks that way."""
    faces: list[FaceRef] = [*own_faces(volume)] or [*range(6)]
    for face in faces:
        plane = face_plane(volume, face)
        off = abs(float((spot - plane.middle) @ plane.outward))
        if float(plane.outward @ outward) > 0.999 and off < max(SAME_PLACE, 1e-4):
            inside = plane.parts_of(spot)
            if all(-1e-6 <= part <= 1.0 + 1e-6 for part in inside):
                return face
    raise DocumentError(tr("The mirror image lies on no flat face of its own."))
