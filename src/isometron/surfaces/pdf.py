"""PDF at true scale: the page has the sheet's size to a hundredth of a point, the lettering its own font inside."""

from __future__ import annotations

import io
from importlib import resources
from typing import Any

import numpy as np

from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Label
from isometron.surfaces.pens import PENS
from isometron.surfaces.sheet_marks import SheetMarks, check_bar, sheet_marks

__all__ = ["FONT", "POINTS_PER_MM", "draw_arc", "load_font", "pdf_bytes", "pdf_of", "stroke_lines"]

POINTS_PER_MM = 72.0 / 25.4
FONT = "RoutedGothic"


def pdf_bytes(drawing: Drawing, *, construction: bool = True) -> bytes:
    """Return the sheet as a one-page PDF with a check bar in the margin. Coordinates are points, y up."""
    return pdf_of(sheet_marks(drawing, construction=construction))


def pdf_of(marks: SheetMarks) -> bytes:
    """Return marks on a sheet as a one-page PDF with a check bar in the margin."""
    from reportlab.pdfgen.canvas import Canvas  # a tenth of a second, so only when a page is made

    out = io.BytesIO()
    canvas = Canvas(
        out,
        pagesize=(marks.width * POINTS_PER_MM, marks.height * POINTS_PER_MM),
        pageCompression=1,
        invariant=1,
    )
    canvas.setTitle(marks.title)
    canvas.setCreator("Isometron")
    load_font()
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    canvas.setLineCap(0)
    for role, _, shape in marks.arcs:
        _use(canvas, PENS[role])
        draw_arc(canvas, shape)
    for role, _, points in marks.lines:
        _use(canvas, PENS[role])
        stroke_lines(canvas, points)
    note = check_bar(marks.width, marks.height)
    canvas.setDash()
    canvas.setLineWidth(0.18)
    canvas.setStrokeColor("#1F2424")
    stroke_lines(canvas, note.lines)
    for label in (*marks.labels, *note.labels):
        _letter(canvas, label)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def load_font() -> None:
    """Make the lettering's font known to the page maker."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    if FONT not in pdfmetrics.getRegisteredFontNames():
        data = resources.files("isometron.assets").joinpath("fonts/RoutedGothic-Regular.ttf").read_bytes()
        pdfmetrics.registerFont(TTFont(FONT, io.BytesIO(data)))


def _use(canvas: Any, pen: Any) -> None:
    canvas.setStrokeColor(pen.colour)
    canvas.setLineWidth(pen.width)
    canvas.setDash(*([list(pen.dash)] if pen.dash else []))


def stroke_lines(canvas: Any, points: Floats) -> None:
    """Stroke lines (N, 4) as one path; its operators are written in one go, which is what makes it quick."""
    from reportlab.pdfgen.pathobject import PDFPathObject

    operators = ("%.4f %.4f m %.4f %.4f l " * len(points)) % tuple(points.ravel())
    canvas.drawPath(PDFPathObject([operators]), stroke=1, fill=0)


def draw_arc(canvas: Any, shape: Floats) -> None:
    """Stroke one elliptical arc (7,)."""
    u, v, a, b, angle, first, last = (float(x) for x in shape)
    canvas.saveState()
    canvas.translate(u, v)
    canvas.rotate(float(np.degrees(angle)))
    canvas.arc(-a, -b, a, b, float(np.degrees(first)), float(np.degrees(last - first)))
    canvas.restoreState()


def _letter(canvas: Any, label: Label) -> None:
    canvas.setFillColor(PENS[label.role].colour)
    canvas.setFont(FONT, label.size)
    draw = {-1: canvas.drawString, 0: canvas.drawCentredString, 1: canvas.drawRightString}[label.anchor]
    draw(label.u, label.v, label.text)
