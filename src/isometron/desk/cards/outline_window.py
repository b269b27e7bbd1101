"""One profile of one volume, alone and large: the outline card with the fields of its view and its corner beside it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from isometron.desk.cards.outline_card import OutlineCard
from isometron.desk.controls.field_rows import FieldRows
from isometron.desk.controls.profile_rows import corner_rows, view_rows
from isometron.desk.controls.words import Label, Wrapped
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import px
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, ViewName
from isometron.wording import tr

__all__ = ["OutlineWindow"]


class OutlineWindow(QDialog):
    """The selected volume's profiles, large; it stays open beside the sheet and shows what is selected."""

    def __init__(self, session: Session, view: ViewName, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(tr("Outlines of a volume"))
        self.card = OutlineCard(session)
        self.card.show_view(view)
        self.view, self.corner = FieldRows(session), FieldRows(session)
        self._name, self._said = Label(), Label()
        self._name.setObjectName("title")
        self._said.setObjectName("quiet")
        self._said.setMinimumHeight(px(18))
        hint = Wrapped()
        hint.setObjectName("quiet")
        hint.setText(
            tr("Press on a side for a corner, pull it; double click takes it out. Arrows move the chosen one.")
        )
        fields = QWidget()
        column = QVBoxLayout(fields)
        column.setContentsMargins(0, 0, 8, 0)
        for widget in (self._name, self.view, self.corner, hint):
            column.addWidget(widget)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(fields)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFixedWidth(px(250))
        across = QHBoxLayout()
        across.setSpacing(12)
        across.addWidget(self.card, 1)
        across.addWidget(scroll)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 12, 8)
        layout.setSpacing(8)
        layout.addLayout(across, 1)
        layout.addWidget(self._said)
        self.resize(px(1000), px(620))
        self.card.corner_chosen.connect(self.refresh)
        for signal in (session.document_changed, session.selection_changed):
            signal.connect(self.refresh)
        session.said.connect(self._say)
        self.refresh()
        self.card.setFocus()

    def _say(self, words: str, caution: bool) -> None:
        self._said.setText(f"⚠ {words}" if caution else words)

    def _choose(self, view: ViewName) -> None:
        self.card.show_view(view)
        self.refresh()

    def refresh(self) -> None:
        """Show the selected volume."""
        volume = self._session.active_volume
        shown = volume if isinstance(volume, Box | CutBody) else None
        self._name.setText(tr("Select a box or a cut body.") if shown is None else shown.name)
        self.view.show_rows(*view_rows(self._session.document, shown, self.card.view, self._choose))
        self.corner.show_rows(*corner_rows(self._session.document, shown, self.card.view, self.card.corner))
        self.card.update()
