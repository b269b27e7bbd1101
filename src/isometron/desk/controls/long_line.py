"""A line that is longer than a panel is wide: it runs on in as many rows as it needs."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QPlainTextEdit, QWidget

from isometron.desk.frame.theme import px
from isometron.wording import tr

__all__ = ["LongLine"]

_LEAST, _MOST = 2, 6
"""Rows of text that are shown, at least and at most."""


class LongLine(QPlainTextEdit):
    """One line of text, folded. Enter and leaving it end typing, Escape brings the old text back. Signal: ``editingFinished``."""

    editingFinished = pyqtSignal()  # noqa: N815  (the name that a short line has)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = ""
        self.setAccessibleName(name)
        self.setAccessibleDescription(tr("Enter ends typing"))
        self.setTabChangesFocus(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.textChanged.connect(self._take_room)
        self._take_room()

    def text(self) -> str:
        """Return the text as one line."""
        return " ".join(self.toPlainText().split("\n"))

    def setText(self, text: str) -> None:
        """Show a text that is not typed."""
        self._shown = text
        if text != self.toPlainText():
            self.setPlainText(text)
        self.setModified(False)

    def isModified(self) -> bool:
        """Whether a person typed in it since it was shown."""
        document = self.document()
        assert document is not None
        return document.isModified()

    def setModified(self, on: bool) -> None:
        """Say whether what stands there is typed and not yet taken."""
        document = self.document()
        assert document is not None
        document.setModified(on)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter ends typing; Escape brings the old text back."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.editingFinished.emit()
        elif event.key() == Qt.Key.Key_Escape:
            self.setText(self._shown)
            event.ignore()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Coming by Tab chooses the whole text, as in a short line."""
        super().focusInEvent(event)
        if event is not None and event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason):
            self.selectAll()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Leaving it ends typing."""
        self.editingFinished.emit()
        super().focusOutEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width: another number of rows."""
        super().resizeEvent(event)
        self._take_room()

    def _take_room(self) -> None:
        document = self.document()
        assert document is not None
        rows = min(max(round(document.size().height()), _LEAST), _MOST)
        high = rows * self.fontMetrics().lineSpacing() + px(10)
        if high != self.height():
            self.setFixedHeight(high)
