"""The grid of module squares."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_document
from isometron.volumes.faces.names import face_names
from isometron.volumes.own_sides import side_name
from isometron.wording import tr

__all__ = ["Grid"]


class Grid(Section):
    """The grid of module squares."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Grid"), tr("Module squares on the ground or on a face"))
        grid = self.grid()
        self._module = self.field(
            grid, tr("module"), LengthField(tr("Module of the grid"), lambda: session.document, (0.0, 1e6)),
            tr("Side of a square; 0 for no grid"), lambda value: self._set(grid_module=value),
        )  # fmt: skip
        self._on = QComboBox()
        self._on.setAccessibleName(tr("Where the grid lies"))
        self._on.activated.connect(lambda index: self._set(grid_on=self._on.itemData(index)))
        self.column.addWidget(self._on)
        self._words = self.words()
        self._words.setText(tr("Stair-stepped from the 45-degree point it is played by C, school “45-degree point”."))

    def _set(self, **fields: object) -> None:
        show = msgspec.structs.replace(self.session.document.show, **fields)
        self.session.attempt(change_document, tr("set the grid"), show=show)

    def refresh(self) -> None:
        """Show the grid's module and where it lies; faces of the selected volume are on offer."""
        document, row = self.session.document, self.session.active
        self._module.show_value(document.show.grid_module)
        self._on.clear()
        self._on.addItem(tr("on the ground"), "")
        if row is not None:
            volume = document.volumes[row]
            own = face_names(volume) or {str(number): side_name(volume, number) for number in (5, 2, 3, 0, 1, 4)}
            for face, name in own.items():
                self._on.addItem(tr("{face} of {volume}", face=name, volume=volume.name), f"{volume.id}:{face}")
        here = self._on.findData(document.show.grid_on)
        if here < 0:
            self._on.addItem(document.show.grid_on, document.show.grid_on)
            here = self._on.count() - 1
        self._on.setCurrentIndex(here)
