"""The stages in the order of the work: opening one shows its tools; any stage at any time."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from PyQt6.QtCore import QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from isometron.desk.controls.section import Section
from isometron.desk.controls.words import WordButton, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.register import STAGES
from isometron.wording import tr

__all__ = ["StagePanel"]


_LAID_OUT_MS = 1500
"""Milliseconds in which a section that is opened has its fields laid out; then the hand may scroll."""


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
        layout.setSpacing(0)
        self._buttons: dict[str, WordButton] = {}
        self._bodies: dict[str, StageBody] = {}
        self._keys = {stage.name: stage.key for stage in STAGES}
        for number, stage in enumerate(STAGES, start=1):
            name = stage.name
            button = word_button(f"{number}  {tr(name)}\t{stage.key}", "stage", tr(stage.tip))
            button.setAccessibleName(tr("Stage {name}", name=tr(name)))
            button.setCheckable(True)
            button.setAutoExclusive(True)
            button.clicked.connect(lambda _, n=name: self.open(n))
            layout.addWidget(button)
            self._buttons[name] = button
        self._room = QScrollArea()
        self._room.setWidgetResizable(True)
        self._room.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._room.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column = QWidget()
        column.setObjectName("panel")
        self._layout = QVBoxLayout(column)
        self._layout.setContentsMargins(0, 4, 0, 8)
        self._layout.setSpacing(0)
        self._layout.addStretch(1)
        self._room.setWidget(column)
        self._wanted: Section | None = None
        self._let_go = QTimer(self)
        self._let_go.setSingleShot(True)
        self._let_go.setInterval(_LAID_OUT_MS)
        self._let_go.timeout.connect(self._let_scroll)
        bar = self._room.verticalScrollBar()
        assert bar is not None
        bar.rangeChanged.connect(lambda *_: self._scroll_to_wanted())
        bar.actionTriggered.connect(lambda _: setattr(self, "_wanted", None))  # the hand scrolls
        layout.addWidget(self._room, 1)
        self.opened_name = ""

    def body(self, name: str) -> Any:
        """Return a stage's body, made now if it was not there yet."""
        if name not in self._bodies:
            home = next(stage.home for stage in STAGES if stage.name == name)
            body: StageBody = import_module(home).make(self._desk)
            body.setVisible(False)
            self._layout.insertWidget(self._layout.count() - 1, body)
            self._bodies[name] = body
            self.made_body.emit(body)
        return self._bodies[name]

    def bodies(self) -> dict[str, StageBody]:
        """Return the bodies that are there already, by their stages' names."""
        return dict(self._bodies)

    def open(self, name: str) -> None:
        """Open one stage and close the others."""
        self.body(name)
        for other, body in self._bodies.items():
            body.setVisible(other == name)
        bar = self._room.verticalScrollBar()
        if bar is not None and name != self.opened_name:
            bar.setValue(0)
        self._buttons[name].setChecked(True)
        self.opened_name = name
        self.opened.emit(name)

    def show_section(self, section: Section) -> None:
        """Scroll a section to the top of its stage, once it is laid out."""
        self._wanted = section
        QTimer.singleShot(0, self._scroll_to_wanted)
        self._let_go.start()

    def _scroll_to_wanted(self) -> None:
        column, bar = self._room.widget(), self._room.verticalScrollBar()
        if self._wanted is not None and column is not None and bar is not None and self._wanted.head.isVisible():
            bar.setValue(self._wanted.head.mapTo(column, QPoint(0, 0)).y())

    def _let_scroll(self) -> None:
        self._scroll_to_wanted()
        self._wanted = None

    def badge(self, name: str, words: str) -> None:
        """Show words such as a count at the right of a stage's name, in place of its key."""
        button = self._buttons[name]
        button.key = words or self._keys[name]
        button.setAccessibleDescription(words)
        button.update()
