"""The handles of the active volume; the shape of each tells what it does. Those that the hand is not near are small and quiet."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone
from isometron.geometry.frames import Floats
from isometron.tools.handles import Grip

__all__ = ["HANDLES"]

_ROOM = 9.0
_QUIET = 2.2
"""Pixels: the radius of a handle from afar."""


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Paint handles in the colour of the one direction each moves in; the shape tells what it does."""
    if on.construction is not None or (on.tool.busy and not on.tool.edits):
        return
    for number, handle in enumerate(on.handles):
        x, y = on.view.point_to_screen(*handle.at)
        colour = QColor(DIRECTION_COLOURS[handle.going][1] if handle.going in DIRECTION_COLOURS else Tone.ACCENT)
        painter.setPen(QPen(colour, 2.0))
        painter.setBrush(QColor(Tone.SHEET))
        if number not in on.near:
            painter.setPen(QPen(colour, 1.0))
            painter.drawEllipse(QPointF(x, y), _QUIET, _QUIET)
            continue
        if handle.behind:
            painter.setPen(QPen(colour, 1.4, Qt.PenStyle.DotLine))
        if handle.grip is Grip.FACE:
            painter.drawRect(QRectF(x - 4.5, y - 4.5, 9.0, 9.0))
        elif handle.grip is Grip.MOVE:
            painter.drawPolygon(QPointF(x, y - 7.0), QPointF(x + 9.0, y), QPointF(x, y + 7.0), QPointF(x - 9.0, y))
        elif handle.grip is Grip.LIFT:
            painter.drawPolygon(QPointF(x, y - 7.0), QPointF(x + 7.0, y + 5.0), QPointF(x - 7.0, y + 5.0))
        elif handle.grip is Grip.SLIDE:
            for step in (-4.0, 4.0):
                painter.drawEllipse(QPointF(x + step, y), 4.0, 4.0)
        elif handle.grip is Grip.CORNER:
            painter.setPen(QPen(QColor(Tone.RING), 1.6))
            painter.drawPolygon(QPointF(x, y - 4.5), QPointF(x + 4.5, y), QPointF(x, y + 4.5), QPointF(x - 4.5, y))
        else:
            painter.drawEllipse(QPointF(x, y), 6.0, 6.0)
            painter.setBrush(colour)
            painter.drawEllipse(QPointF(x, y), 1.5, 1.5)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _boxes(on: OnBoard) -> Floats:
    at = np.array([on.view.point_to_screen(*handle.at) for handle in on.handles]).reshape(-1, 2)
    return np.hstack([at - _ROOM, at + _ROOM])


HANDLES = Overlay(_paint, _boxes)
