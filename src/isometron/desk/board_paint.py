"""Painting what lies over the drawing on the board: selection, handles, the tool's preview, beads, cautions."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from isometron.desk.board_view import BoardView
from isometron.desk.sheet_paint import strokes_in
from isometron.desk.theme import DIRECTION_COLOURS, Tone, px
from isometron.document.units import format_paper
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.findings import Finding
from isometron.solve.marks import Arcs, Role
from isometron.solve.measures import going, off_sheet
from isometron.surfaces.fonts import INTERFACE_FONT
from isometron.surfaces.painter import dashed, draw_lines, line_pen
from isometron.tools.handles import Grip, Handle
from isometron.tools.pencil import Preview
from isometron.view.cone import outside_cone, stretch
from isometron.view.vanishing import box_vanishing
from isometron.volumes.box import BOX_EDGE_AXES, BOX_EDGES
from isometron.wording import tr

__all__ = [
    "paint_beads",
    "paint_cautions",
    "paint_handles",
    "paint_missed",
    "paint_pencil",
    "paint_preview",
    "paint_selection",
    "paint_stretch",
]

_EDGE_MARGIN = 4.0


def _window(width: int, height: int) -> tuple[float, float, float, float]:
    return -_EDGE_MARGIN, -_EDGE_MARGIN, width + _EDGE_MARGIN, height + _EDGE_MARGIN


def paint_selection(
    painter: QPainter, drawing: Drawing, view: BoardView, owners: list[int], width: int, height: int
) -> None:
    """Paint the selected volumes' edges in the colours of their directions, with letters and vanishing points."""
    window = _window(width, height)
    for owner in owners:
        points = box_vanishing(drawing.document.eye, drawing.scene.rotations[owner])
        words = [going(point) for point in points]
        if drawing.scene.turned[owner]:
            _selected_round(painter, drawing, view, owner, words, window)
            continue
        own = drawing.edges.select(drawing.edges.owner == owner)
        axis = drawing.scene.edge_axis[own.edge]
        _bent_parts(painter, drawing, view, owner, window)
        slanted = view.to_screen(own.points[(axis < 0) & (own.role != Role.HIDDEN)])
        draw_lines(painter, clip_to_rectangle(slanted, *window), line_pen(Tone.ACCENT, 1.8))
        for k, word in enumerate(words):
            letter, colour = DIRECTION_COLOURS[word]
            lines = own.select(axis == k)
            hidden = lines.role == Role.HIDDEN
            pixels = view.to_screen(lines.points.copy())
            back = dashed(clip_to_rectangle(pixels[hidden], *window), 5.0, 4.0)
            front = clip_to_rectangle(pixels[~hidden], *window)
            draw_lines(painter, back, line_pen(colour, 1.2))
            draw_lines(painter, front, line_pen(colour, 2.4))
            _letter(painter, front if len(front) else back, letter, colour)


def _selected_round(
    painter: QPainter,
    drawing: Drawing,
    view: BoardView,
    owner: int,
    words: list[str],
    window: tuple[float, float, float, float],
) -> None:
    """Paint a selected round: its bounding volume lightly in the colours of its directions, its rings and outline firmly."""
    corners = drawing.scene.corners_of(owner)
    paper, depth = drawing.document.eye.project(corners)
    for axis, word in enumerate(words):
        letter, colour = DIRECTION_COLOURS[word]
        ends = BOX_EDGES[axis == BOX_EDGE_AXES]
        ends = ends[(depth[ends] > 0.0).all(axis=1)]
        lines = view.to_screen(np.hstack([paper[ends[:, 0]], paper[ends[:, 1]]]))
        lines = clip_to_rectangle(lines, *window)
        draw_lines(painter, dashed(lines, 3.0, 4.0), line_pen(colour, 1.0))
        _letter(painter, lines, letter, colour)
    _bent_parts(painter, drawing, view, owner, window)


def _bent_parts(
    painter: QPainter, drawing: Drawing, view: BoardView, owner: int, window: tuple[float, float, float, float]
) -> None:
    """Paint a selected volume's rings, arcs and outlines firmly."""
    rounds = drawing.rounds
    arcs = Arcs(
        *(part[rounds.arcs.owner == owner] for part in (rounds.arcs.shape, rounds.arcs.role, rounds.arcs.owner))
    )
    own = rounds.lines.select(rounds.lines.owner == owner)
    strokes = strokes_in(view, window)
    for role in (Role.OBJECT, Role.CONSTRUCTION):
        strokes.add_lines(own.points, own.role, role)
        strokes.add_arcs(arcs.shape, arcs.role, role)
    draw_lines(painter, strokes.all, line_pen(Tone.RING, 2.2))


def _letter(painter: QPainter, lines: Floats, letter: str, colour: str) -> None:
    if len(lines) == 0:
        return
    length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    row = int(np.argmax(length))
    if length[row] < 40.0:
        return
    # Off the middle, where a handle may lie.
    x, y = lines[row, :2] + 0.3 * (lines[row, 2:] - lines[row, :2])
    _tag(painter, float(x), float(y), letter, colour)


def _tag(painter: QPainter, x: float, y: float, text: str, colour: str) -> None:
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


def interface_font(pixels: int, *, bold: bool = False) -> QFont:
    """Return the interface's font at a size of the type scale."""
    font = QFont(INTERFACE_FONT)
    font.setPixelSize(px(pixels))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return font


def paint_handles(painter: QPainter, found: list[Handle], view: BoardView) -> None:
    """Paint handles in the colour of the one direction each moves in; the shape tells what it does."""
    for handle in found:
        x, y = view.point_to_screen(*handle.at)
        colour = QColor(DIRECTION_COLOURS[handle.going][1] if handle.going in DIRECTION_COLOURS else Tone.ACCENT)
        painter.setPen(QPen(colour, 2.0))
        painter.setBrush(QColor(Tone.SHEET))
        if handle.grip is Grip.FACE:
            painter.drawRect(QRectF(x - 4.5, y - 4.5, 9.0, 9.0))
        elif handle.grip is Grip.MOVE:
            painter.drawPolygon(QPointF(x, y - 7.0), QPointF(x + 9.0, y), QPointF(x, y + 7.0), QPointF(x - 9.0, y))
        elif handle.grip is Grip.LIFT:
            painter.drawPolygon(QPointF(x, y - 7.0), QPointF(x + 7.0, y + 5.0), QPointF(x - 7.0, y + 5.0))
        elif handle.grip is Grip.SLIDE:
            for step in (-4.0, 4.0):
                painter.drawEllipse(QPointF(x + step, y), 4.0, 4.0)
        elif handle.grip is Grip.LEAN:
            painter.drawRect(QRectF(x - 8.0, y - 3.0, 16.0, 6.0))
        elif handle.grip is Grip.CUT:
            painter.drawPolygon(QPointF(x - 6.0, y + 5.0), QPointF(x + 6.0, y + 5.0), QPointF(x - 6.0, y - 6.0))
        else:
            painter.drawEllipse(QPointF(x, y), 6.0, 6.0)
            painter.setBrush(colour)
            painter.drawEllipse(QPointF(x, y), 1.5, 1.5)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def paint_beads(
    painter: QPainter, drawing: Drawing, view: BoardView, owner: int | None, width: int, height: int
) -> None:
    """Paint the vanishing points of a volume's directions, or of the world's, as beads.

    One out of the window becomes a tag at the window's rim that says how far off the sheet it lies.
    """
    document = drawing.document
    rotation = np.eye(3) if owner is None else drawing.scene.rotations[owner]
    points = box_vanishing(document.eye, rotation)
    axis_level = np.abs(rotation[2]) < 1e-9
    for row, (point, word) in enumerate(zip(points, map(going, points), strict=True)):
        if point.at is None:
            continue
        letter, colour = DIRECTION_COLOURS[word]
        x, y = view.point_to_screen(*point.at)
        if 0 <= x <= width and 0 <= y <= height:
            painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
            painter.setBrush(QColor(colour))
            painter.drawEllipse(QPointF(x, y), 5.0, 5.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            _tag(painter, min(max(x, 16.0), width - 16.0), y - 16.0, tr("VP {letter}", letter=letter), colour)
            continue
        if axis_level[row]:
            continue  # the horizon rail shows how far it lies
        far = format_paper(off_sheet(document, point.at), document.unit)
        side = min(max(x, 58.0), width - 58.0)
        across = max(-x, x - width) >= max(-y, y - height)
        arrow = ("◂ " if x < 0 else "▸ ") if across else ("▴ " if y < 0 else "▾ ")
        _tag(
            painter,
            side,
            min(max(y - 14.0, 14.0), height - 14.0),
            tr("{arrow}VP {letter}  {far} off", arrow=arrow, letter=letter, far=far),
            colour,
        )


def paint_preview(painter: QPainter, preview: Preview, typed: str, view: BoardView, width: int, height: int) -> None:
    """Paint what the tool shows: guides, live lines, and words on slips; what is being typed stands in the last one."""
    window = _window(width, height)
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


def paint_pencil(painter: QPainter, x: float, y: float) -> None:
    """Paint where the pencil is while keys carry it."""
    painter.setPen(QPen(QColor(Tone.ACCENT), 1.4))
    for dx, dy in ((1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)):
        painter.drawLine(QPointF(x + 4 * dx, y + 4 * dy), QPointF(x + 13 * dx, y + 13 * dy))


def paint_cautions(painter: QPainter, found: tuple[Finding, ...], view: BoardView) -> None:
    """Mark each warning at its place with a small triangle, so that colour is not the only sign."""
    painter.setPen(QPen(QColor("#FFFFFF"), 1.0))
    for finding in found:
        if finding.at is None:
            continue
        x, y = view.point_to_screen(*finding.at)
        painter.setBrush(QColor(Tone.CAUTION))
        painter.drawPolygon(QPointF(x, y - 9.0), QPointF(x + 9.0, y + 7.0), QPointF(x - 9.0, y + 7.0))
        painter.drawLine(QPointF(x, y - 3.5), QPointF(x, y + 2.0))
        painter.drawPoint(QPointF(x, y + 4.5))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def paint_missed(painter: QPainter, missed: list[tuple[float, float, str]], view: BoardView) -> None:
    """Tell on the paper what is meant and not so; several at one volume stand below each other."""
    taken: set[tuple[int, int]] = set()
    for u, v, words in missed:
        x, y = view.point_to_screen(u, v)
        y += 18.0
        while (round(x / 40.0), round(y / 18.0)) in taken:
            y += 18.0
        taken.add((round(x / 40.0), round(y / 18.0)))
        _tag(painter, x, y, f"⚠ {words}", Tone.CAUTION)


def paint_stretch(painter: QPainter, drawing: Drawing, view: BoardView) -> None:
    """Mark every corner outside the cone of vision with how far things are stretched there."""
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
            _tag(painter, at.x(), at.y() - 16.0, f"x {factors[k]:.2f}", Tone.CAUTION)
