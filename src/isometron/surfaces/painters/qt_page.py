"""A page painted with Qt: into a picture, or onto a printer's paper."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.geometry.chains import runs
from isometron.geometry.frames import Floats
from isometron.progress import Tell, telling, unheard
from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Raster, Role, Singles
from isometron.surfaces.fonts import load_fonts
from isometron.surfaces.page import Page
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.qt_strokes import (
    EVERYWHERE,
    dashed,
    draw_arc,
    draw_fill,
    draw_label,
    draw_lines,
    draw_raster,
    draw_run,
    line_pen,
)
from isometron.surfaces.pens import PENS, Pen, tone_colour
from isometron.surfaces.stroke_loops import Strokes

__all__ = ["QtPagePainter", "paint_page"]


_CHORD = 0.05
"""Device units that chords of a fill's bent side may lie off it."""
_WIDE = 2.5
"""Device units: of narrower pens nobody sees the joints."""


def paint_page(painter: QPainter, page: Page, scale: float, tell: Tell = unheard) -> None:
    """Paint a page; ``scale`` is device units per mm, y down from the upper edge."""
    load_fonts()
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
    paint([page.marks], QtPagePainter(painter, page.height, scale, tell))


class QtPagePainter:
    """Paints marks with Qt, each as it is.

    height : of the page in mm; scale : device units per mm; pen_scale : the same for the pens and their dashes, where they
    are to differ; least : device units that no pen is narrower than.
    """

    notes: ClassVar[dict[str, str]] = {}
    picks: ClassVar[bool] = False

    def __init__(
        self,
        painter: QPainter,
        height: float,
        scale: float,
        tell: Tell = unheard,
        *,
        pen_scale: float | None = None,
        least: float = 0.0,
    ) -> None:
        self._painter, self._height, self._scale, self._tell = painter, height, scale, tell
        self._pen_scale, self._least = scale if pen_scale is None else pen_scale, least

    def _pen(self, role: Role) -> QPen:
        return line_pen(PENS[role].colour, max(PENS[role].width * self._pen_scale, self._least))

    def _dash(self, pen: Pen) -> tuple[float, float]:
        return (0.0, 0.0) if pen.dash is None else (pen.dash[0] * self._pen_scale, pen.dash[1] * self._pen_scale)

    @property
    def _to_device(self) -> Floats:
        return np.array([[self._scale, 0.0, 0.0], [0.0, -self._scale, self._height * self._scale], [0.0, 0.0, 1.0]])

    def _strokes(self, pen: Pen) -> Strokes:
        strokes = Strokes(self._scale, 0.0, self._height * self._scale, EVERYWHERE, EVERYWHERE)
        strokes.set_dash(*self._dash(pen))
        return strokes

    def _draw(self, lines: Floats, role: Role) -> None:
        draw_lines(self._painter, lines, self._pen(role))

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Paint pictures as they lie, slanted or not."""
        for raster in marks:
            draw_raster(self._painter, raster, self._to_device)

    def fills(self, role: Role, marks: Fills) -> None:
        """Fill polygons."""
        marks = marks.straightened(_CHORD / self._scale)
        for row, tone in enumerate(marks.tone.tolist()):
            draw_fill(self._painter, marks.rings(row), self._to_device, QColor(tone_colour(tone)))

    def lines(self, role: Role, marks: Lines) -> None:
        """Paint straight marks, in dashes where the pen has any."""
        if PENS[role].dash is None and self._pen(role).widthF() >= _WIDE:
            self._draw_runs(marks.points, role)
            return
        count = max(1, len(marks) // 2000)
        for points in telling(np.array_split(marks.points, count), self._tell):
            self._draw(self._placed(points, PENS[role]), role)

    def _draw_runs(self, points: Floats, role: Role) -> None:
        """Draw lines, those that run on as one stroke with joined corners: at a printer's size each joint would show."""
        placed = self._placed(points, PENS[role])
        on = (placed[1:, :2] == placed[:-1, 2:]).all(axis=1)
        single = ~(np.append(False, on) | np.append(on, False))
        count = max(1, int(single.sum()) // 2000)
        for part in telling(np.array_split(placed[single], count), self._tell):
            self._draw(np.ascontiguousarray(part), role)
        for run in runs(placed[~single]):
            draw_run(self._painter, run, self._pen(role))

    def _placed(self, points: Floats, pen: Pen) -> Floats:
        flat = points.reshape(-1, 2) * (self._scale, -self._scale) + (0.0, self._height * self._scale)
        device: Floats = np.ascontiguousarray(flat.reshape(-1, 4))
        return device if pen.dash is None else dashed(device, *self._dash(pen))

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Paint arcs; dashed ones as chords."""
        pen = PENS[role]
        if pen.dash is not None:
            strokes = self._strokes(pen)
            strokes.add_arcs(np.ascontiguousarray(marks.shape), marks.role, role)
            self._draw(strokes.all, role)
            return
        qt_pen = self._pen(role)
        for shape in marks.shape:
            place = (shape[0] * self._scale, (self._height - shape[1]) * self._scale)
            draw_arc(self._painter, np.concatenate((place, shape[2:])), self._scale, qt_pen)

    def curves(self, role: Role, marks: Curves) -> None:
        """Paint cubic pieces as chords so short that no eye tells them from the curve."""
        strokes = self._strokes(PENS[role])
        strokes.add_curves(np.ascontiguousarray(marks.points), marks.role, role)
        self._draw(strokes.all, role)

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Set lettering."""
        for label in marks:
            at = QPointF(label.u * self._scale, (self._height - label.v) * self._scale)
            draw_label(self._painter, label, at.x(), at.y(), self._scale, PENS[label.role].colour)
