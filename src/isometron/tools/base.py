"""Where a block starts: on the ground, or on a face of another volume, and which directions lie in that plane."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.solve.drawing import Drawing
from isometron.solve.pick import FaceHit, corner_face, nearest_corner, pick_face
from isometron.tools.pulling import on_plane, round_step, rounded
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["Base", "find_base"]

_FARTHEST = 200_000.0
"""A start farther than this from the eye (mm) is the horizon missed by a hair, not a place."""


@dataclass(frozen=True)
class Base:
    """A start place (3,), own directions in the columns of ``rotation``, the pull-off direction and its sense.

    host : the volume stood on, or None for the ground; angles : yaw, pitch, roll in degrees of ``rotation``.
    """

    place: Floats
    rotation: Floats
    angles: tuple[float, float, float]
    normal: int
    outward: float
    host: Volume | None

    @property
    def words(self) -> str:
        """Where this is, for the prompt."""
        return tr("on the ground") if self.host is None else tr("on {name}", name=self.host.name)


def find_base(drawing: Drawing, u: float, v: float, grain: float, reach: float) -> Base | None:
    """Return the base under the paper point, snapped to the host's corners, or rounded along its directions."""
    hit, corner = pick_face(drawing, u, v), corner_face(drawing, u, v, reach)
    if corner is not None and (hit is None or (hit.owner != corner.owner and _nearer(drawing, corner, hit))):
        hit = corner
    return _ground(drawing, u, v, grain) if hit is None else _on_face(drawing, hit, u, v, grain, reach)


def _nearer(drawing: Drawing, one: FaceHit, other: FaceHit) -> bool:
    depth = drawing.document.eye.to_camera(np.vstack([one.place, other.place]))[:, 2]
    return bool(depth[0] < depth[1])


def _ground(drawing: Drawing, u: float, v: float, grain: float) -> Base | None:
    eye = drawing.document.eye
    place = on_plane(eye, np.zeros(3), np.array([0.0, 0.0, 1.0]), u, v)
    if place is None or float(np.abs(place - eye.place).max()) > _FARTHEST:
        return None
    step = _step(drawing, place, grain)
    ground = np.array([rounded(place[0], step), rounded(place[1], step), 0.0])
    return Base(ground, np.eye(3), (0.0, 0.0, 0.0), 2, 1.0, None)


def _on_face(drawing: Drawing, hit: FaceHit, u: float, v: float, grain: float, reach: float) -> Base:
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
