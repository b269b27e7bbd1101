"""PNG of the sheet at a chosen resolution, true to scale by the resolution written into the file."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtGui import QColor, QImage, QPainter

from isometron.errors import IsometronError
from isometron.progress import Tell, part_of, telling, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.fonts import load_fonts
from isometron.surfaces.painter import EVERYWHERE, dashed, draw_arc, draw_label, draw_lines, line_pen
from isometron.surfaces.pens import PENS
from isometron.surfaces.png_file import png_file
from isometron.surfaces.sheet_marks import SheetMarks, check_bar, sheet_marks
from isometron.surfaces.stroke_loops import Strokes
from isometron.wording import tr

__all__ = ["MOST_DPI", "ResolutionError", "paint_sheet", "png_bytes"]

MOST_DPI = 1200
_MOST_PIXELS = 400_000_000


class ResolutionError(IsometronError, ValueError):
    """A resolution that gives no usable picture."""


def png_bytes(
    drawing: Drawing,
    *,
    dpi: float = 300.0,
    construction: bool = True,
    paper: str = "#FFFFFF",
    tell: Tell = unheard,
) -> bytes:
    """Return the sheet as PNG; needs a Qt application object (offscreen is enough).

    Raises `ResolutionError` for a resolution outside 10 to 1200 dpi or a picture of more than 400 megapixels.
    """
    marks = sheet_marks(drawing, construction=construction)
    if not 10.0 <= dpi <= MOST_DPI:
        raise ResolutionError(
            tr(
                "{dpi:g} dpi is not between 10 and {most_dpi}. 300 dpi suits most printers.",
                dpi=dpi,
                most_dpi=MOST_DPI,
            )
        )
    width, height = round(marks.width * dpi / 25.4), round(marks.height * dpi / 25.4)
    if width * height > _MOST_PIXELS:
        raise ResolutionError(
            tr(
                "{width} x {height} pixels is too large a picture. Choose a lower resolution.",
                width=width,
                height=height,
            )
        )
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(QColor(paper))
    painter = QPainter(image)
    try:
        paint_sheet(painter, marks, width / marks.width, part_of(tell, 0.0, 0.4))
    finally:
        painter.end()
    bits: Any = image.constBits()
    assert bits is not None
    pixels = np.frombuffer(bits.asarray(image.sizeInBytes()), np.uint8).reshape(height, image.bytesPerLine() // 4, 4)
    return png_file(pixels[:, :width], round(dpi / 0.0254), part_of(tell, 0.4, 1.0))


def paint_sheet(painter: QPainter, marks: SheetMarks, scale: float, tell: Tell = unheard) -> None:
    """Paint the sheet's marks and its check bar; ``scale`` is device units per mm, y down from the upper edge."""
    load_fonts()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    note = check_bar(marks.width, marks.height)
    for role, _, shape in telling(marks.arcs, part_of(tell, 0.0, 0.5)):
        place = np.array([shape[0] * scale, (marks.height - shape[1]) * scale])
        pen, dash = line_pen(PENS[role].colour, PENS[role].width * scale), PENS[role].dash
        if dash is None:
            draw_arc(painter, np.concatenate((place, shape[2:])), scale, pen)
        else:
            strokes = Strokes(scale, -scale, 0.0, marks.height * scale, EVERYWHERE, EVERYWHERE)
            strokes.set_dash(dash[0] * scale, dash[1] * scale)
            strokes.add_arcs(np.array(shape, dtype=np.float64).reshape(1, 7), np.zeros(1, np.int8), 0)
            draw_lines(painter, strokes.all, pen)
    for role, _, points in telling(marks.lines, part_of(tell, 0.5, 1.0)):
        device = _device(points, marks.height, scale)
        dash = PENS[role].dash
        if dash:
            device = dashed(device, dash[0] * scale, dash[1] * scale)
        draw_lines(painter, device, line_pen(PENS[role].colour, PENS[role].width * scale))
    draw_lines(painter, _device(note.lines, marks.height, scale), line_pen("#1F2424", 0.18 * scale))
    for label in (*marks.labels, *note.labels):
        x, y = label.u * scale, (marks.height - label.v) * scale
        draw_label(painter, label, x, y, scale, PENS[label.role].colour)


def _device(points: np.ndarray, height: float, scale: float) -> np.ndarray:
    return np.column_stack([points[:, 0], height - points[:, 1], points[:, 2], height - points[:, 3]]) * scale
