"""The Rounds stage: make volumes round, change their profile and the rings on their ends, read rings and templates."""

from __future__ import annotations

from isometron.desk.controls.section import Sections
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.rounds.ends import Ends
from isometron.desk.stages.rounds.make_round import MakeRound
from isometron.desk.stages.rounds.on_face import OnFace
from isometron.desk.stages.rounds.profile import ProfileSection
from isometron.desk.stages.rounds.told_rings import ToldRings
from isometron.desk.stages.rounds.wheel import Wheel

__all__ = ["RoundsStage", "make"]


def make(desk: OnDesk) -> RoundsStage:
    """Return the stage's body."""
    return RoundsStage(desk.session)


class RoundsStage(StageBody):
    """Volumes made round, their profiles, rings on faces."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Rounds")
        self.profile = ProfileSection(session)
        self.wheel, self.on_face = Wheel(session), OnFace(session)
        self.on_face.tool_chosen.connect(self.tool_chosen)
        self.sections = Sections(
            session, [MakeRound(session), self.profile, Ends(session), ToldRings(session), self.wheel, self.on_face]
        )
        self.column.addWidget(self.sections)
