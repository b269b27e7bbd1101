"""Where a picture lies: from its pixels to the paper and back, and the eye that it was taken from.

On the sheet a picture lies straightened: where its lens bends, a pixel lies where a lens without bend would have put it.
"""

from __future__ import annotations

from math import cos, radians, sin

import msgspec
import numpy as np
from numpy.typing import ArrayLike

from isometron.document.model import Document
from isometron.document.pictures.sheet_picture import Camera, SheetPicture
from isometron.geometry.frames import Floats, half_turn
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet

__all__ = [
    "bent",
    "eye_of",
    "in_place",
    "matched_eye",
    "on_sheet",
    "picture_under",
    "place_of",
    "straight",
    "to_paper",
    "to_pixels",
]

_FLATTEST = 0.05
"""Where a lens bends so much that its picture folds over, no place is exact; steps stay in bounds."""
_SAME_DEG, _SAME_MM, _SAME_F = 1e-6, 1e-5, 1e-7


def straight(camera: Camera | None, pixels: Floats) -> Floats:
    """Return where pixels (N, 2) would lie without the bend of the lens: r + k1 r^3 = r' is solved for r by Newton's steps."""
    if camera is None or camera.bend == 0.0:
        return pixels
    off = (pixels - camera.centre) / camera.focal_px
    far = np.sqrt((off**2).sum(axis=-1, keepdims=True))
    radius = far
    for _ in range(30):
        slope = np.maximum(1.0 + 3.0 * camera.bend * radius**2, _FLATTEST)
        radius = np.maximum(radius - (radius + camera.bend * radius**3 - far) / slope, 0.0)
    there: Floats = np.array(camera.centre) + camera.focal_px * off * np.where(
        far > 0.0, radius / np.maximum(far, 1e-300), 1.0
    )
    return there


def bent(camera: Camera | None, pixels: Floats) -> Floats:
    """Return where the lens puts what a lens without bend would show at pixels (N, 2)."""
    if camera is None or camera.bend == 0.0:
        return pixels
    off = (pixels - camera.centre) / camera.focal_px
    stretch = 1.0 + camera.bend * (off**2).sum(axis=-1, keepdims=True)
    there: Floats = np.array(camera.centre) + camera.focal_px * off * stretch
    return there


def place_of(picture: SheetPicture, sheet: Sheet) -> Floats:
    """Return the matrix (3, 3) that takes straightened pixels (centres) to paper mm, origin at the centre of vision."""
    c, s = picture.pixel * cos(radians(picture.turn_deg)), picture.pixel * sin(radians(picture.turn_deg))
    x, y = picture.centre
    u = picture.middle[0] - sheet.centre_of_vision[0]
    v = picture.middle[1] - sheet.centre_of_vision[1]
    # A pixel down is a step down on paper: (x, y) goes to (c x + s y, s x - c y).
    return np.array([[c, s, u - c * x - s * y], [s, -c, v - s * x + c * y], [0.0, 0.0, 1.0]])


def to_paper(picture: SheetPicture, sheet: Sheet, pixels: ArrayLike) -> Floats:
    """Return where pixels (N, 2) lie on paper (N, 2), mm from the centre of vision."""
    there = straight(picture.camera, np.asarray(pixels, dtype=np.float64).reshape(-1, 2))
    place = place_of(picture, sheet)
    found: Floats = there @ place[:2, :2].T + place[:2, 2]
    return found


def to_pixels(picture: SheetPicture, sheet: Sheet, paper: ArrayLike) -> Floats:
    """Return the pixels (N, 2) that lie at paper places (N, 2)."""
    back = np.linalg.inv(place_of(picture, sheet))
    flat = np.asarray(paper, dtype=np.float64).reshape(-1, 2) @ back[:2, :2].T + back[:2, 2]
    return bent(picture.camera, flat)


def on_sheet(picture: SheetPicture, pixel: tuple[float, float]) -> tuple[float, float]:
    """Return where a straightened pixel lies from the sheet's lower left corner, mm."""
    zero = Sheet(width=100.0, height=100.0, centre_of_vision=(0.0, 0.0))
    u, v, _ = place_of(picture, zero) @ np.array([*pixel, 1.0])
    return float(u), float(v)


def eye_of(picture: SheetPicture, cone_deg: float = 60.0) -> tuple[Eye, tuple[float, float]] | None:
    """Return the eye that a picture was taken from, as the picture lies now, and its centre of vision from the sheet's lower
    left corner, mm; None while it is not found."""
    camera = picture.camera
    if camera is None:
        return None
    eye = Eye(
        position=camera.position, yaw_deg=camera.yaw_deg, pitch_deg=camera.pitch_deg,
        roll_deg=half_turn(camera.roll_deg + picture.turn_deg), viewing_distance=camera.focal_px * picture.pixel,
        cone_deg=cone_deg,
    )  # fmt: skip
    return eye, on_sheet(picture, camera.centre)


def matched_eye(document: Document, picture: SheetPicture) -> Document:
    """Return the document seen by the eye that a picture was taken from; as it is while that is not found."""
    found = eye_of(picture, document.eye.cone_deg)
    if found is None:
        return document
    eye, centre = found
    width, height = picture.paper
    sheet = Sheet(width=width, height=height, centre_of_vision=centre)
    return msgspec.structs.replace(document, eye=eye, sheet=sheet)


def in_place(document: Document, picture: SheetPicture) -> bool:
    """Whether the document is seen by the eye that a picture was taken from, so that the picture lies under its drawing.

    One whose eye is not found yet lies on the sheet under any eye.
    """
    found = eye_of(picture)
    if found is None:
        return True
    eye, centre = found
    now = document.eye
    angles = [half_turn(a - b) for a, b in zip(_angles(eye), _angles(now), strict=True)]
    size = 1.0 + max(abs(c) for c in eye.position)
    return bool(
        np.allclose(picture.paper, (document.sheet.width, document.sheet.height), rtol=0.0, atol=_SAME_MM)
        and np.allclose(angles, 0.0, atol=_SAME_DEG)
        and np.allclose(eye.position, now.position, rtol=0.0, atol=_SAME_MM * size / 1e3)
        and abs(eye.viewing_distance / now.viewing_distance - 1.0) < _SAME_F
        and np.allclose(centre, document.sheet.centre_of_vision, rtol=0.0, atol=_SAME_MM)
    )


def _angles(eye: Eye) -> tuple[float, float, float]:
    return eye.yaw_deg, eye.pitch_deg, eye.roll_deg


def picture_under(document: Document) -> SheetPicture | None:
    """Return the picture that is worked on: the last one that is shown and lies under the drawing."""
    return next((p for p in reversed(document.pictures) if not p.hidden and in_place(document, p)), None)
