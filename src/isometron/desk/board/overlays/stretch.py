"""How far things are stretched outside the cone of vision, told at every corner there."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.frame.theme import Tone
from isometron.view.cone import outside_cone, stretch

__all__ = ["STRETCH"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Mark every corner outside the cone of vision with how far things are stretched there."""
    if "stretch" not in on.asked:
        return
    drawing, view = on.drawing, on.view
    paper = drawing.picture.paper[~drawing.scene.put_away[drawing.scene.vertex_owner]]
    paper = np.unique(np.round(paper[np.isfinite(paper).all(axis=1)], 6), axis=0)
    paper = paper[outside_cone(drawing.document.eye, paper)]
    factors = stretch(drawing.document.eye, paper)
    told: list[QPointF] = []
    for k in np.argsort(-factors):
        at = QPointF(*view.point_to_screen(float(paper[k, 0]), float(paper[k, 1])))
        painter.setPen(QPen(QColor(Tone.CAUTION), 1.6))
        painter.drawEllipse(at, 5.0, 5.0)
        # Corners that lie close together are stretched alike: the worst of them is told.
        if all(abs(at.x() - other.x()) > 44.0 or abs(at.y() - other.y()) > 18.0 for other in told):
            told.append(at)
            paint_tag(painter, at.x(), at.y() - 16.0, f"x {factors[k]:.2f}", Tone.CAUTION)


STRETCH = Overlay(_paint)
