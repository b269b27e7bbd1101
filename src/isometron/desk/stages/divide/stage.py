"""The Divide stage: faces and edges parted by a click, volumes and marks repeated, marks listed, the plain views."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from isometron.desk.controls.deed_button import deed_button
from isometron.desk.controls.marks_section import Marks
from isometron.desk.controls.section import Sections
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.divide.parts import Parts
from isometron.desk.stages.divide.rows import Rows
from isometron.tools.marking import DividePlan

__all__ = ["DivideStage", "make"]


def make(desk: OnDesk) -> DivideStage:
    """Return the stage's body."""
    stage = DivideStage(desk.session)
    stage.views_wanted.connect(desk.show_views)
    return stage


class DivideStage(StageBody):
    """Signal: ``views_wanted`` when the plain views are asked for."""

    views_wanted = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Divide")
        views = deed_button("views")
        views.clicked.connect(self.views_wanted)
        self.column.addWidget(views)
        self.parts, self.rows, self.marks = Parts(session), Rows(session), Marks(session)
        self.sections = Sections(session, [self.parts, self.rows, self.marks])
        self.column.addWidget(self.sections)

    def plan(self) -> DividePlan:
        """How a face is parted by the next click."""
        return self.parts.plan()
