"""The person's ruler: how long it is and what is engraved on it. Sheet, steps and worksheets are given for it."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QComboBox, QLabel

from isometron.desk.controls.fields import PaperField
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import load_settings, remember_ruler
from isometron.document.edits import change_document
from isometron.document.lengths.ruler import DIVISIONS, Ruler, on_ruler
from isometron.document.lengths.units import paper_unit
from isometron.wording import tr

__all__ = ["MyRuler"]

_KINDS = {"opaque": tr("a ruler"), "clear": tr("a clear ruler"), "edge": tr("a paper's edge")}
_ANY = tr("as long as it needs")
_UNITS = ("mm", "in")


class MyRuler(Section):
    """Kind, length, unit and smallest division; none is a ruler that reaches anywhere."""

    def __init__(self, session: Session) -> None:
        super().__init__(
            session, tr("My ruler"), tr("How long it is; where a line is longer, a mark on the way is given")
        )
        self.kind = QComboBox()
        self.kind.addItem(_ANY, "")
        for name, words in _KINDS.items():
            self.kind.addItem(words, name)
        self.kind.setAccessibleName(tr("Kind of ruler"))
        self.column.addWidget(self.kind)
        grid = self.grid()
        unit = lambda: paper_unit(session.document.unit)  # noqa: E731
        self.length = self.field(
            grid, tr("length"), PaperField(tr("Length of the ruler"), unit, (50.0, 3000.0)),
            tr("What it can rule in one go"), lambda value: self._take(length=value),
        )  # fmt: skip
        self.unit, self.division = QComboBox(), QComboBox()
        self._boxes: list[QLabel] = []
        for words, box in ((tr("engraved in"), self.unit), (tr("smallest part"), self.division)):
            label = Label(words)
            label.setBuddy(box)
            box.setAccessibleName(words)
            row = grid.rowCount()
            grid.addWidget(label, row, 0)
            grid.addWidget(box, row, 1)
            self._boxes.append(label)
        self.unit.addItems(_UNITS)
        self.kind.activated.connect(lambda _: self._kind_chosen())
        self.unit.activated.connect(lambda _: self._take(unit=self.unit.currentText()))
        self.division.activated.connect(lambda _: self._take(division=self.division.currentData()))
        self._said = self.words()

    def _kind_chosen(self) -> None:
        kind = self.kind.currentData()
        if not kind:
            self._set(None)
        else:
            self._take(kind=kind)

    def _take(self, **fields: object) -> None:
        ruler = self.session.document.ruler or load_settings().ruler or Ruler()
        unit = str(fields.get("unit", ruler.unit))
        if unit != ruler.unit:
            fields["division"] = DIVISIONS[unit][1]
        self._set(msgspec.structs.replace(ruler, **fields))

    def _set(self, ruler: Ruler | None) -> None:
        words = tr("take a ruler of any length") if ruler is None else tr("take my ruler")
        if self.session.attempt(change_document, words, ruler=ruler):
            remember_ruler(ruler)

    def refresh(self) -> None:
        """Show the sheet's ruler."""
        ruler = self.session.document.ruler
        self.kind.setCurrentIndex(self.kind.findData("" if ruler is None else ruler.kind))
        for widget in (self.length, self.unit, self.division, *self._boxes):
            widget.setEnabled(ruler is not None)
        if ruler is None:
            self.length.show_value(None)
            self._said.setText(tr("Lines are ruled in one go, however long."))
            return
        self.length.show_value(ruler.length)
        self.unit.setCurrentText(ruler.unit)
        parts = DIVISIONS[ruler.unit]
        self.division.clear()
        for part in parts:
            self.division.addItem(on_ruler(part, msgspec.structs.replace(ruler, division=part)), part)
        nearest = min(range(len(parts)), key=lambda k: abs(parts[k] - ruler.division))
        self.division.setCurrentIndex(nearest)
        self._said.setText(
            tr("Distances come to {part}. A line longer than {length} gets marks on the way.",
               part=self.division.currentText(), length=on_ruler(ruler.length, ruler))
        )  # fmt: skip
