"""Words on the board that are no lettering: tags on a colour, and the interface's font at a size."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter

from isometron.desk.frame.theme import px
from isometron.surfaces.fonts import INTERFACE_FONT

__all__ = ["interface_font", "paint_tag"]


def interface_font(pixels: int, *, bold: bool = False) -> QFont:
    """Return the interface's font at a size of the type scale."""
    font = QFont(INTERFACE_FONT)
    font.setPixelSize(px(pixels))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return font


def paint_tag(painter: QPainter, x: float, y: float, text: str, colour: str) -> None:
    """Paint small white words on a coloured lozenge centred at (x, y)."""
    font = interface_font(11, bold=True)
    metrics = QFontMetricsF(font)
    width = max(metrics.horizontalAdvance(text) + 8.0, 16.0)
    box = QRectF(x - width / 2, y - 8.0, width, 16.0)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colour))
    painter.drawRoundedRect(box, 3.0, 3.0)
    painter.setPen(QColor("#FFFFFF"))
    painter.setFont(font)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
    painter.setBrush(Qt.BrushStyle.NoBrush)
