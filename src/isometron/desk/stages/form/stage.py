"""The Form stage: openings in bodies, hollow bodies, and lines on what stands."""

from __future__ import annotations

from isometron.desk.controls.marks_section import Marks
from isometron.desk.controls.section import Sections
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.form.fences import Fences
from isometron.desk.stages.form.hollow import Hollow
from isometron.desk.stages.form.next_courses import NextCourses
from isometron.desk.stages.form.next_line import NextLine
from isometron.desk.stages.form.next_opening import NextOpening
from isometron.desk.stages.form.planes import Planes
from isometron.desk.stages.form.roofs import Roofs
from isometron.desk.stages.form.rounded_edges import RoundedEdges
from isometron.desk.stages.form.section_lines import SectionLines

__all__ = ["FormStage", "make"]


def make(desk: OnDesk) -> FormStage:
    """Return the stage's body."""
    return FormStage(desk.session)


class FormStage(StageBody):
    """What carries a form further than boxes do."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Form")
        self.opening, self.hollow, self.marks = NextOpening(session), Hollow(session), Marks(session)
        self.line, self.planes = NextLine(session), Planes(session)
        self.courses, self.rounded, self.roofs = NextCourses(session), RoundedEdges(session), Roofs(session)
        self.cuts, self.fences = SectionLines(session), Fences(session)
        for section in (self.opening, self.line, self.courses, self.rounded):
            section.tool_chosen.connect(self.tool_chosen)
        self.sections = Sections(
            session,
            [
                self.opening,
                self.hollow,
                self.rounded,
                self.line,
                self.cuts,
                self.planes,
                self.courses,
                self.roofs,
                self.fences,
                self.marks,
            ],
        )
        self.column.addWidget(self.sections)
