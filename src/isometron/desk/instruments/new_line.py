"""The line under the ledger in which a whole thing is said: name, sizes, place, rows."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from isometron.desk.controls.earlier import Earlier
from isometron.desk.controls.fields import mark_refused
from isometron.desk.controls.words import plain_tip
from isometron.desk.frame.session import Session
from isometron.document.shapes.said import SAID_HINT, add_said
from isometron.wording import tr

__all__ = ["NewLine"]


class NewLine(QLineEdit):
    """Enter lays what the line says and selects it; what is refused stays to be mended. Up brings earlier lines back."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._earlier = Earlier()
        self.installEventFilter(self._earlier)
        self.setAccessibleName(tr("A new thing, said in one line"))
        self.setPlaceholderText(tr("a new one: seat 420 x 400 x 45"))
        self.setToolTip(
            plain_tip(tr("Length x width x height, and where it lies: {hint}. Up: earlier lines", hint=SAID_HINT))
        )
        self.returnPressed.connect(self._lay)
        self.textEdited.connect(lambda _: mark_refused(self, False))

    def _lay(self) -> None:
        text = self.text().strip()
        laid = bool(text) and self._session.attempt(add_said, text)
        # What is refused keeps the keyboard, so that it can be mended.
        mark_refused(self, bool(text) and not laid)
        if laid:
            self._earlier.note(text)
            self.clear()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape empties the line."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self.text():
            self.clear()
            mark_refused(self, False)
            return
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()
