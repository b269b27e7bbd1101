"""The Divide stage: faces and edges parted by a click, volumes and marks repeated, marks listed, the plain views."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QWidget

from isometron.desk.controls.deed_button import deed_button
from isometron.desk.controls.field_rows import AXIS_CHOICES, FieldRows, Row
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section, Sections
from isometron.desk.controls.shape_rows import FORMS
from isometron.desk.controls.words import Label
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.block.sections import plain_line
from isometron.desk.stages.body import StageBody
from isometron.document.dividing import (
    change_mark,
    fill_between,
    lay_mark,
    parse_parts,
    parts_words,
    remove_mark,
    repeat,
    repeat_on,
)
from isometron.document.model import Document, DocumentError
from isometron.errors import IsometronError
from isometron.tools.marking import DividePlan
from isometron.volumes.box import FACE_NAMES
from isometron.volumes.face_marks import ArchMark, DivideMark, FaceMark, PathMark, RingMark, TickMark
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import mark, tr

__all__ = ["DivideStage", "mark_words"]

_PRESETS = (
    (mark("halves"), "2", "2"),
    (mark("quarters"), "4", "4"),
    (mark("3 x 3"), "3", "3"),
    (mark("middle line"), "2", ""),
)


def make(desk: OnDesk) -> DivideStage:
    """Return the stage's body."""
    stage = DivideStage(desk.session)
    stage.views_wanted.connect(desk.show_views)
    return stage


class DivideStage(StageBody):
    """Signal: ``views_wanted`` when the plain views are asked for."""

    views_wanted = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Divide")
        views = deed_button("views")
        views.clicked.connect(self.views_wanted)
        self.column.addWidget(views)
        self.parts, self.rows, self.marks = Parts(session), Rows(session), Marks(session)
        self.sections = Sections(session, [self.parts, self.rows, self.marks])
        self.column.addWidget(self.sections)

    def plan(self) -> DividePlan:
        """How a face is parted by the next click."""
        return self.parts.plan()


class Parts(Section):
    """How faces and edges are parted."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Parts"), tr("Equal parts, parts in a ratio, a border, diagonals"))
        self.presets = self.menu(tr("Part in"), tr("Divisions to begin with"))
        for words, across, up in _PRESETS:
            self.presets.addAction(tr(words), partial(self._preset, across, up))
        grid = self.grid()
        self.across, self.up = plain_line(tr("Parts across"), "3"), plain_line(tr("Parts up"), "1 : 2 : 1")
        self.across.setText("2")
        for words, line, tip in (
            (tr("across"), self.across, tr("3 for equal parts, 1 : 2 : 1 for parts in that ratio, empty for none")),
            (tr("up"), self.up, tr("The same upward; on a top face away")),
        ):
            line.setToolTip(tip)
            line.editingFinished.connect(self._check)
            row = grid.rowCount()
            grid.addWidget(_label(words, line), row, 0)
            grid.addWidget(line, row, 1)
        self.border = self.field(
            grid, tr("border"), LengthField(tr("Border"), lambda: session.document.unit, (0.0, 1e6)),
            tr("An offset frame inside the face"), lambda _: None,
        )  # fmt: skip
        self.border.show_value(0.0)
        self.diagonals, self.firm = QCheckBox(tr("with diagonals")), QCheckBox(tr("as object lines"))
        self.diagonals.setToolTip(tr("The diagonals whose crossing is the middle"))
        self.firm.setToolTip(tr("Drawn like the object, not as construction"))
        for box in (self.diagonals, self.firm):
            self.column.addWidget(box)
        self.words().setText(tr("Press D, then click faces; near an edge it gets ticks. C plays it by diagonals."))

    def _preset(self, across: str, up: str) -> None:
        self.across.setText(across)
        self.up.setText(up)

    def _check(self) -> None:
        for line in (self.across, self.up):
            try:
                parse_parts(line.text())
            except IsometronError as error:
                self.session.say(str(error), caution=True)
                line.setText("")

    def plan(self) -> DividePlan:
        """Return how a face is parted; what cannot be read parts nothing."""
        places = []
        for line in (self.across, self.up):
            try:
                places.append(parse_parts(line.text()))
            except DocumentError:
                places.append(())
        return DividePlan(
            places[0], places[1], self.border.value or 0.0, self.diagonals.isChecked(), not self.firm.isChecked()
        )


def _label(words: str, line: QWidget):
    label = Label(words)
    label.setBuddy(line)
    return label


class Rows(Section):
    """Copies of the selected volume in rows: by pitch or by gap, or filling a length."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Repeat"), tr("Copies in rows, one thing with one set of numbers"))
        self._said = self.words()
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        grid = self.grid()
        self.whole = self.field(
            grid, tr("fill"), LengthField(tr("Length that the row fills"), lambda: session.document.unit, (0.0, 1e7)),
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
        volume = self.session.active_volume
        if volume is not None:
            self.session.attempt(repeat_on, volume.id, "long")
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
        volume = self.session.active_volume
        if volume is not None:
            self.session.attempt(repeat, volume.id, ())
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
        rows: list[Row] = []
        for number, row in enumerate(volume.copies or (Repeat(along="long", count=1, pitch=volume.size[0]),)):
            rows += _repeat_rows(volume, number, row)
        self.rows.show_rows((volume.id, len(volume.copies)), rows)
        first = volume.copies[0] if volume.copies else None
        if first is None:
            self.whole.show_value(None)
        else:
            size = volume.size[DIRECTIONS.index(first.along)]
            self.whole.show_value(abs(first.pitch) * (first.count - 1) + size)


def _filled(document: Document, volume_id: str, along, whole: float, count: int):
    volume = document.volume(volume_id)
    return repeat(document, volume_id, (fill_between(volume, along, whole, count), *volume.copies[1:]))


def _repeat_rows(volume: AnyVolume, number: int, row: Repeat) -> list[Row]:
    size = volume.size[DIRECTIONS.index(row.along)]

    def write(document: Document, **fields):
        now = document.volume(volume.id)
        rows = list(now.copies) or [row]
        rows[number] = msgspec.structs.replace(rows[number], **fields)
        return repeat(document, volume.id, rows)

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
        names = [mark_words(m) for m in marks]
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


def mark_words(laid: FaceMark) -> str:
    """Return what a mark is, in words."""
    if isinstance(laid, RingMark):
        kind = tr("hole") if laid.depth > 0.0 else tr("knob") if laid.depth < 0.0 else tr("ring")
        return tr("{kind} on the {face}", kind=kind, face=FACE_NAMES[laid.face])
    if isinstance(laid, ArchMark):
        return tr("arch on the {face}", face=FACE_NAMES[laid.face])
    if isinstance(laid, DivideMark):
        return tr("{across} x {up} on the {face}", across=parts_words(laid.across), up=parts_words(laid.up),
                  face=FACE_NAMES[laid.face])  # fmt: skip
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
