"""Where marks lie on the faces of volumes: the planes of faces, and places held on them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from isometron.geometry.frames import Floats, square_to
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.arch import plane_axes
from isometron.volumes.box import BOX_FACES, box_corners
from isometron.volumes.faces.plane import FacePlane, plane_of_face
from isometron.volumes.kinds import NoFace, own_faces, own_sides
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import (
    ARCH_FORMS,
    ArchMark,
    DivideMark,
    FaceMark,
    FaceRef,
    OpeningMark,
    RingMark,
)
from isometron.volumes.marks.holds import Reach, held_at, step_mm
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = [
    "Placed", "face_on_planes", "face_plane", "has_face", "has_place", "lies_on", "line_places", "mark_place", "mark_reach", "places_of", "reach_on", "side_under",
]  # fmt: skip

_ON_PLANE = 1e-6
_STANDS = 0.5
"""An axle that climbs by more of its length stands upright."""
Placed = RingMark | ArchMark | OpeningMark
"""Marks that have a place on their face, and may stand in a row."""


def face_plane(volume: Volume, face: FaceRef) -> FacePlane:
    """Return a face of a volume: one of its construction faces by its number in `BOX_FACES`, or one of its body's by its id.

    Raises `NoFace` where the body has no face of that id now.
    """
    if isinstance(face, str):
        found = own_faces(volume).get(face)
        if found is None:
            raise NoFace(tr("{volume} has no face {face} now.", volume=volume.name, face=face))
        return plane_of_face(found)
    corners = box_corners([volume])[0][0]
    axis, side = BOX_FACES[face]
    a, b, _ = plane_axes(DIRECTIONS[axis])
    quad = np.array([[corners[side << axis | i << a | j << b] for j in (0, 1)] for i in (0, 1)])
    x = (quad[1, 0] - quad[0, 0] + quad[1, 1] - quad[0, 1]) / 2
    y = (quad[0, 1] - quad[0, 0] + quad[1, 1] - quad[1, 0]) / 2
    outward = square_to(x, y)
    middle = quad.mean(axis=(0, 1))
    size = float(np.sqrt(outward @ outward))
    outward = outward / size if size > 0.0 else outward
    outward = -outward if outward @ (middle - corners.mean(axis=0)) < 0.0 else outward
    # The upright direction of a leaning side stays square to its foot, so that rings on it are round.
    foot = x / np.sqrt(x @ x) if x @ x > 0.0 else x
    y = y - (y @ foot) * foot
    return FacePlane(quad, middle, x, y, outward, (a, b))


def face_on_planes(volume: Volume, face: FaceRef, outward: Floats, places: Sequence[Floats]) -> int:
    """Return which of some flat faces of a body a face of its volume is: that on its plane. ``outward`` (F, 3) their unit ways out; ``places`` of each
    its corners (K, 3). Raises `NoFace` where there is none."""
    plane = face_plane(volume, face)
    off = np.abs(np.array([float((own[0] - plane.middle) @ way) for own, way in zip(places, outward, strict=True)]))
    alike = outward @ plane.outward > 1.0 - HAIR
    rows = np.flatnonzero(alike & (off <= _ON_PLANE * (1.0 + float(np.abs(plane.middle).max()))))
    if not len(rows):
        raise NoFace(tr("{volume} has no face {face} now.", volume=volume.name, face=face))
    # Parts of a frame have faces on one plane: that at which the face is.
    aside = [
        np.maximum(np.maximum(places[k].min(axis=0) - plane.middle, plane.middle - places[k].max(axis=0)), 0.0).sum()
        for k in rows.tolist()
    ]
    return int(rows[int(np.argmin(aside))])


def has_face(volume: Volume, mark: FaceMark) -> bool:
    """Whether the face that a mark lies on is there now; marks on a vanished face are kept until it comes back."""
    face = getattr(mark, "face", 0)
    return not isinstance(face, str) or face in own_faces(volume) or face in own_sides(volume)


def side_under(volume: Volume, mark: FaceMark) -> RoundSurface | None:
    """Return the round side that a mark lies on; None of one on a flat face."""
    face = getattr(mark, "face", 0)
    return own_sides(volume).get(face) if isinstance(face, str) else None


def mark_reach(mark: Placed, column: int) -> Reach:
    """Return how far a ring, an arch or an opening reaches from its place along a face's first (0) or second direction, mm.

    A ring that is as large as fits has no edges of its own to be held by, nor has an opening that follows its face's outline.
    """
    if isinstance(mark, RingMark):
        return mark.diameter / 2.0, mark.diameter / 2.0
    if isinstance(mark, OpeningMark) and mark.form == "inset":
        return 0.0, 0.0
    size = mark.wide if column == 0 else mark.high
    stands = column == 1 and (isinstance(mark, ArchMark) or mark.form in ARCH_FORMS)
    return (0.0, size) if stands else (size / 2.0, size / 2.0)


def reach_on(volume: Volume, mark: Placed, column: int) -> Reach:
    """Return how far a mark reaches along the first (0) or the second way that its place is held by: on the round side of an upright
    axle the first runs up."""
    side = side_under(volume, mark)
    stands = side is not None and abs(float(side.axle @ box_corners([volume])[1][0][:, 2])) >= _STANDS
    return mark_reach(mark, 1 - column if stands else column)


def places_of(mark: Placed, plane: FacePlane) -> Iterator[tuple[float, float]]:
    """Yield the places of a ring, an arch or an opening, and of those in its row, mm from the lower left of the face's middle lines."""
    sizes = plane.wide, plane.high
    reaches = mark_reach(mark, 0), mark_reach(mark, 1)
    at = [held_at(*each) for each in zip(mark.at, sizes, reaches, strict=True)]
    step = [step_mm(*each) for each in zip(mark.step, sizes, reaches, strict=True)]
    for k in range(mark.count):
        yield at[0] + k * step[0], at[1] + k * step[1]


def mark_place(mark: Placed, plane: FacePlane) -> tuple[float, float]:
    """Return the place of a ring's centre, of an arch's foot, or of the middle of an opening, mm from the lower left of the face's middle lines."""
    return next(places_of(mark, plane))


def line_places(mark: DivideMark, plane: FacePlane) -> tuple[list[float], list[float]]:
    """Return where the lines of a division lie across and up its face, mm from its lower left."""
    found = []
    for places, size in ((mark.across, plane.wide), (mark.up, plane.high)):
        border = min(mark.border, 0.49 * size)
        found.append([border + held_at(held, size - 2.0 * border) for held in places])
    return found[0], found[1]


def lies_on(place: tuple[float, float], plane: FacePlane) -> bool:
    """Whether a place, mm, is one of the face's middle lines' lengths."""
    return all(-CLOSE <= mm / size <= 1.0 + CLOSE for mm, size in zip(place, (plane.wide, plane.high), strict=True))


def has_place(volume: Volume, mark: FaceMark) -> bool:
    """Whether a mark's place is on its face as that is now; one beyond it is kept until the face reaches it again."""
    if not isinstance(mark, Placed) or not has_face(volume, mark) or side_under(volume, mark) is not None:
        return has_face(volume, mark)
    plane = face_plane(volume, mark.face)
    return not plane.has_area or lies_on(mark_place(mark, plane), plane)
