"""What the next opening is. Signal: ``tool_chosen`` with "opening"."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.opening_rows import GOES, OPENING_FORMS
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.tools.form.opening import OpeningPlan
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.wording import tr

__all__ = ["NextOpening"]


class NextOpening(Section):
    """What is cut by the next pull."""

    tool_names = ("opening",)

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Opening"), tr("Its form, how deep it goes, what stands in it"))
        self.form, self.goes = (
            self._choice(words, choices)
            for words, choices in ((tr("Form of the opening"), OPENING_FORMS), (tr("How deep it goes"), GOES))
        )
        self._grid = self.grid()
        self.deep = self.waiting_length(self._grid, tr("depth"), tr("Of a pocket, from the face to its bottom"), 50.0)
        self.inside = self.waiting_length(
            self._grid, tr("inside by"), tr("How far inside the outline of the face"), 60.0
        )
        self.radius = self.waiting_length(self._grid, tr("corner radius"), tr("0 for sharp corners"), 0.0)
        self.band = self.waiting_length(self._grid, tr("band"), tr("Width of a band drawn round it; 0 for none"), 0.0)
        self.sill = self.waiting_length(
            self._grid, tr("sill"), tr("How far a sill stands out at its foot; 0 for none"), 0.0
        )
        self.bars = [self.waiting_count(self._grid, words, 40) for words in (tr("upright bars"), tr("level bars"))]
        self.bar = self.waiting_length(self._grid, tr("bar"), tr("Width of a bar; 0 for single lines"), 0.0)
        self.back = self.waiting_length(
            self._grid, tr("set back"), tr("How far behind the face pane and bars stand"), 0.0
        )
        self.pane, self.mirrored = QCheckBox(tr("with a pane")), QCheckBox(tr("on the other side too"))
        self.pane.setToolTip(tr("A line where the pane meets the wall; it hides nothing"))
        self.mirrored.setToolTip(tr("Its mirror image about the thing's own middle"))
        for box in (self.pane, self.mirrored):
            self.column.addWidget(box)
        for choice in (self.form, self.goes):
            choice.activated.connect(lambda _: self._chosen())
        self.button(
            tr("Cut it\tW"), tr("Pull it on a face from corner to corner"), lambda: self.tool_chosen.emit("opening")
        )
        self._chosen()

    def _choice(self, words: str, choices: tuple[tuple[str, str], ...]) -> QComboBox:
        box = QComboBox()
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(8)
        box.setAccessibleName(words)
        for said, value in choices:
            box.addItem(said, value)
        self.column.addWidget(box)
        return box

    def _chosen(self) -> None:
        form = self.form.currentData()
        self.show_field(self.deep, self.goes.currentData() == "pocket")
        self.show_field(self.inside, form == "inset")
        self.show_field(self.radius, form in ("rectangle", "inset"))

    def plan(self) -> OpeningPlan:
        """Return what the next pull cuts."""
        form, goes = self.form.currentData(), self.goes.currentData()
        rounded = self.radius.value or 0.0
        return OpeningPlan(
            OpeningMark(
                face=0, form=form, goes=goes, depth=(self.deep.value or 0.0) if goes == "pocket" else 0.0,
                inset=(self.inside.value or 0.0) if form == "inset" else 0.0,
                round=rounded if form in ("rectangle", "inset") else 0.0, frame=self.band.value or 0.0,
                sill=self.sill.value or 0.0, bars=(self.bars[0].value(), self.bars[1].value()), bar=self.bar.value or 0.0,
                back=self.back.value or 0.0, pane=self.pane.isChecked(), mirrored=self.mirrored.isChecked(),
            )
        )  # fmt: skip
