"""The Block stage: the tools, and sections for what is done with volumes."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction

from isometron.desk.controls.section import LazySection, Section, Sections
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.block.deeds import Deeds
from isometron.desk.stages.block.shown import Shown
from isometron.desk.stages.body import StageBody
from isometron.wording import tr

__all__ = ["BlockStage", "make"]

_ON_VOLUMES = ("construct", "duplicate", "rename", "see_through", "delete")


def make(desk: OnDesk) -> BlockStage:
    """Return the stage's body."""
    stage = BlockStage(desk.session, [desk.actions_by_deed[name] for name in _ON_VOLUMES])
    stage.proportion_chosen.connect(lambda kept: setattr(desk.board, "proportion", kept))
    return stage


class BlockStage(StageBody):
    """Signal: ``proportion_chosen`` with "free", "ratio" or "cube"."""

    proportion_chosen = pyqtSignal(str)

    def __init__(self, session: Session, actions: list[QAction]) -> None:
        super().__init__(session, "Block")
        layout = self.column
        layout.setSpacing(2)
        layout.addSpacing(4)
        self.deeds = Deeds(session, actions)
        self.deeds.proportion_chosen.connect(self.proportion_chosen)
        self.shapes = LazySection(
            session, tr("Shape"), tr("Cut by its side view, plan and front; arched, framed"), self._shapes
        )
        self.lengthening = LazySection(
            session, tr("Too long"), tr("Or too short: with all that goes along with it"), self._lengthening
        )
        self.joins = LazySection(session, tr("Join, mirror"), tr("What is joined to what"), self._joins)
        self.proportion = LazySection(
            session, tr("Proportion"), tr("Modules, ratios, expressions, what is meant"), self._proportion
        )
        self.starting = LazySection(
            session, tr("Starters"), tr("Frameworks to begin with, to be changed"), self._starting
        )
        self.sections = Sections(
            session,
            [self.deeds, self.lengthening, self.shapes, self.joins, self.proportion, self.starting, Shown(session)],
        )
        layout.addWidget(self.sections)

    def _shapes(self) -> Section:
        from isometron.desk.stages.block.shapes import Shapes

        return Shapes(self.session)

    def _lengthening(self) -> Section:
        from isometron.desk.stages.block.lengthening import Lengthening

        return Lengthening(self.session)

    def _joins(self) -> Section:
        from isometron.desk.stages.block.joins import Joins

        return Joins(self.session, self._carry)

    def _proportion(self) -> Section:
        from isometron.desk.stages.block.proportion import Proportion

        return Proportion(self.session)

    def _starting(self) -> Section:
        from isometron.desk.stages.block.starting import Starting

        return Starting(self.session)

    def _carry(self) -> None:
        self.tool_chosen.emit("join")
