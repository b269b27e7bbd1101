"""What the tables of figures have in common: no grid, rows as high as their text, no scrolling sideways."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHeaderView, QTableView

from isometron.desk.frame.theme import px

__all__ = ["lay_plain"]


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
