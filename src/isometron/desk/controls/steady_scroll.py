"""A column that scrolls, and brings what is wanted to its top although it is still being laid out."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtWidgets import QScrollArea, QWidget

__all__ = ["SteadyScroll"]

_LAID_OUT_MS = 1500
"""Milliseconds in which what is opened has its fields laid out; then the hand may scroll."""


class SteadyScroll(QScrollArea):
    """Scrolls a column up and down."""

    def __init__(self, column: QWidget) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.setObjectName("panel")
        self.setWidget(column)
        self._wanted: QWidget | None = None
        self._let_go = QTimer(self)
        self._let_go.setSingleShot(True)
        self._let_go.setInterval(_LAID_OUT_MS)
        self._let_go.timeout.connect(self._let_scroll)
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.rangeChanged.connect(lambda *_: self._scroll_to_wanted())
        bar.actionTriggered.connect(lambda _: setattr(self, "_wanted", None))  # the hand scrolls

    def bring(self, part: QWidget) -> None:
        """Scroll a part of the column to the top, once it is laid out."""
        self._wanted = part
        QTimer.singleShot(0, self._scroll_to_wanted)
        self._let_go.start()

    def _scroll_to_wanted(self) -> None:
        column, bar = self.widget(), self.verticalScrollBar()
        if self._wanted is not None and column is not None and bar is not None and self._wanted.isVisible():
            bar.setValue(self._wanted.mapTo(column, QPoint(0, 0)).y())

    def _let_scroll(self) -> None:
        self._scroll_to_wanted()
        self._wanted = None
