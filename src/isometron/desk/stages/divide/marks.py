"""The marks laid on the selected volume: listed, changed, taken off."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import FORMS
from isometron.desk.frame.session import Session
from isometron.document.dividing import (
    change_mark,
    lay_mark,
    parts_words,
    remove_mark,
)
from isometron.document.model import Document
from isometron.volumes.face_marks import ArchMark, DivideMark, FaceMark, PathMark, RingMark, TickMark
from isometron.volumes.face_names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["Marks", "mark_words"]


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
        names = [mark_words(volume, m) for m in marks] if volume is not None else []
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
        self.rows.show_rows((volume.id, number, type(chosen).__name__), _mark_rows(volume, number, chosen))


def mark_words(volume: AnyVolume, laid: FaceMark) -> str:
    """Return what a mark is, in words."""
    if isinstance(laid, RingMark):
        kind = tr("hole") if laid.depth > 0.0 else tr("knob") if laid.depth < 0.0 else tr("ring")
        return tr("{kind} on the {face}", kind=kind, face=face_name(volume, laid.face))
    if isinstance(laid, ArchMark):
        return tr("arch on the {face}", face=face_name(volume, laid.face))
    if isinstance(laid, DivideMark):
        return tr("{across} x {up} on the {face}", across=parts_words(laid.across), up=parts_words(laid.up),
                  face=face_name(volume, laid.face))  # fmt: skip
    if isinstance(laid, TickMark):
        return tr("{count} parts of edge {edge}", count=len(laid.parts) + 1, edge=laid.edge + 1)
    return tr("lines in a plain view")


def _mark_rows(volume: AnyVolume, number: int, laid: FaceMark) -> list[Row]:
    def write(name: str, document: Document, value):
        return change_mark(document, volume.id, number, **{name: value})

    def part(name: str, place: int) -> Row:
        def read() -> float:
            return 100.0 * getattr(laid, name)[place]

        def put(document: Document, value: float):
            parts = list(getattr(laid, name))
            parts[place] = value / 100.0
            return change_mark(document, volume.id, number, **{name: tuple(parts)})

        words = {
            ("at", 0): tr("across %"),
            ("at", 1): tr("up %"),
            ("step", 0): tr("step across %"),
            ("step", 1): tr("step up %"),
        }
        return Row(words[name, place], tr("In percent of the face"), "percent", read, put)

    def length(name: str, words: str, tip: str, kind: str = "length") -> Row:
        return Row(words, tip, kind, lambda: getattr(laid, name), partial(write, name))

    def count(name: str, words: str, tip: str, least: int, most: int) -> Row:
        return Row(
            words,
            tip,
            "count",
            lambda: getattr(laid, name),
            lambda d, v: write(name, d, max(int(v), least)),
            most=most,
        )

    row = [part("at", 0), part("at", 1)] if isinstance(laid, RingMark | ArchMark) else []
    if isinstance(laid, RingMark):
        row += [
            length("diameter", tr("diameter"), tr("0 for the largest that fits")),
            length("depth", tr("depth"), tr("Sunk into the face; negative: raised from it"), "any length"),
            count("divisions", tr("strokes"), tr("Round the rim, as on a dial"), 0, 360),
            Row(tr("sweep"), tr("The part of the ring that is drawn; 360 for all of it"), "angle", lambda: laid.sweep_deg,
                partial(write, "sweep_deg")),
            Row(tr("from"), tr("Where that part begins"), "angle", lambda: laid.start_deg, partial(write, "start_deg")),
        ]  # fmt: skip
    elif isinstance(laid, ArchMark):
        row += [
            length("wide", tr("wide"), tr("Of the opening")),
            length("high", tr("high"), tr("Of the opening")),
            length("band", tr("band"), tr("Thickness drawn round the opening")),
            Row(tr("form"), tr("How it is arched"), "choice", lambda: laid.form, partial(write, "form"), FORMS),
        ]
    elif isinstance(laid, DivideMark):
        row += [
            length("border", tr("border"), tr("An offset frame inside the face")),
            Row(tr("diagonals"), tr("Whose crossing is the middle"), "switch", lambda: laid.diagonals, partial(write, "diagonals")),
            Row(tr("as object lines"), tr("Not as construction"), "switch", lambda: not laid.soft,
                lambda d, on: write("soft", d, not on)),
        ]  # fmt: skip
    elif isinstance(laid, PathMark):
        row += [
            Row(tr("closed"), tr("Joined to its start"), "switch", lambda: laid.closed, partial(write, "closed")),
            Row(tr("plane at %"), tr("Through the volume, in percent; 50 is the centre plane"), "percent",
                lambda: 100.0 * laid.at, lambda d, v: write("at", d, min(max(v / 100.0, 0.0), 1.0))),
        ]  # fmt: skip
    if isinstance(laid, RingMark | ArchMark):
        row += [count("count", tr("how many"), tr("In a row on the face"), 1, 200), part("step", 0), part("step", 1)]
    return row
