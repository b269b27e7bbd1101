"""The faces of a cut body, by ids that stay with the corners of its profiles."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from isometron.geometry.faces.corners import parts_through
from isometron.geometry.faces.cutting import CutFaces
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import holds, signed_area
from isometron.geometry.tolerances import HAIR, SAME_PLACE
from isometron.volumes.box import box_corners
from isometron.volumes.cut.body import cut_at_rest, uncut_because
from isometron.volumes.cut.profiles import VIEWS, CutBody, ViewName, profile_corners, profile_numbers, view_size
from isometron.volumes.faces.plane import BodyFace, level_directions
from isometron.volumes.volume import Volume

__all__ = ["cut_faces", "side_names"]


def cut_faces(volume: Volume) -> list[BodyFace]:
    """Return the flat faces of a cut body.

    A face on a profile's side goes by its view and the number of the corner that the side begins at (``side.4``), one on a
    chamfer by that corner (``plan.2.chamfer``), one that no profile makes by the side of the bounding volume (``x0`` to ``z1``);
    a mirror image of one by the same and ``m``; of several pieces on one plane the further ones by ``/2`` and so on. It goes by the
    first of these that there is, and answers to the others: to each view's side on its plane, and to the side of the bounding volume.
    """
    assert isinstance(volume, CutBody)
    bounds, rotations = box_corners([volume])
    return [_placed(face, rotations[0], bounds[0, 0]) for face in _at_rest(_shape(volume))]


def _shape(volume: CutBody) -> CutBody:
    """Return what the faces depend on alone."""
    return CutBody(
        id="cut", name="cut", corner=(0.0, 0.0, 0.0), size=volume.size, side=volume.side, plan=volume.plan, front=volume.front
    )  # fmt: skip


def _placed(face: BodyFace, rotation: Floats, corner: Floats) -> BodyFace:
    return BodyFace(
        face.id, rotation @ face.corner + corner, rotation @ face.x, rotation @ face.y, rotation @ face.outward, face.loops,
        also=face.also,
    )  # fmt: skip


@lru_cache(maxsize=128)
def _at_rest(volume: CutBody) -> list[BodyFace]:
    cut, _ = cut_at_rest(volume)
    names = [side_names(volume, view) for view in VIEWS]
    flat = np.flatnonzero((np.bincount(cut.face, minlength=len(cut.bend)) > 0) & (cut.bend < 0))
    found = []
    for plane in flat:
        known = _names(cut, int(plane), names, volume.size)
        outward = cut.normal[plane]
        x, y = level_directions(outward)
        corner = cut.offset[plane] * outward
        loops = _loops(cut, int(plane), corner, x, y)
        for number, piece in enumerate(_pieces(loops), 1):
            own, *also = (name if number == 1 else f"{name}/{number}" for name in known)
            found.append(BodyFace(own, corner, x, y, outward, tuple(piece), also=tuple(also)))
    return found


def side_names(volume: CutBody, view: ViewName) -> list[str]:
    """Return the ids of the sides of a view's outline; empty where no profile makes it."""
    profile = getattr(volume, view)
    if profile is None or view in dict(uncut_because(volume)):
        return []
    _, parts = parts_through(profile_corners(profile, view, view_size(volume, view)))
    numbers = profile_numbers(profile, view, view_size(volume, view))
    return [f"{view}.{numbers[corner]}{'' if part == 'side' else '.' + part}" for corner, part in parts]


def _names(cut: CutFaces, plane: int, names: list[list[str]], size: tuple[float, float, float]) -> list[str]:
    """Return a plane's ids: those of the profiles' sides that lie on it, and that of the side of the bounding volume where it is one."""
    found = [own[int(side)] for own, side in zip(names, cut.sides[plane], strict=True) if own and side >= 0]
    normal = cut.normal[plane]
    axis = int(np.argmax(np.abs(normal)))
    end = int(normal[axis] > 0.0)
    beyond = abs(float(cut.offset[plane]) - end * size[axis])
    if not found or (abs(float(normal[axis])) > 1.0 - HAIR and beyond <= HAIR * (1.0 + size[axis])):
        found.append(f"{'xyz'[axis]}{end}")
    return list(dict.fromkeys(found))


def _loops(cut: CutFaces, plane: int, corner: Floats, x: Floats, y: Floats) -> list[Floats]:
    """Return the closed loops (K, 2) on a plane, the face to the left of each, without corners on straight runs."""
    rows = np.flatnonzero(cut.face == plane)
    off = cut.ends[rows] - corner
    flat = np.stack([off @ x, off @ y], axis=2)
    if float(np.cross(cut.along[plane], cut.across[plane]) @ np.cross(x, y)) < 0.0:
        flat = flat[:, ::-1]
    keys = np.round(flat / SAME_PLACE).astype(np.int64)
    begins: dict[tuple[int, ...], list[int]] = {}
    for row, key in enumerate(map(tuple, keys[:, 0])):
        begins.setdefault(key, []).append(row)
    left, found = set(range(len(rows))), []
    while left:
        row = min(left)
        loop = []
        while row in left:
            left.remove(row)
            loop.append(flat[row, 0])
            after = [k for k in begins.get(tuple(keys[row, 1]), []) if k in left]
            if not after:
                break
            row = after[0]
        found.append(_straightened(np.array(loop)))
    return [loop for loop in found if len(loop) > 2]


def _straightened(loop: Floats) -> Floats:
    before, after = loop - np.roll(loop, 1, axis=0), np.roll(loop, -1, axis=0) - loop
    turn = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0])
    size = np.maximum(np.hypot(*before.T) * np.hypot(*after.T), 1e-300)
    kept: Floats = loop[turn > HAIR * size]
    return kept


def _pieces(loops: list[Floats]) -> list[list[Floats]]:
    """Return the loops piece by piece: an outline, and the holes in it; the largest piece comes first."""
    outer = sorted((loop for loop in loops if signed_area(loop) > 0.0), key=signed_area, reverse=True)
    pieces = [[loop] for loop in outer]
    for hole in (loop for loop in loops if signed_area(loop) <= 0.0):
        around = [piece for piece in pieces if holds(piece[0], hole[0])]
        if around:
            min(around, key=lambda piece: signed_area(piece[0])).append(hole)
    return pieces
