"""Two grips at a picture's corners: the upper left one moves it on the sheet, the lower right one makes it larger or smaller."""

from __future__ import annotations

from math import hypot

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.theme import Tone
from isometron.document.lengths.units import format_paper
from isometron.document.pictures.picture_edits import move_picture
from isometron.document.pictures.placing import picture_under, place_of
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats
from isometron.wording import tr

__all__ = ["PicturePlaceGrips"]

_HALF = 9.0
_LEAST = 20.0
"""mm of paper that a picture's longer side keeps."""

_STROKES = {"move": ((5.0, 0.0), (0.0, 5.0)), "size": ((5.0, 5.0),)}
"""Half of each stroke on a grip, pixels: a cross to move by, a slant to scale by."""

Place = tuple[float, float]


class PicturePlaceGrips(Grips):
    """Moving and scaling a picture by hand; a matched one takes its eye along."""

    name = "photograph"
    holds_sheet = True

    def __init__(self, session, tool_in_use) -> None:
        super().__init__(session)
        self._tool_in_use = tool_in_use
        self._held = ""
        self._start: Place = (0.0, 0.0)
        self._picture: SheetPicture | None = None

    def _corners(self, view: BoardView) -> dict[str, QPointF]:
        """Return where the grips lie, pixels: just outside the corners of what is seen of the picture."""
        document = self._session.document
        picture = picture_under(document) if self.shown and not self._tool_in_use() else None
        if picture is None:
            return {}
        left, top, right, lower = picture.shown
        pixels = np.array([[left * picture.width - 0.5, top * picture.height - 0.5, 1.0],
                           [right * picture.width - 0.5, lower * picture.height - 0.5, 1.0]])  # fmt: skip
        paper = (pixels @ place_of(picture, document.sheet).T)[:, :2]
        spots = [QPointF(*view.point_to_screen(float(u), float(v))) for u, v in paper]
        out = (spots[1] - spots[0]) / max(hypot(spots[1].x() - spots[0].x(), spots[1].y() - spots[0].y()), 1.0)
        return {"move": spots[0] - out * 14.0, "size": spots[1] + out * 14.0}

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return the grip under a pixel, or None."""
        found = self._corners(view).items()
        return next((n for n, p in found if abs(p.x() - at.x()) <= _HALF and abs(p.y() - at.y()) <= _HALF), None)

    def _on_sheet(self, view: BoardView, at: QPointF) -> Place:
        return self._session.document.sheet.from_corner(*view.to_paper(at.x(), at.y()))

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold of one."""
        self._picture = picture_under(self._session.settled)
        self._held, self._start = str(hold), self._on_sheet(view, at)
        return self._picture is not None

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand on the sheet."""
        picture = self._picture
        if picture is None:
            return
        x, y = self._on_sheet(view, at)
        dx, dy = x - self._start[0], y - self._start[1]
        if self._held == "move":
            middle = (round(picture.middle[0] + dx, 2), round(picture.middle[1] + dy, 2))
            self._session.preview(move_picture, picture.id, middle=middle)
            return
        # The upper left corner stays: the middle goes half as far as the lower right one.
        zero = place_of(picture, self._session.settled.sheet)
        ends = np.array([[-0.5, -0.5, 1.0], [picture.width - 0.5, picture.height - 0.5, 1.0]]) @ zero.T
        way = (ends[1] - ends[0])[:2]
        far = float(np.hypot(*way))
        factor = max(1.0 + float(way @ [dx, dy]) / far**2, _LEAST / far)
        shift = (factor - 1.0) * way / 2.0
        middle = (picture.middle[0] + float(shift[0]), picture.middle[1] + float(shift[1]))
        self._session.preview(move_picture, picture.id, middle=middle, pixel=picture.pixel * factor)

    @property
    def words(self) -> tuple[str, str]:
        """Say how large it is."""
        picture = picture_under(self._session.document)
        if picture is None:
            return "", ""
        wide = format_paper(picture.width * picture.pixel, self._session.document.unit)
        return tr("The picture is {wide} wide on the sheet; its eye goes along.", wide=wide), ""

    def boxes(self, view: BoardView, size: tuple[int, int]) -> Floats:
        """Return what the grips cover, pixels."""
        places = self._corners(view).values()
        return np.array([[p.x() - _HALF, p.y() - _HALF, p.x() + _HALF, p.y() + _HALF] for p in places]).reshape(-1, 4)

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint both grips."""
        for name, at in self._corners(view).items():
            box = QRectF(at.x() - _HALF, at.y() - _HALF, 2 * _HALF, 2 * _HALF)
            painter.setPen(QPen(QColor(Tone.ACCENT), 1.2))
            painter.setBrush(QColor(Tone.SHEET))
            painter.drawRoundedRect(box, 3.0, 3.0)
            painter.setPen(QPen(QColor(Tone.ACCENT_TEXT), 1.6))
            for way in _STROKES[name]:
                painter.drawLine(at - QPointF(*way), at + QPointF(*way))
        painter.setBrush(Qt.BrushStyle.NoBrush)
