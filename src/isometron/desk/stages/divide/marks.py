"""The marks laid on the selected volume: listed, changed, taken off."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, Literal

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.hold_choices import hold_choices, hold_here, thing_followed
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import FORMS
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.lengths.typed_places import place_words, step_kind, step_words
from isometron.document.marks.dividing import (
    change_mark,
    lay_mark,
    remove_mark,
)
from isometron.document.marks.mark_holds import (
    follow_with_mark,
    hold_mark,
    lines_words,
    step_mark,
    type_lines,
    type_mark_place,
    type_mark_step,
)
from isometron.document.model import Document
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, FaceMark, PathMark, RingMark, TickMark
from isometron.volumes.marks.places import face_plane, has_face, has_place
from isometron.volumes.own_sides import side_names
from isometron.wording import tr

__all__ = ["Marks", "mark_words"]

_LINES: tuple[tuple[Literal["across", "up"], str], ...] = (("across", tr("across")), ("up", tr("up")))


class Marks(Section):
    """The marks laid on the selected volume: listed, changed, taken off."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Marks on it"), tr("Divisions, rings, arches and lines laid on the volume"))
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Marks on the selected volume"))
        self.names.activated.connect(lambda _: self._show())
        self.column.addWidget(self.names)
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.button(tr("Take it off"), tr("The chosen mark"), self._off)
        self.button(tr("The same once more"), tr("A copy of the mark in the same place, to be moved"), self._again)

    def _off(self) -> None:
        volume = self.session.active_volume
        if volume is not None and self.names.currentIndex() >= 0 and volume.marks:
            self.session.attempt(remove_mark, volume.id, self.names.currentIndex())
        self.refresh()

    def _again(self) -> None:
        volume = self.session.active_volume
        if volume is not None and volume.marks and self.names.currentIndex() >= 0:
            self.session.attempt(lay_mark, volume.id, volume.marks[self.names.currentIndex()])
        self.refresh()

    def refresh(self) -> None:
        """List the selected volume's marks."""
        volume = self.session.active_volume
        marks = () if volume is None else volume.marks
        here = self.names.currentIndex()
        names = [mark_words(volume, m, self.session.document) for m in marks] if volume is not None else []
        if [self.names.itemText(k) for k in range(self.names.count())] != names:
            self.names.clear()
            self.names.addItems(names)
            self.names.setCurrentIndex(min(max(here, 0), len(names) - 1) if here < len(names) - 1 else len(names) - 1)
        self.names.setEnabled(bool(names))
        self._show()

    def _show(self) -> None:
        volume, number = self.session.active_volume, self.names.currentIndex()
        if volume is None or not 0 <= number < len(volume.marks):
            self.rows.show_rows(None, [])
            return
        chosen = volume.marks[number]
        document = self.session.document
        rows = _MarkRows(document, volume, number).rows()
        key = (volume.id, number, type(chosen).__name__, volume.ahead, tuple(each.id for each in document.volumes))
        self.rows.show_rows(key, rows)


def mark_words(volume: AnyVolume, laid: FaceMark, document: Document) -> str:
    """Return what a mark is, in words; of one that is not drawn now, that too."""
    said = _words(volume, laid, document)
    return said if has_place(volume, laid) else tr("{mark} (away: its place is not there now)", mark=said)


def _words(volume: AnyVolume, laid: FaceMark, document: Document) -> str:
    if isinstance(laid, RingMark):
        kind = tr("hole") if laid.depth > 0.0 else tr("knob") if laid.depth < 0.0 else tr("ring")
        return tr("{kind} on the {face}", kind=kind, face=face_name(volume, laid.face))
    if isinstance(laid, ArchMark):
        return tr("arch on the {face}", face=face_name(volume, laid.face))
    if isinstance(laid, DivideMark):
        return tr("{across} x {up} on the {face}", across=lines_words(laid, "across", document) or "1",
                  up=lines_words(laid, "up", document) or "1", face=face_name(volume, laid.face))  # fmt: skip
    if isinstance(laid, TickMark):
        return tr("{count} parts of edge {edge}", count=len(laid.parts) + 1, edge=laid.edge + 1)
    return tr("lines in a plain view")


class _MarkRows:
    """The rows of one mark of a volume, read from it and written back as edits."""

    def __init__(self, document: Document, volume: AnyVolume, number: int) -> None:
        self._document, self._volume, self._number = document, volume, number
        self._laid = volume.marks[number]

    def rows(self) -> list[Row]:
        """Return the rows of its kind."""
        laid = self._laid
        if isinstance(laid, RingMark):
            return [*self._places(laid), *self._ring(laid), *self._row(laid)]
        if isinstance(laid, ArchMark):
            return [*self._places(laid), *self._arch(laid), *self._row(laid)]
        if isinstance(laid, DivideMark):
            return self._division(laid)
        return self._path(laid) if isinstance(laid, PathMark) else []

    def _write(self, name: str, document: Document, value: Any) -> Edit:
        return change_mark(document, self._volume.id, self._number, **{name: value})

    def _length(self, name: str, words: str, tip: str, kind: str = "length") -> Row:
        return Row(words, tip, kind, partial(getattr, self._laid, name), partial(self._write, name))

    def _held(self, edit: Callable[..., Edit], column: int, document: Document, value: Any) -> Edit:
        return edit(document, self._volume.id, self._number, column, value)

    def _places(self, laid: RingMark | ArchMark) -> list[Row]:
        """How its place is held and where, across the face and up it."""
        if not has_face(self._volume, laid):
            return []
        axes = face_plane(self._volume, laid.face).axes
        edged = isinstance(laid, ArchMark) or laid.diameter > 0.0
        rows: list[Row] = []
        for column, words in enumerate((tr("across"), tr("up"))):
            ends = side_names(self._volume, axes[column])
            choices = hold_choices(words, ends, self._document, self._volume, edges=edged and not (
                isinstance(laid, ArchMark) and column == 1))  # fmt: skip
            rows += [
                Row(tr("{way} is held", way=words), tr("What it is held by when the face changes"), "choice",
                    partial(hold_here, laid.at[column]), partial(self._hold, column), choices),
                Row(words, tr("40 % for a share of the face, a length, or an expression such as wheel / 2"), "text",
                    partial(place_words, laid.at[column], self._document),
                    partial(self._held, type_mark_place, column)),
            ]  # fmt: skip
        return rows

    def _hold(self, column: int, document: Document, how: str) -> Edit:
        thing = thing_followed(how)
        return self._held(follow_with_mark if thing else hold_mark, column, document, thing or how)

    def _ring(self, laid: RingMark) -> list[Row]:
        return [
            self._length("diameter", tr("diameter"), tr("0 for the largest that fits")),
            self._length("depth", tr("depth"), tr("Sunk into the face; negative: raised from it"), "any length"),
            self._count("divisions", tr("strokes"), tr("Round the rim, as on a dial"), 0, 360),
            Row(tr("sweep"), tr("The part of the ring that is drawn; 360 for all of it"), "angle", lambda: laid.sweep_deg,
                partial(self._write, "sweep_deg")),
            Row(tr("from"), tr("Where that part begins"), "angle", lambda: laid.start_deg,
                partial(self._write, "start_deg")),
        ]  # fmt: skip

    def _arch(self, laid: ArchMark) -> list[Row]:
        return [
            self._length("wide", tr("wide"), tr("Of the opening")),
            self._length("high", tr("high"), tr("Of the opening")),
            self._length("band", tr("band"), tr("Thickness drawn round the opening")),
            Row(tr("form"), tr("How it is arched"), "choice", lambda: laid.form, partial(self._write, "form"), FORMS),
        ]  # fmt: skip

    def _division(self, laid: DivideMark) -> list[Row]:
        tip = tr(
            "3 for equal parts, 1 : 2 : 1 for a ratio, or places such as 120 mm; 40 %; -2 wheel (from the far end)"
        )
        lines = [
            Row(words, tip, "text", partial(lines_words, laid, field, self._document),
                partial(self._typed_lines, field))
            for field, words in _LINES
        ]  # fmt: skip
        return [
            *lines,
            self._length("border", tr("border"), tr("An offset frame inside the face")),
            Row(tr("diagonals"), tr("Whose crossing is the middle"), "switch", lambda: laid.diagonals,
                partial(self._write, "diagonals")),
            Row(tr("as object lines"), tr("Not as construction"), "switch", lambda: not laid.soft,
                lambda d, on: self._write("soft", d, not on)),
        ]  # fmt: skip

    def _typed_lines(self, field: Any, document: Document, text: str) -> Edit:
        return type_lines(document, self._volume.id, self._number, field, text)

    def _path(self, laid: PathMark) -> list[Row]:
        return [
            Row(tr("closed"), tr("Joined to its start"), "switch", lambda: laid.closed, partial(self._write, "closed")),
            Row(tr("plane at %"), tr("Through the volume, in percent; 50 is the centre plane"), "percent",
                lambda: 100.0 * laid.at, lambda d, v: self._write("at", d, min(max(v / 100.0, 0.0), 1.0))),
        ]  # fmt: skip

    def _count(self, name: str, words: str, tip: str, least: int, most: int) -> Row:
        return Row(words, tip, "count", partial(getattr, self._laid, name),
                   lambda d, v: self._write(name, d, max(int(v), least)), most=most)  # fmt: skip

    def _row(self, laid: RingMark | ArchMark) -> list[Row]:
        rows = [self._count("count", tr("how many"), tr("In a row on the face"), 1, 200)]
        if laid.count == 1:
            return rows
        for column, words in enumerate((tr("step across"), tr("step up"))):
            choices = (
                (tr("{words}: share of the face", words=words), "share"),
                (tr("{words}: pitch", words=words), "pitch"),
                (tr("{words}: gap", words=words), "gap"),
            )
            rows += [
                Row(tr("{way} is held", way=words), tr("How one follows the other when the face changes"), "choice",
                    partial(step_kind, laid.step[column]), partial(self._held, step_mark, column), choices),
                Row(words, tr("20 % for a share of the face, a length, or an expression; negative: the other way"), "text",
                    partial(step_words, laid.step[column], self._document),
                    partial(self._held, type_mark_step, column)),
            ]  # fmt: skip
        return rows
