"""What the next line is. Signal: ``tool_chosen`` with "line"."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.fields import PercentField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.tools.form.line import LinePlan
from isometron.wording import tr

__all__ = ["NextLine"]

_THEN = ((tr("straight runs"), "straight"), (tr("smooth curve"), "smooth"), (tr("arcs"), "arc"))


class NextLine(Section):
    """How the next line goes on from point to point."""

    tool_names = ("line",)

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Line"), tr("Straight, smooth or arcs; on faces and round sides"))
        self.then = QComboBox()
        self.then.setAccessibleName(tr("How the line goes on from point to point"))
        for words, value in _THEN:
            self.then.addItem(words, value)
        self.column.addWidget(self.then)
        self.bow = self.field(
            self.grid(), tr("bow"), PercentField(tr("Bow of an arc"), (-2000.0, 2000.0)),
            tr("How far an arc bows out, in percent of half its length; 100 is half a round, negative bows the other way"), lambda _: None,
        )  # fmt: skip
        self.bow.show_value(30.0)
        self.soft, self.mirrored = QCheckBox(tr("as construction")), QCheckBox(tr("on the other side too"))
        self.soft.setToolTip(tr("Drawn lightly, not as the object's own line"))
        self.mirrored.setToolTip(tr("Its mirror image about the thing's own middle"))
        for box in (self.soft, self.mirrored):
            self.column.addWidget(box)
        self.button(
            tr("Draw it\tL"), tr("Point by point on a face or a round side"), lambda: self.tool_chosen.emit("line")
        )
        self.then.activated.connect(lambda _: self._chosen())
        self._chosen()

    def _chosen(self) -> None:
        self.bow.setEnabled(self.then.currentData() == "arc")

    def plan(self) -> LinePlan:
        """Return what the next line is."""
        bow = self.bow.value
        return LinePlan(
            self.then.currentData(), (30.0 if bow is None else bow) / 100.0, self.soft.isChecked(), self.mirrored.isChecked()
        )  # fmt: skip
