"""The visible part of each flat face, as exact polygons on paper.

Along the sight line through a paper point (u, v) the plane n . X = d lies at a depth whose inverse is linear in u and v, so one face
lies before another on one side of a line on paper: what it hides of that one is the overlap of their pictures on that side.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from isometron.geometry.frames import Bools, Floats

__all__ = ["PaperView", "PlaneFace", "picture_of_face", "plane_to_plane", "visible_parts"]

_NEAR = 1e-4
"""Of the farthest depth: what is nearer to the eye has no picture."""
_BEFORE = 1e-10
"""Of the inverse depth: a face that lies no nearer than that touches, and hides nothing."""


@dataclass(frozen=True)
class PlaneFace:
    """A flat face: its outline and holes (K, 3) in the world, and the way outward (3,) of length one."""

    rings: tuple[Floats, ...]
    outward: Floats

    @cached_property
    def offset(self) -> float:
        """How far its plane lies from the origin along its normal, mm."""
        return float(self.rings[0].mean(axis=0) @ self.outward)


@dataclass(frozen=True)
class PaperView:
    """An eye for planes: place (3,), rows right, up, look (3, 3), viewing distance, mm."""

    place: Floats
    axes: Floats
    distance: float

    def faces_eye(self, face: PlaneFace) -> bool:
        """Whether a face looks at the eye."""
        return float(self.place @ face.outward) - face.offset > 1e-9 * (1.0 + abs(face.offset))

    def nearness(self, face: PlaneFace) -> Floats:
        """Return m (3,): the inverse depth of a face's plane at a paper point is m . (u, v, 1)."""
        own = self.axes @ face.outward
        gone = face.offset - float(self.place @ face.outward)
        found: Floats = np.array([own[0], own[1], own[2] * self.distance]) / (gone * self.distance)
        return found


def plane_to_plane(one: PaperView, other: PaperView, face: PlaneFace) -> Floats:
    """Return the homography (3, 3) that takes the picture of a face's plane as one eye sees it to that of another.

    X = E1 + t r, t = (d - n . E1) / (n . r); see Hartley and Zisserman, *Multiple View Geometry*, 13.1.
    """
    gone = face.offset - float(one.place @ face.outward)
    back = one.axes.T @ np.diag([1.0, 1.0, one.distance])
    carry = np.outer(one.place - other.place, face.outward) + gone * np.eye(3)
    carried = np.diag([other.distance, other.distance, 1.0]) @ other.axes @ carry @ back
    found: Floats = carried / np.abs(carried).max()
    return found


def picture_of_face(view: PaperView, face: PlaneFace) -> BaseGeometry:
    """Return the picture of a face as a polygon on paper; an empty one where none of it lies before the eye."""
    rings = [_on_paper(view, ring) for ring in face.rings]
    found: BaseGeometry = shapely.Polygon()
    for ring in rings:
        if len(ring) >= 3:
            # What an even number of loops goes round is a hole.
            found = found.symmetric_difference(shapely.make_valid(shapely.Polygon(ring)))
    return found


def _on_paper(view: PaperView, ring: Floats) -> Floats:
    """Return a ring (K, 2) on paper, cut off before it comes to the eye."""
    camera = (ring - view.place) @ view.axes.T
    near = _NEAR * max(float(np.abs(camera).max()), 1e-9)
    if (camera[:, 2] < near).any():
        camera = _cut(camera, near)
    if len(camera) == 0:
        return np.zeros((0, 2))
    found: Floats = view.distance * camera[:, :2] / camera[:, 2:]
    return found


def _cut(camera: Floats, near: float) -> Floats:
    """Return the part of a ring (K, 3) at depths of ``near`` and more (Sutherland and Hodgman, 1974)."""
    kept = []
    for start, end in zip(camera, np.roll(camera, -1, axis=0), strict=True):
        before, after = start[2] >= near, end[2] >= near
        if before:
            kept.append(start)
        if before != after:
            kept.append(start + (near - start[2]) / (end[2] - start[2]) * (end - start))
    return np.array(kept).reshape(-1, 3)


def visible_parts(
    view: PaperView, faces: Sequence[PlaneFace], wanted: Bools | None = None, hides: Bools | None = None
) -> list[BaseGeometry]:
    """Return the part of each face that is seen, as polygons on paper; empty for those that turn away or are not ``wanted``.

    The faces are those of closed bodies: what is hidden is hidden by a face that looks at the eye. hides : (N,) which ones hide.
    """
    towards = np.array([view.faces_eye(face) for face in faces], dtype=bool)
    pictures = [picture_of_face(view, f) if t else shapely.Polygon() for f, t in zip(faces, towards, strict=True)]
    bounds = np.array([p.bounds if not p.is_empty else (np.inf, np.inf, -np.inf, -np.inf) for p in pictures]).reshape(
        -1, 4
    )
    nearness = np.array(
        [view.nearness(f) if t else np.zeros(3) for f, t in zip(faces, towards, strict=True)]
    ).reshape(-1, 3)
    hiders = towards if hides is None else towards & hides
    found: list[BaseGeometry] = []
    for row, seen in enumerate(pictures):
        if seen.is_empty or (wanted is not None and not wanted[row]):
            found.append(shapely.Polygon())
            continue
        low, high = np.maximum(bounds[row, :2], bounds[:, :2]), np.minimum(bounds[row, 2:], bounds[:, 2:])
        meet = hiders & (low < high).all(axis=1)
        meet[row] = False
        for other in np.flatnonzero(meet):
            box = (*low[other], *high[other])
            seen = _without(seen, pictures[other], nearness[other] - nearness[row], np.abs(nearness[row]).max(), box)
            if seen.is_empty:
                break
        found.append(seen)
    return found


def _without(
    seen: BaseGeometry, other: BaseGeometry, before: Floats, scale: float, box: tuple[float, float, float, float]
) -> BaseGeometry:
    """Return what is seen of a face behind another one: ``before`` . (u, v, 1) > 0 is where that one lies before it."""
    left, low, right, high = box
    corners = np.array([[left, low, 1.0], [right, low, 1.0], [right, high, 1.0], [left, high, 1.0]])
    size = scale * max(abs(left), abs(right), abs(low), abs(high), 1.0)
    side = corners @ before - _BEFORE * size
    if (side <= 0.0).all():
        return seen
    hider = other
    if (side < 0.0).any():
        half = _half(corners[:, :2], side)
        if len(half) < 3:
            return seen
        hider = other.intersection(shapely.Polygon(half))
    return _polygons(seen.difference(hider))


def _half(corners: Floats, side: Floats) -> Floats:
    """Return the part of a rectangle (4, 2) where a linear function, given at its corners, is positive."""
    kept = []
    for k in range(4):
        a, b = side[k], side[(k + 1) % 4]
        if a >= 0.0:
            kept.append(corners[k])
        if (a >= 0.0) != (b >= 0.0):
            kept.append(corners[k] + a / (a - b) * (corners[(k + 1) % 4] - corners[k]))
    return np.array(kept).reshape(-1, 2)


def _polygons(found: BaseGeometry) -> BaseGeometry:
    """Return only what has an area."""
    if found.geom_type == "GeometryCollection":
        return shapely.union_all([part for part in found.geoms if part.area > 0.0])
    return found if found.area > 0.0 else shapely.Polygon()
