"""Warnings at their places, each a small triangle, so that colour is not the only sign."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.frame.theme import Tone

__all__ = ["CAUTIONS"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Mark each warning at its place with a small triangle, so that colour is not the only sign."""
    painter.setPen(QPen(QColor("#FFFFFF"), 1.0))
    for finding in on.drawing.findings if "cautions" in on.asked else ():
        if finding.at is None:
            continue
        x, y = on.view.point_to_screen(*finding.at)
        painter.setBrush(QColor(Tone.CAUTION))
        painter.drawPolygon(QPointF(x, y - 9.0), QPointF(x + 9.0, y + 7.0), QPointF(x - 9.0, y + 7.0))
        painter.drawLine(QPointF(x, y - 3.5), QPointF(x, y + 2.0))
        painter.drawPoint(QPointF(x, y + 4.5))
    painter.setBrush(Qt.BrushStyle.NoBrush)


CAUTIONS = Overlay(_paint)
