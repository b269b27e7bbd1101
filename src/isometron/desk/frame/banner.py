"""A quiet bar above the board that offers something and waits: no dialog, nothing to click away first."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from isometron.desk.controls.words import Label
from isometron.wording import tr

__all__ = ["Banner"]


class Banner(QWidget):
    """Words and up to two answers; hidden until something is offered."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._words = Label()
        self._words.setWordWrap(True)
        self._yes, self._no = QPushButton(tr("Yes")), QPushButton(tr("No"))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(20, 6, 12, 6)
        layout.addWidget(self._words, 1)
        layout.addWidget(self._yes)
        layout.addWidget(self._no)
        self._answers: tuple[Callable[[], None], Callable[[], None]] | None = None
        self._yes.clicked.connect(lambda: self._answer(0))
        self._no.clicked.connect(lambda: self._answer(1))
        self.hide()

    def offer(self, words: str, yes: tuple[str, Callable[[], None]], no: tuple[str, Callable[[], None]]) -> None:
        """Show the bar with two answers; either one closes it."""
        self._words.setText(words)
        self._yes.setText(yes[0])
        self._no.setText(no[0])
        self._answers = (yes[1], no[1])
        self.show()

    def _answer(self, which: int) -> None:
        answers, self._answers = self._answers, None
        self.hide()
        if answers is not None:
            answers[which]()
