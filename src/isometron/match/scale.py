"""How large what a picture shows is: from pixels to the ground and to uprights, and the eye's height from one true length."""

from __future__ import annotations

from math import hypot, radians

import numpy as np

from isometron.document.pictures.placing import straight
from isometron.document.pictures.sheet_picture import Camera, SheetPicture
from isometron.geometry.frames import Floats, camera_axes

__all__ = ["USUAL_HEIGHT", "eye_height", "from_eye", "line_in_world", "on_ground", "ring_on_ground", "true_length"]

USUAL_HEIGHT = 1600.0
"""mm: an eye's height over the ground while nothing is known of the scale."""
_JOINED = 8.0
"""Pixels of a picture 1000 wide: ends of marks so near to each other are one corner."""


def from_eye(camera: Camera, pixels: Floats) -> Floats:
    """Return the directions (N, 3) in the world of the sight lines through pixels (N, 2), not normalised."""
    flat = (straight(camera, np.asarray(pixels, dtype=np.float64).reshape(-1, 2)) - camera.centre) / camera.focal_px
    axes = camera_axes(radians(camera.yaw_deg), radians(camera.pitch_deg), radians(camera.roll_deg))
    rays: Floats = np.column_stack([flat[:, 0], -flat[:, 1], np.ones(len(flat))]) @ axes
    return rays


def on_ground(camera: Camera, pixels: Floats, height: float) -> Floats:
    """Return the places (N, 3) on the ground that pixels show, from the eye's foot, mm; NaN above the horizon."""
    rays = from_eye(camera, pixels)
    down = -rays[:, 2:]
    with np.errstate(divide="ignore", invalid="ignore"):
        found = np.where(down > 1e-9, rays * (height / down), np.nan)
    found[:, 2] = np.where(np.isfinite(found[:, 0]), 0.0, np.nan)
    return found


def line_in_world(picture: SheetPicture, camera: Camera, number: int) -> Floats | None:
    """Return the two ends (2, 3) of a marked line for an eye one unit over the ground, from the eye's foot; None where the marks do
    not tell.

    An upright stands with its lower end on the ground; a level line lies on the ground, or at the top of an upright
    whose upper end is one of its own.
    """
    line = picture.lines[number]
    first, last = np.array(line.points[0]), np.array(line.points[-1])
    if line.along == "high":
        return _upright(camera, *((first, last) if first[1] > last[1] else (last, first)))
    near = _JOINED * max(picture.width, picture.height) / 1000.0
    for other in picture.lines:
        if other.along != "high":
            continue
        low, high = sorted((np.array(other.points[0]), np.array(other.points[-1])), key=lambda at: -at[1])
        for start, end in ((first, last), (last, first)):
            if hypot(*(start - high)) <= near:
                stood = _upright(camera, low, high)
                return None if stood is None else _level(camera, stood[1, 2], start, end)
    return _level(camera, 0.0, first, last)


def _upright(camera: Camera, low: Floats, high: Floats) -> Floats | None:
    """Return foot and top (2, 3) of an upright that stands on the ground."""
    foot = on_ground(camera, low, 1.0)[0]
    if not np.isfinite(foot).all():
        return None
    ray = from_eye(camera, high)[0]
    # The top is where the upright over the foot comes nearest to the ray: level distances agree best.
    along = float(ray[:2] @ foot[:2]) / max(float(ray[:2] @ ray[:2]), 1e-12)
    return np.array([foot, [foot[0], foot[1], 1.0 + along * ray[2]]])


def _level(camera: Camera, level: float, first: Floats, last: Floats) -> Floats | None:
    """Return both ends (2, 3) of a level line at a height."""
    rays = from_eye(camera, np.array([first, last]))
    with np.errstate(divide="ignore", invalid="ignore"):
        along = (level - 1.0) / rays[:, 2]
    if not (np.isfinite(along).all() and (along > 0.0).all()):
        return None
    found: Floats = rays * along[:, None] + [0.0, 0.0, 1.0]
    return found


def ring_on_ground(camera: Camera, points: Floats) -> tuple[Floats, float] | None:
    """Return centre (2,) and radius of a ring on the ground for an eye one unit over it, from the eye's foot (Kasa's fit)."""
    there = on_ground(camera, points, 1.0)[:, :2]
    if len(there) < 3 or not np.isfinite(there).all():
        return None
    shift = there.mean(axis=0)
    own = there - shift
    system = np.column_stack([2.0 * own, np.ones(len(own))])
    (x, y, d), *_ = np.linalg.lstsq(system, (own**2).sum(axis=1), rcond=None)
    return shift + np.array([x, y]), float(np.sqrt(max(d + x * x + y * y, 0.0)))


def true_length(picture: SheetPicture, camera: Camera, of: str, number: int) -> float | None:
    """Return how long a marked line, or how wide a marked ring, is for an eye one unit over the ground; None where it cannot be said."""
    if of == "line" and number < len(picture.lines):
        ends = line_in_world(picture, camera, number)
        return None if ends is None else float(np.sqrt(((ends[1] - ends[0]) ** 2).sum()))
    if of == "ring" and number < len(picture.rings):
        ring = ring_on_ground(camera, np.array(picture.rings[number].points))
        return None if ring is None else 2.0 * ring[1]
    return 1.0 if of == "eye" else None


def eye_height(picture: SheetPicture, camera: Camera) -> float:
    """Return how high the eye stands over the ground, mm, by what is known to be so long."""
    known = picture.true
    if known is None:
        return picture.camera.position[2] if picture.camera is not None else USUAL_HEIGHT
    length = true_length(picture, camera, known.of, known.number)
    if length is None or not length > 1e-9:
        return picture.camera.position[2] if picture.camera is not None else USUAL_HEIGHT
    return min(max(known.mm / length, 1e-3), 1e6)
