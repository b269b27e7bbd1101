"""Where a block starts: on the ground, or on a face of another volume, and which directions lie in that plane."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from isometron.document.lengths.units import format_length
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import HAIR
from isometron.solve.drawing import Drawing
from isometron.solve.pick import FaceHit, corner_face, face_of_hit, nearest_corner, pick_face
from isometron.tools.pulling import on_plane, round_step, rounded
from isometron.volumes.copies import angles_of
from isometron.volumes.faces.names import face_name
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.kinds import own_faces
from isometron.volumes.volume import Volume
from isometron.wording import mark, tr

__all__ = ["Base", "base_on", "find_base"]

_FARTHEST = 200_000.0
"""A start farther than this from the eye (mm) is the horizon missed by a hair, not a place."""
_NEARLY = 100.0
"""mm beyond which a distance to something is told in whole centimetres."""


@dataclass(frozen=True)
class Base:
    """A start place (3,), own directions in the columns of ``rotation``, the pull-off direction and its sense.

    host : the volume stood on, or None for the ground; angles : yaw, pitch, roll in degrees of ``rotation``; leaning : what the
    face is called where it leans, else empty; upright : whether what is begun there stands upright all the same; beside : on the
    ground, where that is to what stands nearest, in words; said : whether it was typed, not pressed.
    """

    place: Floats
    rotation: Floats
    angles: tuple[float, float, float]
    normal: int
    outward: float
    host: Volume | None
    leaning: str = ""
    upright: bool = False
    beside: str = ""
    said: bool = False

    @property
    def words(self) -> str:
        """Where this is, for the prompt."""
        if self.host is None:
            return tr("on the ground") + (f", {self.beside}" if self.beside else "")
        if not self.leaning:
            return tr("on {name}", name=self.host.name)
        if self.upright:
            return tr("upright on the {face} of {name}", face=self.leaning, name=self.host.name)
        return tr(
            "square to the {face} of {name}, turned with it · Shift: upright", face=self.leaning, name=self.host.name
        )


def find_base(
    drawing: Drawing, u: float, v: float, grain: float, reach: float, *, upright: bool = False
) -> Base | None:
    """Return the base under the paper point, snapped to the host's corners, or rounded along its directions.

    On a leaning face it is square to that face, or stands along the host's own directions when ``upright``.
    """
    hit, corner = pick_face(drawing, u, v), corner_face(drawing, u, v, reach)
    if corner is not None and (hit is None or (hit.owner != corner.owner and _nearer(drawing, corner, hit))):
        hit = corner
    if hit is None:
        return _ground(drawing, u, v, grain, reach)
    base = base_on(drawing, hit, u, v, grain, reach)
    slope = face_of_hit(drawing, hit)
    if base.host is None or not isinstance(slope, str) or not _leans(hit, base):
        return base
    name = face_name(base.host, slope)
    if upright:
        # Rounded along the host's own directions it would stand off the face: along the one it is pulled in it is put back.
        way = base.rotation[:, base.normal]
        off = float((base.place - hit.place) @ hit.normal) / float(way @ hit.normal)
        return replace(base, place=base.place - off * way, leaning=name, upright=True)
    return _square_to(base, own_faces(base.host)[slope], hit, name)


def _leans(hit: FaceHit, base: Base) -> bool:
    return abs(float(hit.normal @ base.rotation[:, base.normal])) < 1.0 - HAIR


def _square_to(base: Base, face: BodyFace, hit: FaceHit, name: str) -> Base:
    """Return the base turned so that its third direction is the face's way outward, and its first runs level along it."""
    x = face.x if float(np.cross(face.x, face.y) @ hit.normal) > 0.0 else -face.x
    rotation = np.column_stack([x, face.y, hit.normal])
    off = float((base.place - hit.place) @ hit.normal)
    place = base.place - off * hit.normal
    return Base(place, rotation, angles_of(rotation), 2, 1.0, base.host, name)


def _nearer(drawing: Drawing, one: FaceHit, other: FaceHit) -> bool:
    depth = drawing.document.eye.to_camera(np.vstack([one.place, other.place]))[:, 2]
    return bool(depth[0] < depth[1])


def _ground(drawing: Drawing, u: float, v: float, grain: float, reach: float) -> Base | None:
    eye = drawing.document.eye
    place = on_plane(eye, np.zeros(3), np.array([0.0, 0.0, 1.0]), u, v)
    if place is None or float(np.abs(place - eye.place).max()) > _FARTHEST:
        return None
    step = _step(drawing, place, grain)
    ground = np.array([rounded(place[0], step), rounded(place[1], step), 0.0])
    if not drawing.document.volumes and _meets_start(drawing, u, v, reach):
        ground = np.zeros(3)
    return Base(ground, np.eye(3), (0.0, 0.0, 0.0), 2, 1.0, None, beside=_beside(drawing, ground))


def _meets_start(drawing: Drawing, u: float, v: float, reach: float) -> bool:
    """Whether a paper point lies within reach (mm) of where the start of all measures is drawn."""
    start = drawing.document.eye.project(np.zeros((1, 3)))[0][0]
    return bool(np.hypot(*(start - (u, v))) <= reach)


def _beside(drawing: Drawing, place: Floats) -> str:
    """Return where a place on the ground lies to the volume that stands nearest to it, as one sees it; nothing where none stands."""
    rows = np.array([k for k, volume in enumerate(drawing.document.volumes) if not volume.put_away], dtype=np.intp)
    if not len(rows):
        return ""
    steps = _to_plans(drawing, rows, place[:2])
    nearest = int(np.argmin(np.hypot(*steps.T)))
    step, name = steps[nearest], drawing.document.volumes[rows[nearest]].name
    far = float(np.hypot(*step))
    if far <= HAIR:
        return tr("under {name}", name=name)
    right, look = (drawing.document.eye.axes[k, :2] for k in (0, 2))
    aside, away = float(step @ right) / np.hypot(*right), float(step @ look) / max(float(np.hypot(*look)), HAIR)
    long = format_length(float(np.round(far, -1 if far > _NEARLY else 0)), drawing.document.unit)
    if abs(away) >= abs(aside):
        words = mark("{long} behind {name}") if away > 0.0 else mark("{long} before {name}")
    else:
        words = mark("{long} to the right of {name}") if aside > 0.0 else mark("{long} to the left of {name}")
    return tr(words, long=long, name=name)


def _to_plans(drawing: Drawing, rows: Ints, place: Floats) -> Floats:
    """Return the ways (N, 2) to a place from the nearest place of each volume in plan; of one that leans, of what lies round it."""
    scene = drawing.scene
    corners = scene.vertices[scene.corner_rows[rows], :2]
    upright = np.abs(scene.rotations[rows, 2, 2]) > 1.0 - HAIR
    ways = np.where(upright[:, None, None], scene.rotations[rows, :2, :2], np.eye(2))
    own, at = corners @ ways, place @ ways
    near = np.clip(at, own.min(axis=1), own.max(axis=1))
    found: Floats = np.einsum("nij,nj->ni", ways, at - near)
    return found


def base_on(drawing: Drawing, hit: FaceHit, u: float, v: float, grain: float, reach: float) -> Base:
    """Return the base on a face that was met, its place snapped to a corner of the host or rounded along its directions."""
    volume = drawing.document.volumes[hit.owner]
    rotation = drawing.scene.rotations[hit.owner]
    normal = hit.normal
    turned = normal @ rotation
    axis = int(np.argmax(np.abs(turned)))
    place = nearest_corner(drawing, hit.owner, u, v, reach)
    if place is None or abs(float(normal @ (place - hit.place))) > HAIR:
        step = _step(drawing, hit.place, grain)
        corner = np.array(volume.corner)
        own = (hit.place - corner) @ rotation
        own = np.array([own[k] if k == axis else rounded(float(own[k]), step) for k in range(3)])
        # Where the sight line meets the face: on a copy or a leaning side that is not the bounding box's.
        own[axis] = round(float(own[axis]), 6)
        place = corner + rotation @ own
    angles = (volume.yaw_deg, volume.pitch_deg, volume.roll_deg)
    return Base(place, rotation, angles, axis, float(np.sign(turned[axis])), volume)


def _step(drawing: Drawing, place: Floats, grain: float) -> float:
    return round_step(grain / drawing.document.eye.scale_at(place), drawing.document.unit)
