"""The invitation on an empty sheet: three ways in, and out of the way as soon as anything is begun."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from isometron.desk.words import Label, plain_tip, word_button
from isometron.document.disk import shown_name
from isometron.wording import tr

__all__ = ["Invitation"]


class Invitation(QFrame):
    """Words on the sheet; each is a way to begin. It takes no keys from anyone and needs no answer."""

    def __init__(
        self,
        parent: QWidget,
        new_sheet: Callable[[], None],
        open_file: Callable[[], None],
        demos: Sequence[tuple[str, Callable[[], None]]],
        recent: Sequence[tuple[Path, Callable[[], None]]],
    ) -> None:
        super().__init__(parent)
        self.setObjectName("invitation")
        self.setAccessibleName(tr("Ways to begin"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(4)
        title = Label(tr("An empty sheet"))
        title.setObjectName("title")
        layout.addWidget(title)
        hint = Label(tr("Press B and pull a block out of the ground, or begin with"))
        layout.addWidget(hint)
        layout.addWidget(self._button(tr("another sheet, unit or eye\tCtrl+N"), new_sheet))
        row = QHBoxLayout()
        row.setSpacing(4)
        for words, act in demos:
            row.addWidget(self._button(tr("the {lower}", lower=words.lower()), act))
        layout.addLayout(row)
        layout.addWidget(self._button(tr("a document from disk\tCtrl+O"), open_file))
        for path, act in recent[:3]:
            button = self._button(shown_name(path.stem).replace("&", "&&"), act)
            button.setToolTip(plain_tip(shown_name(path)))
            layout.addWidget(button)
        self.adjustSize()

    def _button(self, words: str, act: Callable[[], None]) -> QWidget:
        button = word_button(words, "tool")
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.setMinimumWidth(150)
        button.clicked.connect(lambda: act())
        return button

    def centre(self) -> None:
        """Lie in the upper half of the board, clear of the ground on which one draws."""
        parent = self.parentWidget()
        if parent is not None:
            self.move((parent.width() - self.width()) // 2, max(24, parent.height() // 3 - self.height() // 2))
