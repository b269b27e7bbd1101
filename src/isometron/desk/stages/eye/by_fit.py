"""The object fills a part of the sheet, by scale or by distance."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.eye.units import units
from isometron.document.edits import Edit
from isometron.document.eyes.eye_wishes import (
    fit_sheet_part,
)
from isometron.document.model import Document
from isometron.wording import mark, tr

__all__ = ["ByFit"]


_PARTS = ((mark("the whole"), 1.0), (mark("three quarters"), 0.75), (mark("half"), 0.5))


class ByFit(Section):
    """The object fills a part of the sheet, by scale or by distance."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Fill the sheet"), tr("As large as a part of the sheet, in its middle"))
        _, paper = units(session)
        grid = self.grid()
        self._part = QComboBox()
        self._part.setAccessibleName(tr("Part of the sheet"))
        for words, part in _PARTS:
            self._part.addItem(tr(words), part)
        self.column.addWidget(self._part)
        self._margin = self.field(
            grid,
            tr("margin"),
            LengthField(tr("Margin"), paper, (0.0, 1000.0)),
            tr("Left free at every edge"),
            lambda _: None,
        )
        self._margin.show_value(15.0)
        self.button(
            tr("By scale"),
            tr("The perspective stays; the picture is enlarged or reduced"),
            lambda: self._fit("perspective"),
        )
        self.button(
            tr("By distance"),
            tr("The viewing distance stays; the eye walks nearer or back"),
            lambda: self._fit("distance"),
        )

    def _fit(self, keep: str) -> None:
        def edit(document: Document) -> Edit:
            return fit_sheet_part(document, self._part.currentData(), self._margin.value or 0.0, keep=keep)

        self.session.attempt(edit)
