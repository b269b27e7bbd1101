"""What a deed would give up, or has given up, of what was laid: marked where it stood, so that it is seen before it is taken."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.frame.theme import Tone

__all__ = ["GIVEN_UP"]

_REACH = 7.0


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Cross out each place in the colour of cautions: a ring with a stroke through it, so that colour is not the only sign."""
    for given in on.session.given_up:
        if given.place is None:
            continue
        paper, _ = on.drawing.document.eye.project(np.array([given.place]))
        if np.isnan(paper).any():
            continue
        at = QPointF(*on.view.point_to_screen(float(paper[0, 0]), float(paper[0, 1])))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(Tone.CAUTION), 1.6))
        painter.drawEllipse(at, _REACH, _REACH)
        painter.drawLine(at + QPointF(-_REACH, _REACH), at + QPointF(_REACH, -_REACH))


GIVEN_UP = Overlay(_paint)
