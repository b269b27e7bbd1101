"""Pictures on a page: laid straight for surfaces that know no slant, and packed for a file."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Floats
from isometron.solve.marks import Raster
from isometron.wording import tr

__all__ = ["SHEET_DPI", "STRAIGHTENED", "Packed", "corners_of", "laid", "straightened"]

SHEET_DPI = 300.0
"""Dots an inch at which a slanted picture is resampled."""
STRAIGHTENED = {"pictures": tr("Slanted pictures are resampled at 300 dpi.")}
"""The note of surfaces that know no slant."""
_MOST_PIXELS = 60_000_000
_SMALL = 250_000
"""Pixels up to which a picture is packed without any loss; a photograph would be five times as large so."""
_QUALITY = 88

Page = tuple[float, float, float, float]


def corners_of(raster: Raster) -> Floats:
    """Return the picture's corners (4, 2) on paper: upper left, upper right, lower right, lower left."""
    height, width = raster.pixels.shape[:2]
    corners = (
        np.array([[0.0, 0.0, 1.0], [width, 0.0, 1.0], [width, height, 1.0], [0.0, height, 1.0]]) @ raster.place.T
    )
    found: Floats = corners[:, :2] / corners[:, 2:]
    return found


def straightened(
    raster: Raster, page: tuple[float, float, float, float], dpi: float = SHEET_DPI
) -> tuple[Raster, NDArray[np.uint8]]:
    """Return a slanted picture resampled so that it lies straight on the page, and what of it is there (H, W), 0 to 255.

    page : left, lower, right, upper in mm; nothing beyond is made. Between pixels linearly (Wolberg, *Digital Image
    Warping*, 1990).
    """
    from scipy.ndimage import map_coordinates  # only when a slanted picture is written

    corners = corners_of(raster)
    low = np.maximum(corners.min(axis=0), page[:2])
    high = np.maximum(np.minimum(corners.max(axis=0), page[2:]), low + 25.4 / dpi)
    step = max(25.4 / dpi, float(np.sqrt(np.prod(high - low) / _MOST_PIXELS)))
    width, height = (int(np.ceil(side / step)) for side in high - low)
    x, y = np.meshgrid(low[0] + (np.arange(width) + 0.5) * step, high[1] - (np.arange(height) + 0.5) * step)
    source = np.linalg.inv(raster.place) @ np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
    column, row = source[0] / source[2], source[1] / source[2]
    inside = (source[2] * np.linalg.det(raster.place) != 0.0) & (column >= 0.0) & (row >= 0.0)
    inside &= (column <= raster.pixels.shape[1]) & (row <= raster.pixels.shape[0])
    # The middle of a pixel lies half a pixel from its corner.
    places = np.stack([row - 0.5, column - 0.5])
    planes = [
        map_coordinates(raster.pixels[..., k].astype(np.float32), places, order=1, mode="nearest") for k in range(3)
    ]
    pixels = np.clip(np.round(np.stack(planes, axis=1)), 0, 255).astype(np.uint8).reshape(height, width, 3)
    place = np.array([[step, 0.0, low[0]], [0.0, -step, high[1]], [0.0, 0.0, 1.0]])
    there = np.where(inside, 255, 0).astype(np.uint8).reshape(height, width)
    return replace(raster, pixels=pixels, place=place), there


@dataclass(frozen=True)
class Packed:
    """A picture as it is laid straight on a page. data : of a JPEG or a PNG, as ``kind`` says."""

    raster: Raster
    kind: str
    data: bytes


def laid(raster: Raster, page: Page) -> Packed | None:
    """Return a picture for a surface that knows no slant, packed for its file; None where nothing of it is on the page.

    page : left, lower, right, upper, mm.
    """
    there = None
    if raster.within:
        rings = np.concatenate(raster.within)
        low, high = np.maximum(rings.min(axis=0), page[:2]), np.minimum(rings.max(axis=0), page[2:])
        if not (low < high).all():
            return None
        page = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
    if not raster.straight:
        raster, there = straightened(raster, page)
    return _packed(raster, None if raster.within else there)


def _packed(raster: Raster, there: NDArray[np.uint8] | None) -> Packed:
    """Return a picture, and what of it is there (H, W), as a file's bytes."""
    from PIL import Image  # only when a picture is written

    out = io.BytesIO()
    pixels = raster.pixels
    if there is None and pixels.shape[0] * pixels.shape[1] > _SMALL:
        Image.fromarray(pixels).save(out, "JPEG", quality=_QUALITY)
        return Packed(raster, "jpeg", out.getvalue())
    Image.fromarray(pixels if there is None else np.dstack([pixels, there])).save(out, "PNG", compress_level=1)
    return Packed(raster, "png", out.getvalue())
