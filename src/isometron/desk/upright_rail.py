"""The upright rail: in three-point the same scale at the sheet's side, with the horizon and the uprights' point."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.board_paint import interface_font
from isometron.desk.session import Session
from isometron.desk.theme import Tone, px
from isometron.document.eye_edits import tilt_view
from isometron.document.units import format_paper
from isometron.solve.measures import off_sheet
from isometron.view.plan import snapped
from isometron.view.vanishing import vanishing

__all__ = ["UprightRail"]

_MARGIN = 20.0
_REACH = 11.0
_STEEPEST = 89.0


class UprightRail(QWidget):
    """Beads for the horizon (HL) and the uprights' vanishing point; dragging one tilts the view. Hidden while level."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._drag: tuple[float, float] | None = None
        self.setFixedWidth(px(46))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Upright rail")
        self.setAccessibleDescription(
            "Drag the horizon or the uprights' vanishing point, or use the up and down arrows."
        )
        for signal in (session.document_changed, session.previewed):
            signal.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        self.setVisible(self._drag is not None or self._session.document.eye.pitch_deg != 0.0)
        self.update()

    def beads(self) -> list[tuple[str, float]]:
        """Return letter and elevation in degrees, from the line of sight, of each bead."""
        pitch = self._session.document.eye.pitch_deg
        upright = ("U", 90.0 - pitch) if pitch > 0.0 else ("D", -90.0 - pitch)
        return [("HL", -pitch), upright]

    def y_of(self, elevation: float) -> float:
        """Return the pixel of an elevation in degrees."""
        return self.height() - _MARGIN - (elevation + 90.0) / 180.0 * (self.height() - 2 * _MARGIN)

    def _elevation_at(self, y: float) -> float:
        return (self.height() - _MARGIN - y) / (self.height() - 2 * _MARGIN) * 180.0 - 90.0

    def _held(self, y: float) -> bool:
        return min(abs(y - self.y_of(elevation)) for _, elevation in self.beads()) <= _REACH

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a bead."""
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton and self._held(event.position().y()):
            self._drag = (self._elevation_at(event.position().y()), self._session.settled.eye.pitch_deg)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Slide the bead; otherwise show what can be held."""
        assert event is not None
        y = event.position().y()
        if self._drag is None:
            self.setCursor(Qt.CursorShape.SizeVerCursor if self._held(y) else Qt.CursorShape.ArrowCursor)
            return
        start, pitch = self._drag
        self._session.preview(tilt_view, _within(snapped(pitch - (self._elevation_at(y) - start))))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: one step."""
        if self._drag is not None:
            self._drag = None
            self._session.take_preview()
            self._refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrow keys tilt by a degree, with Shift by a tenth; Escape drops a drag."""
        assert event is not None
        steps = {Qt.Key.Key_Up: -1.0, Qt.Key.Key_Down: 1.0}
        if event.key() == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self._session.drop_preview()
        elif event.key() in steps:
            fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            step = steps[Qt.Key(event.key())] * (0.1 if fine else 1.0)
            self._session.attempt(tilt_view, _within(round(self._session.settled.eye.pitch_deg + step, 3)))
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the focus."""
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Show that the focus has gone."""
        self.update()

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
        if self.hasFocus():
            painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
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
        self.setToolTip(self._far())

    def _far(self) -> str:
        document = self._session.document
        point = vanishing(document.eye, np.array([0.0, 0.0, 1.0]))
        if point.at is None:
            return "The uprights have no vanishing point."
        far = format_paper(off_sheet(document, point.at), document.unit, decimals=0)
        return f"The uprights' vanishing point lies {far} off the sheet."


def _within(pitch: float) -> float:
    return min(max(pitch, -_STEEPEST), _STEEPEST)
