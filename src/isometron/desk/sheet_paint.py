"""Painting table, sheet and marks into the pixels of an image: fine lines by compiled loops, the rest by Qt."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QRect, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter, QRegion

from isometron.desk.board_view import BoardView
from isometron.desk.theme import Tone
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Label, Role
from isometron.surfaces.painter import EVERYWHERE, draw_label, draw_lines, line_pen
from isometron.surfaces.pens import PENS
from isometron.surfaces.raster_loops import Raster
from isometron.surfaces.stroke_loops import Strokes

__all__ = ["paint_drawing", "sheet_rectangle", "strokes_in"]

_LEAST_PIXELS = {Role.OBJECT: 1.35, Role.HORIZON: 1.0}
_FINE = 6.0
"""Pixels of a desktop; a wider pen is painted by Qt, which cuts its ends square however it slants."""
_EDGE_MARGIN = 4.0
_ROOM = 16384
"""Lines of a full sheet that there is room for at once."""


def paint_drawing(
    image: QImage, drawing: Drawing, view: BoardView, *, ratio: float = 1.0, part: QRect | None = None
) -> None:
    """Paint table, sheet and all marks; what runs off the sheet goes on over the table in the table's colours.

    ``image``: RGB32, with a device pixel ratio of 1; ``view`` and ``part``, the only rectangle to be painted, are in its
    pixels. ``ratio``: how many of them a pixel of the desktop is wide.
    """
    # A part without any pixels is one too: what was dragged is out of sight.
    in_part, part = part is not None, image.rect() if part is None else part
    inks = _Inks(image, part, ratio)
    sheet = sheet_rectangle(drawing, view)
    # Whole pixels: the rims are crisp, and filling them smoothly would cost as much as hundreds of lines.
    whole = sheet.toRect()
    window = QRectF(part).adjusted(-_EDGE_MARGIN, -_EDGE_MARGIN, _EDGE_MARGIN, _EDGE_MARGIN).getCoords()
    strokes, layers = _layers(drawing, view, window, sheet, ratio, in_part=in_part)
    inks.lay_table(whole)
    off, all_lines = strokes.leaving, strokes.all
    for layer in layers:
        inks.draw(off[layer.off], PENS[layer.role].on_table, _pen_width(layer.role, view.scale, ratio))
    inks.lay_sheet(whole)
    for layer in layers:
        inks.draw(all_lines[layer.lines], PENS[layer.role].colour, _pen_width(layer.role, view.scale, ratio))
    for label in drawing.labels:
        _letter(inks.painter, label, view, ratio, part)
    inks.painter.end()


def _letter(painter: QPainter, label: Label, view: BoardView, ratio: float, part: QRect) -> None:
    """Paint lettering if it may reach into ``part``."""
    x, y = view.point_to_screen(label.u, label.v)
    size = max(label.size, 11.0 * ratio / view.scale)
    # Lettering that would be too small to read is set larger, and moves away from its line by as much.
    y += (size - label.size) * view.scale if label.role is Role.HORIZON else 0.0
    high = size * view.scale
    wide = high * len(label.text)  # no letter is wider than it is high
    if QRectF(x - wide * (label.anchor + 1) / 2, y - 1.5 * high, wide, 2.5 * high).intersects(QRectF(part)):
        draw_label(painter, replace(label, size=size), x, y, view.scale, PENS[label.role].colour)


class _Inks:
    """Colours an image: fine lines pixel by pixel, all else with Qt's painter."""

    def __init__(self, image: QImage, part: QRect, ratio: float) -> None:
        self._part, self._ratio = part, ratio
        bits = image.bits()
        assert bits is not None
        bits.setsize(image.sizeInBytes())
        self._raster = Raster(np.frombuffer(bits, dtype=np.uint32), image.bytesPerLine() // 4)  # type: ignore[call-overload]
        self.painter = QPainter(image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._clip_to(part)

    def _clip_to(self, part: QRect) -> None:
        self.painter.setClipRect(part)
        self._raster.clip_to(part.left(), part.top(), part.left() + part.width(), part.top() + part.height())

    def lay_table(self, sheet: QRect) -> None:
        """Paint the table where the sheet does not cover it."""
        if sheet.contains(self._part):
            return
        self.painter.setClipRegion(QRegion(self._part).subtracted(QRegion(sheet)))
        self.painter.fillRect(self._part, QColor(Tone.TABLE))
        self._clip_to(self._part)

    def lay_sheet(self, sheet: QRect) -> None:
        """Paint the sheet with its shadow; from here on nothing else is painted on."""
        if not sheet.contains(self._part):
            for strip in self._shadow(sheet):
                self.painter.fillRect(strip, QColor(Tone.SHADOW))
        self.painter.fillRect(sheet, QColor(Tone.SHEET))
        self._clip_to(sheet.intersected(self._part))

    def _shadow(self, sheet: QRect) -> tuple[QRect, QRect]:
        """Return what is seen of the sheet's shadow: a strip at its right and one below."""
        wide, high = round(4 * self._ratio), round(5 * self._ratio)
        right = QRect(sheet.x() + sheet.width(), sheet.y() + high, wide, sheet.height())
        below = QRect(sheet.x() + wide, sheet.y() + sheet.height(), sheet.width() - wide, high)
        return right, below

    def draw(self, lines: Floats, colour: str, width: float) -> None:
        """Draw lines (N, 4), pixels."""
        if width > _FINE * self._ratio:
            draw_lines(self.painter, lines, line_pen(colour, width))
        elif len(lines):
            self._raster.draw(lines, QColor(colour).rgb() & 0xFFFFFF, width)


def sheet_rectangle(drawing: Drawing, view: BoardView) -> QRectF:
    """Return the sheet in pixels."""
    left, lower, right, upper = drawing.document.sheet.rectangle
    x0, y0 = view.point_to_screen(left, upper)
    x1, y1 = view.point_to_screen(right, lower)
    return QRectF(x0, y0, x1 - x0, y1 - y0)


class _Layer(NamedTuple):
    """Where the lines of a role are, among all and among those that leave the sheet."""

    role: Role
    lines: slice
    off: slice


def _layers(
    drawing: Drawing,
    view: BoardView,
    window: tuple[float, float, float, float],
    sheet: QRectF,
    ratio: float,
    *,
    in_part: bool,
) -> tuple[Strokes, list[_Layer]]:
    """Return, role by role, the lines and the chords of the arcs in pixels, clipped to the window and dashed."""
    strokes = strokes_in(view, window, sheet.getCoords(), room=1024 if in_part else _ROOM)
    lines = [drawing.aids, drawing.edges, drawing.rounds.lines]
    arcs = [drawing.rounds.arcs, *([drawing.arcs] if drawing.document.show.construction else [])]
    if in_part:
        # Few of many: they are looked through once, and not again for every role.
        lines = [marks.select(strokes.lines_near(marks.points)) for marks in lines]
        arcs = [marks.select(strokes.arcs_near(marks.shape)) for marks in arcs]
    counts = np.bincount(
        np.concatenate([*(marks.role for marks in lines), *(bent.role for bent in arcs)]), minlength=len(Role)
    )
    layers = []
    for role in (role for role in Role if counts[role]):
        first, first_off = strokes.count, strokes.off_count
        strokes.set_dash(*_dash_pixels(role, view.scale, ratio))
        for marks in lines:
            strokes.add_lines(marks.points, marks.role, role)
        for bent in arcs:
            strokes.add_arcs(bent.shape, bent.role, role)
        layers.append(_Layer(role, slice(first, strokes.count), slice(first_off, strokes.off_count)))
    return strokes, layers


def strokes_in(
    view: BoardView,
    window: tuple[float, float, float, float],
    sheet: tuple[float, float, float, float] = EVERYWHERE,
    *,
    room: int = 1024,
) -> Strokes:
    """Return strokes that turn marks in mm into lines in pixels of a view."""
    return Strokes(view.scale, -view.scale, view.origin_x, view.origin_y, window, sheet, room)


def _dash_pixels(role: Role, scale: float, ratio: float) -> tuple[float, float]:
    """Return dash and gap of a role, so long that they can still be told apart on the screen; 0 and 0 for whole lines."""
    dash = PENS[role].dash
    return (0.0, 0.0) if dash is None else (max(dash[0] * scale, 4.0 * ratio), max(dash[1] * scale, 3.0 * ratio))


def _pen_width(role: Role, scale: float, ratio: float) -> float:
    return max(PENS[role].width * scale, _LEAST_PIXELS.get(role, 1.0) * ratio)
