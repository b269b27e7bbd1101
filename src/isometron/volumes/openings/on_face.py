"""Whether an opening lies on the face that it is told to be in."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.shaft import Shaft, chorded
from isometron.geometry.frames import Floats
from isometron.volumes.kinds import own_faces
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.places import face_plane, side_under
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["beyond_face"]

_SLACK = 1e-6
"""Of a face's size: flush is not beyond."""


def beyond_face(volume: Volume, mark: OpeningMark, shaft: Shaft) -> str | None:
    """Return words where an opening of a volume at rest reaches beyond its face; None where it lies on it, its rim included."""
    side = side_under(volume, mark)
    places = shaft.at(chorded(shaft.outline))
    if side is None and abs(
        float((shaft.frame[:3] - face_plane(volume, mark.face).middle) @ shaft.frame[9:])
    ) > _SLACK * sum(volume.size):
        return None  # a mirror image: it lies on its face as the opening itself does
    if side is not None:
        if _beside(side, places, shaft.frame[9:]):
            return tr("The opening reaches beyond the side that it is in: make it smaller, or move it.")
        return None
    if mark.form == "inset":
        return None
    far = _reach(volume, mark, places)
    if far <= 0.0:
        return None
    return tr("The opening reaches {far:.4g} mm beyond its face: make it smaller, or move it in.", far=far)


def _beside(side: RoundSurface, places: Floats, way: Floats) -> bool:
    """Tell whether some places, carried along a way, come to lie beside a round side: beyond its ends, or past it."""
    off = places - side.origin
    along = off @ side.axle
    past = np.abs(off @ np.cross(side.axle, way))
    slack = _SLACK * (side.long + side.around)
    return bool((along < -slack).any() or (along > side.long + slack).any() or (past > side.around + slack).any())


def _reach(volume: Volume, mark: OpeningMark, places: Floats) -> float:
    """Return how far places (K, 3) on the plane of a face lie beyond it at most, mm; 0 where they lie on it."""
    import shapely  # only where there are openings

    own = own_faces(volume).get(mark.face) if isinstance(mark.face, str) else None
    if own is None:
        plane = face_plane(volume, mark.face)
        flat = np.array([plane.parts_of(place) for place in places]) * (plane.wide, plane.high)
        face = shapely.box(0.0, 0.0, plane.wide, plane.high)
    else:
        off = places - own.corner
        flat = np.column_stack([off @ own.x / (own.x @ own.x), off @ own.y / (own.y @ own.y)])
        face = shapely.Polygon()
        for loop in own.loops:  # what an odd number of loops goes round is the face
            face = face.symmetric_difference(shapely.make_valid(shapely.Polygon(loop)))
    size = float(np.ptp(np.asarray(face.bounds).reshape(2, 2), axis=0).max())
    far = float(shapely.distance(face, shapely.points(flat)).max())
    return far if far > _SLACK * (1.0 + size) else 0.0
