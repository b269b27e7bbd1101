"""Concentric rings on both ends, and spokes between the widest and the narrowest."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QLineEdit,
    QSpinBox,
)

from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.rounds.active import active_round
from isometron.document.lengths.units import LengthError, format_number, parse_percent
from isometron.document.shapes.rounding import (
    change_round,
)
from isometron.wording import tr

__all__ = ["Ends"]


class Ends(Section):
    """Concentric rings on both ends, and spokes between the widest and the narrowest."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("End rings"), tr("Rim, disc, hub: concentric rings, and spokes"))
        self._rings = QLineEdit()
        self._rings.setAccessibleName(tr("Diameters of the rings in percent"))
        self._rings.setPlaceholderText(tr("70, 30, 15"))
        self._rings.editingFinished.connect(self._take)
        self.column.addWidget(self._rings)
        self._spokes = QSpinBox()
        self._spokes.setAccessibleName(tr("Number of spokes"))
        self._spokes.setRange(0, 60)
        self._spokes.setPrefix(tr("spokes "))
        self._spokes.valueChanged.connect(self._take_spokes)
        self.column.addWidget(self._spokes)
        self.words().setText(tr("Diameters in percent of the whole, parted by commas."))

    def _take(self) -> None:
        volume = active_round(self.session)
        if volume is None:
            return
        try:
            parts = tuple(
                parse_percent(word) / 100.0
                for word in self._rings.text().replace(";", ",").split(",")
                if word.strip()
            )
        except LengthError as error:
            self.session.say(str(error), caution=True)
            self.refresh()
            return
        if parts != volume.face_rings:
            self.session.attempt(change_round, volume.id, tr("change the rings of"), face_rings=parts)
            self.refresh()

    def _take_spokes(self, count: int) -> None:
        volume = active_round(self.session)
        if volume is not None and volume.spokes != count:
            self.session.attempt(change_round, volume.id, tr("change the spokes of"), spokes=count)

    def refresh(self) -> None:
        """Show the selected round's rings and spokes."""
        volume = active_round(self.session)
        for widget in (self._rings, self._spokes):
            widget.setEnabled(volume is not None)
        self._rings.setText("" if volume is None else ", ".join(format_number(100 * p, 1) for p in volume.face_rings))
        blocked = self._spokes.blockSignals(True)
        self._spokes.setValue(0 if volume is None else volume.spokes)
        self._spokes.blockSignals(blocked)
