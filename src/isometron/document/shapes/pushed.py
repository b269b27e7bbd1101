"""What lay on a face that is gone: the face of the changed body that it is pushed on to, straight along the way that the old one looked."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.outlines import holds
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import BOX_FACES, box_corners
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import AnyVolume, NoFace, own_faces
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.marks.places import face_plane

__all__ = ["Pushed", "carried_over", "pushed_face"]

_GRID = np.stack(np.meshgrid((np.arange(12) + 0.5) / 12, (np.arange(12) + 0.5) / 12), axis=-1).reshape(-1, 2)
"""Places (144, 2) of a rectangle by which overlaps are told."""
_GRAZES = 0.2
"""Cosine of the steepest face that something is pushed on to."""


@dataclass(frozen=True)
class Pushed:
    """A face that something has been pushed on to: its id, its plane, and the way (3,) it was pushed along in the world."""

    face: FaceRef
    plane: FacePlane
    way: Floats

    def place(self, at: Floats) -> tuple[float, float]:
        """Return where a world place (3,) comes to lie, mm from the lower left of the face's middle lines."""
        deep = float((at - self.plane.middle) @ self.plane.outward) / float(self.way @ self.plane.outward)
        x, y = self.plane.parts_of(at - deep * self.way)
        return x * self.plane.wide, y * self.plane.high


def carried_over(before: AnyVolume, after: AnyVolume, places: Floats) -> Floats:
    """Return world places (K, 3) of a volume at the same own mm of the changed one."""
    corners, rotations = box_corners([before, after])
    own = (places - corners[0, 0]) @ rotations[0]
    moved: Floats = corners[1, 0] + own @ rotations[1].T
    return moved


def pushed_face(before: AnyVolume, after: AnyVolume, face: FaceRef, around: Floats | None = None) -> Pushed | None:
    """Return the face of a changed body that a part of a face of the old one overlaps most, pushed along the way that it looked.

    around : (2, 2) low and high mm of that part along the face's middle lines; None for all of it. None where there is none.
    """
    try:
        plane = face_plane(before, face)
    except NoFace:
        return None
    if not plane.has_area:
        return None
    low, high = ((0.0, 0.0), (plane.wide, plane.high)) if around is None else around
    parts = (np.array(low) + _GRID * (np.array(high) - low)) / (plane.wide, plane.high)
    places = plane.middle + (parts[:, :1] - 0.5) * plane.x + (parts[:, 1:] - 0.5) * plane.y
    places = carried_over(before, after, places)
    way = carried_over(before, after, np.array([plane.middle, plane.middle + plane.outward]))
    return _met_most(after, places, way[1] - way[0])


def _met_most(after: AnyVolume, places: Floats, way: Floats) -> Pushed | None:
    best: tuple[int, float, Pushed] | None = None
    faces: list[FaceRef] = list(own_faces(after)) or list(range(len(BOX_FACES)))
    for face in faces:
        plane = face_plane(after, face)
        looks = float(plane.outward @ way)
        if looks < _GRAZES or not plane.has_area:
            continue
        deep = ((places - plane.middle) @ plane.outward) / looks
        met = places - deep[:, None] * way - plane.middle
        flat = np.column_stack([met @ plane.x / plane.wide**2, met @ plane.y / plane.high**2]) + 0.5
        count = sum(_on(plane, at) for at in flat)
        far = float(np.abs(deep).mean())
        if count and (best is None or (count, -far) > (best[0], -best[1])):
            best = count, far, Pushed(face, plane, way)
    return None if best is None else best[2]


def _on(plane: FacePlane, at: Floats) -> bool:
    if not plane.loops:
        return bool((at >= -HAIR).all() and (at <= 1.0 + HAIR).all())
    return holds(plane.loops[0], at) and not any(holds(hole, at) for hole in plane.loops[1:])
