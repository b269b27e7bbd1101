"""Other shapes inside the bounding volume, and the numbers of the one it has."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMenu

from isometron.desk.cards.outline_card import OutlineCard
from isometron.desk.cards.outline_window import OutlineWindow
from isometron.desk.controls.field_rows import FieldRows
from isometron.desk.controls.offered import offer
from isometron.desk.controls.profile_rows import corner_rows, view_rows
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import shape_rows
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.document.shapes.wheel_arches import cut_arches, wheels_beside
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, ViewName
from isometron.wording import tr

__all__ = ["Shapes"]


class Shapes(Section):
    """Other shapes inside the bounding volume, and the numbers of the one it has."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Shape"), tr("Cut by its side view, plan and front; arched, framed"))
        self.names = self.menu(tr("Make it"), tr("Another shape inside the same bounding volume"))
        for number, name in enumerate(SHAPES):
            offer(self.names, tr(name), session, self._shaped, name, picture=f"shape-{number:02}")
        self.arches = self.menu(
            tr("Cut arches about"),
            tr("Half rounds in the lower edge of its side view, which follow a wheel and its row"),
            self._fill_wheels,
        )
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.view = FieldRows(session)
        self.column.addWidget(self.view)
        self.card = OutlineCard(session)
        self.card.corner_chosen.connect(self.refresh)
        self.column.addWidget(self.card)
        self.large = self.button(
            tr("Show it large"), tr("The outlines of the selected volume in a window of their own"), self._show_large
        )
        self.corner = FieldRows(session)
        self.column.addWidget(self.corner)
        self._hint = self.words()

    def _shaped(self, document: Document, name: str) -> Edit:
        return make_shape(document, self.session.selection, name)

    def _fill_wheels(self, menu: QMenu) -> None:
        volume = self.session.active_volume
        wheels = [] if volume is None else wheels_beside(self.session.document, volume.id)
        for wheel in wheels:
            offer(menu, wheel.name, self.session, cut_arches, "" if volume is None else volume.id, wheel.id)
        if menu.isEmpty():
            menu.addSection(tr("no wheel whose axle runs across it"))

    def _show_large(self) -> None:
        self.window_ = OutlineWindow(self.session, self.card.view, self.window())
        self.window_.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.window_.show()

    def _choose(self, view: ViewName) -> None:
        self.card.show_view(view)
        self.refresh()

    def refresh(self) -> None:
        """Show what the selected volume's shape is made by."""
        volume = self.session.active_volume
        self.rows.show_rows(*shape_rows(self.session.document, volume))
        cuttable = isinstance(volume, Box | CutBody)
        self.card.setVisible(cuttable)
        self.large.setVisible(cuttable)
        self.card.update()
        shown = volume if isinstance(volume, Box | CutBody) else None
        self.view.show_rows(*view_rows(self.session.document, shown, self.card.view, self._choose))
        self.corner.show_rows(*corner_rows(self.session.document, shown, self.card.view, self.card.corner))
        hint = tr("Select a volume.") if volume is None else ""
        if cuttable:
            hint = tr("Press on a side for a corner, pull it; double click takes it out. Here or on the board.")
        self._hint.setText(hint)
        self._hint.setVisible(bool(hint))
