"""Other shapes inside the bounding volume, and the numbers of the one it has."""

from __future__ import annotations

from functools import partial

import msgspec

from isometron.desk.cards.squared_card import SquaredCard
from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import counted, shape_rows
from isometron.desk.frame.session import Session
from isometron.document.edits import change_volume
from isometron.document.shaping import SHAPES, make_shape
from isometron.volumes.prism import Counted
from isometron.wording import tr

__all__ = ["Shapes"]


class Shapes(Section):
    """Other shapes inside the bounding volume, and the numbers of the one it has."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Shape"), tr("Tapered, chamfered, counted off, framed"))
        self.names = self.menu(tr("Make it"), tr("Another shape inside the same bounding volume"))
        for name in SHAPES:
            self.names.addAction(tr(name), partial(self._make, name))
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.card = SquaredCard(session)
        self.column.addWidget(self.card)
        self.squares = FieldRows(session)
        self.column.addWidget(self.squares)
        self._hint = self.words()

    def _make(self, name: str) -> None:
        self.session.attempt(make_shape, self.session.selection, name)
        self.refresh()

    def refresh(self) -> None:
        """Show what the selected volume's shape is made by."""
        volume = self.session.active_volume
        self.rows.show_rows(*shape_rows(volume))
        card = counted(volume)
        self.card.setVisible(card is not None)
        self.card.update()
        self.squares.show_rows(*self._square_rows())
        hint = tr("Select a volume.") if volume is None else ""
        if volume is not None and volume.__struct_config__.tag == "tapered":
            hint = tr("Or pull the upper edges of its sides on the board.")
        self._hint.setText(hint)
        self._hint.setVisible(bool(hint))

    def _square_rows(self) -> tuple[object, list[Row]]:
        volume = counted(self.session.active_volume)
        if volume is None or not isinstance(volume.section, Counted):
            return None, []
        section = volume.section

        def write(name: str, document, value):
            return change_volume(
                document,
                volume.id,
                tr("count off"),
                section=msgspec.structs.replace(section, **{name: max(int(value), 1)}),
            )

        return (volume.id, "squares"), [
            Row(tr("units across"), tr("Squares of the card across"), "count", lambda: section.columns, partial(write, "columns")),
            Row(tr("units up"), tr("Squares of the card upward"), "count", lambda: section.rows, partial(write, "rows")),
        ]  # fmt: skip
