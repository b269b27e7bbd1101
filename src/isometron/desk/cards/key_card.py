"""The card of keys (Shift+F1): made of the deeds, short enough to read at a glance."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from isometron.desk.controls.words import Label
from isometron.desk.deeds.deed import Topic, key_words
from isometron.desk.deeds.register import TOPICS
from isometron.wording import tr

__all__ = ["KeyCard", "card_rows"]

_KEYS = 104
_COLUMNS = (("Drawing", "Stages"), ("Volumes", "Document"), ("Sheet", "Pictures and eyes"))


def card_rows(topic: Topic) -> list[tuple[str, str]]:
    """Return keys and words of a topic's rows, deeds first."""
    rows = [(key_words(deed.keys[0]), tr(deed.on_card)) for deed in topic.deeds if deed.keys and deed.on_card]
    return rows + [(tr(hint.keys), tr(hint.words)) for hint in topic.hints]


class KeyCard(QDialog):
    """Three columns of keys; Escape puts it away."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        outer = QGridLayout(self)
        outer.setContentsMargins(20, 16, 20, 16)
        outer.setHorizontalSpacing(28)
        topics = {topic.title: topic for topic in TOPICS}
        for place, titles in enumerate(_COLUMNS):
            column = QVBoxLayout()
            column.setSpacing(4)
            for title in titles:
                head = Label(tr(title))
                head.setObjectName("heading")
                column.addWidget(head)
                column.addLayout(_rows(topics[title]))
                column.addSpacing(8)
            column.addStretch(1)
            outer.addLayout(column, 0, place)


def _rows(topic: Topic) -> QGridLayout:
    grid = QGridLayout()
    grid.setHorizontalSpacing(12)
    grid.setVerticalSpacing(3)
    grid.setColumnMinimumWidth(0, _KEYS)
    for row, (key, words) in enumerate(card_rows(topic)):
        label = Label(key)
        label.setStyleSheet("font-weight: 600;")
        label.setWordWrap(True)
        label.setMaximumWidth(_KEYS)
        grid.addWidget(label, row, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(Label(words), row, 1, Qt.AlignmentFlag.AlignTop)
    grid.setColumnStretch(1, 1)
    return grid
