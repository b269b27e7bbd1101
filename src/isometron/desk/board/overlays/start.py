"""On an empty sheet: where the start of all measures lies on the ground, for the first block to begin there."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.frame.theme import Tone
from isometron.geometry.frames import Floats
from isometron.wording import tr

__all__ = ["START"]

_ARM = 6.0


def _place(on: OnBoard) -> tuple[float, float] | None:
    """Return the pixel of the start, if the sheet is empty and the eye sees it."""
    if on.session.document.volumes:
        return None
    u, v = on.session.document.eye.project(np.zeros((1, 3)))[0][0].tolist()
    return on.view.point_to_screen(u, v) if np.isfinite([u, v]).all() else None


def _words() -> tuple[str, float]:
    words = tr("start")
    return words, QFontMetricsF(interface_font(11)).horizontalAdvance(words)


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Paint a small cross with its word."""
    at = _place(on)
    if at is None:
        return
    x, y = at
    painter.setPen(QPen(QColor(Tone.ACCENT), 1.5))
    painter.drawLine(QPointF(x - _ARM, y), QPointF(x + _ARM, y))
    painter.drawLine(QPointF(x, y - _ARM), QPointF(x, y + _ARM))
    painter.setPen(QColor(Tone.ACCENT_TEXT))
    painter.setFont(interface_font(11))
    painter.drawText(QPointF(x + _ARM + 3.0, y + 4.0), _words()[0])


def _boxes(on: OnBoard) -> Floats:
    at = _place(on)
    if at is None:
        return np.zeros((0, 4))
    return np.array([[at[0] - _ARM, at[1] - _ARM, at[0] + _ARM + 4.0 + _words()[1], at[1] + _ARM]])


START = Overlay(_paint, _boxes)
