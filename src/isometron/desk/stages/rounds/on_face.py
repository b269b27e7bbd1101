"""What is laid on a face next. Signal: ``tool_chosen`` with "lay"."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.fields import AngleField, LengthField, plain_line
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import FORMS
from isometron.desk.frame.session import Session
from isometron.document.lengths.units import LengthError, parse_percent
from isometron.tools.marking import LayPlan
from isometron.wording import tr

__all__ = ["OnFace"]


_KINDS = (
    (tr("ring"), ("ring", 0.0, 0)),
    (tr("hole"), ("ring", 1.0, 0)),
    (tr("button or knob"), ("ring", -1.0, 0)),
    (tr("dial"), ("ring", -1.0, 24)),
    (tr("arch"), ("arch", 0.0, 0)),
)


class OnFace(Section):
    """What is laid on a face next. Signal: ``tool_chosen`` with "lay"."""

    tool_names = ("lay",)

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("On a face"), tr("Ring, hole, button, dial, arch"))
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("What is laid on a face"))
        for words, data in _KINDS:
            self.kind.addItem(words, data)
        self.kind.activated.connect(lambda _: self._chosen())
        self.column.addWidget(self.kind)
        grid = self.grid()
        document = lambda: session.document  # noqa: E731
        self.deep = self.field(grid, tr("depth"), LengthField(tr("Depth"), document, (0.0, 1e6)),
                                tr("How far a hole is sunk or a button is raised"), lambda _: None)  # fmt: skip
        self.deep.show_value(20.0)
        self.band = self.field(grid, tr("band"), LengthField(tr("Band round an arch"), document, (0.0, 1e6)),
                               tr("Thickness drawn round an arch"), lambda _: None)  # fmt: skip
        self.band.show_value(0.0)
        self.sweep = self.field(grid, tr("sweep"), AngleField(tr("Part of the ring"), (1.0, 360.0)),
                                tr("The part of the ring that is drawn; 360 for all of it"), lambda _: None)  # fmt: skip
        self.sweep.show_value(360.0)
        self.inner = plain_line(tr("Concentric rings in percent"), tr("rings inside: 70, 30"))
        self.inner.setToolTip(tr("Diameters of concentric rings, in percent of the whole"))
        self.column.addWidget(self.inner)
        self.form = QComboBox()
        self.form.setAccessibleName(tr("Form of the arch"))
        for words, form in FORMS:
            self.form.addItem(words, form)
        self.column.addWidget(self.form)
        self.button(tr("Lay it\tA"), tr("Press on a face and pull it open"), lambda: self.tool_chosen.emit("lay"))
        self.words().setText(tr("It lies on the volume and goes with it; 3 Divide lists it under “Marks”."))
        self._chosen()

    def _chosen(self) -> None:
        kind, depth, _ = self.kind.currentData()
        self.deep.setEnabled(depth != 0.0)
        for widget in (self.band, self.form):
            widget.setEnabled(kind == "arch")
        for each in (self.sweep, self.inner):
            each.setEnabled(kind == "ring")

    def plan(self) -> LayPlan:
        """Return what is laid by the next pull."""
        kind, sign, divisions = self.kind.currentData()
        inner = []
        for cell in self.inner.text().replace(";", ",").split(","):
            try:
                part = parse_percent(cell) / 100.0
            except LengthError:
                continue
            if 0.0 < part < 1.0:
                inner.append(part)
        return LayPlan(
            kind, sign * (self.deep.value or 0.0), tuple(inner), divisions, self.sweep.value or 360.0,
            self.form.currentData(), self.band.value or 0.0,
        )  # fmt: skip
