"""PDF at true scale: the page has the sheet's size to a hundredth of a point, the lettering its own font inside."""

from __future__ import annotations

import io
from importlib import resources
from typing import Any

import numpy as np

from isometron import __version__
from isometron.geometry.chains import runs
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Label
from isometron.surfaces.pens import PENS
from isometron.surfaces.sheet_marks import SheetMarks, check_bar, sheet_marks

__all__ = ["FONT", "POINTS_PER_MM", "draw_arc", "page_maker", "pdf_bytes", "pdf_of", "stroke_lines"]

POINTS_PER_MM = 72.0 / 25.4
FONT = "RoutedGothic"


def pdf_bytes(drawing: Drawing, *, construction: bool = True) -> bytes:
    """Return the sheet as a one-page PDF with a check bar in the margin. Coordinates are points, y up."""
    return pdf_of(sheet_marks(drawing, construction=construction))


def page_maker(title: str, width: float, height: float) -> tuple[Any, io.BytesIO]:
    """Return a canvas for pages of ``width`` x ``height`` mm in points, and where its bytes go when it is saved.

    It knows the lettering's font and no other: every font that it names lies in the file.
    """
    from reportlab.pdfgen.canvas import Canvas  # a tenth of a second, so only when a page is made

    load_font()
    out = io.BytesIO()
    size = (width * POINTS_PER_MM, height * POINTS_PER_MM)
    canvas = Canvas(out, pagesize=size, pageCompression=1, initialFontName=FONT)
    canvas.setTitle(title)
    canvas.setCreator("Isometron")
    canvas.setProducer(f"Isometron {__version__}")
    return canvas, out


def pdf_of(marks: SheetMarks) -> bytes:
    """Return marks on a sheet as a one-page PDF with a check bar in the margin."""
    canvas, out = page_maker(marks.title, marks.width, marks.height)
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
    on = (points[1:, :2] == points[:-1, 2:]).all(axis=1)
    if not on.any():
        _stroke(canvas, ("%.4f %.4f m %.4f %.4f l " * len(points)) % tuple(points.ravel()))
        return
    parts = []
    for run in runs(points):
        (x, y), *others = run.tolist()
        parts.append(f"{x:.4f} {y:.4f} m " + "".join(f"{x:.4f} {y:.4f} l " for x, y in others))
    _stroke(canvas, "".join(parts))


def _stroke(canvas: Any, operators: str) -> None:
    from reportlab.pdfgen.pathobject import PDFPathObject

    canvas.drawPath(PDFPathObject([operators]), stroke=1, fill=0)


_PIECE = np.pi / 12
"""Of an arc that one cubic draws: it strays from it by a part in some ten million of the radius."""


def draw_arc(canvas: Any, shape: Floats) -> None:
    """Stroke one elliptical arc (7,) as cubics, by the usual tangents of 4/3 tan(t/4) (Goldapp 1991)."""
    u, v, a, b, angle, first, last = (float(x) for x in shape)
    count = max(int(np.ceil(abs(last - first) / _PIECE)), 1)
    t = np.linspace(first, last, count + 1)
    reach = 4.0 / 3.0 * np.tan((last - first) / count / 4.0)
    axes = np.array([[a * np.cos(angle), a * np.sin(angle)], [-b * np.sin(angle), b * np.cos(angle)]])
    at = np.array([u, v]) + np.column_stack([np.cos(t), np.sin(t)]) @ axes
    way = reach * np.column_stack([-np.sin(t), np.cos(t)]) @ axes
    cubics = np.hstack([at[:-1] + way[:-1], at[1:] - way[1:], at[1:]])
    start = f"{at[0, 0]:.4f} {at[0, 1]:.4f} m "
    _stroke(canvas, start + ("%.4f %.4f %.4f %.4f %.4f %.4f c " * count) % tuple(cubics.ravel()))


def _letter(canvas: Any, label: Label) -> None:
    canvas.setFillColor(PENS[label.role].colour)
    canvas.setFont(FONT, label.size)
    draw = {-1: canvas.drawString, 0: canvas.drawCentredString, 1: canvas.drawRightString}[label.anchor]
    draw(label.u, label.v, label.text)
