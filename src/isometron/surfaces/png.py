"""PNG of the sheet at a chosen resolution, true to scale by the resolution written into the file."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtGui import QColor, QImage, QPainter

from isometron.errors import IsometronError
from isometron.progress import Tell, part_of, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.page import sheet_page, with_check_bar
from isometron.surfaces.painters.qt_page import paint_page
from isometron.surfaces.png_file import png_file
from isometron.wording import tr

__all__ = ["MOST_DPI", "ResolutionError", "png_bytes"]

MOST_DPI = 1200
_CLEAR = QImage.Format.Format_ARGB32_Premultiplied
_MOST_PIXELS = 400_000_000


class ResolutionError(IsometronError, ValueError):
    """A resolution that gives no usable picture."""


def png_bytes(
    drawing: Drawing,
    *,
    dpi: float = 300.0,
    construction: bool = True,
    clear: bool = False,
    tell: Tell = unheard,
) -> bytes:
    """Return the sheet as PNG, on white or on a ``clear`` ground; needs a Qt application object (offscreen is enough).

    Raises `ResolutionError` for a resolution outside 10 to 1200 dpi or a picture of more than 400 megapixels.
    """
    page = with_check_bar(sheet_page(drawing, construction=construction))
    if not 10.0 <= dpi <= MOST_DPI:
        raise ResolutionError(
            tr(
                "{dpi:g} dpi is not between 10 and {most_dpi}. 300 dpi suits most printers.",
                dpi=dpi,
                most_dpi=MOST_DPI,
            )
        )
    width, height = round(page.width * dpi / 25.4), round(page.height * dpi / 25.4)
    if width * height > _MOST_PIXELS:
        raise ResolutionError(
            tr(
                "{width} x {height} pixels is too large a picture. Choose a lower resolution.",
                width=width,
                height=height,
            )
        )
    image = QImage(width, height, _CLEAR if clear else QImage.Format.Format_RGB32)
    image.fill(QColor(0, 0, 0, 0) if clear else QColor("#FFFFFF"))
    painter = QPainter(image)
    try:
        paint_page(painter, page, width / page.width, part_of(tell, 0.0, 0.4))
    finally:
        painter.end()
    if clear:
        image = image.convertToFormat(QImage.Format.Format_ARGB32)
    bits: Any = image.constBits()
    assert bits is not None
    pixels = np.frombuffer(bits.asarray(image.sizeInBytes()), np.uint8).reshape(height, image.bytesPerLine() // 4, 4)
    return png_file(pixels[:, :width], round(dpi / 0.0254), part_of(tell, 0.4, 1.0), with_alpha=clear)
