"""Starters: frameworks to begin with, sized by their module."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.offered import offer_on
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.wording import tr

__all__ = ["Starting"]


class Starting(Section):
    """Starters: frameworks to begin with, sized by their module."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Starters"), tr("Frameworks to begin with, to be changed"))
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Starter"))
        for name, starter in STARTERS.items():
            self.names.addItem(tr(starter.title), name)
        self.names.setMaxVisibleItems(20)
        self.names.currentIndexChanged.connect(lambda _: self._module_of())
        self.column.addWidget(self.names)
        grid = self.grid()
        self._label = Label()
        self.module = LengthField(tr("Module of the starter"), lambda: session.document, (1.0, 1e5))
        self._label.setBuddy(self.module)
        row = grid.rowCount()
        grid.addWidget(self._label, row, 0)
        grid.addWidget(self.module, row, 1)
        self.module.refused.connect(lambda words: session.say(words, caution=True))
        self.lay = self.button(tr("Lay it on the sheet"), tr("In the middle, or beside what is there"))
        offer_on(self.lay, session, self._laid)
        self.words().setText(tr("Its sizes follow the module; change any of them afterwards."))
        self._module_of()

    def _module_of(self) -> None:
        starter = STARTERS[self.names.currentData()]
        self._label.setText(tr(starter.module))
        self.module.show_value(starter.usual)

    def _laid(self, document: Document, _: tuple[str, ...]) -> Edit:
        self.module.take()
        return lay_starter(document, self.names.currentData(), self.module.value)

    def refresh(self) -> None:
        """Show the module in the document's unit."""
        self.module.show_value(self.module.value)
