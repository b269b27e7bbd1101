"""One rule for the keyboard: after Enter or Escape in any field it goes back to the board, whose keys then work again."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)

__all__ = ["FIELDS", "KeysGoBack"]

FIELDS = (QLineEdit, QPlainTextEdit, QAbstractSpinBox, QComboBox, QAbstractItemView)
_ENDS = {Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape}


class KeysGoBack(QObject):
    """Watches every field that comes into use beside a board: those of the desk, and of cards with a board of their own.

    A field that refuses what was typed keeps the keyboard until it is mended, or left by Escape.
    """

    def __init__(self, desk: QWidget) -> None:
        super().__init__(desk)
        self._desk = desk
        running = QApplication.instance()
        assert isinstance(running, QApplication)
        running.focusChanged.connect(self._watch)

    def _watch(self, _: QWidget | None, now: QWidget | None) -> None:
        if isinstance(now, FIELDS) and self._board_of(now) is not None:
            now.removeEventFilter(self)
            now.installEventFilter(self)

    def _board_of(self, field: QWidget) -> QWidget | None:
        """Return the board that a field belongs to; None for one of another window, or of a dialog without a board."""
        at: QWidget | None = field
        while at is not None:
            board = getattr(at, "board", None)
            if isinstance(board, QWidget) and (at is self._desk or self._desk.isAncestorOf(at)):
                return board
            if at.isWindow():
                return None
            at = at.parentWidget()
        return None

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """See Enter and Escape go by; what they do to the field is done first."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in _ENDS:
            field = watched
            if isinstance(field, QAbstractItemView) and event.key() != Qt.Key.Key_Escape:
                return False  # in a table Enter begins to edit
            if isinstance(field, QWidget):
                QTimer.singleShot(0, lambda: self._go_back(field))
        return False

    def _go_back(self, field: QWidget) -> None:
        try:
            if bool(field.property("refused")):
                return
            board = self._board_of(field)
        except RuntimeError:  # the editor of a table cell is gone by now
            board = getattr(self._desk, "board", None)
        if board is not None:
            board.setFocus()
