"""The rings of a volume as a table, a row a ring; what more is told of the chosen one stands under it."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from isometron.desk.controls.tables import lay_plain, needed
from isometron.desk.frame.theme import px
from isometron.document.lengths.units import UnitName, format_length, format_paper, paper_unit
from isometron.solve.ring_facts import RingFact, rule_words
from isometron.wording import tr

__all__ = ["RingTable"]

_ROW = 20
_TEMPLATE, _OFF = 2, 3
_MOST = 9
"""Rows shown before the table scrolls."""


class RingTable(QTableWidget):
    """True diameter, degree, template and gap of each ring. Signal: ``told`` with the words of the chosen ring."""

    told = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(0, 4)
        self.setAccessibleName(tr("Rings of the selected volume"))
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        columns = lay_plain(self, _ROW, 30)
        columns.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        columns.setSectionResizeMode(_TEMPLATE, QHeaderView.ResizeMode.Stretch)
        self._facts: list[RingFact] = []
        self._unit: UnitName = "mm"
        self.currentCellChanged.connect(lambda row, *_: self._tell(row))

    def show_rings(self, facts: list[RingFact], unit: UnitName) -> None:
        """Show the rings of a volume; the row that was chosen stays chosen."""
        row = min(max(self.currentRow(), 0), len(facts) - 1)
        self._facts, self._unit = facts, unit
        off = tr("off") if paper_unit(unit) == unit else tr("off {unit}", unit=paper_unit(unit))
        self.setHorizontalHeaderLabels((f"⌀ {unit}", "°", tr("hole"), off))
        tips = (
            tr("true diameter"),
            tr("degree of the ellipse"),
            tr("the nearest template and its hole"),
            tr("how far it is off"),
        )
        for column, tip in enumerate(tips):
            title = self.horizontalHeaderItem(column)
            assert title is not None
            title.setToolTip(tip)
        self.setRowCount(len(facts))
        for number, fact in enumerate(facts):
            for column, words in enumerate(self._cells(fact)):
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(self._words(fact))
                self.setItem(number, column, item)
        head = self.horizontalHeader()
        assert head is not None
        shown = min(len(facts), _MOST)
        self.setFixedHeight(head.sizeHint().height() + shown * px(_ROW) + 2 * self.frameWidth())
        self._spare()
        self.setVisible(bool(facts))
        self.setCurrentCell(row, 0)
        self._tell(row)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width: the last column may have room, or none."""
        super().resizeEvent(event)
        self._spare()

    def _spare(self) -> None:
        """Leave out how far the template is off, which the words below tell too, where a figure would be cut for it."""
        viewport = self.viewport()
        assert viewport is not None
        rows = [self._cells(fact) for fact in self._facts]
        wide = [
            max(needed(self, column, [row[column] for row in rows]), px(30)) for column in range(self.columnCount())
        ]
        self.setColumnHidden(_OFF, sum(wide) > viewport.width())
        for column, pixels in enumerate(wide):
            if column != _TEMPLATE:
                self.setColumnWidth(column, pixels)

    def _cells(self, fact: RingFact) -> tuple[str, str, str, str]:
        diameter = format_length(round(fact.diameter, 1), self._unit, with_unit=False)
        if fact.picture.kind != "ellipse":
            return diameter, "–", "–", "–"
        degree = f"{fact.picture.degree:.1f}°"
        if fact.fit is None:
            return diameter, degree, "–", "–"
        hole = format_paper(fact.fit.major, self._unit, with_unit=False).removesuffix(".0")
        gap = format_paper(fact.fit.gap, self._unit, decimals=2, with_unit=False)
        return diameter, degree, f"{fact.fit.degree:g}° {hole}", gap

    def _tell(self, row: int) -> None:
        self.told.emit(self._words(self._facts[row]) if 0 <= row < len(self._facts) else "")

    def _words(self, fact: RingFact) -> str:
        picture = fact.picture
        if picture.kind != "ellipse":
            return rule_words(fact)
        axes = tr(
            "{major} x {minor} on paper", major=format_paper(2 * picture.semi_major, self._unit),
            minor=format_paper(2 * picture.semi_minor, self._unit),
        )  # fmt: skip
        lines = [axes, rule_words(fact)]
        if picture.centre_offset is not None:
            far = format_paper(hypot(*picture.centre_offset), self._unit, decimals=2)
            lines.append(tr("true centre {far} off the ellipse's", far=far))
        if fact.fit is not None:
            lines.append(
                tr("template {degree:g}°, hole {hole}, off by {gap}", degree=fact.fit.degree,
                   hole=format_paper(fact.fit.major, self._unit), gap=format_paper(fact.fit.gap, self._unit, decimals=2))
            )  # fmt: skip
        return "\n".join(lines)
