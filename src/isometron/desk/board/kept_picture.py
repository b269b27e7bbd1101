"""The picture of all that stands still on the board, kept, and mended only where a dragged volume changed it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QRect, QRectF
from PyQt6.QtGui import QImage

from isometron.desk.board.sheet_paint import LEAST_LETTERING, paint_marks
from isometron.desk.board.viewing import BoardView
from isometron.geometry.frames import Floats
from isometron.solve.again import changed_rows
from isometron.solve.drawing import Drawing
from isometron.solve.layers.labels import lay_labels
from isometron.solve.layers.register import LAYERS
from isometron.solve.marks import Label, Marks, Singles

__all__ = ["BoardPicture", "changed_part"]

_MARGIN = 4.0
"""Pixels round what changed: half of the widest pen, and smoothed rims."""
_MOST_MENDED = 0.5
"""Of the window; more is painted anew as a whole."""
_NO_BOXES = np.zeros((0, 4))


class BoardPicture:
    """An image of a drawing. While something is dragged it may be hasty: dashes shift where it was mended."""

    def __init__(self) -> None:
        self._image: QImage | None = None
        self._drawing: Drawing | None = None
        self._asked: tuple[object, ...] | None = None
        self._hasty = False
        self._labels: tuple[Label, ...] = ()
        self._lettering = _Lettering()

    def forget(self) -> None:
        """Paint everything anew the next time."""
        self._image = None

    def of(
        self,
        drawing: Drawing,
        view: BoardView,
        width: int,
        height: int,
        *,
        ratio: float = 1.0,
        moving: bool = False,
        taken: Floats = _NO_BOXES,
    ) -> QImage:
        """Return the picture of ``drawing``, ``width`` x ``height`` pixels at a device pixel ratio.

        taken : boxes (N, 4) in pixels of the desktop that lettering keeps clear of.
        """
        asked = (view, width, height, ratio)
        if self._image is None or asked != self._asked:
            self._asked, self._drawing = asked, None
            self._image = QImage(round(width * ratio), round(height * ratio), QImage.Format.Format_RGB32)
        labels = self._lettering.of(drawing, view, taken, moving=moving)
        if drawing is not self._drawing or labels != self._labels or (self._hasty and not moving):
            self._paint(self._image, drawing, view.enlarged(ratio), labels, ratio, moving=moving)
        return self._image

    def _paint(
        self,
        image: QImage,
        drawing: Drawing,
        view: BoardView,
        labels: tuple[Label, ...],
        ratio: float,
        *,
        moving: bool,
    ) -> None:
        mends = moving and labels == self._labels
        part = changed_part(self._drawing, drawing, view, image.width(), image.height()) if mends else None
        # Painted in its own pixels, shown in those of the desktop.
        image.setDevicePixelRatio(1.0)
        seen = _stream(drawing, moving=moving)
        stream = [*(replace(marks, labels=Singles()) for marks in seen), Marks(labels=Singles(labels))]
        paint_marks(image, stream, drawing.document.sheet.rectangle, view, ratio=ratio, part=part)
        image.setDevicePixelRatio(ratio)
        self._drawing, self._hasty, self._labels = drawing, moving, labels


class _Lettering:
    """The labels of a drawing as they were laid last; none moves while it can stay as it stands to its place."""

    def __init__(self) -> None:
        self._asked: tuple[object, ...] = ()
        self._drawing: Drawing | None = None
        self._labels: list[Label] = []
        self._laid: tuple[Label, ...] = ()

    def of(self, drawing: Drawing, view: BoardView, taken: Floats, *, moving: bool) -> tuple[Label, ...]:
        """Return the labels where they stand clear of marks, of each other, and of boxes (N, 4) in pixels.

        While something moves they stay, whatever comes to lie on them, unless they say something else or belong elsewhere.
        """
        stream = _stream(drawing, moving=moving)
        labels = [label for marks in stream for label in marks.labels]
        asked = (view,) if moving else (view, taken.tobytes())
        if (moving or drawing is self._drawing) and labels == self._labels and asked == self._asked[: len(asked)]:
            return self._laid
        held = None
        if len(self._laid) == len(labels) == len(self._labels):
            held = [(b.u - a.u, b.v - a.v) for a, b in zip(self._labels, self._laid, strict=True)]
        boxes = np.array([view.paper_bounds(*map(float, box)) for box in taken]).reshape(-1, 4)
        frame, least = drawing.document.sheet.rectangle, LEAST_LETTERING / view.scale
        self._asked, self._drawing, self._labels = (view, taken.tobytes()), drawing, labels
        self._laid = lay_labels(labels, stream, frame, least=least, taken=boxes, held=held)
        return self._laid


def _stream(drawing: Drawing, *, moving: bool) -> list[Marks]:
    """Return the marks of all layers; while something is dragged without those that would take too long."""
    return [drawing.of(name) for name, layer in LAYERS.items() if not (moving and layer.waits(drawing.document))]


def changed_part(before: Drawing | None, after: Drawing, view: BoardView, width: int, height: int) -> QRect | None:
    """Return the rectangle of the window outside which two drawings look alike, lettering apart; None when much may differ.

    A changed volume changes what is seen within its own picture only, before and after: it hides nothing beyond.
    """
    rows = changed_rows(before.document, after.document) if before is not None else None
    if before is None or rows is None or not _standing(before, after):
        return None
    return _within_window(np.concatenate([before.boxes[rows], after.boxes[rows]]), view, width, height)


def _standing(one: Drawing, other: Drawing) -> bool:
    """Whether all that may change anywhere is the same."""
    far = [n for n, layer in LAYERS.items() if layer.bounds is None and not layer.waits(other.document)]
    return all(_unlettered(one.of(name)).alike(_unlettered(other.of(name))) for name in far)


def _unlettered(marks: Marks) -> Marks:
    return replace(marks, labels=Singles()) if len(marks.labels) else marks


def _within_window(boxes: Floats, view: BoardView, width: int, height: int) -> QRect | None:
    boxes = boxes[boxes[:, 0] <= boxes[:, 2]]
    if len(boxes) == 0:
        return QRect()  # all of it is behind the eye
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    if not (np.isfinite(low).all() and np.isfinite(high).all()):
        return None
    left, top, right, bottom = view.bounds(*map(float, low), *map(float, high))
    part = QRectF(left, top, right - left, bottom - top).adjusted(-_MARGIN, -_MARGIN, _MARGIN, _MARGIN)
    # Whole pixels, so that what is mended ends where what stands begins.
    whole = part.toAlignedRect().intersected(QRect(0, 0, width, height))
    return whole if whole.width() * whole.height() <= _MOST_MENDED * width * height else None
