"""How large what a picture shows is: from pixels to the ground and to uprights, and the eye's height from one true length."""

from __future__ import annotations

from math import hypot, radians

import numpy as np

from isometron.document.pictures.placing import straight
from isometron.document.pictures.sheet_picture import Camera, SheetPicture
from isometron.geometry.frames import Floats, camera_axes

__all__ = [
    "USUAL_HEIGHT",
    "eye_height",
    "from_eye",
    "line_in_world",
    "marked_places",
    "on_ground",
    "ring_on_ground",
    "true_length",
]

USUAL_HEIGHT = 1600.0
"""mm: an eye's height over the ground while nothing is known of the scale."""
_JOINED = 8.0
"""Pixels of a picture 1000 wide: ends of marks so near to each other are one corner."""
_WAYS = {"long": np.array([1.0, 0.0, 0.0]), "wide": np.array([0.0, 1.0, 0.0]), "high": np.array([0.0, 0.0, 1.0])}


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
    """Return the two ends (2, 3) of a marked line, in the order of its points, for an eye one unit over the ground, from the eye's foot;
    None where no chain of marks leads from the foot of the leading corner to it."""
    places = marked_places(picture, camera)
    found = [places.get((number, end)) for end in (0, 1)]
    return None if found[0] is None or found[1] is None else np.array(found)


def marked_places(picture: SheetPicture, camera: Camera) -> dict[tuple[int, int], Floats]:
    """Return where ends of marked lines are (3,), by the line's number and its end, for an eye one unit over the ground.

    The foot of the leading corner, or the lowest end of all, stands on the ground. A line one end of which is at a known place
    runs from there in its direction, and its other end is where that comes nearest to the sight line.
    """
    ends = {(n, k): np.array(line.points[-k]) for n, line in enumerate(picture.lines) for k in (0, 1)}
    foot = picture.corner or max(
        (at for line in picture.lines for at in line.points), key=lambda at: at[1], default=None
    )
    if foot is None:
        return {}
    start = on_ground(camera, np.array([foot]), 1.0)[0]
    known = [(np.array(foot), start)] if np.isfinite(start).all() else []
    found: dict[tuple[int, int], Floats] = {}
    near = _JOINED * max(picture.width, picture.height) / 1000.0
    while known:
        pixel, place = known.pop()
        for (number, end), at in ends.items():
            line = picture.lines[number]
            if (number, end) in found or hypot(*(at - pixel)) > near or (line.object and line.along != "high"):
                continue
            found[number, end] = place
            if (number, 1 - end) not in found:
                other = _along(camera, place, _WAYS[line.along], ends[number, 1 - end])
                if other is not None:
                    found[number, 1 - end] = other
                    known.append((ends[number, 1 - end], other))
    return found


def _along(camera: Camera, start: Floats, way: Floats, pixel: Floats) -> Floats | None:
    """Return the place from a start (3,) along a direction (3,) that comes nearest to the sight line through a pixel."""
    ray = from_eye(camera, pixel)[0]
    off = start - [0.0, 0.0, 1.0]
    across = np.cross(way, ray)
    size = float(across @ across)
    if not size > 1e-18 * float(ray @ ray):
        return None
    found: Floats = start - float(np.cross(off, ray) @ across) / size * way
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
