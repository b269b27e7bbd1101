"""Painting with Qt: zero-copy line buffers, dashes split in NumPy, lettering. Used by the board and by PNG."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from isometron.geometry.frames import Floats
from isometron.solve.marks import Arcs, Label, Role
from isometron.surfaces.fonts import LETTERING_FONT

__all__ = ["chords", "dashed", "draw_arc", "draw_label", "draw_lines", "line_pen"]

_MOST_DASHES = 200_000


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


def dashed(points: Floats, dash: float, gap: float, phase: Floats | None = None) -> Floats:
    """Split lines (N, 4) into dashes (M, 4), anchored at each line's start, or ``phase`` (N,) before it.

    Qt's own dashes cost about twice a solid line; these cost less than one. Lines so long that the dashes
    would number more than any sheet shows are left solid.
    """
    if len(points) == 0:
        return points
    start, along = points[:, :2], points[:, 2:] - points[:, :2]
    length, period = np.hypot(along[:, 0], along[:, 1]), dash + gap
    gone = np.zeros(len(points)) if phase is None else phase
    first = np.floor(gone / period)
    count = np.maximum(np.ceil((gone + length) / period) - first, 0.0).astype(np.intp)
    if count.sum() > _MOST_DASHES:
        return points
    row = np.repeat(np.arange(len(points)), count)
    number = np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    begin = (first[row] + number) * period - gone[row]
    with np.errstate(invalid="ignore", divide="ignore"):
        t0, t1 = np.maximum(begin / length[row], 0.0), np.minimum((begin + dash) / length[row], 1.0)
    drawn = t1 > t0
    row, t0, t1 = row[drawn], t0[drawn], t1[drawn]
    return np.hstack([start[row] + t0[:, None] * along[row], start[row] + t1[:, None] * along[row]])


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
    width = QFontMetricsF(font).horizontalAdvance(label.text)
    painter.save()
    painter.setFont(font)
    painter.setPen(QColor(colour))
    painter.translate(x, y)
    # Set at 100 units and scaled, so that lettering keeps its shape at any zoom and resolution.
    size = label.size * scale / 100.0
    painter.scale(size, size)
    painter.drawText(QPointF(-width * (label.anchor + 1) / 2, 0.0), label.text)
    painter.restore()


def chords(arcs: Arcs, role: Role, scale: float, dash: tuple[float, float] | None = None) -> Floats:
    """Return the arcs of one role as short lines (N, 4) in mm that stray from them by less than a fifth of a pixel.

    scale : pixels for a millimetre; dash : mm drawn and mm left out, or None for whole arcs. Many short lines in one
    call are painted several times quicker than arcs.
    """
    shape = arcs.shape[arcs.role == role]
    if len(shape) == 0:
        return np.zeros((0, 4))
    radius = max(float(shape[:, 2].max()) * scale, 1.0)
    steps = int(np.clip(np.ceil(np.pi / np.sqrt(2 * 0.2 / radius)), 12, 180))
    lines = _chords(shape, np.linspace(0.0, 1.0, steps + 1))
    if dash is None:
        return lines
    # Dashes are counted along each arc, over the joints between its chords.
    length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1]).reshape(len(shape), steps)
    return dashed(lines, *dash, phase=(np.cumsum(length, axis=1) - length).ravel())


def _chords(shape: Floats, part: Floats) -> Floats:
    """Return lines between the points of arcs (N, 7) at parts (K,) of their way, arc by arc."""
    t = shape[:, 5, None] + part * (shape[:, 6] - shape[:, 5])[:, None]
    x, y = shape[:, 2, None] * np.cos(t), shape[:, 3, None] * np.sin(t)
    cos, sin = np.cos(shape[:, 4, None]), np.sin(shape[:, 4, None])
    u, v = shape[:, 0, None] + x * cos - y * sin, shape[:, 1, None] + x * sin + y * cos
    return np.column_stack([u[:, :-1].ravel(), v[:, :-1].ravel(), u[:, 1:].ravel(), v[:, 1:].ravel()])
