"""How faces and edges are parted."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QCheckBox, QWidget

from isometron.desk.controls.fields import LengthField, plain_line
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.marks.dividing import (
    parse_parts,
)
from isometron.document.model import DocumentError
from isometron.errors import IsometronError
from isometron.tools.marking import DividePlan
from isometron.wording import mark, tr

__all__ = ["Parts"]


_PRESETS = (
    (mark("halves"), "2", "2"),
    (mark("quarters"), "4", "4"),
    (mark("3 x 3"), "3", "3"),
    (mark("middle line"), "2", ""),
)


class Parts(Section):
    """How faces and edges are parted."""

    tool_names = ("divide",)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Parts"), tr("Equal parts, parts in a ratio, a border, diagonals"))
        self.presets = self.menu(tr("Part in"), tr("Divisions to begin with"))
        for words, across, up in _PRESETS:
            self.presets.addAction(tr(words), partial(self._preset, across, up))
        grid = self.grid()
        self.across, self.up = plain_line(tr("Parts across"), "3"), plain_line(tr("Parts up"), "1 : 2 : 1")
        self.across.setText("2")
        for words, line, tip in (
            (tr("across"), self.across, tr("3 for equal parts, 1 : 2 : 1 for parts in that ratio, empty for none")),
            (tr("up"), self.up, tr("The same upward; on a top face away")),
        ):
            line.setToolTip(tip)
            line.editingFinished.connect(self._check)
            row = grid.rowCount()
            grid.addWidget(_label(words, line), row, 0)
            grid.addWidget(line, row, 1)
        self.border = self.field(
            grid, tr("border"), LengthField(tr("Border"), lambda: session.document, (0.0, 1e6)),
            tr("An offset frame inside the face"), lambda _: None,
        )  # fmt: skip
        self.border.show_value(0.0)
        self.diagonals, self.firm = QCheckBox(tr("with diagonals")), QCheckBox(tr("as object lines"))
        self.diagonals.setToolTip(tr("The diagonals whose crossing is the middle"))
        self.firm.setToolTip(tr("Drawn like the object, not as construction"))
        for box in (self.diagonals, self.firm):
            self.column.addWidget(box)
        self.words().setText(tr("Press D, then click faces; near an edge it gets ticks. C plays it by diagonals."))

    def _preset(self, across: str, up: str) -> None:
        self.across.setText(across)
        self.up.setText(up)

    def _check(self) -> None:
        for line in (self.across, self.up):
            try:
                parse_parts(line.text())
            except IsometronError as error:
                self.session.say(str(error), caution=True)
                line.setText("")

    def plan(self) -> DividePlan:
        """Return how a face is parted; what cannot be read parts nothing."""
        places = []
        for line in (self.across, self.up):
            try:
                places.append(parse_parts(line.text()))
            except DocumentError:
                places.append(())
        return DividePlan(
            places[0], places[1], self.border.value or 0.0, self.diagonals.isChecked(), not self.firm.isChecked()
        )


def _label(words: str, line: QWidget):
    label = Label(words)
    label.setBuddy(line)
    return label
