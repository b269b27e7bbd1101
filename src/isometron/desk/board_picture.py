"""The picture of all that stands still on the board, kept, and mended only where a dragged volume changed it."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRect, QRectF
from PyQt6.QtGui import QImage

from isometron.desk.board_view import BoardView
from isometron.desk.sheet_paint import paint_drawing
from isometron.geometry.frames import Floats
from isometron.solve.again import changed_rows
from isometron.solve.drawing import Drawing

__all__ = ["BoardPicture", "changed_part"]

_MARGIN = 4.0
"""Pixels round what changed: half of the widest pen, and smoothed rims."""
_MOST_MENDED = 0.5
"""Of the window; more is painted anew as a whole."""


class BoardPicture:
    """An image of a drawing. While something is dragged it may be hasty: dashes shift where it was mended."""

    def __init__(self) -> None:
        self._image: QImage | None = None
        self._drawing: Drawing | None = None
        self._asked: tuple[BoardView, int, int, float] | None = None
        self._hasty = False

    def forget(self) -> None:
        """Paint everything anew the next time."""
        self._image = None

    def of(
        self, drawing: Drawing, view: BoardView, width: int, height: int, *, ratio: float = 1.0, moving: bool = False
    ) -> QImage:
        """Return the picture of ``drawing``, ``width`` x ``height`` pixels at a device pixel ratio."""
        asked = (view, width, height, ratio)
        if self._image is None or asked != self._asked:
            self._asked, self._drawing = asked, None
            self._image = QImage(round(width * ratio), round(height * ratio), QImage.Format.Format_RGB32)
        if drawing is not self._drawing or (self._hasty and not moving):
            self._paint(self._image, drawing, view.enlarged(ratio), ratio, moving=moving)
        return self._image

    def _paint(self, image: QImage, drawing: Drawing, view: BoardView, ratio: float, *, moving: bool) -> None:
        part = changed_part(self._drawing, drawing, view, image.width(), image.height()) if moving else None
        # Painted in its own pixels, shown in those of the desktop.
        image.setDevicePixelRatio(1.0)
        paint_drawing(image, drawing, view, ratio=ratio, part=part)
        image.setDevicePixelRatio(ratio)
        self._drawing, self._hasty = drawing, moving


def changed_part(before: Drawing | None, after: Drawing, view: BoardView, width: int, height: int) -> QRect | None:
    """Return the rectangle of the window outside which two drawings look alike; None when much of it may differ.

    A changed volume changes what is seen within its own picture only, before and after: it hides nothing beyond.
    """
    rows = changed_rows(before.document, after.document) if before is not None else None
    if before is None or rows is None or not _aided_alike(before, after):
        return None
    return _within_window(np.concatenate([before.boxes[rows], after.boxes[rows]]), view, width, height)


def _aided_alike(one: Drawing, other: Drawing) -> bool:
    """Whether aids and lettering are the same."""
    return one.labels == other.labels and (
        one.aids is other.aids or np.array_equal(one.aids.points, other.aids.points)
    )


def _within_window(boxes: Floats, view: BoardView, width: int, height: int) -> QRect | None:
    boxes = boxes[boxes[:, 0] <= boxes[:, 2]]
    if len(boxes) == 0:
        return QRect()  # all of it is behind the eye
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    if not (np.isfinite(low).all() and np.isfinite(high).all()):
        return None
    left, bottom = view.point_to_screen(float(low[0]), float(low[1]))
    right, top = view.point_to_screen(float(high[0]), float(high[1]))
    part = QRectF(left, top, right - left, bottom - top).adjusted(-_MARGIN, -_MARGIN, _MARGIN, _MARGIN)
    # Whole pixels, so that what is mended ends where what stands begins.
    whole = part.toAlignedRect().intersected(QRect(0, 0, width, height))
    return whole if whole.width() * whole.height() <= _MOST_MENDED * width * height else None
