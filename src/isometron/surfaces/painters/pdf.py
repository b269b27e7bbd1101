"""PDF at true scale: the page has the sheet's size to a hundredth of a point, the lettering its own font inside."""

from __future__ import annotations

import io
from collections.abc import Sequence
from importlib import resources
from typing import Any, ClassVar

import numpy as np

from isometron import __version__
from isometron.geometry.chains import runs
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Raster, Role, Singles
from isometron.surfaces.page import Page, sheet_page, with_check_bar
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.rasters import STRAIGHTENED, laid
from isometron.surfaces.pens import PENS, tone_colour

__all__ = ["FONT", "POINTS_PER_MM", "PdfPainter", "page_maker", "pdf_bytes", "pdf_of"]

POINTS_PER_MM = 72.0 / 25.4
FONT = "RoutedGothic"


def pdf_bytes(drawing: Drawing, *, construction: bool = True) -> bytes:
    """Return the sheet as a one-page PDF with a check bar in the margin. Coordinates are points, y up."""
    return pdf_of(with_check_bar(sheet_page(drawing, construction=construction)))


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
    canvas.setAuthor("")
    canvas.setSubject("")
    canvas.setCreator("Isometron")
    canvas.setProducer(f"Isometron {__version__}")
    return canvas, out


def pdf_of(page: Page) -> bytes:
    """Return a page as a PDF of one page."""
    canvas, out = page_maker(page.title, page.width, page.height)
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    paint([page.marks], PdfPainter(canvas, (0.0, 0.0, page.width, page.height)))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


class PdfPainter:
    """Strokes marks on a page; ``scale`` is how much larger than its millimetres the page shows them, but for pens."""

    notes: ClassVar[dict[str, str]] = STRAIGHTENED
    picks: ClassVar[bool] = False

    def __init__(self, canvas: Any, page: tuple[float, float, float, float], scale: float = 1.0) -> None:
        self._canvas, self._page, self._scale = canvas, page, scale
        canvas.setLineCap(0)
        canvas.setLineJoin(1)  # outlines are hundreds of short lines: no tick stands out at their joints

    def _take(self, role: Role) -> None:
        pen = PENS[role]
        self._canvas.setStrokeColor(pen.colour)
        self._canvas.setLineWidth(pen.width / self._scale)
        self._canvas.setDash(*([[part / self._scale for part in pen.dash]] if pen.dash else []))

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Lay pictures; a slanted one is resampled."""
        from reportlab.lib.utils import ImageReader

        for raster in marks:
            found = laid(raster, self._page)
            if found is None:
                continue
            m = found.raster.place / found.raster.place[2, 2]
            height, width = found.raster.pixels.shape[:2]
            self._canvas.saveState()
            self._canvas.setFillAlpha(raster.strength)
            if raster.within:
                self._canvas.clipPath(self._path(raster.within), stroke=0, fill=0, fillMode=0)
            self._canvas.transform(m[0, 0], m[1, 0], m[0, 1], m[1, 1], m[0, 2], m[1, 2])
            # Pixels count downwards, the page upwards.
            self._canvas.transform(1, 0, 0, -1, 0, height)
            image = ImageReader(io.BytesIO(found.data))
            self._canvas.drawImage(image, 0, 0, width, height, mask="auto")
            self._canvas.restoreState()

    def fills(self, role: Role, marks: Fills) -> None:
        """Fill polygons; a thin stroke of the same tone closes the hairline gaps between neighbours."""
        self._canvas.setDash()
        self._canvas.setLineWidth(0.05 / self._scale)
        marks = marks.straightened(_CHORD)
        for row, tone in enumerate(marks.tone.tolist()):
            colour = tone_colour(tone)
            self._canvas.setFillColor(colour)
            self._canvas.setStrokeColor(colour)
            self._canvas.drawPath(self._path(marks.rings(row)), stroke=1, fill=1, fillMode=0)

    def _path(self, rings: Sequence[Floats]) -> Any:
        path = self._canvas.beginPath()
        for ring in rings:
            path.moveTo(*ring[0])
            for point in ring[1:]:
                path.lineTo(*point)
            path.close()
        return path

    def lines(self, role: Role, marks: Lines) -> None:
        """Stroke lines as one path."""
        self._take(role)
        _stroke_lines(self._canvas, marks.points)

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Stroke arcs as cubics."""
        self._take(role)
        for shape in marks.shape:
            _stroke_arc(self._canvas, shape)

    def curves(self, role: Role, marks: Curves) -> None:
        """Stroke cubic pieces, those that run on without a joint."""
        self._take(role)
        text, last = [], np.full(2, np.nan)
        for piece in marks.points:
            if not np.array_equal(piece[:2], last):
                text.append(f"{piece[0]:.4f} {piece[1]:.4f} m")
            text.append(" ".join(f"{number:.4f}" for number in piece[2:]) + " c")
            last = piece[6:]
        _stroke(self._canvas, " ".join(text) + " ")

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Set lettering."""
        for label in marks:
            self._canvas.setFillColor(PENS[label.role].colour)
            self._canvas.setFont(FONT, label.size)
            draw = {-1: self._canvas.drawString, 0: self._canvas.drawCentredString, 1: self._canvas.drawRightString}
            draw[label.anchor](label.u, label.v, label.text)


def load_font() -> None:
    """Make the lettering's font known to the page maker."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    if FONT not in pdfmetrics.getRegisteredFontNames():
        data = resources.files("isometron.assets").joinpath("fonts/RoutedGothic-Regular.ttf").read_bytes()
        pdfmetrics.registerFont(TTFont(FONT, io.BytesIO(data)))


def _stroke_lines(canvas: Any, points: Floats) -> None:
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


_CHORD = 0.003
"""mm that chords of a fill's bent side may lie off it."""
_PIECE = np.pi / 12
"""Of an arc that one cubic draws: it strays from it by a part in some ten million of the radius."""


def _stroke_arc(canvas: Any, shape: Floats) -> None:
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
