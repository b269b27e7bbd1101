"""Slopes dragged at the leading edge: a pencil laid along each ground edge, and along the upper right one."""

from __future__ import annotations

from math import atan2, cos, degrees, hypot, radians, sin

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone
from isometron.document.eyes.eye_setting import Slopes, by_slopes, leading_edge, read_slopes

__all__ = ["SlopeGrips"]

_LENGTH = 120.0
_REACH = 9.0


class SlopeGrips(Grips):
    """Three laid pencils; dragging the end of one sets its slope, live, and letting go is one step."""

    name = "slopes"
    holds_sheet = True

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._held = ""
        self._start: Slopes | None = None

    def _ends(self, view: BoardView) -> dict[str, tuple[QPointF, QPointF]]:
        """Return for each pencil where it starts and where its grip lies, in pixels."""
        row = self._session.active
        if not self.shown or row is None:
            return {}
        document = self._session.document
        slopes = read_slopes(document, row)
        if slopes is None or slopes.top_right is None:
            return {}
        paper, _ = document.eye.project(leading_edge(document, row))
        foot, top = (QPointF(*view.point_to_screen(float(u), float(v))) for u, v in paper)
        angles = {"right": slopes.right, "left": 180.0 - slopes.left, "top": slopes.top_right}
        found = {}
        for name, angle in angles.items():
            start = top if name == "top" else foot
            step = QPointF(_LENGTH * cos(radians(angle)), -_LENGTH * sin(radians(angle)))
            found[name] = (start, start + step)
        return found

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return the grip under a pixel, or None."""
        ends = self._ends(view).items()
        return next((name for name, (_, end) in ends if hypot(end.x() - at.x(), end.y() - at.y()) <= _REACH), None)

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold of one."""
        row = self._session.active
        assert row is not None
        self._held, self._start = str(hold), read_slopes(self._session.settled, row)
        return True

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand: the slope from the leading edge to the pencil's place."""
        row, start = self._session.active, self._start
        if row is None or start is None:
            return
        document = self._session.settled
        paper, _ = document.eye.project(leading_edge(document, row))
        u, v = view.to_paper(at.x(), at.y())
        # The leading edge stays on the sheet; the picture's origin moves with the centre of vision.
        moved = [now - then for now, then in zip(self._session.document.sheet.centre_of_vision,
                                                 document.sheet.centre_of_vision, strict=True)]  # fmt: skip
        from_u, from_v = paper[1 if self._held == "top" else 0]
        run, rise = u + moved[0] - float(from_u), v + moved[1] - float(from_v)
        angle = round(degrees(atan2(rise, -run if self._held == "left" else run)), 1)
        slopes = Slopes(
            angle if self._held == "right" else start.right,
            angle if self._held == "left" else start.left,
            angle if self._held == "top" else None,
        )
        self._session.preview(by_slopes, row, slopes)

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint the pencils with a grip at their ends."""
        for name, (start, end) in self._ends(view).items():
            colour = QColor(DIRECTION_COLOURS["left" if name == "left" else "right"][1])
            painter.setPen(QPen(colour, 1.6))
            painter.drawLine(start, end)
            painter.setBrush(QColor(Tone.SHEET))
            painter.drawEllipse(end, 5.5, 5.5)
        painter.setBrush(QColor(0, 0, 0, 0))
