"""Two grips at the ends of the horizon on the sheet: one raises the eye, the other shifts the sheet. Words tell them apart."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone
from isometron.document.eyes.eye_edits import lift_horizon, move_horizon
from isometron.document.lengths.units import format_length, format_paper
from isometron.geometry.frames import Floats
from isometron.view.placing import horizon_on_sheet
from isometron.view.vanishing import horizon
from isometron.wording import tr

__all__ = ["HorizonGrips"]

_HEIGHT = 20.0


class HorizonGrips(Grips):
    """Where the grips are, how they look, and what dragging one does."""

    shape = Qt.CursorShape.SizeVerCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._hold: tuple[str, float, float] | None = None

    def boxes(self, view: BoardView, size: tuple[int, int]) -> Floats:
        """Return what the grips cover, pixels."""
        found = self.places(view, *size).values() if self._session.document.show.construction else ()
        return np.array([box.getCoords() for box in found]).reshape(-1, 4)

    def places(self, view: BoardView, width: int, height: int) -> dict[str, QRectF]:
        """Return the grips in pixels, above the horizon outside the sheet's edges, kept in the window."""
        document = self._session.document
        line = horizon(document.eye)
        if line is None or abs(line.normal[1]) < 0.9:
            return {}
        left, _, right, _ = document.sheet.rectangle
        words = self._words()
        sizes = {name: QFontMetricsF(interface_font(11, bold=True)).horizontalAdvance(w) for name, w in words.items()}
        x, y = view.point_to_screen(left, line.height_at(left))
        eye = QRectF(x - sizes["eye"] - 20.0, y - _HEIGHT - 4.0, sizes["eye"] + 14.0, _HEIGHT)
        x, y = view.point_to_screen(right, line.height_at(right))
        sheet = QRectF(x + 6.0, y - _HEIGHT - 4.0, sizes["sheet"] + 14.0, _HEIGHT)
        for box in (eye, sheet):
            box.moveLeft(min(max(box.left(), 4.0), width - box.width() - 4.0))
            box.moveTop(min(max(box.top(), 4.0), height - _HEIGHT - 4.0))
        return {"eye": eye, "sheet": sheet}

    def _words(self) -> dict[str, str]:
        document = self._session.document
        height = format_length(document.eye.position[2], document.unit)
        above = format_paper(horizon_on_sheet(document.eye, document.sheet), document.unit, decimals=0)
        return {"eye": tr("⇕ eye {height}", height=height), "sheet": tr("⇕ sheet {above}", above=above)}

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return "eye" or "sheet" for the grip under a pixel, or None."""
        if not self._session.document.show.construction:
            return None
        return next((name for name, box in self.places(view, *size).items() if box.contains(at)), None)

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold of a grip."""
        settled = self._session.settled
        self._hold = (str(hold), view.to_paper(at.x(), at.y())[1], horizon_on_sheet(settled.eye, settled.sheet))
        return True

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand: the eye's height, or the sheet's place, on the settled document."""
        assert self._hold is not None
        name, start, above = self._hold
        rise = view.to_paper(at.x(), at.y())[1] - start
        if name == "eye":
            self._session.preview(lift_horizon, rise)
        else:
            self._session.preview(move_horizon, round(above + rise, 1))

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint both grips; the eye's is filled, the sheet's is paper."""
        if not self._session.document.show.construction:
            return
        painter.setFont(interface_font(11, bold=True))
        words = self._words()
        for name, box in self.places(view, *size).items():
            filled = name == "eye"
            painter.setPen(QPen(QColor(Tone.ACCENT if filled else Tone.SHADOW), 1.0))
            painter.setBrush(QColor(Tone.ACCENT if filled else Tone.SHEET))
            painter.drawRoundedRect(box, 3.0, 3.0)
            painter.setPen(QColor("#FFFFFF" if filled else Tone.TEXT))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words[name])
        painter.setBrush(Qt.BrushStyle.NoBrush)
