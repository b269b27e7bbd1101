"""Buttons that are words, with their key at the right edge."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QLabel, QMessageBox, QPushButton, QWidget

from isometron.desk.frame.theme import Tone

__all__ = ["Label", "Question", "WordButton", "Wrapped", "plain_tip", "word_button"]


class WordButton(QPushButton):
    """A flat button of words; its key is painted quietly at the right."""

    def __init__(self, words: str, key: str, parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self.key = key

    def sizeHint(self) -> QSize:
        """Return the room for the words and the key."""
        room = super().sizeHint()
        return (
            room
            if not self.key
            else QSize(room.width() + self.fontMetrics().horizontalAdvance(self.key) + 12, room.height())
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the button, then its key."""
        super().paintEvent(event)
        metrics = self.fontMetrics()
        free = self.width() - 22 - metrics.horizontalAdvance(self.text()) - metrics.horizontalAdvance(self.key)
        if self.key and free > 0:  # in a narrow place the words go first
            painter = QPainter(self)
            painter.setPen(QColor(Tone.QUIET if self.isEnabled() else "#8F8F86"))
            side = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRect(0, 0, self.width() - 7, self.height()), side, self.key)
            painter.end()


class Label(QLabel):
    """Words exactly as they are: names and titles in them are never read as markup."""

    def __init__(self, words: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        if words:
            self.setText(words)


def plain_tip(words: str) -> str:
    """Return words for a tooltip, which the toolkit would read as markup if they look like some."""
    if "<" not in words:
        return words
    return f"<qt>{escape(words)}</qt>".replace("\n", "<br>")


class Question(QMessageBox):
    """A question whose words are no markup."""

    def __init__(self, over: QWidget, title: str, words: str, more: str = "") -> None:
        super().__init__(over)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWindowTitle(title)
        self.setText(words)
        if more:
            self.setInformativeText(more)
            for label in self.findChildren(QLabel):
                label.setTextFormat(Qt.TextFormat.PlainText)


class Wrapped(Label):
    """Words that wrap and always have the height for it, also inside a scrolling panel."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self.setWordWrap(True)

    def setText(self, text: str | None) -> None:
        """Show words, as high as they need."""
        self.setTextFormat(Qt.TextFormat.PlainText)
        super().setText(text)
        self._make_room()

    def tell(self, lead: str, facts: Sequence[tuple[str, str]], gap: str = "<br>") -> None:
        """Show a lead (empty for none), then facts, each with its head in bold."""
        lines = [f"<b>{escape(head)}</b>  {escape(words)}" for head, words in facts]
        text = gap.join(lines).replace("\n", "<br>")
        self.setTextFormat(Qt.TextFormat.RichText)
        super().setText(f"{escape(lead)}<br>{text}" if lead else text)
        self._make_room()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width, another height."""
        super().resizeEvent(event)
        self._make_room()

    def _make_room(self) -> None:
        self.setMinimumHeight(0)  # a label never asks for less than its minimum
        needed = self.heightForWidth(self.width()) if self.text() else 0
        self.setMinimumHeight(needed)


def word_button(words_and_key: str, style: str, tip: str = "") -> WordButton:
    """Return a button from ``words<tab>key`` in one of the style sheet's button styles (word, tool, stage)."""
    words, _, key = words_and_key.partition("\t")
    button = WordButton(words, key)
    button.setObjectName(style)
    button.setToolTip(tip)
    button.setAccessibleName(words)
    button.setAccessibleDescription(tip)
    return button
