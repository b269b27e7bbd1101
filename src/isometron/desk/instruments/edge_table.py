"""The edges of the selected volume: what a ruler and a protractor would read, grouped by direction."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QColor, QFont
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from isometron.desk.controls.words import plain_tip
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone, px
from isometron.desk.stages.register import stage_words
from isometron.document.lengths.units import format_length, format_paper, paper_unit
from isometron.solve.measures import EdgeMeasure, going_words, off_sheet
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["EdgeTable"]

_FORESHORTENING = 3
"""The column whose head is the widest."""
_HEADS = (tr("edge"), tr("true"), tr("drawn"), tr("foreshortening"), tr("slope"))


_MOST = 60
"""A row of copies has more edges than anyone reads: so many are told."""


class EdgeTable(QTableWidget):
    """Twelve edges in three groups; each group's head says where it vanishes and how far that is off the sheet."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(0, len(_HEADS), parent)
        self._session = session
        self.setAccessibleName(tr("Edges of the selected volume"))
        self.setHorizontalHeaderLabels(_HEADS)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        rows, columns = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None and columns is not None
        rows.hide()
        rows.setDefaultSectionSize(px(20))
        columns.setMinimumSectionSize(36)
        columns.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        for place in (0, _FORESHORTENING):
            columns.setSectionResizeMode(place, QHeaderView.ResizeMode.ResizeToContents)
        for column in range(len(_HEADS)):
            item = self.horizontalHeaderItem(column)
            assert item is not None
            side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
            item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        tips = (
            tr("letter of the direction and number of the edge"),
            tr("true length of the object's edge"),
            tr("length on paper, mm"),
            tr("drawn length as a part of what it would be on the true line of measure"),
            tr("angle from the horizontal on paper"),
        )
        for column, tip in enumerate(tips):
            item = self.horizontalHeaderItem(column)
            assert item is not None
            item.setToolTip(tip)
        session.document_changed.connect(self.refresh)
        session.previewed_calmly.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the active volume's edges."""
        owner = self._session.active
        unit = self._session.document.unit
        self.setHorizontalHeaderLabels(
            [_HEADS[0], tr("true {unit}", unit=unit), tr("drawn {unit}", unit=paper_unit(unit)), *_HEADS[3:]]
        )
        self.clearSpans()
        self.setRowCount(0)
        if owner is None:
            self._head(tr("Select a volume to read its edges."), Tone.QUIET)
            return
        measures = self._session.drawing.measures(owner)[:_MOST]
        if not measures:
            self._head(tr("A round: its rings are told in {stage}.", stage=stage_words("Rounds")), Tone.QUIET)
        for axis, name in enumerate(DIRECTIONS):
            group = [m for m in measures if m.axis == axis]
            if group:
                self._group(name, group)
        slanted = [m for m in measures if m.axis < 0]
        if slanted:
            self._head(tr("slanted, each with a vanishing point of its own"), Tone.QUIET)
            for number, measure in enumerate(slanted, start=1):
                self._edge(f"{tr('S')}{number}", measure)

    def _group(self, name: str, group: list[EdgeMeasure]) -> None:
        letter, colour = DIRECTION_COLOURS[group[0].going]
        point = group[0].vanishing
        if point.at is None:
            where = tr("no vanishing point")
        else:
            far = off_sheet(self._session.document, point.at)
            where = (
                tr(
                    "VP {letter} {far} off the sheet",
                    letter=letter,
                    far=format_paper(far, self._session.document.unit),
                )
                if far
                else tr("VP {letter} on the sheet", letter=letter)
            )
        self._head(f"{name} · {going_words(group[0].going)} · {where}", colour)
        for number, measure in enumerate(group, start=1):
            self._edge(f"{letter}{number}", measure)

    def _head(self, words: str, colour: str) -> None:
        row = self.rowCount()
        self.insertRow(row)
        item = QTableWidgetItem(words)
        item.setForeground(QBrush(QColor(colour)))
        font = QFont()
        font.setPixelSize(px(12))
        font.setWeight(QFont.Weight.DemiBold)
        item.setFont(font)
        item.setToolTip(plain_tip(words))
        self.setItem(row, 0, item)
        self.setSpan(row, 0, 1, len(_HEADS))
        self.setRowHeight(row, px(24))

    def _edge(self, name: str, m: EdgeMeasure) -> None:
        row = self.rowCount()
        self.insertRow(row)
        cells = (
            name,
            format_length(round(m.true, 1 if m.true >= 1000.0 else 2), self._session.document.unit, with_unit=False),
            tr("no picture")
            if m.drawn is None
            else format_paper(m.drawn, self._session.document.unit, with_unit=False),
            "–" if m.foreshortening is None else f"{100 * m.foreshortening:.0f} %",
            "–" if m.slope_deg is None else f"{m.slope_deg:.1f}°",
        )
        hidden = sum(b - a for a, b in m.hidden) > 0.5
        for column, words in enumerate(cells):
            item = QTableWidgetItem(words)
            side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
            item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
            if hidden:
                item.setForeground(QBrush(QColor(Tone.QUIET)))
                item.setToolTip(tr("mostly hidden"))
            self.setItem(row, column, item)
