"""The picture of all that stands still on the board, kept, and mended only where a dragged volume changed it."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPixmap

from isometron.desk.board_paint import paint_drawing
from isometron.desk.board_view import BoardView
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing

__all__ = ["BoardPicture", "changed_part"]

_MARGIN = 4.0
"""Pixels round what changed: half of the widest pen, and smoothed rims."""
_MOST_MENDED = 0.5
"""Of the window; more is painted anew as a whole."""


class BoardPicture:
    """A pixmap of a drawing. While something is dragged it may be hasty: thin pens, dashes that shift where it was mended."""

    def __init__(self) -> None:
        self._pixmap: QPixmap | None = None
        self._drawing: Drawing | None = None
        self._asked: tuple[BoardView, int, int, float] | None = None
        self._hasty = self._thin = False

    def forget(self) -> None:
        """Paint everything anew the next time."""
        self._pixmap = None

    def of(
        self, drawing: Drawing, view: BoardView, width: int, height: int, *, ratio: float = 1.0, moving: bool = False
    ) -> QPixmap:
        """Return the picture of ``drawing``, ``width`` x ``height`` pixels at a device pixel ratio."""
        asked = (view, width, height, ratio)
        if self._pixmap is None or asked != self._asked:
            self._asked = asked
            self._pixmap = QPixmap(round(width * ratio), round(height * ratio))
            self._pixmap.setDevicePixelRatio(ratio)
            self._drawing = None
        if drawing is not self._drawing or (self._hasty and not moving):
            part = changed_part(self._drawing, drawing, view, width, height) if moving else None
            self._paint(self._pixmap, drawing, part, moving=moving)
        return self._pixmap

    def _paint(self, pixmap: QPixmap, drawing: Drawing, part: QRectF | None, *, moving: bool) -> None:
        assert self._asked is not None
        view, width, height, _ = self._asked
        if part is None:
            self._thin = moving and is_crowded(drawing)
        painter = QPainter(pixmap)
        paint_drawing(painter, drawing, view, width, height, thin=self._thin, part=part)
        painter.end()
        self._drawing, self._hasty = drawing, moving


_CROWDED = 2000
"""So many lines are a crowd; an arc counts as sixteen."""


def is_crowded(drawing: Drawing) -> bool:
    """Whether a drawing has so many marks that painting them while it moves should be made light."""
    return len(drawing.edges) + len(drawing.rounds.lines) + 16 * len(drawing.rounds.arcs.shape) > _CROWDED


def changed_part(before: Drawing | None, after: Drawing, view: BoardView, width: int, height: int) -> QRectF | None:
    """Return the rectangle of the window outside which two drawings look alike; None when much of it may differ.

    A changed volume changes what is seen within its own picture only, before and after: it hides nothing beyond.
    """
    if before is None or not _stand_alike(before, after):
        return None
    known = {volume.id: volume for volume in before.document.volumes}
    same = {volume.id for volume in after.document.volumes if known.get(volume.id) is volume}
    boxes = [
        drawing.paper_box(row)
        for drawing in (before, after)
        for row, volume in enumerate(drawing.document.volumes)
        if volume.id not in same
    ]
    return _within_window(np.array(boxes).reshape(-1, 4), view, width, height)


def _stand_alike(before: Drawing, after: Drawing) -> bool:
    """Whether sheet, eye, aids and lettering are the same."""
    one, other = before.document, after.document
    return (
        (one.sheet, one.eye, one.show, one.unit) == (other.sheet, other.eye, other.show, other.unit)
        and np.array_equal(before.aids.points, after.aids.points)
        and before.labels == after.labels
    )


def _within_window(boxes: Floats, view: BoardView, width: int, height: int) -> QRectF | None:
    if len(boxes) == 0:
        return QRectF()
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    if not (np.isfinite(low).all() and np.isfinite(high).all()):
        return None
    left, bottom = view.point_to_screen(float(low[0]), float(low[1]))
    right, top = view.point_to_screen(float(high[0]), float(high[1]))
    part = QRectF(left, top, right - left, bottom - top).adjusted(-_MARGIN, -_MARGIN, _MARGIN, _MARGIN)
    # Whole pixels, so that what is mended ends where what stands begins.
    part = QRectF(part.intersected(QRectF(0.0, 0.0, width, height)).toAlignedRect())
    return part if part.width() * part.height() <= _MOST_MENDED * width * height else None
