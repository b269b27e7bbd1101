"""Pictures on a page: laid straight for surfaces that know no slant, and packed for a file."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Floats
from isometron.solve.marks import Raster
from isometron.wording import tr

__all__ = ["SHEET_DPI", "STRAIGHTENED", "corners_of", "packed", "straightened"]

SHEET_DPI = 300.0
"""Dots an inch at which a slanted picture is resampled."""
STRAIGHTENED = {"pictures": tr("Slanted pictures are resampled at 300 dpi.")}
"""The note of surfaces that know no slant."""
_MOST_PIXELS = 60_000_000


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


def packed(pixels: NDArray[np.uint8], there: NDArray[np.uint8] | None = None) -> bytes:
    """Return pixels (H, W, 3), and what of them is there (H, W), as the bytes of a PNG."""
    from PIL import Image  # only when a picture is written

    image = Image.fromarray(pixels if there is None else np.dstack([pixels, there]))
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=1)
    return out.getvalue()
