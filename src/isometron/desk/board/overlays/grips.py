"""What can be held on the board beside the tools: beads, the horizon's grips, slopes, rings."""

from __future__ import annotations

from PyQt6.QtGui import QPainter

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.geometry.frames import Floats

__all__ = ["GRIPS"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    if on.construction is None:
        on.grips.paint(painter, on.view, on.size)


def _boxes(on: OnBoard) -> Floats:
    return on.grips.boxes(on.view, on.size)


GRIPS = Overlay(_paint, _boxes)
