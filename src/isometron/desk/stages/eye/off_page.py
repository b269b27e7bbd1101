"""Ruler distances of the vanishing points, ticks on the sheet's edges, and the fan."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QCheckBox

from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_document
from isometron.document.eyes.eye_setting import rotation_of
from isometron.document.eyes.point_names import point_word
from isometron.solve.layers.ticks import LETTERS
from isometron.solve.measures import going
from isometron.solve.ruler_words import across_words, up_words
from isometron.view.vanishing import vanishing
from isometron.wording import tr

__all__ = ["OffPage"]


class OffPage(Section):
    """Ruler distances of the vanishing points, ticks on the sheet's edges, and the fan."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Off the page"), tr("Ruler distances, edge ticks, fan of guide lines"))
        self._words = self.words()
        self._ticks = QCheckBox(tr("edge ticks"))
        self._ticks.setToolTip(tr("A ruler laid across equal numbers on both edges runs to the point"))
        self._fan = QCheckBox(tr("fan of guide lines"))
        self._fan.setToolTip(tr("The lines through every second pair of ticks"))
        for box, name in ((self._ticks, "edge_ticks"), (self._fan, "fan")):
            box.clicked.connect(lambda on, n=name: self._switch(n, on))
            self.column.addWidget(box)

    def _switch(self, name: str, on: bool) -> None:
        row, show = self.session.active, self.session.document.show
        of = "" if row is None else self.session.document.volumes[row].id
        changed = msgspec.structs.replace(show, **{name: on}, guides_of=of if on else show.guides_of)
        words = {"edge_ticks": tr("edge ticks"), "fan": tr("fan")}[name]
        self.session.attempt(
            change_document, tr("show {name}", name=words) if on else tr("leave out {name}", name=words), show=changed
        )

    def refresh(self) -> None:
        """Show where a ruler finds each point."""
        document, row = self.session.document, self.session.active
        rotation = rotation_of(document, row)
        lines = []
        for k in range(3):
            point = vanishing(document.eye, rotation[:, k])
            if point.at is not None:
                letter = LETTERS.get(going(point), "V")
                across, up = across_words(document, point.at[0]), up_words(document, point.at[1])
                lines.append((tr("VP {letter}", letter=point_word(document, point.at, letter)), f"{across},\n{up}"))
        whose = tr("the world's directions") if row is None else document.volumes[row].name
        self._words.tell(tr("Of {whose}:", whose=whose), lines)
        self._ticks.setChecked(document.show.edge_ticks)
        self._fan.setChecked(document.show.fan)
