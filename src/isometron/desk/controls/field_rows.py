"""Rows of labelled fields made from a list: what a kind of volume or mark has, read from it and written back as edits."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QSpinBox, QWidget

from isometron.desk.controls.fields import AngleField, LengthField, PercentField, ValueField, plain_line
from isometron.desk.controls.long_line import LongLine
from isometron.desk.controls.picked_words import PickedWords
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["AXIS_CHOICES", "FieldRows", "Row"]

_LONG = 1e7


@dataclass(frozen=True)
class Row:
    """One field: ``kind`` is length, any length, angle, percent, count, choice (a list), words (a few choices, all in sight), switch, text or long text.

    read : gives the value that is shown; write : gives the edit for a new one; choices : words and values of a choice;
    most : of a count.
    """

    words: str
    tip: str
    kind: str
    read: Callable[[], Any]
    write: Callable[[Document, Any], Edit]
    choices: Sequence[tuple[str, Any]] = field(default_factory=tuple)
    most: int = 200


class FieldRows(QWidget):
    """Fields under each other; built anew when another thing is shown, else only their values."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._key: Hashable = None
        self._rows: list[Row] = []
        self.widgets: list[QWidget] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(1, 1)

    def show_rows(self, key: Hashable, rows: list[Row]) -> None:
        """Show rows; ``key`` says whether they are the same as before."""
        self._rows = rows
        if key != self._key or len(rows) != len(self.widgets):
            self._key = key
            self._build()
        for row, widget in zip(rows, self.widgets, strict=True):
            _put(widget, row)
        self.setVisible(bool(rows))

    def _build(self) -> None:
        while self._grid.count():
            item = self._grid.takeAt(0)
            old = item.widget() if item is not None else None
            if old is not None:
                old.hide()
                old.deleteLater()
        self.widgets = []
        for number, row in enumerate(self._rows):
            widget = self._widget(number, row)
            widget.setToolTip(row.tip)
            widget.setAccessibleName(row.words)
            if row.kind in ("switch", "choice", "words"):
                self._grid.addWidget(widget, 2 * number, 0, 1, 2)
            else:
                label = Label(row.words)
                label.setToolTip(row.tip)
                label.setBuddy(widget)
                below = row.kind == "long text"
                self._grid.addWidget(label, 2 * number, 0)
                self._grid.addWidget(widget, 2 * number + below, 1 - below, 1, 1 + below)
                label.setVisible(True)
            widget.setVisible(True)  # at once: until it is shown it asks for no room
            self.widgets.append(widget)

    def _widget(self, number: int, row: Row) -> QWidget:
        if row.kind == "switch":
            box = QCheckBox(row.words)
            box.clicked.connect(lambda on: self._write(number, on))
            return box
        if row.kind == "words":
            picked = PickedWords(row.choices, row.tip)
            picked.picked.connect(lambda index: self._write(number, self._rows[number].choices[index][1]))
            return picked
        if row.kind == "choice":
            choice = QComboBox()
            # Long names are cut off in the field, not the panel by them.
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(8)
            for words, value in row.choices:
                choice.addItem(words, value)
            choice.activated.connect(lambda index: self._write(number, self._rows[number].choices[index][1]))
            return choice
        if row.kind == "count":
            count = QSpinBox()
            count.setRange(0, row.most)
            count.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            count.setKeyboardTracking(False)
            count.valueChanged.connect(lambda value: self._write(number, value))
            return count
        if row.kind in ("text", "long text"):
            line = LongLine(row.words) if row.kind == "long text" else plain_line(row.words, "")
            # Leaving a line that nobody typed in, or whose row has become another one, writes nothing.
            line.editingFinished.connect(lambda: self._write_typed(number, line))
            return line
        made = self._field(row)
        made.committed.connect(lambda value: self._write(number, value))
        made.refused.connect(lambda words: self._session.say(words, caution=True))
        return made

    def _field(self, row: Row) -> ValueField:
        if row.kind == "angle":
            return AngleField(row.words)
        if row.kind == "percent":
            return PercentField(row.words, (-100.0, 100.0))
        low = 0.0 if row.kind == "length" else -_LONG
        return LengthField(row.words, lambda: self._session.document, (low, _LONG))

    def _write_typed(self, number: int, line: QLineEdit | LongLine) -> None:
        if line.isModified():
            line.setModified(False)  # it is taken now, or refused with words; another row may stand here after it
            self._write(number, line.text())

    def _write(self, number: int, value: Any) -> None:
        if number < len(self._rows) and value != self._rows[number].read():
            self._session.attempt(self._rows[number].write, value)
            for row, widget in zip(self._rows, self.widgets, strict=True):
                _put(widget, row)


def _put(widget: QWidget, row: Row) -> None:
    """Show a row's value without telling anyone."""
    value = row.read()
    blocked = widget.blockSignals(True)
    if isinstance(widget, QCheckBox):
        widget.setChecked(bool(value))
    elif isinstance(widget, PickedWords):
        widget.show_value(value)
    elif isinstance(widget, QComboBox):
        values = [v for _, v in row.choices]
        widget.setCurrentIndex(values.index(value) if value in values else -1)
    elif isinstance(widget, QSpinBox):
        widget.setValue(int(value))
    elif isinstance(widget, LongLine):
        if not (widget.hasFocus() and widget.isModified()):
            widget.setText(value)
    elif row.kind == "text" and isinstance(widget, QLineEdit):
        if not (widget.hasFocus() and widget.isModified()):
            widget.setText(value)
            widget.setCursorPosition(0)
    elif isinstance(widget, ValueField) and not (widget.hasFocus() and widget.isModified()):
        widget.show_value(None if value is None else round(float(value), 6))
    widget.blockSignals(blocked)


AXIS_CHOICES: tuple[tuple[str, str], ...] = (
    (tr("along long"), "long"),
    (tr("along wide"), "wide"),
    (tr("along high"), "high"),
)
"""Words and values of a choice among a volume's own directions."""
