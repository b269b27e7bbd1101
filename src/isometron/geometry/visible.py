"""The visible part of each flat face, as exact polygons on paper.

Along the sight line through a paper point (u, v) the plane n . X = d lies at a depth whose inverse is linear in u and v, so one face
lies before another on one side of a line on paper: what it hides of that one is the overlap of their pictures on that side.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from isometron.geometry.frames import Bools, Floats

__all__ = ["PaperView", "PlaneFace", "picture_of_face", "plane_to_plane", "visible_parts"]

_NEAR = 1e-4
"""Of the farthest depth: what is nearer to the eye has no picture."""
_BEFORE = 1e-10
"""Of the inverse depth: a face that lies no nearer than that touches, and hides nothing."""


_MANY = 64


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
    found: BaseGeometry = _pictures(view, [face])[0]
    return found


def _pictures(view: PaperView, faces: Sequence[PlaneFace]) -> NDArray[np.object_]:
    """Return the pictures (N,) of faces as polygons on paper; of those that reach behind the eye what lies before it."""
    found = np.full(len(faces), shapely.Polygon(), dtype=object)
    if not len(faces):
        return found
    counts = [len(face.rings[0]) for face in faces]
    camera = (np.concatenate([face.rings[0] for face in faces]) - view.place) @ view.axes.T
    starts = np.concatenate([[0], np.cumsum(counts)[:-1]])
    nearest = np.minimum.reduceat(camera[:, 2], starts)
    plain = np.array([len(face.rings) == 1 for face in faces]) & (
        nearest > _NEAR * np.maximum.reduceat(np.abs(camera).max(axis=1), starts)
    )
    rows = np.repeat(np.arange(len(faces)), counts)
    kept = plain[rows]
    with np.errstate(divide="ignore", invalid="ignore"):
        paper = view.distance * camera[:, :2] / camera[:, 2:]
    if kept.any():
        place = np.cumsum(plain) - 1
        rings = shapely.linearrings(paper[kept], indices=place[rows[kept]])
        found[plain] = shapely.polygons(rings)
    for row in np.flatnonzero(~plain).tolist():
        found[row] = _with_holes(view, faces[row])
    return found


def _with_holes(view: PaperView, face: PlaneFace) -> BaseGeometry:
    found: BaseGeometry = shapely.Polygon()
    for ring in (_on_paper(view, ring) for ring in face.rings):
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
    found = np.full(len(faces), shapely.Polygon(), dtype=object)
    towards = np.array([row for row, face in enumerate(faces) if view.faces_eye(face)], dtype=np.intp)
    if len(towards) == 0:
        return list(found)
    pictures = _pictures(view, [faces[row] for row in towards])
    nearness = np.array([view.nearness(faces[row]) for row in towards])
    asked, hiding = (
        np.ones(len(towards), dtype=bool) if which is None else np.asarray(which)[towards]
        for which in (wanted, hides)
    )
    found[towards[asked]] = pictures[asked]
    for one, met in groupby(_meeting(pictures, nearness, asked, hiding), key=lambda meeting: meeting[0]):
        row = towards[one]
        hiders = [_before(pictures[other], before, scale, box) for _, other, before, scale, box in met]
        if not found[row].is_empty:
            found[row] = _polygons(found[row].difference(shapely.union_all(hiders)))
    return list(found)


Meeting = tuple[int, int, Floats, float, tuple[float, float, float, float]]


def _meeting(pictures: NDArray[np.object_], nearness: Floats, asked: Bools, hiding: Bools) -> Iterator[Meeting]:
    """Yield the pairs of a face and one that may lie before it where their pictures' boxes meet, with how much nearer that one is, the
    measure of it, and the box."""
    bounds = shapely.bounds(pictures)
    one, other = shapely.STRtree(pictures).query(pictures)
    kept = (one != other) & asked[one] & hiding[other]
    one, other = one[kept], other[kept]
    low, high = np.maximum(bounds[one, :2], bounds[other, :2]), np.minimum(bounds[one, 2:], bounds[other, 2:])
    kept = (low < high).all(axis=1)
    one, other, low, high = one[kept], other[kept], low[kept], high[kept]
    before = nearness[other] - nearness[one]
    # The greatest value of a linear function on a rectangle lies in one of its corners.
    most = before[:, 2] + np.maximum(before[:, :2] * low, before[:, :2] * high).sum(axis=1)
    reach = np.maximum(np.abs(np.hstack([low, high])).max(axis=1), 1.0)
    scale = np.abs(nearness[one]).max(axis=1) * reach
    # It hides nothing where none of its own corners lies before the other face's plane: neighbours on a convex body, say.
    corners = _corners(pictures)
    own = before[:, None, :2] * corners[other]
    nearest = before[:, 2] + own.sum(axis=2).max(axis=1)
    for row in np.flatnonzero((most > _BEFORE * scale) & (nearest > _BEFORE * scale)):
        box = (float(low[row, 0]), float(low[row, 1]), float(high[row, 0]), float(high[row, 1]))
        yield int(one[row]), int(other[row]), before[row], float(scale[row]), box


def _corners(pictures: NDArray[np.object_]) -> Floats:
    """Return the corners of polygons (N, K, 2), the shorter ones padded by repeating one of theirs."""
    many = shapely.get_num_coordinates(pictures) > _MANY
    if many.any():
        # Of a long outline the box round it will do: it only looks into a few pairs too many.
        pictures = np.where(many, shapely.envelope(pictures), pictures)
    places, rows = shapely.get_coordinates(pictures, return_index=True)
    if not len(places):
        return np.zeros((len(pictures), 1, 2))  # nothing of any of them is before the eye
    counts = np.bincount(rows, minlength=len(pictures))
    first = np.cumsum(counts) - counts
    steps = np.minimum(np.arange(max(int(counts.max(initial=1)), 1)), np.maximum(counts, 1)[:, None] - 1)
    found: Floats = places[np.minimum(first[:, None] + steps, len(places) - 1)]
    return found


def _before(
    other: BaseGeometry, before: Floats, scale: float, box: tuple[float, float, float, float]
) -> BaseGeometry:
    """Return what of a face may hide another one, within a box: ``before`` . (u, v, 1) > 0 is where it lies before that one."""
    left, low, right, high = box
    corners = np.array([[left, low, 1.0], [right, low, 1.0], [right, high, 1.0], [left, high, 1.0]])
    side = corners @ before - _BEFORE * scale
    if (side >= 0.0).all():
        return other
    half = _half(corners[:, :2], side)
    return other.intersection(shapely.Polygon(half)) if len(half) >= 3 else shapely.Polygon()


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
