"""Pictures that lie on the sheet, under everything that is drawn."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.document.model import Document
from isometron.document.pictures.placing import in_place, place_of
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.pictures.rasters import Pixels, pixels_of
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Marks, Raster, Singles
from isometron.view.sheet import Sheet

__all__ = ["PHOTOGRAPHS", "pictures_on_sheet", "raster_lying"]

_LATEST: dict[tuple[object, ...], Raster] = {}
"""The pictures as they lay last: the same one is told by being the same."""
_MOST = 16


def raster_lying(picture: SheetPicture, data: bytes, sheet: Sheet) -> Raster | None:
    """Return a picture as it lies on a sheet, cropped and paled; None where its file is missing."""
    pixels = pixels_of(picture, data)
    if pixels is None:
        return None
    place = place_of(picture, sheet)
    key = (id(pixels), place.tobytes(), picture.shown, picture.pale)
    if key not in _LATEST:
        while len(_LATEST) >= _MOST:
            del _LATEST[next(iter(_LATEST))]
        _LATEST[key] = _raster(picture, pixels, place)
    return _LATEST[key]


def _raster(picture: SheetPicture, pixels: Pixels, place: np.ndarray) -> Raster:
    height, width = pixels.shape[:2]
    left, top, right, lower = picture.seen
    x0, y0 = min(round(left * width), width - 1), min(round(top * height), height - 1)
    x1, y1 = max(round(right * width), x0 + 1), max(round(lower * height), y0 + 1)
    # Corners of the pixels kept, to centres of the pixels of the file.
    carry = np.array([[picture.width / width, 0.0, -0.5], [0.0, picture.height / height, -0.5], [0.0, 0.0, 1.0]])
    shift = np.array([[1.0, 0.0, x0], [0.0, 1.0, y0], [0.0, 0.0, 1.0]])
    return Raster(pixels[y0:y1, x0:x1], place @ carry @ shift, strength=1.0 - picture.pale)


def pictures_on_sheet(document: Document) -> Singles[Raster]:
    """Return the pictures that are shown and lie under the eye that they were taken from, or have none yet."""
    shown = [p for p in document.pictures if not p.hidden and p.pale < 1.0 and in_place(document, p)]
    rasters = [raster_lying(picture, document.file_of(picture), document.sheet) for picture in shown]
    return Singles(tuple(r for r in rasters if r is not None))


def _marks(seen: Seen) -> Marks:
    return Marks(pictures=pictures_on_sheet(seen.document)) if seen.document.pictures else NOTHING


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return False


PHOTOGRAPHS = Layer(_marks, leans_on=_leans_on)
