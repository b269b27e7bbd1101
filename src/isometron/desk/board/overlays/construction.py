"""A construction that is played, over a drawing that steps back."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from isometron.desk.board.construction_paint import paint_construction
from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.sheet_paint import sheet_polygon

__all__ = ["CONSTRUCTION"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    construction, player = on.construction, on.player
    if construction is None or player is None:
        return
    sheet = sheet_polygon(on.drawing.document.sheet.rectangle, on.view)
    paint_construction(painter, construction, player.number, player.progress, on.view, sheet, on.size)


CONSTRUCTION = Overlay(_paint)
