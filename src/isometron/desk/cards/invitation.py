"""The invitation on an empty sheet: three ways in, and out of the way as soon as anything is begun."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QVBoxLayout, QWidget

from isometron.desk.controls.words import Label, plain_tip, word_button
from isometron.document.store.disk import shown_name
from isometron.wording import tr

__all__ = ["Invitation"]

_ASIDE = 16
"""Pixels that it keeps from the board's rim."""


_FEW = 4
"""Demos that are shown where there is room for one column only; the document's menu has them all."""


class Invitation(QFrame):
    """Words on the sheet; each is a way to begin. It takes no keys from anyone and needs no answer."""

    def __init__(
        self,
        parent: QWidget,
        new_sheet: Callable[[], None],
        open_file: Callable[[], None],
        lay_picture: Callable[[], None],
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
        hint.setWordWrap(True)
        layout.addWidget(hint)
        layout.addWidget(self._button(tr("another sheet\tCtrl+N"), new_sheet))
        self._grid = QGridLayout()
        self._grid.setSpacing(4)
        self._demos = [
            self._button(tr("the {lower}", lower=words.partition(":")[0].lower()), act) for words, act in demos
        ]
        self._columns = 0
        layout.addLayout(self._grid)
        layout.addWidget(self._button(tr("a photograph to draw over\tCtrl+Shift+O"), lay_picture))
        layout.addWidget(self._button(tr("a document from disk\tCtrl+O"), open_file))
        for path, act in recent[:3]:
            button = self._button(shown_name(path.stem).replace("&", "&&"), act)
            button.setToolTip(plain_tip(shown_name(path)))
            layout.addWidget(button)

    def _button(self, words: str, act: Callable[[], None]) -> QWidget:
        button = word_button(words, "tool")
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda: act())
        return button

    def _arrange(self, columns: int) -> None:
        """Lay the demos in so many columns."""
        if columns != self._columns:
            self._columns = columns
            for number, button in enumerate(self._demos):
                button.setVisible(columns > 1 or number < _FEW)
                self._grid.addWidget(button, number // columns, number % columns)

    def centre(self) -> None:
        """Lie in the upper half of the board, clear of the ground on which one draws, and wholly on it."""
        parent = self.parentWidget()
        if parent is None:
            return
        room = parent.width() - 2 * _ASIDE
        widest = max(button.sizeHint().width() for button in self._demos) + 8
        self._arrange(max(1, min(2, (room - 40) // widest)))
        layout = self.layout()
        assert layout is not None
        layout.activate()
        width = min(self.sizeHint().width(), room)
        height = max(self.heightForWidth(width), layout.totalHeightForWidth(width), self.minimumSizeHint().height())
        self.resize(width, height)
        upper = max(_ASIDE, min(parent.height() // 3 - height // 2, parent.height() - height - _ASIDE))
        self.move((parent.width() - width) // 2, upper)
