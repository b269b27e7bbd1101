"""The Block stage: the tools, what can be done with the selected volumes, and what the drawing shows."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QLabel, QPushButton, QVBoxLayout, QWidget

from isometron.desk.session import Session
from isometron.desk.words import word_button
from isometron.document.edits import change_document
from isometron.wording import tr

__all__ = ["BlockStage"]


class BlockStage(QWidget):
    """Signals: ``tool_chosen`` with "point", "block" or "measure"; ``proportion_chosen`` with "free", "ratio" or "cube"."""

    tool_chosen = pyqtSignal(str)
    proportion_chosen = pyqtSignal(str)

    def __init__(self, session: Session, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 2, 12, 12)
        layout.setSpacing(2)
        self._tools: dict[str, QPushButton] = {}
        group = self._group = QButtonGroup(self)
        for name, words, tip in (
            ("point", tr("Point at\tP"), tr("Select volumes by pointing at them; Shift adds")),
            ("block", tr("Pull a block\tB"), tr("Three pulls: along, along the other way, up")),
            ("by_eye", tr("Cube by eye\tE"), tr("Draw a cube without figures, and hear how far it is off")),
            ("measure", tr("Measure\tM"), tr("True and drawn distance between any two points")),
        ):
            button = word_button(words, "tool", tip)
            button.setCheckable(True)
            button.clicked.connect(lambda _, n=name: self.tool_chosen.emit(n))
            group.addButton(button)
            layout.addWidget(button)
            self._tools[name] = button
        self._tools["point"].setChecked(True)
        layout.addSpacing(8)
        layout.addWidget(_heading(tr("Selected volumes")))
        for action in actions:
            button = word_button(f"{action.text()}\t{action.shortcut().toString()}", "word", action.toolTip())
            button.clicked.connect(lambda _, a=action: a.trigger())
            action.enabledChanged.connect(button.setEnabled)
            button.setEnabled(action.isEnabled())
            layout.addWidget(button)
        layout.addSpacing(8)
        layout.addWidget(_heading(tr("Pulling a face")))
        self._keeps = {"ratio": QCheckBox(tr("keep long : wide : high")), "cube": QCheckBox(tr("make it a cube"))}
        for key, box in self._keeps.items():
            box.clicked.connect(lambda on, k=key: self._keep(k if on else "free"))
            layout.addWidget(box)
        layout.addSpacing(8)
        layout.addWidget(_heading(tr("Show")))
        self._shown = {
            "hidden": QCheckBox(tr("hidden lines, dashed")),
            "construction": QCheckBox(tr("construction lines")),
            "names": QCheckBox(tr("names on the sheet")),
        }
        for key, box in self._shown.items():
            box.clicked.connect(lambda on, k=key: self._show_changed(k, on))
            layout.addWidget(box)
        session.document_changed.connect(self.refresh)
        self.refresh()

    def _keep(self, proportion: str) -> None:
        for key, box in self._keeps.items():
            box.setChecked(key == proportion)
        self.proportion_chosen.emit(proportion)

    def _show_changed(self, key: str, on: bool) -> None:
        value = ("dashed" if on else "left out") if key == "hidden" else on
        name = {"hidden": tr("hidden lines"), "construction": tr("construction lines"), "names": tr("names")}[key]
        show = msgspec.structs.replace(self._session.document.show, **{key: value})
        self._session.attempt(
            change_document, tr("show {name}", name=name) if on else tr("leave out {name}", name=name), show=show
        )

    def refresh(self) -> None:
        """Show the document's switches."""
        show = self._session.document.show
        self._shown["hidden"].setChecked(show.hidden == "dashed")
        self._shown["construction"].setChecked(show.construction)
        self._shown["names"].setChecked(show.names)

    def mark_tool(self, name: str) -> None:
        """Show which tool is in use."""
        if name in self._tools:
            self._tools[name].setChecked(True)
        else:
            for button in self._tools.values():
                self._group.setExclusive(False)
                button.setChecked(False)
                self._group.setExclusive(True)


def _heading(words: str) -> QLabel:
    label = QLabel(words)
    label.setObjectName("heading")
    return label
