"""Copies of the selected volume in rows: by pitch or by gap, or filling a length."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from isometron.desk.controls.field_rows import AXIS_CHOICES, FieldRows, Row
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.marks.dividing import (
    fill_between,
    repeat,
    repeat_on,
)
from isometron.document.marks.typed_rows import ROW_HINT, repeat_all, row_text, type_rows
from isometron.document.model import Document
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Rows"]


class Rows(Section):
    """Copies of the selected volume in rows: by pitch or by gap, or filling a length."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Repeat"), tr("Copies in rows, one thing with one set of numbers"))
        self._said = self.words()
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        grid = self.grid()
        self.whole = self.field(
            grid, tr("fill"), LengthField(tr("Length that the row fills"), lambda: session.document, (0.0, 1e7)),
            tr("From the start of the first to the end of the last: sets the pitch"), self._fill,
        )  # fmt: skip
        self.button(tr("One more beyond the end"), tr("Repeats the bay once more"), self._more)
        self.another = self.button(
            tr("A second row across"), tr("Rows of rows: tiles, courses of bricks"), self._second
        )
        self.button(tr("No copies"), tr("The volume alone"), self._none)

    def _fill(self, whole: float) -> None:
        volume = self.session.active_volume
        if volume is not None:
            along = volume.copies[0].along if volume.copies else "long"
            count = volume.copies[0].count if volume.copies else 3
            self.session.attempt(_filled, volume.id, along, whole, count)

    def _more(self) -> None:
        if self.session.selection:
            self.session.attempt(_all_on, self.session.selection)
        self.refresh()

    def _second(self) -> None:
        volume = self.session.active_volume
        if volume is not None and len(volume.copies) < 3:
            used = {row.along for row in volume.copies}
            along = next((name for name in ("wide", "high", "long") if name not in used), "high")
            row = Repeat(along=along, count=2, pitch=volume.size[DIRECTIONS.index(along)])  # type: ignore[arg-type]
            self.session.attempt(repeat, volume.id, (*volume.copies, row))
        self.refresh()

    def _none(self) -> None:
        if self.session.selection:
            self.session.attempt(type_rows, self.session.selection, "")
        self.refresh()

    def refresh(self) -> None:
        """Show the selected volume's rows."""
        volume = self.session.active_volume
        self.whole.setEnabled(volume is not None)
        self.another.setEnabled(volume is not None and 0 < len(volume.copies) < 3)
        if volume is None:
            self._said.setText(tr("Select a volume."))
            self.rows.show_rows(None, [])
            self.whole.show_value(None)
            return
        total = 1
        for row in volume.copies:
            total *= row.count
        self._said.setText(tr("{name}: {count} in all.", name=volume.name, count=total))
        rows = [
            Row(tr("row"), ROW_HINT, "text", lambda: row_text(volume, self.session.document),
                lambda document, text: type_rows(document, self.session.selection, text))
        ]  # fmt: skip
        for number, row in enumerate(volume.copies or (Repeat(along="long", count=1, pitch=volume.size[0]),)):
            rows += _repeat_rows(volume, number, row, lambda: self.session.selection)
        self.rows.show_rows((volume.id, len(volume.copies)), rows)
        first = volume.copies[0] if volume.copies else None
        if first is None:
            self.whole.show_value(None)
        else:
            size = volume.size[DIRECTIONS.index(first.along)]
            self.whole.show_value(abs(first.pitch) * (first.count - 1) + size)


def _all_on(document: Document, ids: tuple[str, ...]):
    edit = Edit("", document)
    for volume_id in ids:
        edit = repeat_on(edit.document, volume_id, "long")
    return edit


def _filled(document: Document, volume_id: str, along, whole: float, count: int):
    volume = document.volume(volume_id)
    return repeat(document, volume_id, (fill_between(volume, along, whole, count), *volume.copies[1:]))


def _repeat_rows(volume: AnyVolume, number: int, row: Repeat, ids: Callable[[], tuple[str, ...]]) -> list[Row]:
    size = volume.size[DIRECTIONS.index(row.along)]

    def write(document: Document, **fields):
        """Write to this row of all that is selected."""

        def rows_of(now: AnyVolume) -> list[Repeat]:
            rows = [*now.copies, *([row] if len(now.copies) <= number else [])]
            rows[-1 if len(rows) <= number else number] = msgspec.structs.replace(
                rows[min(number, len(rows) - 1)], **fields
            )
            return rows

        return repeat_all(document, ids(), rows_of)

    def along(document: Document, way: str):
        """Another direction keeps the gap; one that is chosen before there is a row begins one."""
        own = volume.size[DIRECTIONS.index(way)]
        return write(document, along=way, count=max(row.count, 2), pitch=own + abs(row.pitch) - size)

    def gap(document: Document, far: float):
        sign = 1.0 if row.pitch >= 0.0 else -1.0
        return write(document, pitch=sign * (size + far))

    return [
        Row(tr("direction"), tr("The own direction that the row runs along"), "choice", lambda: row.along,
            along, AXIS_CHOICES),
        Row(tr("how many"), tr("The volume itself counts"), "count", lambda: row.count,
            lambda d, v: write(d, count=max(int(v), 1)), most=400),
        Row(tr("pitch"), tr("From the start of one to the start of the next; negative: the other way"), "any length",
            lambda: row.pitch, lambda d, v: write(d, pitch=v)),
        Row(tr("gap"), tr("Between one and the next"), "any length", lambda: abs(row.pitch) - size, gap),
        Row(tr("last one"), tr("Size of the last one along the row; 0 when it is like the others"), "length",
            lambda: row.last, lambda d, v: write(d, last=v)),
    ]  # fmt: skip
