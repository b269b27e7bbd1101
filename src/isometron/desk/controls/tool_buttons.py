"""Tools of a stage as words with a key; the one in use is marked."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QPushButton, QVBoxLayout, QWidget

from isometron.desk.controls.words import word_button

__all__ = ["ToolButtons"]


class ToolButtons(QWidget):
    """Signal: ``chosen`` with the tool's name."""

    chosen = pyqtSignal(str)

    def __init__(self, tools: Sequence[tuple[str, str, str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self._buttons: dict[str, QPushButton] = {}
        self._group = QButtonGroup(self)
        for name, words, tip in tools:
            button = word_button(words, "tool", tip)
            button.setCheckable(True)
            button.clicked.connect(lambda _, n=name: self.chosen.emit(n))
            self._group.addButton(button)
            layout.addWidget(button)
            self._buttons[name] = button

    def mark(self, name: str) -> None:
        """Show which tool is in use: one of these, or none."""
        self._group.setExclusive(False)
        for other, button in self._buttons.items():
            button.setChecked(other == name)
        self._group.setExclusive(name in self._buttons)
