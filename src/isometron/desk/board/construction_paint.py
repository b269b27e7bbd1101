"""Painting a construction on the board: the drawing steps back, earlier marks fade as pencil does, the new ones stand out."""

from __future__ import annotations

from math import radians

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF, QRegion

from isometron.construct.outcome import Construction, Spot, Step
from isometron.desk.board.sheet_paint import LEAST_LETTERING
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.theme import Tone
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.layers.labels import lay_labels
from isometron.solve.marks import Label, Lines, Marks, Role
from isometron.surfaces.painters.qt_strokes import draw_arc, draw_label, draw_lines, line_pen

__all__ = ["paint_construction"]

_LASTING = ("VP", "MP")
"""Points that keep their names in steps that do not use them."""

_BESIDE, _FREE = 6.0, 40.0
"""Pixels that a name stands beside its point, and that it may be moved by to stand clear."""

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
    sheet: QPolygonF,
    size: tuple[int, int],
) -> None:
    """Paint the steps up to ``number``; of the last one as much as ``progress`` (0 to 1) of each line."""
    width, height = size
    whole = QRegion(0, 0, width, height)
    paper = QRegion(sheet.toPolygon())
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
        part[4] -= radians(view.turn_deg)
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
    pixels = clip_to_rectangle(view.to_screen(lines), -4.0, -4.0, size[0] + 4.0, size[1] + 4.0)
    draw_lines(painter, pixels, line_pen(colour, width))


def _names(
    painter: QPainter,
    construction: Construction,
    number: int,
    view: BoardView,
    sheet: QPolygonF,
    size: tuple[int, int],
) -> None:
    """Name the points of this step, and quietly the vanishing and measuring points of earlier ones, each where it stands clear."""
    window = view.paper_bounds(0.0, 0.0, float(size[0]), float(size[1]))
    steps = construction.steps[: number + 1]
    new = [*steps[-1].points, *steps[-1].used]
    here = {spot.name for spot in new}
    old = [spot for step in steps[:-1] for spot in step.points
           if spot.name.startswith(_LASTING) and spot.name not in here]  # fmt: skip
    spots = [s for s in (*new, *old) if window[0] <= s.u <= window[2] and window[1] <= s.v <= window[3]]
    for spot in spots:
        painter.setPen(QPen(_tone(spot, view, sheet, new=spot in new), 1.6 if spot in new else 1.0))
        x, y = view.point_to_screen(spot.u, spot.v)
        painter.drawLine(QPointF(x - 4, y), QPointF(x + 4, y))
        painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
    lines = Lines.of(np.concatenate([part for step in steps for part in (step.lines, step.edges)]), Role.STEP)
    text, beside = LEAST_LETTERING / view.scale, _BESIDE / view.scale
    free = (_FREE / view.scale, _FREE / view.scale)
    labels = [
        Label(spot.name, spot.u + beside, spot.v + beside, Role.STEP, owner=row, size=text, free=free, spare=True)
        for row, spot in enumerate(spots)
    ]
    for label in lay_labels(labels, [Marks(lines=lines)], window):
        spot = spots[label.owner]
        painter.save()
        painter.translate(*view.point_to_screen(label.u, label.v))
        painter.rotate(view.turn_deg)
        draw_label(painter, label, 0.0, 0.0, view.scale, _tone(spot, view, sheet, new=spot in new).name())
        painter.restore()


def _tone(spot: Spot, view: BoardView, sheet: QPolygonF, *, new: bool) -> QColor:
    on_sheet = sheet.containsPoint(QPointF(*view.point_to_screen(spot.u, spot.v)), Qt.FillRule.OddEvenFill)
    return QColor((_ON_SHEET if on_sheet else _ON_TABLE)[0 if new else 1])
