"""The selected volumes: edges in the colours of their directions, with a letter each; rings and outlines firmly."""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QPainter

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.board.sheet_paint import strokes_in
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import Marks, Role
from isometron.solve.measures import going
from isometron.surfaces.painters.qt_strokes import dashed, draw_lines, line_pen
from isometron.view.vanishing import box_vanishing
from isometron.volumes.box import BOX_EDGE_AXES, BOX_EDGES

__all__ = ["SELECTION"]


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Paint the selected volumes' edges in the colours of their directions, with letters and vanishing points."""
    drawing, view, window = on.drawing, on.view, on.window
    for owner in on.selected:
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
    # Not its courses, nor sections over it: hundreds of thick lines would bury the drawing.
    own = Marks.joined([drawing.of("rounds"), drawing.of("curves")]).where(lambda bag: bag.owner == owner)
    bent = own.lines.select(own.lines.edge < 0)
    strokes = strokes_in(view, window)
    for role in (Role.OBJECT, Role.CONSTRUCTION):
        strokes.add_lines(bent.points, bent.role, role)
        strokes.add_arcs(own.arcs.shape, own.arcs.role, role)
        strokes.add_curves(own.curves.points, own.curves.role, role)
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
    paint_tag(painter, float(x), float(y), letter, colour)


SELECTION = Overlay(_paint)
