"""What lies under the pencil: the edge near it, or the face the sight line meets first."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from isometron.geometry.faces.flat import crossed
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.frustum_rays import entered
from isometron.geometry.outlines import holds
from isometron.geometry.tolerances import HAIR, SAME_PLACE
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Role
from isometron.volumes.copies import is_many, placements
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.faces.turned import ROUND_SIDE
from isometron.volumes.kinds import own_faces, own_sides
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.openings.solids import is_carved
from isometron.volumes.turned import Turned, turned_frame

__all__ = [
    "FaceHit",
    "SideHit",
    "box_face",
    "corner_face",
    "corner_under",
    "face_of_hit",
    "nearest_corner",
    "nearest_edge",
    "on_itself",
    "pick_face",
    "pick_faces",
    "pick_volume",
    "side_of_hit",
]


_IN_OPENING = 0.01
"""mm: what lies so far off the outer face, on a wall or the bottom of an opening, is no part of it."""


@dataclass(frozen=True)
class FaceHit:
    """A face met by a sight line: the volume's position, the face's number among its like, the place (3,) in mm, and the way
    outward (3,)."""

    owner: int
    face: int
    place: Floats
    normal: Floats


def nearest_edge(
    drawing: Drawing,
    u: float,
    v: float,
    within: float,
    *,
    locked: bool = True,
    hidden: bool = True,
    first: int | None = None,
) -> tuple[int, int] | None:
    """Return (owner, edge row) of the drawn edge nearest to the paper point within ``within`` mm, or None.

    What can be seen comes before what is hidden, which must be twice as near; without ``locked`` the edges of locked volumes are passed over,
    without ``hidden`` hidden stretches. first : so many of each volume's edges count, all without it.
    """
    lines = drawing.edges
    wanted = np.ones(len(lines), dtype=bool)
    if not locked:
        wanted &= ~_locked(drawing)[lines.owner]
    if first is not None:
        begins = np.array([drawing.scene.edges_of(owner).start for owner in range(len(drawing.scene.volumes))])
        wanted &= lines.edge - begins[lines.owner] < first
    lines = lines.select(wanted)
    if len(lines) == 0:
        return None
    behind = lines.role == Role.HIDDEN
    distance = _distance(lines.points, np.array([u, v]))
    for rows, far in ((np.flatnonzero(~behind), within), (np.flatnonzero(behind & hidden), 0.5 * within)):
        if len(rows) and distance[rows].min() <= far:
            row = int(rows[np.argmin(distance[rows])])
            return int(lines.owner[row]), int(lines.edge[row])
    return None


def _locked(drawing: Drawing) -> Bools:
    return np.array([volume.locked for volume in drawing.scene.volumes], dtype=bool)


def _distance(lines: Floats, point: Floats) -> Floats:
    start, along = lines[:, :2], lines[:, 2:] - lines[:, :2]
    square = np.maximum((along**2).sum(axis=1), np.finfo(float).tiny)
    t = np.clip(((point - start) * along).sum(axis=1) / square, 0.0, 1.0)
    gap: Floats = np.hypot(*(start + t[:, None] * along - point).T)
    return gap


def pick_face(drawing: Drawing, u: float, v: float, *, locked: bool = True) -> FaceHit | None:
    """Return the face of a solid volume that the sight line through the paper point meets first, or None.

    Without ``locked`` the sight line passes through locked volumes.
    """
    found = pick_faces(drawing, u, v, locked=locked)
    return found[0] if found else None


def pick_faces(drawing: Drawing, u: float, v: float, *, locked: bool = True) -> list[FaceHit]:
    """Return the faces of solid volumes that the sight line meets and that look at the eye, the nearest first."""
    through = np.zeros(len(drawing.scene.volumes), dtype=bool) if locked else _locked(drawing)
    found = (
        _of_pieces(drawing, u, v, through) + _of_faces(drawing, u, v, through) + _of_rounds(drawing, u, v, through)
    )
    at = drawing.document.eye.place
    return sorted(found, key=lambda hit: float(np.abs(hit.place - at).sum()))


def _turned(drawing: Drawing) -> Bools:
    return np.array([isinstance(volume, Turned) for volume in drawing.scene.volumes], dtype=bool)


def _of_rounds(drawing: Drawing, u: float, v: float, through: Bools) -> list[FaceHit]:
    """Return where turned bodies are entered, through a round side or a flat end."""
    scene, eye = drawing.scene, drawing.document.eye
    frusta = scene.rounds.frusta
    solid = np.flatnonzero((scene.solid & ~through & _turned(drawing))[frusta.owner])
    if len(solid) == 0:
        return []
    ray = eye.ray(u, v)
    rows, along, outward = entered(frusta.select(solid), eye.place, ray)
    first: dict[int, FaceHit] = {}
    for row in np.argsort(along, kind="stable"):
        # Behind the first place where a body is entered there are only joints between its pieces.
        owner = int(frusta.owner[solid[rows[row]]])
        first.setdefault(owner, FaceHit(owner, int(solid[rows[row]]), eye.place + along[row] * ray, outward[row]))
    return list(first.values())


def _of_faces(drawing: Drawing, u: float, v: float, through: Bools) -> list[FaceHit]:
    """Return the faces of bodies that are made of faces."""
    scene, eye = drawing.scene, drawing.document.eye
    solid = np.flatnonzero((scene.solid & ~through)[scene.face_owner])
    if len(solid) == 0:
        return []
    faces, ray = scene.faces.select(solid), eye.ray(u, v)
    rows, along = crossed(faces, eye.place, ray)
    looks = faces.normals[rows] @ ray < 0.0
    return [
        FaceHit(int(scene.face_owner[solid[row]]), int(solid[row]), eye.place + far * ray, faces.normals[row])
        for row, far in zip(rows[looks], along[looks], strict=True)
    ]


def _of_pieces(drawing: Drawing, u: float, v: float, through: Bools) -> list[FaceHit]:
    """Return the first face of every convex piece."""
    scene, eye = drawing.scene, drawing.document.eye
    # The pieces of turned bodies are their bounding boxes.
    solid = np.flatnonzero(
        (scene.solid & ~through & ~_turned(drawing))[scene.body_owner] & ~drawing.picture.eye_inside
    )
    if len(solid) == 0:
        return []
    bodies = scene.bodies.select(solid)
    ray = eye.ray(u, v)
    slope = bodies.normals @ ray
    height = bodies.offsets - bodies.normals @ eye.place
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        cross = height / slope
    enter = np.where(slope < 0.0, cross, -np.inf)
    leave = np.where(slope > 0.0, cross, np.inf).min(axis=1)
    leave[((slope == 0.0) & (height <= 0.0)).any(axis=1)] = -np.inf
    first = enter.max(axis=1)
    first[~((first > 0.0) & (first < leave))] = np.inf
    found = []
    for body in np.argsort(first, kind="stable"):
        if not np.isfinite(first[body]):
            break
        face = int(np.argmax(enter[body]))
        place: Floats = eye.place + first[body] * ray
        found.append(FaceHit(int(scene.body_owner[solid[body]]), face, place, bodies.normals[body, face]))
    return found


def box_face(drawing: Drawing, hit: FaceHit) -> int:
    """Return the number in `BOX_FACES` of the face of the bounding box that looks most like the one that was met."""
    own = hit.normal @ drawing.scene.rotations[hit.owner]
    axis = int(np.argmax(np.abs(own)))
    return 2 * axis + int(own[axis] > 0.0)


def on_itself(drawing: Drawing, hit: FaceHit) -> tuple[FaceHit, tuple[Floats, Floats]]:
    """Return the hit of a copy or a mirror image as one of the volume itself, and how the one that was met lies to it.

    The placement (L, o) puts a place p of the volume itself at L p + o.
    """
    volume = drawing.document.volumes[hit.owner]
    if not is_many(volume):
        return hit, (np.eye(3), np.zeros(3))
    corner, rotation, size = np.array(volume.corner), drawing.scene.rotations[hit.owner], np.array(volume.size)
    if isinstance(volume, Turned):
        corner, rotation = turned_frame(volume)  # as it is steered and leant

    def off(placement: tuple[Floats, Floats]) -> float:
        place = (hit.place - placement[1]) @ placement[0]
        own = (place - corner) @ rotation
        beyond = float(np.maximum(np.maximum(-own, own - size), 0.0).sum())
        # Copies that reach into one another: it is the one whose surface is there.
        return beyond + (_off_round(volume, place) if isinstance(volume, Turned) else 0.0)

    by_id = {each.id: each for each in drawing.document.volumes}
    ways, moved = min(placements(volume, lambda: by_id), key=off)
    return replace(hit, place=(hit.place - moved) @ ways, normal=hit.normal @ ways), (ways, moved)


def _off_round(volume: Turned, place: Floats) -> float:
    """Return how far a place (3,) lies from the round side of a turned body, or from its ends."""
    side = own_sides(volume)[ROUND_SIDE]
    off, along = float(side.off(place[None])[0]), float((place - side.origin) @ side.axle)
    return min(abs(off), abs(along) + max(off, 0.0), abs(along - side.long) + max(off, 0.0))


def face_of_hit(drawing: Drawing, hit: FaceHit) -> FaceRef | None:
    """Return the face that was met: its id where the body has faces of its own, else its number; None on a round side.

    A copy's face is that of the volume itself.
    """
    hit, _ = on_itself(drawing, hit)
    volume = drawing.document.volumes[hit.owner]
    faces = own_faces(volume)
    if not faces:
        face = box_face(drawing, hit)
        return None if isinstance(volume, Turned) or not _outside(drawing, hit, face) else face
    alike = [face for face in faces.values() if float(face.outward @ hit.normal) > 1.0 - HAIR]
    if not alike:
        return None
    flat = [
        (abs(float((hit.place - face.corner) @ face.outward)), _beside(face, hit.place), face.id) for face in alike
    ]
    nearest = min(off for off, _, _ in flat)
    if nearest > _IN_OPENING and is_carved(volume):
        return None
    return min((beside, name) for off, beside, name in flat if off <= nearest + SAME_PLACE)[1]


_BESIDE = 0.02
"""Of a round side's radius: what is met so near to it is it, and no wall of an opening in it."""


@dataclass(frozen=True)
class SideHit:
    """A round side that was met: its id, the side of the volume itself, the place on it, mm along its axle and about it, and how
    what was met lies to the volume itself, see `on_itself`."""

    owner: int
    face: str
    side: RoundSurface
    at: tuple[float, float]
    placement: tuple[Floats, Floats]


def side_of_hit(drawing: Drawing, hit: FaceHit) -> SideHit | None:
    """Return the round side that was met; None on a flat face, or in an opening."""
    if face_of_hit(drawing, hit) is not None:
        return None
    own, placement = on_itself(drawing, hit)
    near: list[tuple[float, str, RoundSurface]] = []
    for face, side in own_sides(drawing.document.volumes[hit.owner]).items():
        place = own.place[None]
        off = abs(float(side.off(place)[0]))
        if off <= _BESIDE * side.around and bool(side.holds(place)[0]) and _faces(side, own):
            near.append((off, face, side))
    if not near:
        return None
    _, face, side = min(near, key=lambda found: found[0])
    return SideHit(hit.owner, face, side, side.drawn(own.place), placement)


def _faces(side: RoundSurface, hit: FaceHit) -> bool:
    """Whether a side looks the way that was met."""
    off = hit.place - side.origin
    off = off - (off @ side.axle) * side.axle
    return (float(off @ hit.normal) > 0.0) is not side.hollow


def _outside(drawing: Drawing, hit: FaceHit, face: int) -> bool:
    """Whether a place lies on a construction face, and not on a wall or the bottom of an opening."""
    corner = drawing.scene.corners_of(hit.owner)[7 if face % 2 else 0]
    return abs(float((hit.place - corner) @ drawing.scene.rotations[hit.owner][:, face // 2])) <= _IN_OPENING


def _beside(face: BodyFace, place: Floats) -> bool:
    """Whether a place on a face's plane lies beside its outline."""
    at = np.array([(place - face.corner) @ face.x, (place - face.corner) @ face.y])
    return not holds(face.loops[0], at)


def pick_volume(drawing: Drawing, u: float, v: float, within: float) -> int | None:
    """Return the position of the volume under the pencil: by an edge that can be seen, then by its face, then by a hidden edge."""
    edge = nearest_edge(drawing, u, v, within, locked=False, hidden=False)
    face = None if edge is not None else pick_face(drawing, u, v, locked=False)
    if edge is None and face is None:
        edge = nearest_edge(drawing, u, v, within, locked=False)
    return edge[0] if edge is not None else None if face is None else face.owner


def corner_under(drawing: Drawing, u: float, v: float, within: float) -> tuple[int, Floats] | None:
    """Return (owner, place) of the corner drawn within ``within`` mm of the paper point that is nearest to the eye."""
    gap = np.hypot(*(drawing.picture.paper - (u, v)).T)
    rows = np.flatnonzero(
        (gap <= within) & ~drawing.scene.put_away[drawing.scene.vertex_owner]
    )  # a corner behind the eye is NaN and never within
    if len(rows) == 0:
        return None
    row = rows[np.argmin(drawing.picture.camera[rows, 2])]
    return int(drawing.scene.vertex_owner[row]), drawing.scene.vertices[row]


def nearest_corner(drawing: Drawing, owner: int, u: float, v: float, within: float) -> Floats | None:
    """Return the world place (3,) of a volume's corner drawn within ``within`` mm of the paper point, or None."""
    rows = np.flatnonzero(drawing.scene.vertex_owner == owner)
    gap = np.hypot(*(drawing.picture.paper[rows] - (u, v)).T)
    gap[np.isnan(gap)] = np.inf
    nearest = int(np.argmin(gap))
    return drawing.scene.vertices[rows[nearest]] if gap[nearest] <= within else None


def corner_face(drawing: Drawing, u: float, v: float, within: float) -> FaceHit | None:
    """Return the nearest drawn corner of a solid volume as a hit of its upper face, or of the face that shows most.

    The pencil can miss the face itself by a hair when it aims at a corner on the outline.
    """
    scene, eye = drawing.scene, drawing.document.eye
    gap = np.hypot(*(drawing.picture.paper - (u, v)).T)
    gap[np.isnan(gap) | ~scene.solid[scene.vertex_owner]] = np.inf
    if len(gap) == 0 or not gap.min() <= within:
        return None
    rows = np.flatnonzero(gap <= within)
    vertex = int(rows[np.argmin(drawing.picture.camera[rows, 2])])
    owner, place = int(scene.vertex_owner[vertex]), scene.vertices[vertex]
    bodies, faces = scene.bodies.select(scene.body_owner == owner), scene.faces.select(scene.face_owner == owner)
    normals = np.concatenate([bodies.normals.reshape(-1, 3), faces.normals])
    offsets = np.concatenate([bodies.offsets.reshape(-1), faces.offsets])
    to_eye = eye.place - place
    facing = normals @ to_eye / np.sqrt(to_eye @ to_eye)
    facing[(np.abs(normals @ place - offsets) > SAME_PLACE) | ~(facing > 0.0)] = -np.inf
    if not np.isfinite(facing.max()):
        return None
    upper = (normals[:, 2] > 0.5) & np.isfinite(facing)
    best = int(np.argmax(np.where(upper, facing + 2.0, facing)))
    return FaceHit(owner, best, place, normals[best])
