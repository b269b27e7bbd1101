"""The flat faces of all that stands, and the part of each that an eye sees; round sides as many narrow faces."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.geometry.visible import PaperView, PlaneFace, visible_parts
from isometron.view.eye import Eye
from isometron.volumes.copies import copies_of
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.kinds import own_faces
from isometron.volumes.openings.solids import is_carved
from isometron.volumes.scene import Scene

__all__ = ["StandingFaces", "faces_standing", "view_of"]

_AROUND, _ALONG = 24, 4
"""Narrow faces round a frustum, and along one that swells."""
_ON_PLANE = 1e-7


_FEW = 4
"""Sides of a polygon that cannot go round more than once while it turns one way only."""
_JOINED = 1e-9


@dataclass(frozen=True)
class StandingFaces:
    """Flat faces in the world. owner : (F,) the volume of each; shown : (F,) faces of bodies, the others only stand for what they
    fill; hides : (F,) which ones hide: those of see-through volumes do not."""

    faces: tuple[PlaneFace, ...]
    owner: Ints
    shown: Bools
    hides: Bools

    def visible(self, eye: Eye) -> list[BaseGeometry]:
        """Return the part of each shown face that an eye sees, on paper; nothing of the others."""
        return visible_parts(view_of(eye), self.faces, self.shown, self.hides)


def view_of(eye: Eye) -> PaperView:
    """Return an eye as planes are seen by it."""
    return PaperView(eye.place, eye.axes, eye.viewing_distance)


def faces_standing(scene: Scene) -> StandingFaces:
    """Return the faces of all volumes that are not put away."""
    own = _own_faces(scene)
    planes = [{_plane_key(face) for face, _ in faces} for faces in own]
    found = [(face, owner, True, hides) for owner, faces in enumerate(own) for face, hides in faces]
    boxes = np.array([not faces for faces in own], dtype=bool)
    # The boxes of turned bodies are there to be picked, and fill nothing.
    for row in np.flatnonzero(~scene.turned[scene.body_owner]).tolist():
        owner = int(scene.body_owner[row])
        found += [(face, owner, bool(boxes[owner]), True) for face in _of_body(scene.bodies, row)]
    flat = scene.faces.chorded(_AROUND)
    first = flat.first
    for row in range(len(flat)):
        owner = int(scene.face_owner[row])
        for face in _of_flat(flat, row, slice(int(first[row]), int(first[row + 1]))):
            # The chords of a round wall are no faces of their own, but they are what is seen of it.
            found.append((face, owner, _plane_key(face) not in planes[owner], True))
    frusta = scene.rounds.frusta
    joints, rounded = _joints(frusta), scene.rounds.rounded
    for row in range(len(frusta)):
        owner = int(frusta.owner[row])
        faces = _of_frustum(frusta, row, joints, swells=bool(frusta.bulge[row]) and not rounded[row])
        found += [(face, owner, _plane_key(face) not in planes[owner], True) for face in faces]
    away, through = scene.put_away, scene.see_through
    found = [each for each in found if not away[each[1]]]
    owners = np.array([each[1] for each in found], dtype=np.intp)
    shown = np.array([each[2] for each in found], dtype=bool)
    hides = np.array([each[3] and not through[each[1]] for each in found], dtype=bool)
    return StandingFaces(tuple(each[0] for each in found), owners, shown, hides)


def _own_faces(scene: Scene) -> list[list[tuple[PlaneFace, bool]]]:
    """Return the flat faces that each volume's kind gives, on all of its copies; they hide nothing, their bodies do."""
    named = {volume.id: volume for volume in scene.volumes}
    found = []
    for volume in scene.volumes:
        # Of bodies with openings what hides is told, face by face: their own faces know nothing of the openings.
        copies = [] if is_carved(volume) else copies_of(volume, lambda: named)
        faces = [face for copy in copies for face in own_faces(copy).values()]
        found.append([(_of_own(face), False) for face in faces])
    return found


def _of_own(face: BodyFace) -> PlaneFace:
    rings = tuple(face.corner + loop[:, :1] * face.x + loop[:, 1:] * face.y for loop in face.loops)
    return PlaneFace(rings, face.outward)


def _plane_key(face: PlaneFace) -> tuple[float, ...]:
    """Return a plane, the same for faces that lie on it within a thousandth of a millimetre."""
    return (*np.round(face.outward, 6).tolist(), round(face.offset, 3))


def _of_body(bodies: ConvexBodies, row: int) -> list[PlaneFace]:
    """Return the faces of a convex body, their corners in order round each."""
    vertices = np.unique(bodies.vertices[row], axis=0)
    size = 1.0 + float(np.abs(vertices).max())
    found = []
    for normal, offset in zip(bodies.normals[row], bodies.offsets[row], strict=True):
        if not np.any(normal):
            continue  # a padded one
        corners = vertices[np.abs(vertices @ normal - offset) <= _ON_PLANE * size]
        if len(corners) >= 3:
            found.append(PlaneFace((_in_order(corners, normal),), normal))
    return found


def _in_order(corners: Floats, normal: Floats) -> Floats:
    """Return the corners (K, 3) of a convex face in their order round it."""
    off = corners - corners.mean(axis=0)
    one = off[int(np.argmax((off**2).sum(axis=1)))]
    other = np.cross(normal, one)
    ordered: Floats = corners[np.argsort(np.arctan2(off @ other, off @ one))]
    return ordered


def _of_flat(faces: FlatFaces, row: int, sides: slice) -> list[PlaneFace]:
    """Return the pieces of a face of sides in any order as rings: what an odd number of loops goes round is the face."""
    frame = faces.frames[row]
    if _is_convex_ring(faces.sides[sides]):
        ring = faces.sides[sides, :2]
        return [PlaneFace((frame[:3] + ring[:, :1] * frame[3:6] + ring[:, 1:] * frame[6:9],), frame[9:])]
    lines = shapely.linestrings(np.round(faces.sides[sides], 9).reshape(-1, 2, 2))
    cells = shapely.get_parts(shapely.polygonize([shapely.union_all(lines)]))
    inside = [cell for cell in cells if _parity(faces.sides[sides], np.array(cell.representative_point().coords[0]))]
    found = []
    for part in shapely.get_parts(shapely.union_all(inside)):
        flat = [np.array(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
        rings = [frame[:3] + ring[:, :1] * frame[3:6] + ring[:, 1:] * frame[6:9] for ring in flat]
        found.append(PlaneFace(tuple(rings), frame[9:]))
    return found


def _is_convex_ring(sides: Floats) -> bool:
    """Tell whether sides (S, 4) go once round a convex polygon, each from where the one before it ends: most chords of rounds do."""
    if len(sides) > _FEW or np.abs(np.roll(sides[:, 2:], 1, axis=0) - sides[:, :2]).max() > _JOINED:
        return False
    ways = sides[:, 2:] - sides[:, :2]
    before = np.roll(ways, 1, axis=0)
    turns = before[:, 0] * ways[:, 1] - before[:, 1] * ways[:, 0]
    return bool((turns > 0.0).all() or (turns < 0.0).all())


def _parity(sides: Floats, at: Floats) -> bool:
    """Whether a ray from a place crosses an odd number of sides (S, 4)."""
    x1, y1, x2, y2 = sides.T
    cross = (y1 > at[1]) != (y2 > at[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = x1 + (at[1] - y1) / (y2 - y1) * (x2 - x1)
    return bool(np.count_nonzero(cross & (x > at[0])) % 2)


def _end_keys(frusta: Frusta, row: int) -> list[tuple[float, ...]]:
    """Return both ends of a frustum: whose they are, where, and how wide."""
    base, axle, first = (getattr(frusta, name)[row] for name in ("base", "axle", "first"))
    size = float(np.sqrt(first @ first))
    ends = ((base, float(frusta.low[row])), (base + axle, float(frusta.high[row])))
    return [(float(frusta.owner[row]), *np.round(at, 4).tolist(), round(size * r, 4)) for at, r in ends]


def _joints(frusta: Frusta) -> set[tuple[float, ...]]:
    """Return the ends at which two frusta of a body go on into each other: nobody sees those."""
    counts = Counter(key for row in range(len(frusta)) for key in _end_keys(frusta, row))
    return {key for key, count in counts.items() if count > 1}


def _of_frustum(frusta: Frusta, row: int, joints: set[tuple[float, ...]], *, swells: bool) -> list[PlaneFace]:
    """Return narrow faces round a frustum, and its ends where nothing goes on from them."""
    base, axle, first, second = (getattr(frusta, name)[row] for name in ("base", "axle", "first", "second"))
    low, high, bulge = float(frusta.low[row]), float(frusta.high[row]), float(frusta.bulge[row])
    angle = np.arange(_AROUND) * (2.0 * np.pi / _AROUND)
    ring = np.cos(angle)[:, None] * first + np.sin(angle)[:, None] * second
    steps = np.linspace(0.0, 1.0, (_ALONG if swells else 1) + 1)
    radius = np.sqrt(np.maximum((low + (high - low) * steps) ** 2 + bulge * steps * (1.0 - steps), 0.0))
    middle = base + 0.5 * axle
    rings = [base + z * axle + r * ring for z, r in zip(steps, radius, strict=True)]
    ends = zip((rings[0], rings[-1]), _end_keys(frusta, row), strict=True)
    loops = [ring for ring, key in ends if key not in joints]
    for below, above in pairwise(rings):
        for k in range(_AROUND):
            n = (k + 1) % _AROUND
            loops.append(np.array([below[k], below[n], above[n], above[k]]))
    return [face for loop in loops if (face := _facing_out(loop, middle)) is not None]


def _facing_out(loop: Floats, middle: Floats) -> PlaneFace | None:
    """Return a nearly flat loop (K, 3) as a face that looks away from a place inside; None where it is drawn together to nothing."""
    other = np.roll(loop, -1, axis=0)
    normal = np.cross(loop - loop[0], other - loop[0]).sum(axis=0)
    size = float(np.sqrt(normal @ normal))
    if not size > 1e-9:
        return None
    normal = normal / size
    return PlaneFace((loop,), normal if float((loop.mean(axis=0) - middle) @ normal) > 0.0 else -normal)
