"""Painting a construction on the board: the drawing steps back, earlier marks fade as pencil does, the new ones stand out."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QRegion

from isometron.construct.outcome import Construction, Spot, Step
from isometron.desk.board_paint import interface_font
from isometron.desk.board_view import BoardView
from isometron.desk.theme import Tone
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.surfaces.painter import draw_arc, draw_lines, line_pen

__all__ = ["paint_construction"]

_LASTING = ("VP", "MP", "new VP")
"""Points that later steps use again, and so keep their names."""

_ON_SHEET = ("#274A54", "#6E8A91", "#A9B8BB", "#C3CCCB")
_ON_TABLE = ("#DCEBEC", "#9FB6B7", "#74898A", "#5E7172")
_EDGE_ON_SHEET = ("#1F2424", "#4A5251", "#6E7574", "#6E7574")
_EDGE_ON_TABLE = ("#FFFFFF", "#D2DAD6", "#AEBAB6", "#AEBAB6")


def paint_construction(
    painter: QPainter,
    construction: Construction,
    number: int,
    progress: float,
    view: BoardView,
    sheet: QRectF,
    size: tuple[int, int],
) -> None:
    """Paint the steps up to ``number``; of the last one as much as ``progress`` (0 to 1) of each line."""
    width, height = size
    whole = QRegion(0, 0, width, height)
    paper = QRegion(sheet.toAlignedRect())
    for region, wash, tones, edges in (
        (whole - paper, Tone.TABLE, _ON_TABLE, _EDGE_ON_TABLE),
        (whole & paper, Tone.SHEET, _ON_SHEET, _EDGE_ON_SHEET),
    ):
        painter.save()
        painter.setClipRegion(region)
        veil = QColor(wash)
        veil.setAlpha(215)
        painter.fillRect(0, 0, width, height, veil)
        for k in range(number + 1):
            age = min(number - k, len(tones) - 1)
            _step(painter, construction.steps[k], tones[age], edges[age], progress if k == number else 1.0, view, size,
                  new=k == number)  # fmt: skip
        painter.restore()
    _names(painter, construction, number, view, sheet, size)


def _step(
    painter: QPainter,
    step: Step,
    tone: str,
    edge_tone: str,
    progress: float,
    view: BoardView,
    size: tuple[int, int],
    *,
    new: bool,
) -> None:
    for shape in step.arcs:
        place = view.point_to_screen(float(shape[0]), float(shape[1]))
        part = shape.copy()
        part[6] = part[5] + progress * (part[6] - part[5])
        draw_arc(painter, np.concatenate((place, part[2:])), view.scale, QPen(QColor(tone), 1.4 if new else 1.0))
    _stroke(painter, _grown(step.lines, progress), tone, 1.5 if new else 1.0, view, size)
    _stroke(painter, _grown(step.edges, progress), edge_tone, 2.4 if new else 1.6, view, size)


def _grown(lines: Floats, progress: float) -> Floats:
    if progress >= 1.0:
        return lines
    grown: Floats = np.hstack([lines[:, :2], lines[:, :2] + progress * (lines[:, 2:] - lines[:, :2])])
    return grown


def _stroke(
    painter: QPainter, lines: Floats, colour: str, width: float, view: BoardView, size: tuple[int, int]
) -> None:
    pixels = clip_to_rectangle(view.to_screen(lines.copy()), -4.0, -4.0, size[0] + 4.0, size[1] + 4.0)
    draw_lines(painter, pixels, line_pen(colour, width))


def _names(
    painter: QPainter, construction: Construction, number: int, view: BoardView, sheet: QRectF, size: tuple[int, int]
) -> None:
    """Name the new points, and quietly the vanishing and measuring points of earlier steps."""
    taken: list[QRectF] = []
    for spot in construction.steps[number].points:
        if " " in spot.name and spot.name not in construction.ends and not spot.name.startswith(_LASTING):
            continue
        _name(painter, spot, view, sheet, size, taken, new=True)
    for step in construction.steps[:number]:
        for spot in step.points:
            if " " not in spot.name or spot.name.startswith(_LASTING):
                _name(painter, spot, view, sheet, size, taken, new=False)


def _name(
    painter: QPainter,
    spot: Spot,
    view: BoardView,
    sheet: QRectF,
    size: tuple[int, int],
    taken: list[QRectF],
    *,
    new: bool,
) -> None:
    x, y = view.point_to_screen(spot.u, spot.v)
    if not (0 <= x <= size[0] and 0 <= y <= size[1]):
        return
    on_sheet = sheet.contains(QPointF(x, y))
    tones = _ON_SHEET if on_sheet else _ON_TABLE
    painter.setPen(QPen(QColor(tones[0 if new else 1]), 1.6 if new else 1.0))
    painter.drawLine(QPointF(x - 4, y), QPointF(x + 4, y))
    painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
    font = interface_font(11, bold=new)
    wide = QFontMetricsF(font).horizontalAdvance(spot.name) + 4.0
    for dx, dy in ((7.0, -15.0), (-wide - 5.0, -15.0), (7.0, 3.0), (-wide - 5.0, 3.0)):
        box = QRectF(x + dx, y + dy, wide, 13.0)
        if not any(box.intersects(other) for other in taken):
            taken.append(box)
            painter.setFont(font)
            painter.setPen(QColor(tones[0] if new else tones[1]))
            painter.drawText(box, spot.name)
            return
