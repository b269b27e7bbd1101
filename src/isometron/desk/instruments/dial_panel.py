"""The plan dial with its numbers, editable, and the two switches that say what turning and pulling mean."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from isometron.desk.controls.fields import AngleField, PaperField, ValueField
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone, px
from isometron.desk.instruments.plan_dial import PLANE_Y, PlanDial
from isometron.document.eyes.eye_edits import (
    away_from,
    set_viewing_distance,
    step_back_keeping_size,
    turn_object,
    turn_of,
    turn_view,
)
from isometron.document.lengths.units import format_length, paper_unit
from isometron.view.plan import arm_angles
from isometron.wording import tr

__all__ = ["DialPanel"]

_MOST = 280
"""Pixels of height that a plan makes use of."""


class DialPanel(QWidget):
    """Heading, dial, numbers, switches."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 6, 10, 2)
        layout.setSpacing(2)
        self.dial = PlanDial(session)
        self._title = Label(tr("Plan dial"), self.dial)
        self._title.setObjectName("heading")
        self._away = Label("", self.dial)
        self._away.setObjectName("quiet")
        for words in (self._title, self._away):
            words.setStyleSheet(f"background: {Tone.PANEL};")
        self._numbers()
        layout.addWidget(self.dial, 1)
        layout.addLayout(self._switches())
        for signal in (session.document_changed, session.previewed_calmly, session.selection_changed):
            signal.connect(self.refresh)
        self.setMaximumHeight(px(_MOST))
        self.refresh()

    def _numbers(self) -> None:
        """Lay the numbers on the dial where they belong: at the arms, and beside the station point."""
        self._left = AngleField(tr("Left arm to the picture plane"), (0.0, 90.0), self.dial)
        self._right = AngleField(tr("Right arm to the picture plane"), (0.0, 90.0), self.dial)
        self._distance = PaperField(
            tr("Viewing distance"), lambda: paper_unit(self._session.document.unit), (1.0, 1e6), self.dial
        )
        fields: list[tuple[ValueField, str]] = [
            (self._left, tr("Angle of the left-going edges to the paper, in plan")),
            (self._right, tr("Angle of the right-going edges to the paper, in plan")),
            (self._distance, tr("Viewing distance: from the eye to the picture plane, on paper")),
        ]
        for field, tip in fields:
            field.setToolTip(tip)
            field.refused.connect(lambda words: self._session.say(words, caution=True))
        self._letters = [Label(letter, self.dial) for letter in "LR"]
        for label, way in zip(self._letters, ("left", "right"), strict=True):
            label.setStyleSheet(f"color: {DIRECTION_COLOURS[way][1]}; font-weight: 700;")
        self._left.committed.connect(lambda angle: self._set_arm(0, angle - 90.0))
        self._right.committed.connect(lambda angle: self._set_arm(1, 90.0 - angle))
        self._distance.committed.connect(self._set_distance)
        self.dial.resized.connect(self._place_numbers)

    def _place_numbers(self) -> None:
        width, height, wide, high = self.dial.width(), self.dial.height(), px(62), px(26)
        top = round(PLANE_Y) + 8
        self._place_words()
        below = min(width // 2 + 16, width - px(84)), height - high - 2, px(84)
        if self.dial.folded:  # all in one row
            top, wide = height - high, px(47)
            below = 16 + wide + 4, top, width - 2 * wide - 40
        self._letters[0].setGeometry(2, top, 14, high)
        self._left.setGeometry(16, top, wide, high)
        self._right.setGeometry(width - wide - 16, top, wide, high)
        self._letters[1].setGeometry(width - 13, top, 14, high)
        self._distance.setGeometry(*below, high)

    def fold(self, folded: bool) -> None:
        """Show only the numbers, where there is no room for the plan."""
        self.dial.fold(folded)
        for switch in (self._turns_view, self._keeps_size):
            switch.setHidden(folded)
        self.setMaximumHeight(self.dial.maximumHeight() + 10 if folded else px(_MOST))
        self._place_numbers()

    def least_height(self) -> int:
        """Return the pixels below which the plan cannot be read."""
        margins = self.contentsMargins()
        around = margins.top() + margins.bottom() + 10
        return self.dial.least_height(False) + self._turns_view.sizeHint().height() + around

    def _place_words(self) -> None:
        """Lay the words over the dial in its upper corners, no wider than they are."""
        self._title.adjustSize()
        self._away.adjustSize()
        self._title.move(0, 0)
        self._away.move(self.dial.width() - self._away.width(), 1)

    def _switches(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        self._turns_view = QCheckBox(tr("turn view"))
        self._turns_view.setToolTip(
            tr(
                "Off: the square turns the object, and the eye walks round it. On: the square turns "
                "the head; the object moves across the sheet and is drawn from the same side."
            )
        )
        self._keeps_size = QCheckBox(tr("keep size"))
        self._keeps_size.setChecked(True)
        self._keeps_size.setToolTip(
            tr(
                "On: the size on paper is kept: pulling the station point walks back as well, so the object keeps its size and "
                "only gets flatter. Off: the eye stays where it is, and the picture grows with the "
                "distance."
            )
        )
        self._turns_view.toggled.connect(lambda on: setattr(self.dial, "turns_object", not on))
        self._keeps_size.toggled.connect(lambda on: setattr(self.dial, "keeps_size", on))
        row.addWidget(self._turns_view)
        row.addStretch(1)
        row.addWidget(self._keeps_size)
        return row

    def _arms(self) -> tuple[float, float]:
        active = self._session.active
        rotation = np.eye(3) if active is None else self._session.drawing.scene.rotations[active]
        return arm_angles(self._session.document.eye, rotation)

    def _set_arm(self, side: int, bearing: float) -> None:
        swing = bearing - self._arms()[side]
        if self.dial.turns_object:
            self._session.attempt(turn_object, round(turn_of(self._session.document) - swing, 6))
        else:
            self._session.attempt(turn_view, self._session.document.eye.yaw_deg + swing)
        self.refresh()

    def _set_distance(self, distance: float) -> None:
        keeps = self.dial.keeps_size
        self._session.attempt(step_back_keeping_size if keeps else set_viewing_distance, distance)
        self.refresh()

    def refresh(self) -> None:
        """Show the eye's numbers."""
        left, right = self._arms()
        self._left.show_value(round(90.0 + left, 6))
        self._right.show_value(round(90.0 - right, 6))
        self._distance.show_value(self._session.document.eye.viewing_distance)
        away = format_length(away_from(self._session.document), self._session.document.unit, decimals=0)
        self._away.setText(tr("eye {away} away", away=away))
        self._place_words()
