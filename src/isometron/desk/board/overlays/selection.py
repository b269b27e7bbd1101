"""The selected volumes: a quiet halo under their own lines, the bounding volume and its leading corner in the directions' colours."""

from __future__ import annotations

import numpy as np
from PyQt6.QtGui import QPainter

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.board.sheet_paint import strokes_in
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.marks import Marks, Role
from isometron.solve.measures import going
from isometron.surfaces.painters.qt_strokes import dashed, draw_lines, line_pen
from isometron.view.vanishing import box_vanishing
from isometron.volumes.box import BOX_EDGE_AXES, BOX_EDGES, Box

__all__ = ["SELECTION"]

_HALO = 7.0
"""Pixels of halo, across a line."""
_SHORT = 40.0
"""Pixels that a line needs for its letter."""


def _paint(painter: QPainter, on: OnBoard) -> None:
    """Paint the halo of all that is selected, and each one's bounding volume."""
    _halo(painter, on)
    for owner in on.selected:
        _bounds(painter, on, owner)


def _halo(painter: QPainter, on: OnBoard) -> None:
    """Lay a halo under the lines of the selected volumes: where they are darker they stay as they are.

    Not of courses, nor of sections over them: hundreds of lines would make one surface of it.
    """
    drawing, chosen = on.drawing, np.array(on.selected, dtype=np.intp)
    if not len(chosen):
        return
    own = Marks.joined([drawing.of("edges"), drawing.of("rounds"), drawing.of("curves")]).where(
        lambda bag: np.isin(bag.owner, chosen)
    )
    strokes = strokes_in(on.view, on.window)
    for role in (Role.OBJECT, Role.CONSTRUCTION):
        strokes.add_lines(own.lines.points, own.lines.role, role)
        strokes.add_arcs(own.arcs.shape, own.arcs.role, role)
        strokes.add_curves(own.curves.points, own.curves.role, role)
    painter.save()
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Darken)
    draw_lines(painter, strokes.all, line_pen(Tone.HALO, _HALO))
    painter.restore()


def _bounds(painter: QPainter, on: OnBoard, owner: int) -> None:
    """Paint a volume's bounding volume in dashes of the directions' colours, and the edges at its leading corner firmly.

    A block is its own bounding volume: of it only the leading corner.
    """
    drawing, volume = on.drawing, on.drawing.document.volumes[owner]
    if volume.put_away:
        return
    words = [going(point) for point in box_vanishing(drawing.document.eye, drawing.scene.rotations[owner])]
    paper, depth = drawing.document.eye.project(drawing.scene.corners_of(owner))
    before = depth > 0.0
    if not before.any():
        return
    leading = int(np.argmin(np.where(before, depth, np.inf)))
    plain = isinstance(volume, Box)
    for axis, word in enumerate(words):
        letter, colour = DIRECTION_COLOURS[word]
        ends = BOX_EDGES[axis == BOX_EDGE_AXES]
        ends = ends[before[ends].all(axis=1)]
        first = (ends == leading).any(axis=1)
        lines = on.view.to_screen(np.hstack([paper[ends[:, 0]], paper[ends[:, 1]]]))
        firm = clip_to_rectangle(lines[first], *on.window)
        if not plain:
            light = clip_to_rectangle(lines[~first], *on.window)
            draw_lines(painter, dashed(light, 3.0, 4.0), line_pen(colour, 1.0))
        draw_lines(painter, firm, line_pen(colour, 2.4 if plain else 1.6))
        _letter(painter, firm, letter, colour)


def _letter(painter: QPainter, lines: Floats, letter: str, colour: str) -> None:
    if len(lines) == 0:
        return
    length = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    row = int(np.argmax(length))
    if length[row] < _SHORT:
        return
    # Off the middle, where a handle may lie.
    x, y = lines[row, :2] + 0.3 * (lines[row, 2:] - lines[row, :2])
    paint_tag(painter, float(x), float(y), letter, colour)


SELECTION = Overlay(_paint)
