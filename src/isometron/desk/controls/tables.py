"""What the tables of figures have in common: no grid, rows as high as their text, no scrolling sideways."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QFontMetrics
from PyQt6.QtWidgets import QHeaderView, QStyle, QTableView

from isometron.desk.frame.theme import px

__all__ = ["bar_width", "lay_plain", "needed"]

_AROUND_CELL, _AROUND_HEAD, _LEAN = 9, 8, 4
"""Pixels that a cell takes beside its text, and a head; and what slanted letters lean over."""


def lay_plain(table: QTableView, row: int, least: int) -> QHeaderView:
    """Lay a table out plainly, its rows ``row`` and its columns at least ``least`` pixels at the usual text size; return its head."""
    table.setShowGrid(False)
    table.setTabKeyNavigation(False)
    table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    rows, columns = table.verticalHeader(), table.horizontalHeader()
    assert rows is not None and columns is not None
    rows.hide()
    rows.setDefaultSectionSize(px(row))
    columns.setHighlightSections(False)
    columns.setMinimumSectionSize(px(least))
    return columns


def needed(table: QTableView, column: int, texts: Iterable[str], *, slanted: bool = False) -> int:
    """Return how wide in pixels a column must be so that neither its head nor one of ``texts``, slanted or not, is cut."""
    head, model = table.horizontalHeader(), table.model()
    assert head is not None and model is not None
    title = str(model.headerData(column, Qt.Orientation.Horizontal) or "")
    font = QFont(table.font())
    font.setItalic(slanted)
    metrics = QFontMetrics(font)
    longest = max((metrics.horizontalAdvance(text) for text in texts), default=0)
    return (
        max(longest + _AROUND_CELL + slanted * _LEAN, head.fontMetrics().horizontalAdvance(title) + _AROUND_HEAD) + 1
    )


def bar_width(table: QTableView) -> int:
    """Return how wide in pixels the bar is that scrolls a table."""
    style = table.style()
    assert style is not None
    return style.pixelMetric(QStyle.PixelMetric.PM_ScrollBarExtent, None, table.verticalScrollBar())
