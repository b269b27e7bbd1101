"""Marks of a picture on the board: their points are dragged, the eye follows at once; a click on a mark picks it."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from math import hypot
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.board.picked_mark import PickedMark
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone
from isometron.document.pictures.placing import to_paper, to_pixels
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.match.marking import Spot

__all__ = ["PictureGrips", "direction_colour"]

_REACH, _BESIDE = 8.0, 5.0
_WAYS = {"long": "right", "wide": "left", "high": "upright"}


def direction_colour(along: str) -> tuple[str, str]:
    """Return letter and colour of a direction of a marked thing."""
    return DIRECTION_COLOURS[_WAYS[along]]


class PictureGrips(Grips):
    """Points of marks under the hand."""

    name = "photograph"
    holds_sheet = True

    def __init__(self, session: Session, picked: PickedMark, tool_in_use: Callable[[], bool]) -> None:
        super().__init__(session)
        self._picked = picked
        self._tool_in_use = tool_in_use
        self._spot: Spot | None = None
        self._moved = False
        self._at: tuple[float, float] = (0.0, 0.0)

    @property
    def _picture(self) -> SheetPicture | None:
        return self._picked.picture if self.shown else None

    def _points(self, view: BoardView) -> dict[Spot, QPointF]:
        """Return all points of marks, pixels of the board."""
        picture, document = self._picture, self._session.document
        if picture is None:
            return {}
        spots: list[Spot] = [("line", n, k) for n, line in enumerate(picture.lines) for k in range(len(line.points))]
        spots += [("ring", n, k) for n, ring in enumerate(picture.rings) for k in range(len(ring.points))]
        places = [at for line in picture.lines for at in line.points]
        places += [at for ring in picture.rings for at in ring.points]
        if picture.corner is not None:
            spots.append(("corner", 0, 0))
            places.append(picture.corner)
        if not spots:
            return {}
        paper = to_paper(picture, document.sheet, np.array(places))
        return {s: QPointF(*view.point_to_screen(float(u), float(v))) for s, (u, v) in zip(spots, paper, strict=True)}

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return the point under a pixel, those of the picked mark first, or the mark there."""
        if self._tool_in_use():
            return None  # a new mark may well begin where another one ends
        points = self._points(view)
        near = [s for s, p in points.items() if hypot(p.x() - at.x(), p.y() - at.y()) <= _REACH]
        if near:
            mine = self._picked.mark
            return min(near, key=lambda s: (s[:2] != mine, hypot(points[s].x() - at.x(), points[s].y() - at.y())))
        picture = self._picture
        for number, line in enumerate(picture.lines if picture is not None else ()):
            own = [points["line", number, k] for k in range(len(line.points))]
            if any(_beside(a, b, at) <= _BESIDE for a, b in pairwise(own)):
                return ("line", number, -1)
        return None

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Pick the mark; a point of it can be dragged."""
        assert isinstance(hold, tuple)
        self._picked.pick(None if hold[0] == "corner" else (hold[0], hold[1]))
        self._spot, self._moved = hold, False
        return True

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand: the mark's point goes to the picture's edge beside it, and the eye is found anew."""
        picture, spot = self._picture, self._spot
        if picture is None or spot is None or spot[2] < 0:
            return
        from isometron.match.marking import move_point  # only over a picture

        u, v = view.to_paper(at.x(), at.y())
        document = self._session.document
        pixel = to_pixels(picture, document.sheet, [[u, v]])[0]
        self._at = self._caught(picture, spot, pixel, 1.0 / view.scale)
        self._moved = True
        settled = self._session.settled.picture(picture.id)
        self._session.preview(lambda d: move_point(d, settled or picture, spot, self._at, moving=True))

    def _caught(self, picture: SheetPicture, spot: Spot, pixel: Floats, grain: float) -> tuple[float, float]:
        from isometron.pictures.edges import caught_point  # only over a picture
        from isometron.pictures.rasters import grey_of
        from isometron.tools.picture_marks import unit_of

        at = (float(pixel[0]), float(pixel[1]))
        grey = grey_of(picture, self._session.document.file_of(picture))
        if grey is None or spot[0] == "corner":
            return at
        reach = min(4.0 * unit_of(self._session.drawing, picture, grain), 16.0)
        marks = picture.lines if spot[0] == "line" else picture.rings
        points = np.array(marks[spot[1]].points)
        if spot[0] == "line":
            other = points[-1] if spot[2] == 0 else points[0]
            way = other - pixel
        else:
            across = pixel - points.mean(axis=0)
            way = np.array([-across[1], across[0]])
        if not np.hypot(*way) > 2.0:
            return at
        return caught_point(grey, at, way, reach)

    def let_go(self, *, keep: bool) -> None:
        """Take the mark as it lies now; the eye is found anew to the last digit."""
        picture, spot = self._picture, self._spot
        self._spot = None
        self._session.drop_preview()
        if keep and self._moved and picture is not None and spot is not None:
            settled = self._session.document.picture(picture.id)
            if settled is not None:
                from isometron.match.marking import move_point  # only over a picture

                self._session.attempt(lambda d: move_point(d, settled, spot, self._at))

    def add(self, view: BoardView, size: tuple[int, int], at: QPointF) -> bool:
        """Add a point to the marked line under a pixel, where a lens bends its edge."""
        hold, picture = self.at(view, size, at), self._picture
        if picture is None or not isinstance(hold, tuple) or hold[0] != "line" or hold[2] >= 0:
            return False
        from isometron.match.marking import add_point  # only over a picture
        from isometron.pictures.edges import caught_point
        from isometron.pictures.rasters import grey_of

        u, v = view.to_paper(at.x(), at.y())
        x, y = to_pixels(picture, self._session.document.sheet, [[u, v]])[0]
        points, place = np.array(picture.lines[hold[1]].points), (float(x), float(y))
        grey = grey_of(picture, self._session.document.file_of(picture))
        if grey is not None:
            place = caught_point(grey, place, points[-1] - points[0])
        return self._session.attempt(add_point, picture, hold[1], place)

    @property
    def words(self) -> tuple[str, str]:
        """Say how far off the mark is while it is dragged."""
        from isometron.match.answer import Answer  # only over a picture
        from isometron.match.picture_eye import answer_of

        picture = self._picture
        answer = None if picture is None else answer_of(picture, moving=True)
        if isinstance(answer, Answer) and self._spot is not None and self._spot[0] != "corner":
            number = self._spot[1] + (len(answer.marks.lines) if self._spot[0] == "ring" else 0)
            return tr("This mark is off by {off} px.", off=f"{answer.misfits[number][0]:.1f}"), ""
        return tr("The eye follows the mark."), ""

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint the marks in the colours of their directions, the picked one with its points."""
        picture = self._picture
        if picture is None:
            return
        from isometron.match.answer import Answer  # only over a picture
        from isometron.match.picture_eye import answer_of

        points = self._points(view)
        answer = answer_of(picture, moving=self._session.moving)
        against = set(answer.contradicting) if isinstance(answer, Answer) else set()
        for number, line in enumerate(picture.lines):
            letter, colour = direction_colour(line.along)
            own = [points["line", number, k] for k in range(len(line.points))]
            chosen = self._picked.mark == ("line", number)
            _paint_line(painter, own, colour, chosen=chosen, against=number in against)
            middle = (own[0] + own[-1]) / 2.0 if len(own) == 2 else own[len(own) // 2]
            paint_tag(painter, middle.x(), middle.y(), f"⚠ {letter}" if number in against else letter, colour)
        for number, ring in enumerate(picture.rings):
            own = [points["ring", number, k] for k in range(len(ring.points))]
            chosen = self._picked.mark == ("ring", number)
            self._paint_ring(painter, own, chosen=chosen, against=len(picture.lines) + number in against)
        if picture.corner is not None:
            _paint_corner(painter, points["corner", 0, 0])

    def _paint_ring(self, painter: QPainter, points: list[QPointF], *, chosen: bool, against: bool) -> None:
        from isometron.tools.picture_marks import ring_lines  # only over a picture

        lines = ring_lines(np.array([[p.x(), p.y()] for p in points])) if len(points) >= 5 else np.zeros((0, 4))
        painter.setPen(_pen(Tone.RING, chosen, against))
        for x1, y1, x2, y2 in lines:
            painter.drawLine(QPointF(x1, y1), QPointF(x2, y2))
        for point in points:
            _paint_point(painter, point, Tone.RING, 4.0 if chosen else 2.5)


def _beside(a: QPointF, b: QPointF, at: QPointF) -> float:
    """Return how far a pixel lies beside a stretch."""
    way = np.array([b.x() - a.x(), b.y() - a.y()])
    size = max(float(way @ way), 1e-9)
    off = np.array([at.x() - a.x(), at.y() - a.y()])
    return float(np.hypot(*(off - min(max(float(off @ way) / size, 0.0), 1.0) * way)))


def _pen(colour: str, chosen: bool, against: bool) -> QPen:
    pen = QPen(QColor(colour), 3.0 if chosen else 1.8)
    if against:
        pen.setStyle(Qt.PenStyle.DashLine)
    return pen


def _paint_line(painter: QPainter, points: list[QPointF], colour: str, *, chosen: bool, against: bool) -> None:
    # A light rim, so that the mark is told from the picture's own lines, dark or light.
    painter.setPen(QPen(QColor(Tone.SHEET), 4.6 if chosen else 3.4))
    for a, b in pairwise(points):
        painter.drawLine(a, b)
    painter.setPen(_pen(colour, chosen, against))
    for a, b in pairwise(points):
        painter.drawLine(a, b)
    for point in points:
        _paint_point(painter, point, colour, 4.5 if chosen else 3.0)


def _paint_point(painter: QPainter, at: QPointF, colour: str, size: float) -> None:
    painter.setPen(QPen(QColor(colour), 1.4))
    painter.setBrush(QColor(Tone.SHEET))
    painter.drawEllipse(at, size, size)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _paint_corner(painter: QPainter, at: QPointF) -> None:
    painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
    for dx, dy in ((0.0, -14.0), (-11.0, -6.0), (11.0, -6.0)):
        painter.drawLine(at, QPointF(at.x() + dx, at.y() + dy))
