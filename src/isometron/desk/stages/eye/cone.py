"""The cone of vision and what lies outside it."""

from __future__ import annotations

from isometron.desk.controls.fields import AngleField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_document
from isometron.document.eyes.eye_wishes import step_back_until_inside
from isometron.document.lengths.units import format_paper
from isometron.document.model import with_fields
from isometron.wording import tr

__all__ = ["Cone"]


class Cone(Section):
    """The cone of vision and what lies outside it."""

    shows = "stretch"

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Cone"), tr("What lies outside it is drawn stretched"))
        grid = self.grid()
        self._angle = self.field(
            grid, tr("angle"), AngleField(tr("Angle of the cone of vision"), (5.0, 170.0)),
            tr("Full angle; 60° is usual"), lambda value: session.attempt(_set_cone, value),
        )  # fmt: skip
        self._words = self.words()
        self._back = self.button(
            tr("Step back until it fits"),
            tr("Keeps the object's size on paper"),
            lambda: session.attempt(step_back_until_inside),
        )

    def refresh(self) -> None:
        """Say which volumes reach outside and how far they are stretched."""
        document = self.session.document
        self._angle.show_value(document.eye.cone_deg)
        found = [f for f in self.session.drawing.findings if f.code == "outside-cone"]
        radius = tr("Radius on paper {radius}.", radius=format_paper(document.eye.cone_radius, document.unit))
        said = [finding.message.partition(". ")[0] + "." for finding in found[:4]]
        if len(found) > 4:
            said.append(tr("And {count} more.", count=len(found) - 4))
        self._words.setText("\n".join([radius, *(said or [tr("Every corner is inside.")])]))
        self._back.setEnabled(bool(found))


def _set_cone(document, angle: float):
    return change_document(document, tr("set the cone of vision"), eye=with_fields(document.eye, cone_deg=angle))
