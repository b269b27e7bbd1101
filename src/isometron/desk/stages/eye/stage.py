"""The Eye stage: how the object stands to the paper, in words, and a place for each way of setting the eye."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout

from isometron.desk.controls.section import Sections
from isometron.desk.controls.words import Wrapped, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.eye.by_fit import ByFit
from isometron.desk.stages.eye.by_numbers import ByNumbers
from isometron.desk.stages.eye.by_points import ByPoints
from isometron.desk.stages.eye.by_slopes import BySlopes
from isometron.desk.stages.eye.by_view import ByView
from isometron.desk.stages.eye.cone import Cone
from isometron.desk.stages.eye.grid import Grid
from isometron.desk.stages.eye.kept_eyes import KeptEyes
from isometron.desk.stages.eye.levels import Levels
from isometron.desk.stages.eye.my_ruler import MyRuler
from isometron.desk.stages.eye.off_page import OffPage
from isometron.desk.stages.eye.photograph import Photograph
from isometron.document.eyes.eye_setting import rotation_of
from isometron.document.eyes.eye_wishes import make_points
from isometron.solve.standing import standing_words
from isometron.view.vanishing import point_count
from isometron.wording import tr

__all__ = ["EyeStage", "make"]


def make(desk: OnDesk) -> EyeStage:
    """Return the stage's body."""
    stage = EyeStage(desk)
    desk.board.wished.connect(stage.show_wish)
    return stage


class EyeStage(StageBody):
    """One-, two- or three-point on top; under it the sections, one open at a time."""

    def __init__(self, desk: OnDesk) -> None:
        session = desk.session
        super().__init__(session, "Eye")
        layout = self.column
        row = QHBoxLayout()
        row.setSpacing(0)
        group = QButtonGroup(self)
        self.points = {}
        for count, words in ((1, tr("1 point")), (2, tr("2 points")), (3, tr("3 points"))):
            button = word_button(words, "tool", tr("Change to this view"))
            button.setCheckable(True)
            button.setStyleSheet("padding: 4px 3px; text-align: center;")
            button.clicked.connect(lambda _, n=count: self._make(n))
            group.addButton(button)
            row.addWidget(button)
            self.points[count] = button
        layout.addLayout(row)
        self._words = Wrapped()
        self._words.setObjectName("quiet")
        layout.addWidget(self._words)
        self.by_points = ByPoints(session)
        self.photograph = Photograph(desk, desk.board.picked)
        self.photograph.tool_chosen.connect(self.tool_chosen)
        self.sections = Sections(
            session,
            [
                ByNumbers(session),
                self.photograph,
                KeptEyes(session),
                self.by_points,
                BySlopes(session),
                ByView(session),
                ByFit(session),
                Cone(session),
                OffPage(session),
                Grid(session),
                Levels(session),
                MyRuler(session),
            ],
        )
        layout.addWidget(self.sections)
        for signal in (session.document_changed, session.previewed_calmly, session.selection_changed):
            signal.connect(self.refresh)
        self.refresh()

    def mark_tool(self, name: str) -> None:
        """Show which tool is in use, if any of the stage's or of the photograph's."""
        super().mark_tool(name)
        self.photograph.tools.mark(name)

    def show_wish(self, points: tuple) -> None:
        """Open the place for vanishing points with three that no eye sees, and the nearest that work."""
        assert self.sections is not None
        self.sections.open(self.by_points)
        self.by_points.propose(points)

    def _make(self, count: int) -> None:
        self.session.attempt(make_points, count)
        self.refresh()

    def refresh(self) -> None:
        """Say how the object stands to the paper."""
        document = self.session.document
        rotation = rotation_of(document, self.session.active)
        self._words.setText(standing_words(document.eye, rotation))
        count = point_count(document.eye, np.asarray(rotation))
        if count in self.points:
            self.points[count].setChecked(True)
