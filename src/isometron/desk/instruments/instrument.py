"""What the instruments have in common: something is held, the session shows where it leads, letting go takes it."""

from __future__ import annotations

from typing import Generic, TypeVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone

__all__ = ["Instrument"]

Hold = TypeVar("Hold")


class Instrument(QWidget, Generic[Hold]):
    """An instrument on the session's eye: held with the mouse or moved by keys; Escape lets go of a drag.

    A kind says what can be held at a place (`grip_at`), what following the hand shows (`follow`), and what a key
    does (`step`); one drag is one step of the history.
    """

    def __init__(self, session: Session, name: str, description: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._drag: Hold | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(name)
        self.setAccessibleDescription(description)
        for signal in (session.document_changed, session.previewed, session.selection_changed):
            signal.connect(self.refresh)

    def refresh(self) -> None:
        """Show the session anew."""
        self.update()

    def grip_at(self, at: QPointF) -> Hold | None:
        """Return what the hand would hold at a pixel, or None."""
        raise NotImplementedError

    def follow(self, hold: Hold, at: QPointF) -> None:
        """Show where the hold at a pixel leads."""
        raise NotImplementedError

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """Return the cursor's shape at a pixel while nothing is held."""
        raise NotImplementedError

    def step(self, key: int, size: float) -> bool:
        """Do what a key does, ``size`` 1 or finely 0.1; False for a key that means nothing here."""
        raise NotImplementedError

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold."""
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton:
            self._drag = self.grip_at(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Follow the hand; otherwise show what can be held."""
        assert event is not None
        if self._drag is not None:
            self.follow(self._drag, event.position())
        else:
            self.setCursor(self.shape_at(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: what is shown becomes one step."""
        if self._drag is not None:
            self._drag = None
            self._session.take_preview()
            self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Keys move it, with Shift finely; Escape drops what is being dragged."""
        assert event is not None
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.key() == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self._session.drop_preview()
        elif not self.step(event.key(), 0.1 if fine else 1.0):
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the focus."""
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Show that the focus has gone."""
        self.update()

    def paint_focus(self, painter: QPainter) -> None:
        """Paint the focus ring, the last thing painted."""
        if self.hasFocus():
            painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3.0, 3.0)
