"""A few choices as words side by side, all in sight: one click picks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from isometron.desk.controls.flow import Flow
from isometron.desk.controls.words import WordButton, word_button

__all__ = ["PickedWords"]


class PickedWords(QWidget):
    """Words of which one is picked; ``picked`` with its number when the hand picks it."""

    picked = pyqtSignal(int)

    def __init__(self, choices: Sequence[tuple[str, Any]], tip: str) -> None:
        super().__init__()
        self._values = [value for _, value in choices]
        flow = Flow(self, gap=4)
        self.buttons: list[WordButton] = []
        for number, (words, _) in enumerate(choices):
            button = word_button(words, "section", tip)
            button.setCheckable(True)
            button.clicked.connect(lambda _on, number=number: self._pick(number))
            self.buttons.append(button)
            flow.addWidget(button)

    def show_value(self, value: Any) -> None:
        """Show which is picked, without telling anyone."""
        for button, own in zip(self.buttons, self._values, strict=True):
            button.setChecked(own == value)

    def _pick(self, number: int) -> None:
        self.show_value(self._values[number])
        self.picked.emit(number)
