"""Pixels of picture files, decoded once and kept: those that are looked at, and those that edges are found in."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from isometron.document.pictures.placing import bent
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.pictures.reading import PictureError, upright
from isometron.wording import tr

__all__ = ["LONG_SIDE", "Pixels", "colours_of", "grey_of", "pixels_of"]

LONG_SIDE = 2400
"""Pixels of the longer side that a picture is kept at for the board and for paper: 145 dpi on A3."""

Pixels = NDArray[np.uint8]


class _Kept:
    """The last few arrays that were asked for, by their keys; what cannot be made is kept as None."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._by_key: OrderedDict[tuple[Any, ...], Pixels | None] = OrderedDict()

    def of(self, key: tuple[Any, ...], make: Callable[[], Pixels | None]) -> Pixels | None:
        if key not in self._by_key:
            self._by_key[key] = make()
        self._by_key.move_to_end(key)
        while len(self._by_key) > self._most:
            self._by_key.popitem(last=False)
        return self._by_key[key]


_SEEN, _STRAIGHT, _GREY, _COLOURS = _Kept(8), _Kept(4), _Kept(2), _Kept(1)


def _decoded(picture: SheetPicture, data: bytes, most: int | None, mode: str) -> Pixels | None:
    try:
        pixels = np.asarray(upright(data, tr("the picture"), picture.page, most).convert(mode))
    except PictureError:
        return None
    pixels.flags.writeable = False
    return pixels


def pixels_of(picture: SheetPicture, data: bytes, most: int = LONG_SIDE) -> Pixels | None:
    """Return a picture's pixels (H, W, 3), its longer side at most ``most``, straightened where its lens bends; None where its
    file is missing or cannot be read."""
    if not data:
        return None
    key = (picture.file, picture.page, most)
    seen = _SEEN.of(key, lambda: _decoded(picture, data, most, "RGB"))
    camera = picture.camera
    if seen is None or camera is None or camera.bend == 0.0:
        return seen
    # How far pixels are moved goes by the bend over the square of the focal length.
    bend = (*key, round(camera.bend / camera.focal_px**2, 18), camera.centre)
    return _STRAIGHT.of(bend, lambda: _straightened(picture, seen))


def _straightened(picture: SheetPicture, pixels: Pixels) -> Pixels:
    """Return a picture as a lens without bend would have shown it, in the same frame; between pixels linearly."""
    from scipy.ndimage import map_coordinates  # only a bent picture needs it

    height, width = pixels.shape[:2]
    step = picture.width / width
    x, y = np.meshgrid((np.arange(width) + 0.5) * step - 0.5, (np.arange(height) + 0.5) * step - 0.5)
    there = (bent(picture.camera, np.stack([x.ravel(), y.ravel()], axis=1)) + 0.5) / step - 0.5
    rows = [there[:, 1], there[:, 0]]
    planes = [map_coordinates(pixels[..., k], rows, order=1, mode="constant", cval=255) for k in range(3)]
    found = np.stack(planes, axis=1).reshape(height, width, 3)
    found.flags.writeable = False
    return found


def grey_of(picture: SheetPicture, data: bytes) -> Pixels | None:
    """Return how light each pixel (H, W) of a picture is, 0 to 255, at its full size and as its lens bent it."""
    if not data:
        return None
    return _GREY.of((picture.file, picture.page), lambda: _decoded(picture, data, None, "L"))


def colours_of(picture: SheetPicture, data: bytes) -> Pixels | None:
    """Return the pixels (H, W, 3) of a picture at its full size and as its lens bent it."""
    if not data:
        return None
    return _COLOURS.of((picture.file, picture.page), lambda: _decoded(picture, data, None, "RGB"))
