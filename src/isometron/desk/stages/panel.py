"""The stages in the order of the work: opening one shows its tools; any stage at any time."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from isometron.desk.controls.steady_scroll import SteadyScroll
from isometron.desk.controls.words import WordButton, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.register import STAGES
from isometron.wording import tr

__all__ = ["StagePanel"]


class StagePanel(QWidget):
    """The stages' names, always in sight, and under them the body of the open one, made when it is first asked for.

    Signals: ``opened`` with the stage's name; ``made_body`` with its body.
    """

    opened = pyqtSignal(str)
    made_body = pyqtSignal(object)

    def __init__(self, desk: OnDesk) -> None:
        super().__init__()
        self._desk = desk
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName(tr("Stages"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        names = QGridLayout()
        names.setSpacing(0)
        rows = (len(STAGES) + 1) // 2
        self._buttons: dict[str, WordButton] = {}
        self._bodies: dict[str, StageBody] = {}
        self._places: dict[str, QWidget] = {}
        self._keys = {stage.name: stage.key for stage in STAGES}
        for number, stage in enumerate(STAGES, start=1):
            name = stage.name
            button = word_button(f"{number} {tr(name)}\t{stage.key}", "stage", tr(stage.tip))
            button.setAccessibleName(tr("Stage {name}", name=tr(name)))
            button.setCheckable(True)
            button.setAutoExclusive(True)
            button.clicked.connect(lambda _, n=name: self.open(n))
            names.addWidget(button, (number - 1) % rows, (number - 1) // rows)
            self._buttons[name] = button
        layout.addLayout(names)
        self._layout = layout
        self.opened_name = ""

    def body(self, name: str) -> Any:
        """Return a stage's body, made now if it was not there yet."""
        if name not in self._bodies:
            home = next(stage.home for stage in STAGES if stage.name == name)
            body: StageBody = import_module(home).make(self._desk)
            place = body if body.sections is not None else SteadyScroll(body)
            place.setVisible(False)
            self._layout.addWidget(place, 1)
            self._bodies[name], self._places[name] = body, place
            self.made_body.emit(body)
        return self._bodies[name]

    def bodies(self) -> dict[str, StageBody]:
        """Return the bodies that are there already, by their stages' names."""
        return dict(self._bodies)

    def open(self, name: str) -> None:
        """Open one stage and close the others."""
        self.body(name)
        for other, place in self._places.items():
            place.setVisible(other == name)
        self._buttons[name].setChecked(True)
        self.opened_name = name
        self.opened.emit(name)

    def badge(self, name: str, words: str) -> None:
        """Show words such as a count at the right of a stage's name, in place of its key."""
        button = self._buttons[name]
        button.key = words or self._keys[name]
        button.setAccessibleDescription(words)
        button.update()
