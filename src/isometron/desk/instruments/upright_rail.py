"""The upright rail: in three-point the same scale at the sheet's side, with the horizon and the uprights' point."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.controls.words import plain_tip
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.eyes.eye_edits import tilt_view
from isometron.document.lengths.units import format_paper
from isometron.solve.measures import off_sheet
from isometron.view.plan import snapped
from isometron.view.vanishing import vanishing
from isometron.wording import tr

__all__ = ["UprightRail"]

_MARGIN = 20.0
_REACH = 11.0
_STEEPEST = 89.0


class UprightRail(Instrument[tuple[float, float]]):
    """Beads for the horizon (HL) and the uprights' vanishing point; dragging one tilts the view. Hidden while level.

    A hold is the elevation where it began and the view's pitch then.
    """

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr("Drag the horizon or the uprights' vanishing point, or use the up and down arrows.")
        super().__init__(session, tr("Upright rail"), words, parent)
        self.setFixedWidth(px(46))
        self.refresh()

    def refresh(self) -> None:
        """Appear with the third point; a rail that is held stays."""
        self.setVisible(self._drag is not None or self._session.document.eye.pitch_deg != 0.0)
        self.update()

    def beads(self) -> list[tuple[str, float]]:
        """Return letter and elevation in degrees, from the line of sight, of each bead."""
        pitch = self._session.document.eye.pitch_deg
        upright = ("U", 90.0 - pitch) if pitch > 0.0 else ("D", -90.0 - pitch)
        return [(tr("HL"), -pitch), upright]

    def y_of(self, elevation: float) -> float:
        """Return the pixel of an elevation in degrees."""
        return self.height() - _MARGIN - (elevation + 90.0) / 180.0 * (self.height() - 2 * _MARGIN)

    def _elevation_at(self, y: float) -> float:
        return (self.height() - _MARGIN - y) / (self.height() - 2 * _MARGIN) * 180.0 - 90.0

    def _held(self, y: float) -> bool:
        return min(abs(y - self.y_of(elevation)) for _, elevation in self.beads()) <= _REACH

    def grip_at(self, at: QPointF) -> tuple[float, float] | None:
        """Return the hold on a bead."""
        return (self._elevation_at(at.y()), self._session.settled.eye.pitch_deg) if self._held(at.y()) else None

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """A bead can be slid."""
        return Qt.CursorShape.SizeVerCursor if self._held(at.y()) else Qt.CursorShape.ArrowCursor

    def follow(self, hold: tuple[float, float], at: QPointF) -> None:
        """Slide the bead: the view tilts by as much the other way."""
        start, pitch = hold
        self._session.preview(tilt_view, _within(snapped(pitch - (self._elevation_at(at.y()) - start))))

    def step(self, key: int, size: float) -> bool:
        """Up and down arrows tilt by a degree."""
        steps = {Qt.Key.Key_Up: -1.0, Qt.Key.Key_Down: 1.0}
        if key not in steps:
            return False
        pitch = self._session.settled.eye.pitch_deg + steps[Qt.Key(key)] * size
        self._session.attempt(tilt_view, _within(round(pitch, 3)))
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the scale, the cone and the beads."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.RAIL))
        half = self._session.document.eye.cone_deg / 2
        painter.fillRect(
            QRectF(0, self.y_of(half), self.width(), self.y_of(-half) - self.y_of(half)), QColor(Tone.RAIL_CONE)
        )
        painter.setFont(interface_font(11))
        for angle in range(-90, 91, 10):
            y, long = self.y_of(angle), angle % 30 == 0
            painter.setPen(QPen(QColor("#A9B7B1"), 1.0))
            painter.drawLine(QPointF(self.width() - 6.0, y), QPointF(self.width() - (12.0 if long else 9.0), y))
            if long:
                painter.setPen(QColor("#D6DDD8"))
                box = QRectF(0.0, y - 8.0, self.width() - 14.0, 16.0)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{angle}°")
        for letter, elevation in self.beads():
            self._bead(painter, letter, elevation)
        self.paint_focus(painter)
        painter.end()

    def _bead(self, painter: QPainter, letter: str, elevation: float) -> None:
        y, colour = self.y_of(elevation), "#8FC3CE" if letter == "HL" else "#CF9CC2"
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour))
        painter.drawPolygon(QPolygonF([QPointF(2, y - 7), QPointF(2, y + 7), QPointF(14, y)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QColor(colour))
        painter.setFont(interface_font(11, bold=True))
        painter.drawText(QPointF(3.0, y - 10.0 if y > 24 else y + 20.0), letter)
        self.setToolTip(plain_tip(self._far()))

    def _far(self) -> str:
        document = self._session.document
        point = vanishing(document.eye, np.array([0.0, 0.0, 1.0]))
        if point.at is None:
            return tr("The uprights have no vanishing point.")
        far = format_paper(off_sheet(document, point.at), document.unit)
        return tr("The uprights' vanishing point lies {far} off the sheet.", far=far)


def _within(pitch: float) -> float:
    return min(max(pitch, -_STEEPEST), _STEEPEST)
