"""What a tool shows while it works: guides, live lines, and words on slips."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.slips import paint_preview

__all__ = ["PREVIEW"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    if on.tool.preview is not None:
        paint_preview(painter, on.tool.preview, on.tool.typed, on.view, *on.size)


PREVIEW = Overlay(_paint)
