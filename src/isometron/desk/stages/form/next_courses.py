"""What courses a face is filled with next. Signal: ``tool_chosen`` with "courses"."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout

from isometron.desk.controls.course_rows import PATTERNS, USUAL
from isometron.desk.controls.fields import LengthField, ValueField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.volumes.marks.face_marks import CourseMark
from isometron.wording import tr

__all__ = ["NextCourses"]


class NextCourses(Section):
    """What fills the next face that is clicked."""

    tool_names = ("courses",)

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Courses"), tr("Bricks, tiles, planks, squares, slats on a face"))
        self.pattern = QComboBox()
        self.pattern.setAccessibleName(tr("What fills the face"))
        for words, value in PATTERNS:
            self.pattern.addItem(words, value)
        self.column.addWidget(self.pattern)
        grid = self.grid()
        self.long, self.high, self.joint = (
            self._length(grid, words, tip)
            for words, tip in (
                (tr("long"), tr("Of one brick, tile or square, without the joint")),
                (tr("high"), tr("Of one; of planks and slats their width")),
                (tr("joint"), tr("Between one and the next")),
            )
        )
        self.up = QCheckBox(tr("run up the face"))
        self.up.setToolTip(tr("Planks and slats, and not along it"))
        self.column.addWidget(self.up)
        self.button(
            tr("Fill a face\tU"), tr("Click the faces that are filled so"), lambda: self.tool_chosen.emit("courses")
        )
        self.pattern.activated.connect(lambda _: self._chosen())
        self._chosen()

    def _length(self, grid: QGridLayout, words: str, tip: str) -> ValueField:
        return self.field(
            grid, words, LengthField(words, lambda: self.session.document, (0.0, 1e6)), tip, lambda _: None
        )

    def _chosen(self) -> None:
        pattern = self.pattern.currentData()
        for field, value in zip((self.long, self.high, self.joint), USUAL[pattern], strict=True):
            field.show_value(value)
        self.long.setEnabled(pattern not in ("planks", "slats"))
        self.up.setEnabled(pattern in ("planks", "slats"))

    def plan(self) -> CourseMark:
        """Return what fills the next face; its face is still to come."""
        long, high, joint = USUAL[self.pattern.currentData()]
        return CourseMark(
            face=0, pattern=self.pattern.currentData(), long=self.long.value or long, high=self.high.value or high,
            joint=joint if self.joint.value is None else self.joint.value, up=self.up.isEnabled() and self.up.isChecked(),
        )  # fmt: skip
