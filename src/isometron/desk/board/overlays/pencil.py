"""Where the pencil is while keys carry it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.frame.theme import Tone

__all__ = ["PENCIL"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Paint where the pencil is while keys carry it."""
    if on.pencil is None:
        return
    x, y = on.pencil
    painter.setPen(QPen(QColor(Tone.ACCENT), 1.4))
    for dx, dy in ((1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)):
        painter.drawLine(QPointF(x + 4 * dx, y + 4 * dy), QPointF(x + 13 * dx, y + 13 * dy))


PENCIL = Overlay(_paint)
