"""Painting with Qt: zero-copy line buffers, dashes split in compiled loops, lettering. Used by the board and by PNG."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from isometron.geometry.frames import Floats
from isometron.solve.marks import Label
from isometron.surfaces.fonts import LETTERING_FONT
from isometron.surfaces.stroke_loops import Strokes

__all__ = ["EVERYWHERE", "dashed", "draw_arc", "draw_label", "draw_lines", "line_pen"]

EVERYWHERE = (-1e9, -1e9, 1e9, 1e9)
"""Left, top, right, bottom of a window that leaves nothing out."""


def line_pen(colour: str, width: float) -> QPen:
    """Return a solid pen with flat caps: round caps on one long list of lines cost many times as much."""
    return QPen(QColor(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)


def draw_lines(painter: QPainter, points: Floats, pen: QPen) -> None:
    """Paint lines (N, 4) x1, y1, x2, y2 in one call; their numbers are written straight into Qt's array."""
    if len(points) == 0:
        return
    buffer: Any = sip.array(QLineF, len(points))  # type: ignore[call-arg]
    np.frombuffer(buffer, dtype=np.float64)[:] = points.ravel()
    painter.setPen(pen)
    painter.drawLines(buffer)


def dashed(points: Floats, dash: float, gap: float) -> Floats:
    """Split lines (N, 4) into dashes (M, 4), anchored at each line's start.

    Qt's own dashes cost about twice a solid line; these cost less than one. Lines so long that the dashes
    would number more than any sheet shows are left solid.
    """
    strokes = Strokes(1.0, 1.0, 0.0, 0.0, EVERYWHERE, EVERYWHERE)
    strokes.set_dash(dash, gap)
    strokes.add_lines(np.ascontiguousarray(points), np.zeros(len(points), dtype=np.int8), 0)
    found: Floats = strokes.all
    return found


def draw_arc(painter: QPainter, shape: Floats, scale: float, pen: QPen) -> None:
    """Paint one arc of `solve.marks.Arcs`, already in device coordinates (y down) but for its radii in mm."""
    x, y, a, b, angle, first, last = shape
    painter.save()
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.translate(x, y)
    painter.rotate(-float(np.degrees(angle)))
    box = QRectF(-a * scale, -b * scale, 2 * a * scale, 2 * b * scale)
    if last - first >= 2 * np.pi - 1e-12:
        painter.drawEllipse(box)
    else:
        painter.drawArc(box, round(float(np.degrees(first)) * 16), round(float(np.degrees(last - first)) * 16))
    painter.restore()


def draw_label(painter: QPainter, label: Label, x: float, y: float, scale: float, colour: str) -> None:
    """Paint lettering with its base line at (x, y); ``scale`` is device units per mm of paper."""
    font = QFont(LETTERING_FONT)
    font.setPixelSize(100)
    width = QFontMetricsF(font).horizontalAdvance(label.text) if label.anchor >= 0 else 0.0
    painter.save()
    painter.setFont(font)
    painter.setPen(QColor(colour))
    painter.translate(x, y)
    # Set at 100 units and scaled, so that lettering keeps its shape at any zoom and resolution.
    size = label.size * scale / 100.0
    painter.scale(size, size)
    painter.drawText(QPointF(-width * (label.anchor + 1) / 2, 0.0), label.text)
    painter.restore()
