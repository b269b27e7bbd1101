"""What can be done with the selected volumes, and what pulling a face keeps. Signal: ``proportion_chosen``."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QCheckBox

from isometron.desk.controls.section import Section
from isometron.desk.controls.words import word_button
from isometron.desk.frame.session import Session
from isometron.wording import tr

__all__ = ["Deeds"]


class Deeds(Section):
    """What can be done with the selected volumes, and what pulling a face keeps. Signal: ``proportion_chosen``."""

    proportion_chosen = pyqtSignal(str)

    def __init__(self, session: Session, actions: list[QAction]) -> None:
        super().__init__(session, tr("Selected"), tr("What is done with them"))
        for action in actions:
            button = word_button(f"{action.text()}\t{action.shortcut().toString()}", "word", action.toolTip())
            button.clicked.connect(lambda _, a=action: a.trigger())
            action.enabledChanged.connect(button.setEnabled)
            button.setEnabled(action.isEnabled())
            self.column.addWidget(button)
        self.column.setSpacing(2)
        self.keeps = {
            "ratio": QCheckBox(tr("a pull keeps the ratio")),
            "cube": QCheckBox(tr("a pull makes a cube")),
        }
        for key, box in self.keeps.items():
            box.setToolTip(tr("While a face of the selected volume is pulled"))
            box.clicked.connect(lambda on, k=key: self._keep(k if on else "free"))
            self.column.addWidget(box)

    def _keep(self, proportion: str) -> None:
        for key, box in self.keeps.items():
            box.setChecked(key == proportion)
        self.proportion_chosen.emit(proportion)
