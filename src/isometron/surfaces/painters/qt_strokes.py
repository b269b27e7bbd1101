"""Single marks painted with Qt: zero-copy line buffers, dashes split in compiled loops, fills, pictures, lettering."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import EXACT
from isometron.solve.marks import Label, Raster
from isometron.surfaces.fonts import LETTERING_FONT
from isometron.surfaces.stroke_loops import Strokes

__all__ = [
    "EVERYWHERE",
    "dashed",
    "draw_arc",
    "draw_fill",
    "draw_label",
    "draw_lines",
    "draw_raster",
    "draw_run",
    "line_pen",
]

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


def draw_run(painter: QPainter, run: Floats, pen: QPen) -> None:
    """Paint a polyline (M, 2) as one stroke with rounded joints; it closes where it ends at its start."""
    joined = QPen(pen)
    joined.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(joined)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in run]))
    if np.array_equal(run[0], run[-1]):
        path.closeSubpath()
    painter.drawPath(path)


def dashed(points: Floats, dash: float, gap: float) -> Floats:
    """Split lines (N, 4) into dashes (M, 4), anchored at each line's start.

    Qt's own dashes cost about twice a solid line; these cost less than one. Lines so long that the dashes
    would number more than any sheet shows are left solid.
    """
    strokes = Strokes(1.0, 0.0, 0.0, EVERYWHERE, EVERYWHERE)
    strokes.set_dash(dash, gap)
    # Strokes turn the paper's upward v into the device's downward y.
    flip = np.array([1.0, -1.0, 1.0, -1.0])
    strokes.add_lines(np.ascontiguousarray(points * flip), np.zeros(len(points), dtype=np.int8), 0)
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
    if last - first >= 2 * np.pi - EXACT:
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


def draw_fill(painter: QPainter, rings: Sequence[Floats], to_device: Floats, colour: QColor) -> None:
    """Fill a polygon with holes, its ``rings`` (N, 2) in mm; ``to_device`` (3, 3) takes mm of paper to device units.

    A stroke of half a device unit closes the hairline gaps that smoothing leaves between neighbours.
    """
    painter.setPen(QPen(colour, 0.5))
    painter.setBrush(colour)
    painter.drawPath(_path_of(rings, to_device))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _path_of(rings: Sequence[Floats], to_device: Floats) -> QPainterPath:
    """Return polygons (N, 2) in mm of paper as a path in device units; what lies in two of them is a hole."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for ring in rings:
        points = ring @ to_device[:2, :2].T + to_device[:2, 2]
        path.addPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in points]))
        path.closeSubpath()
    return path


def draw_raster(painter: QPainter, raster: Raster, to_device: Floats) -> None:
    """Paint a picture as it lies; ``to_device`` (3, 3) takes mm of paper to device units."""
    pixels = np.ascontiguousarray(raster.pixels)
    height, width = pixels.shape[:2]
    image = QImage(pixels.data, width, height, 3 * width, QImage.Format.Format_RGB888)  # type: ignore[call-overload]
    painter.save()
    painter.setOpacity(raster.strength)
    if raster.within:
        # Whole pixels belong to one face or to its neighbour: smoothed rims would show the paper between them.
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setClipPath(_path_of(raster.within, to_device), Qt.ClipOperation.IntersectClip)
    # Qt takes rows of points times the matrix.
    painter.setTransform(QTransform(*(float(value) for value in (to_device @ raster.place).T.ravel())), True)
    painter.drawImage(QPointF(0.0, 0.0), image)
    painter.restore()
