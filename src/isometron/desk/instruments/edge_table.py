"""The edges of the selected volume: what a ruler and a protractor would read, grouped by direction, and typed where that is wanted."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QSignalBlocker, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QContextMenuEvent, QFont
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from isometron.desk.controls.tables import bar_width, lay_plain, needed
from isometron.desk.controls.words import plain_tip
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone, px
from isometron.desk.stages.register import stage_words
from isometron.document.edits import Edit
from isometron.document.eyes.point_names import point_word
from isometron.document.lengths.by_edge import edge_drawn_long, edge_sloping, edge_truly_long
from isometron.document.lengths.typed import part_typed, read_length
from isometron.document.lengths.units import (
    LengthError,
    format_length,
    format_paper,
    paper_unit,
    parse_angle,
    parse_length,
)
from isometron.document.model import Document
from isometron.solve.measures import EdgeMeasure, going_words, off_sheet
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["EdgeTable"]

_TRUE, _DRAWN, _SLOPE = 1, 2, 4
_TYPED = {_TRUE: edge_truly_long, _DRAWN: edge_drawn_long, _SLOPE: edge_sloping}
"""What a figure typed in a column does."""
_ROW, _ROWS = 20, 4
"""Height of a row, and rows that are always shown."""
_NUMBER = Qt.ItemDataRole.UserRole
_HEADS = ("", tr("true"), tr("drawn"), tr("%"), tr("slope"))
_WIDEST = ("R88", "", "88.8", "88", "-88.8°")
"""What there is room for even before it is there, so that columns do not move while the eye does."""


_MOST = 60
"""A row of copies has more edges than anyone reads: so many are told."""


class EdgeTable(QTableWidget):
    """Twelve edges in three groups; each group's head says where it vanishes and how far that is off the sheet.

    Signal: ``menu_wanted`` with the place on the screen.
    """

    menu_wanted = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(0, len(_HEADS), parent)
        self._session = session
        self.setAccessibleName(tr("Edges of the selected volume"))
        self.setHorizontalHeaderLabels(_HEADS)
        trigger = QAbstractItemView.EditTrigger
        self.setEditTriggers(trigger.DoubleClicked | trigger.EditKeyPressed | trigger.AnyKeyPressed)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        columns = lay_plain(self, _ROW, 20)
        columns.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        columns.setSectionResizeMode(_TRUE, QHeaderView.ResizeMode.Stretch)
        for column in range(len(_HEADS)):
            item = self.horizontalHeaderItem(column)
            assert item is not None
            side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
            item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        tips = (
            tr("letter of the direction and number of the edge"),
            tr("true length of the object's edge; typed anew the size along it follows"),
            tr("length on paper; typed anew the size along it follows"),
            tr("foreshortening: drawn length as a part of what it would be on the true line of measure"),
            tr("angle from the horizontal on paper; typed anew the volume is turned on the spot"),
        )
        for column, tip in enumerate(tips):
            item = self.horizontalHeaderItem(column)
            assert item is not None
            item.setToolTip(tip)
        session.document_changed.connect(self.refresh)
        session.previewed_calmly.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self._waiting: Callable[[], None] | None = None
        self.itemChanged.connect(self._typed)
        delegate = self.itemDelegate()
        assert delegate is not None
        delegate.closeEditor.connect(lambda *_: QTimer.singleShot(0, self._edited))
        self.refresh()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Ask for the menu of the edges."""
        assert event is not None
        if self._session.active is not None:
            self.menu_wanted.emit(event.globalPos())

    def refresh(self) -> None:
        """Show the active volume's edges."""
        with QSignalBlocker(self):
            self._show()
            self._fit_columns()

    def _fit_columns(self) -> None:
        """Make every column as wide as its figures; the true lengths have what is left."""
        for column in range(len(_HEADS)):
            if column != _TRUE:
                self.setColumnWidth(column, needed(self, column, self._texts(column)))

    def _texts(self, column: int) -> set[str]:
        cells = (self.item(row, column) for row in range(self.rowCount()) if self.columnSpan(row, 0) == 1)
        return {cell.text() for cell in cells if cell is not None} | {_WIDEST[column]}

    def least_width(self) -> int:
        """Return the pixels that all figures need."""
        columns = sum(needed(self, column, self._texts(column)) for column in range(len(_HEADS)))
        return columns + 2 * self.frameWidth() + bar_width(self)

    def least_height(self) -> int:
        """Return the pixels of the head and the first few rows."""
        head = self.horizontalHeader()
        assert head is not None
        return head.sizeHint().height() + _ROWS * px(_ROW) + 2 * self.frameWidth()

    def _show(self) -> None:
        owner = self._session.active
        unit = self._session.document.unit
        self.setHorizontalHeaderLabels(
            [
                unit,
                _HEADS[_TRUE],
                tr("drawn") if paper_unit(unit) == unit else tr("dr. {unit}", unit=paper_unit(unit)),
                *_HEADS[3:],
            ]
        )
        self.clearSpans()
        self.setRowCount(0)
        if owner is None:
            self._head(tr("Select a volume to read its edges."), Tone.QUIET)
            return
        measures = list(enumerate(self._session.drawing.measures(owner)[:_MOST]))
        if not measures:
            self._head(tr("Its rings: {stage}", stage=stage_words("Rounds")), Tone.QUIET)
        for axis, name in enumerate(DIRECTIONS):
            group = [found for found in measures if found[1].axis == axis]
            if group:
                self._group(name, group)
        slanted = [found for found in measures if found[1].axis < 0]
        if slanted:
            self._head(tr("slanted, each its own VP"), Tone.QUIET)
            for count, (number, measure) in enumerate(slanted, start=1):
                self._edge(f"{tr('S')}{count}", number, measure)

    def _group(self, name: str, group: list[tuple[int, EdgeMeasure]]) -> None:
        first = group[0][1]
        letter, colour = DIRECTION_COLOURS[first.going]
        point = first.vanishing
        if point.at is None:
            where = tr("no vanishing point")
        else:
            far = off_sheet(self._session.document, point.at)
            letter = point_word(self._session.document, point.at, letter)
            where = (
                tr(
                    "VP {letter} {far} off",
                    letter=letter,
                    far=format_paper(far, self._session.document.unit),
                )
                if far
                else tr("VP {letter} on the sheet", letter=letter)
            )
        self._head(f"{name} · {where}", colour, f"{name} · {going_words(first.going)} · {where}")
        for count, (number, measure) in enumerate(group, start=1):
            self._edge(f"{letter}{count}", number, measure)

    def _head(self, words: str, colour: str, more: str = "") -> None:
        row = self.rowCount()
        self.insertRow(row)
        item = QTableWidgetItem(words)
        item.setForeground(QBrush(QColor(colour)))
        font = QFont()
        font.setPixelSize(px(12))
        font.setWeight(QFont.Weight.DemiBold)
        item.setFont(font)
        item.setToolTip(plain_tip(more or words))
        item.setFlags(Qt.ItemFlag.ItemIsEnabled)
        self.setItem(row, 0, item)
        self.setSpan(row, 0, 1, len(_HEADS))
        self.setRowHeight(row, px(_ROW))

    def _edge(self, name: str, number: int, m: EdgeMeasure) -> None:
        row = self.rowCount()
        self.insertRow(row)
        cells = (
            name,
            format_length(round(m.true, 1 if m.true >= 100.0 else 2), self._session.document.unit, with_unit=False),
            tr("no picture")
            if m.drawn is None
            else format_paper(m.drawn, self._session.document.unit, with_unit=False),
            "–" if m.foreshortening is None else f"{100 * m.foreshortening:.0f}",
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
            item.setData(_NUMBER, number)
            if column not in _TYPED or m.axis < 0 or m.drawn is None:
                item.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.setItem(row, column, item)

    def _typed(self, item: QTableWidgetItem) -> None:
        """Take what was typed in a cell; the old figures come back where it is none."""
        owner, column, document = self._session.active, item.column(), self._session.document
        if owner is None:
            return
        volume, edge = document.volumes[owner], self._session.drawing.measures(owner)[item.data(_NUMBER)]
        try:
            value = _read(column, item.text(), document, edge)
        except LengthError as error:
            self._session.say(str(error), caution=True)
            self._waiting = self.refresh
            return
        # The rows are written anew by the edit: not before the cell's editor is gone.
        self._waiting = partial(self._take, _TYPED[column], volume.id, item.data(_NUMBER), value)

    def _edited(self) -> None:
        waiting, self._waiting = self._waiting, None
        if waiting is not None:
            waiting()

    def _take(
        self, edit: Callable[[Document, str, int, float], Edit], volume_id: str, number: int, value: float
    ) -> None:
        before = self._session.document
        done = self._session.attempt(edit, volume_id, number, value) and self._session.document is not before
        if done and not self._session.given_up:
            self._session.say(self._session.undo_name or "")
        self.refresh()


def _read(column: int, text: str, document: Document, edge: EdgeMeasure) -> float:
    """Return what is typed in a column: mm, or degrees; parts are of what is there now."""
    if column == _SLOPE:
        return parse_angle(text)
    if column == _TRUE:
        return read_length(text, document, edge.true)
    part = part_typed(text)
    if part is not None and edge.drawn is not None:
        return part * edge.drawn
    return parse_length(text.lower().removesuffix(tr("on paper")), paper_unit(document.unit))
