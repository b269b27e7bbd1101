"""What was typed earlier, brought back by Up and Down in the fields that share it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit

__all__ = ["Earlier"]

_MOST = 40


class Earlier(QObject):
    """Texts that were taken, the latest last. A field that it watches shows them at Up and Down; what was begun comes back at the end."""

    def __init__(self) -> None:
        super().__init__()
        self._texts: list[str] = []
        self._back = 0
        self._begun = ""

    def note(self, text: str) -> None:
        """Keep a text that was taken."""
        if text in self._texts:
            self._texts.remove(text)
        self._texts = [*self._texts, text][-_MOST:]
        self._back = 0

    def eventFilter(self, field: QObject | None, event: QEvent | None) -> bool:
        """Show what was typed earlier."""
        if isinstance(field, QLineEdit) and event is not None:
            if event.type() == QEvent.Type.FocusIn:
                self._back = 0
            elif isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
                step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()), 0)
                if step and event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier):
                    self._show(field, step)
                    return True
        return False

    def _show(self, field: QLineEdit, step: int) -> None:
        if self._back == 0:
            self._begun = field.text()
        self._back = min(max(self._back + step, 0), len(self._texts))
        field.setText(self._texts[-self._back] if self._back else self._begun)
        field.selectAll()
