"""Guides, live lines and words on slips, as a tool or a grip under the hand shows them."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.theme import Tone
from isometron.geometry.clipping import clip_to_rectangle
from isometron.surfaces.painters.qt_strokes import dashed, draw_lines, line_pen
from isometron.tools.pencil import Preview

__all__ = ["paint_preview"]


def paint_preview(painter: QPainter, preview: Preview, typed: str, view: BoardView, width: int, height: int) -> None:
    """Paint what the tool shows: guides, live lines, and words on slips; what is being typed stands in the last one."""
    window = (-4.0, -4.0, width + 4.0, height + 4.0)
    guides = clip_to_rectangle(view.to_screen(preview.guides.copy()), *window)
    draw_lines(painter, dashed(guides, 3.0, 4.0), line_pen("#C58B6F", 1.0))
    live = clip_to_rectangle(view.to_screen(preview.live.copy()), *window)
    draw_lines(painter, live, line_pen(Tone.ACCENT, 2.0))
    taken: list[QRectF] = []
    for note in reversed(preview.notes):
        x, y = view.point_to_screen(note.u, note.v)
        text = f"{typed}▏" if typed and note is preview.notes[-1] else note.text
        _slip(painter, x, y - 14.0, text, (width, height), taken)


def _slip(painter: QPainter, x: float, y: float, text: str, window: tuple[int, int], taken: list[QRectF]) -> None:
    """Paint words on a slip centred at (x, y), kept inside the window and clear of the slips already there."""
    width, height = window
    font = interface_font(13, bold=True)
    metrics = QFontMetricsF(font)
    w, h = metrics.horizontalAdvance(text) + 14.0, 21.0
    left = min(max(x - w / 2, 2.0), max(width - w - 2.0, 2.0))
    top = min(max(y - h / 2, 2.0), max(height - h - 2.0, 2.0))
    box = QRectF(left, top, w, h)
    while any(box.intersects(other) for other in taken) and len(taken) < 8 and box.top() > -height:
        box.translate(0.0, -(h + 3.0))
    taken.append(box)
    painter.setPen(QPen(QColor(Tone.ACCENT), 1.0))
    painter.setBrush(QColor(Tone.SHEET))
    painter.drawRoundedRect(box, 3.0, 3.0)
    painter.setPen(QColor(Tone.ACCENT_TEXT))
    painter.setFont(font)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
    painter.setBrush(Qt.BrushStyle.NoBrush)
