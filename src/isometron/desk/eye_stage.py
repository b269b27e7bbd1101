"""The Eye stage: how high, how far, how much turned and tilted, and where the horizon lies on the sheet."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from isometron.desk.fields import AngleField, LengthField, ValueField
from isometron.desk.session import Session
from isometron.document.edits import Edit
from isometron.document.eye_edits import (
    away_from,
    move_horizon,
    raise_eye,
    set_viewing_distance,
    step_to,
    tilt_view,
    turn_object,
    turn_of,
)
from isometron.document.model import Document
from isometron.document.units import UnitName, format_paper, paper_unit
from isometron.solve.measures import true_scale
from isometron.solve.standing import standing_words
from isometron.view.placing import horizon_on_sheet
from isometron.wording import tr

__all__ = ["EyeStage"]


class EyeStage(QWidget):
    """Fields that each make one edit of the eye."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 12, 12)
        layout.setSpacing(8)
        self._words = QLabel()
        self._words.setWordWrap(True)
        layout.addWidget(self._words)
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(1, 1)
        layout.addLayout(grid)
        self._fields: list[tuple[ValueField, Callable[[Document], float]]] = []

        def unit() -> UnitName:
            return session.document.unit

        def on_paper() -> UnitName:
            return paper_unit(session.document.unit)

        eye = tr("The eye's height above the ground")
        self._add(
            grid, tr("eye height"), LengthField(tr("Eye height"), unit), raise_eye, lambda d: d.eye.position[2], eye
        )
        self._add(
            grid, tr("away"), LengthField(tr("Away"), unit, (10.0, 1e7)), step_to, away_from,
            tr("Distance in plan between the eye and the object's middle"),
        )  # fmt: skip
        self._add(
            grid, tr("turn"), AngleField(tr("Turn of the object")), turn_object, turn_of,
            tr("Angle between the object's long side and the paper; 0° is one-point"),
        )  # fmt: skip
        self._add(
            grid, tr("tilt"), AngleField(tr("Tilt of the view"), (-89.0, 89.0)), tilt_view, lambda d: d.eye.pitch_deg,
            tr("Looking up is positive; any tilt makes the third vanishing point"),
        )  # fmt: skip
        self._add(
            grid, tr("viewing distance"), LengthField(tr("Viewing distance"), on_paper, (1.0, 1e6)), set_viewing_distance,
            lambda d: d.eye.viewing_distance, tr("Distance between eye and paper: the picture's size, not its shape"),
        )  # fmt: skip
        self._add(
            grid, tr("horizon at"), LengthField(tr("Horizon on the sheet"), on_paper, (-9e4, 9e4)), move_horizon,
            lambda d: horizon_on_sheet(d.eye, d.sheet), tr("Height of the horizon above the sheet's lower edge"),
        )  # fmt: skip
        self._scale = QLabel()
        self._scale.setObjectName("quiet")
        self._scale.setWordWrap(True)
        layout.addWidget(self._scale)
        session.document_changed.connect(self.refresh)
        session.previewed_calmly.connect(self.refresh)
        self.refresh()

    def _add(
        self,
        grid: QGridLayout,
        words: str,
        field: ValueField,
        edit_of: Callable[[Document, float], Edit],
        value_of: Callable[[Document], float],
        tip: str,
    ) -> None:
        label = QLabel(words)
        label.setBuddy(field)
        label.setToolTip(tip)
        field.setToolTip(tip)
        row = grid.rowCount()
        grid.addWidget(label, row, 0)
        grid.addWidget(field, row, 1)
        self._fields.append((field, value_of))

        def commit(value: float) -> None:
            self._session.attempt(edit_of, value)
            self.refresh()

        field.committed.connect(commit)
        field.refused.connect(lambda words: self._session.say(words, caution=True))

    def refresh(self) -> None:
        """Show the eye of the document."""
        document = self._session.document
        for field, value_of in self._fields:
            field.show_value(value_of(document))
        self._words.setText(standing_words(document.eye, np.eye(3)))
        scale = true_scale(document.eye.viewing_distance, max(away_from(document), 1.0))
        metre = format_paper(1000.0 * scale, document.unit)
        radius = format_paper(document.eye.cone_radius, document.unit)
        self._scale.setText(
            tr(
                "At the object's middle 1 m is drawn {metre}. Cone of vision {cone_deg:g}°, radius {radius}.",
                metre=metre,
                cone_deg=document.eye.cone_deg,
                radius=radius,
            )
        )
