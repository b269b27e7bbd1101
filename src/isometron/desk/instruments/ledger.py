"""The ledger: every volume with its true sizes, editable in place; and the card of the selected one."""

from __future__ import annotations

from math import prod, radians, sin

from PyQt6.QtCore import QAbstractTableModel, QItemSelection, QItemSelectionModel, QModelIndex, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QFont, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QCheckBox, QGridLayout, QHeaderView, QTableView, QWidget

from isometron.desk.controls.fields import AngleField, LengthField, ValueField
from isometron.desk.controls.offered import picture_tip
from isometron.desk.controls.tables import bar_width, lay_plain, needed
from isometron.desk.controls.words import Label, plain_tip
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.document.edits import change_volume, delete_volumes, move_volumes
from isometron.document.joins import join_words
from isometron.document.lengths.proportion import driven_text, in_modules, is_expression, typed_size
from isometron.document.lengths.units import LengthError, format_length, format_number, parse_length
from isometron.document.together import change_all, resize_all, turn_together
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import corner_words, side_names
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Ledger", "VolumeCard"]

_RISES, _LEVEL = (-1.0, 1.0), 1e-6
"""Whether the far end of long and of wide goes up when it is rolled and tilted by a positive angle."""
_COLUMN = 36
_ROW, _ROWS, _LIKED = 22, 4, 6
"""Rows that are always shown where there are so many, and where there is room for them."""
_MOST_MEASURED = 2000
_LETTERS = 8
"""Letters of a name that are never cut."""
_SWITCHES: dict[str, tuple[str, tuple[str, str], str]] = {
    "see_through": (
        tr("see-through"),
        (tr("see through"), tr("make solid")),
        tr("Drawn as construction, hides nothing (Ctrl+T)"),
    ),
    "put_away": (
        tr("put away"),
        (tr("put away"), tr("take out")),
        tr("Neither drawn nor in the way until it is taken out again (Ctrl+H)"),
    ),
    "locked": (
        tr("locked"),
        (tr("lock"), tr("unlock")),
        tr("The pencil passes through it; only the ledger changes it"),
    ),
}
_HEADS = (tr("Ledger"), tr("long"), tr("wide"), tr("high"))


class _Rows(QAbstractTableModel):
    """The session's volumes as rows; an edit of a cell is an edit of the document."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._count = len(session.document.volumes)

    def refresh(self) -> None:
        """Tell the view what changed: cells only while the rows are as many as before, so that an editor stays."""
        count = len(self._session.document.volumes)
        if count != self._count:
            self.beginResetModel()
            self._count = count
            self.endResetModel()
        elif count:
            self.dataChanged.emit(self.index(0, 0), self.index(count - 1, len(_HEADS) - 1))
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, len(_HEADS) - 1)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else self._count

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(_HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> object:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return f"{_HEADS[0]}, {self._session.document.unit}" if section == 0 else _HEADS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignLeft if section == 0 else Qt.AlignmentFlag.AlignRight
            return side | Qt.AlignmentFlag.AlignVCenter
        return None

    def data(self, index: QModelIndex, role: int = 0) -> object:
        volume = self._session.document.volumes[index.row()]
        column, unit = index.column(), self._session.document.unit
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            if column == 0:
                return volume.name
            driven = driven_text(volume, DIRECTIONS[column - 1])
            if role == Qt.ItemDataRole.EditRole:
                return f"= {driven}" if driven else format_length(volume.size[column - 1], unit)
            return format_length(volume.size[column - 1], unit, with_unit=False)
        if role == Qt.ItemDataRole.ToolTipRole:
            size = " x ".join(format_length(s, unit) for s in volume.size)
            return plain_tip("\n".join([volume.name, size, *self._told(volume)]))
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
            return side | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.ForegroundRole and volume.put_away:
            return QColor(Tone.QUIET)
        follows = bool(column and driven_text(volume, DIRECTIONS[column - 1]))
        if role == Qt.ItemDataRole.FontRole and ((not column and volume.see_through) or volume.put_away or follows):
            font = QFont()
            font.setUnderline(follows)  # the names need the room that a sign would take
            font.setItalic(not column and volume.see_through)
            font.setStrikeOut(volume.put_away)
            return font
        return QColor(Tone.ACCENT_TEXT) if role == Qt.ItemDataRole.ForegroundRole and follows else None

    def _told(self, volume: AnyVolume) -> list[str]:
        """What is said of a volume beside its sizes: what drives them, what it keeps and what it goes along with."""
        document = self._session.document
        said = [f"{says.drives} = {says.text}" for says in volume.says]
        if volume.keep is not None:
            parts = " : ".join(format_number(p, 3) if p else "–" for p in volume.keep.parts)
            said.append(tr("keeps {parts}", parts=parts))
        if volume.joined is not None and document.index_of(volume.joined.to) is not None:
            said.append(join_words(volume.joined, document.volume(volume.joined.to), document.unit))
        if volume.copies:
            said.append(tr("{count} in all", count=prod(row.count for row in volume.copies)))
        if volume.see_through:
            said.append(tr("see-through"))
        if document.pictures:
            from isometron.match.told_sizes import told_sizes

            said.extend(told_sizes(document, volume))
        return said

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: object, role: int = 0) -> bool:
        volume = self._session.document.volumes[index.row()]
        text = str(value).strip()
        if text == self.data(index, Qt.ItemDataRole.EditRole):
            return False
        if index.column() == 0:
            return self._session.attempt(change_volume, volume.id, tr("rename"), name=text)
        try:
            length = parse_length(text, self._session.document.unit)
        except LengthError as error:
            if is_expression(self._session.document, text):
                return self._session.attempt(typed_size, volume.id, index.column() - 1, text)
            self._session.say(
                tr(
                    "{volume}, {heads}: {error} The old value stays.",
                    volume=volume.name,
                    heads=_HEADS[index.column()],
                    error=error,
                ),
                caution=True,
            )
            return False
        chosen = self._session.selection if volume.id in self._session.selection else (volume.id,)
        return self._session.attempt(resize_all, chosen, index.column() - 1, length)


class Ledger(QTableView):
    """The table of volumes. Its selection is the session's; a click on a figure, a double click on a name, or Enter edits in place.

    Signal: ``menu_wanted`` with the place on the screen.
    """

    menu_wanted = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._rows = _Rows(session)
        self._following, self._high, self._rows_shown = False, 0, _ROWS
        self.setModel(self._rows)
        self.setAccessibleName(tr("Ledger of volumes"))
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        triggers = QAbstractItemView.EditTrigger
        self.setEditTriggers(triggers.DoubleClicked | triggers.EditKeyPressed)
        columns = lay_plain(self, _ROW, 30)
        columns.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        for column in range(1, len(_HEADS)):
            self.setColumnWidth(column, px(_COLUMN))
        columns.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        chosen = self.selectionModel()
        assert chosen is not None
        chosen.selectionChanged.connect(self._chosen)
        self.clicked.connect(self._edit_figure)
        self._fit_columns()
        self._take_room()
        session.document_changed.connect(self._changed)
        session.previewed_calmly.connect(self._changed)
        session.selection_changed.connect(self._follow)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Ask for the menu of the row under the hand, or of the chosen one."""
        assert event is not None
        by_mouse = event.reason() == QContextMenuEvent.Reason.Mouse
        row = self.rowAt(event.pos().y()) if by_mouse else self.currentIndex().row()
        if 0 <= row < len(self._session.document.volumes):
            wanted = self._session.document.volumes[row].id
            if wanted not in self._session.selection:
                self._session.select((wanted,))
        self.menu_wanted.emit(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete removes the selected volumes; Enter edits the cell."""
        assert event is not None
        if event.key() == Qt.Key.Key_Delete and self._session.selection:
            self._session.attempt(delete_volumes, self._session.selection)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.state() != self.State.EditingState:
            self.edit(self.currentIndex())
        else:
            super().keyPressEvent(event)

    def edit_name(self, row: int) -> None:
        """Open the name of one row for typing."""
        self.setFocus()
        self.edit(self._rows.index(row, 0))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width: the names have what the figures leave."""
        super().resizeEvent(event)
        self._fit_columns()

    def _fit_columns(self) -> None:
        """Make the columns of figures as wide as their figures: a name may be shortened, a figure never."""
        for column in range(1, len(_HEADS)):
            self.setColumnWidth(column, max(px(_COLUMN), needed(self, column, self._texts(column))))

    def _texts(self, column: int) -> set[str]:
        rows = range(min(len(self._session.document.volumes), _MOST_MEASURED))
        return {str(self._rows.data(self._rows.index(row, column))) for row in rows}

    def least_width(self) -> int:
        """Return the pixels that all figures and the first letters of the names need."""
        names = {f"{name[:_LETTERS]}…" if len(name) > _LETTERS else name for name in self._texts(0)}
        figures = sum(self.columnWidth(column) for column in range(1, len(_HEADS)))
        slanted = any(volume.see_through for volume in self._session.document.volumes)
        return needed(self, 0, names, slanted=slanted) + figures + 2 * self.frameWidth() + bar_width(self)

    def _take_room(self) -> None:
        """Be no higher than the rows there are, nor lower than the first few of them."""
        head = self.horizontalHeader()
        assert head is not None
        rows, frame = self._rows.rowCount(), head.sizeHint().height() + 2 * self.frameWidth()
        self.setMinimumHeight(frame + min(max(rows, 1), self._rows_shown) * px(_ROW))
        self._high = frame + max(rows, 1) * px(_ROW)
        self.setMaximumHeight(self._high)
        self.updateGeometry()

    def take_rows(self, room: int) -> None:
        """Show some rows more than the least at all times, if there is room for them, pixels."""
        shown = _LIKED if room >= (_LIKED - _ROWS) * px(_ROW) else _ROWS
        if shown != self._rows_shown:
            self._rows_shown = shown
            self._take_room()

    def sizeHint(self) -> QSize:
        """As high as all rows."""
        return QSize(super().sizeHint().width(), self._high)

    def _changed(self) -> None:
        self._take_room()
        self._following = True
        self._rows.refresh()
        self._fit_columns()
        self._following = False
        self._follow()

    def _chosen(self, *_: QItemSelection) -> None:
        if self._following:
            return
        model = self.selectionModel()
        assert model is not None
        rows = {index.row() for index in model.selectedRows()}
        volumes = self._session.document.volumes
        self._session.select(tuple(volumes[row].id for row in sorted(rows) if row < len(volumes)))

    def _edit_figure(self, index: QModelIndex) -> None:
        """Open a figure that was clicked; with Shift or Ctrl a click only selects."""
        if index.column() and QApplication.keyboardModifiers() == Qt.KeyboardModifier.NoModifier:
            self.edit(index)

    def _follow(self) -> None:
        model = self.selectionModel()
        assert model is not None
        self._following = True
        wanted = QItemSelection()
        last = None
        for volume_id in self._session.selection:
            row = self._session.document.index_of(volume_id)
            if row is not None:
                last = self._rows.index(row, 0)
                wanted.select(last, self._rows.index(row, len(_HEADS) - 1))
        flags = QItemSelectionModel.SelectionFlag
        model.select(wanted, flags.ClearAndSelect)
        if last is not None and (not self.currentIndex().isValid() or self.currentIndex().row() != last.row()):
            model.setCurrentIndex(last, flags.NoUpdate)
            self.scrollTo(last)
        self._following = False


class VolumeCard(QWidget):
    """Position, turn, tilt and roll of the selected volume, and its switches."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 2)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(1)
        self._places = [LengthField(tr("Position {axis}", axis=axis), lambda: session.document) for axis in "xyz"]
        self._corner = Label()
        self._corner.setObjectName("quiet")
        grid.addWidget(self._corner, 0, 0, 1, 2)
        self._labels: dict[str, Label] = {}
        self._turn, self._tilt, self._roll = AngleField(tr("Turn")), AngleField(tr("Tilt")), AngleField(tr("Roll"))
        own: list[tuple[str, ValueField]] = [
            *zip((tr("x right"), tr("y away"), tr("z up")), self._places, strict=True),
            (tr("turn"), self._turn), (tr("tilt"), self._tilt), (tr("roll"), self._roll),
        ]  # fmt: skip
        for k, (words, field) in enumerate(own):
            self._put(grid, 1 + 2 * (k // 2), k % 2, words, field)
        for axis, place in enumerate(self._places):
            place.committed.connect(lambda value, k=axis: self._move(k, value))
        self._turn.committed.connect(lambda value: self._attempt(turn_together, value))
        self._tilt.committed.connect(lambda value: self._attempt(change_all, tr("tilt"), pitch_deg=value))
        self._roll.committed.connect(lambda value: self._attempt(change_all, tr("roll"), roll_deg=value))
        self.told = Label()
        self.told.setObjectName("quiet")
        self.told.setAccessibleName(tr("Proportion of the selected volume"))
        self.switches = {name: QCheckBox(words) for name, (words, _, _) in _SWITCHES.items()}
        for name, box in self.switches.items():
            box.setToolTip(_SWITCHES[name][2])
            box.clicked.connect(lambda on, f=name: self._switch(f, on))
        for k, widget in enumerate(self.switches.values()):
            grid.addWidget(widget, 7 + k // 2, k % 2)
        self._grid = grid
        self._place_told()
        for field, name, words in (
            (self._turn, "turn", tr("Turned on the spot, as on a turntable, counter-clockwise from above")),
            (self._tilt, "tilt", tr("Tilted about its own length: one of its long sides goes up")),
            (self._roll, "roll", tr("Rolled about its own width: one of its ends goes up")),
        ):
            field.setToolTip(picture_tip(words, name))
        fields: list[ValueField] = [*self._places, self._turn, self._tilt, self._roll]
        for each in fields:
            each.refused.connect(lambda words: session.say(words, caution=True))
        session.document_changed.connect(self.refresh)
        session.previewed_calmly.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def _put(self, grid: QGridLayout, row: int, column: int, words: str, field: QWidget) -> None:
        label = Label(words)
        label.setObjectName("quiet")
        label.setBuddy(field)
        self._labels[words] = label
        grid.addWidget(label, row, column)
        grid.addWidget(field, row + 1, column)

    def refresh(self) -> None:
        """Show the active volume."""
        row = self._session.active
        self.setEnabled(row is not None)
        for box in self.switches.values():
            box.setEnabled(row is not None)
        volume = None if row is None else self._session.document.volumes[row]
        for k, field in enumerate(self._places):
            field.show_value(None if volume is None else volume.corner[k])
        self._turn.show_value(None if volume is None else volume.yaw_deg)
        self._tilt.show_value(None if volume is None else volume.pitch_deg)
        self._roll.show_value(None if volume is None else volume.roll_deg)
        for name, angle, axis in (("tilt", "pitch_deg", 1), ("roll", "roll_deg", 0)):
            self._labels[tr(name)].setText(
                tr(name) if volume is None else _leaning(volume, tr(name), getattr(volume, angle), axis)
            )
        words = "" if volume is None else in_modules(self._session.document, volume)
        if volume is not None and volume.keep is not None:
            words = tr("{words}, kept", words=words)
        self.told.setText(words)
        self._place_told()
        self._corner.setText(
            tr("position") if volume is None else tr("position of {corner}", corner=corner_words(volume))
        )
        for switch, box in self.switches.items():
            box.setChecked(volume is not None and bool(getattr(volume, switch)))

    def _place_told(self) -> None:
        """Lay the proportion beside the last switch, which is alone in its row, or below it where it is long."""
        self._grid.removeWidget(self.told)
        if 2 * self.told.sizeHint().width() <= self.width() - self._grid.horizontalSpacing():
            self._grid.addWidget(self.told, 8, 1)
        else:
            self._grid.addWidget(self.told, 9, 0, 1, 2)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width: the proportion may fit beside the switches now."""
        super().resizeEvent(event)
        self._place_told()

    def _attempt(self, edit_of, *arguments, **fields) -> None:
        if self._session.selection:
            self._session.attempt(edit_of, self._session.selection, *arguments, **fields)
        self.refresh()

    def _move(self, axis: int, value: float) -> None:
        row = self._session.active
        if row is None:
            return
        offset = [0.0, 0.0, 0.0]
        offset[axis] = value - self._session.document.volumes[row].corner[axis]
        self._attempt(move_volumes, offset)

    def _switch(self, field: str, on: bool) -> None:
        names = _SWITCHES[field][1]
        self._attempt(change_all, names[0] if on else names[1], **{field: on})


def _leaning(volume: AnyVolume, word: str, angle: float, axis: int) -> str:
    """Return a word with what an angle about the other level direction does: *roll: front down*."""
    low, high = side_names(volume, axis)
    rise = sin(radians(angle)) * _RISES[axis]
    if abs(rise) < _LEVEL:
        return word
    return tr("{word}: {side} down", word=word, side=high if rise < 0.0 else low)
