"""The fields of marks on faces, read from a mark and written back as edits."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import pi
from typing import Any, Literal

from isometron.desk.controls.course_rows import course_rows
from isometron.desk.controls.field_rows import Row
from isometron.desk.controls.hold_choices import hold_choices, hold_here, thing_followed
from isometron.desk.controls.line_rows import line_rows, line_words
from isometron.desk.controls.opening_rows import opening_rows
from isometron.desk.controls.shape_rows import FORMS
from isometron.document.edits import Edit
from isometron.document.lengths.typed_places import place_words, step_kind, step_words
from isometron.document.lengths.units import format_length
from isometron.document.marks.dividing import change_mark
from isometron.document.marks.mark_holds import (
    follow_with_mark,
    hold_mark,
    lines_words,
    step_mark,
    type_lines,
    type_mark_place,
    type_mark_step,
)
from isometron.document.marks.typed_mark_rows import MARK_ROW_HINT, count_mark_row, mark_row_text, type_mark_row
from isometron.document.model import Document
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    DivideMark,
    FaceMark,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
)  # fmt: skip
from isometron.volumes.marks.holds import Measured
from isometron.volumes.marks.mark_names import mark_name
from isometron.volumes.marks.places import Placed, face_plane, has_face, has_place, side_under
from isometron.volumes.own_sides import side_names
from isometron.wording import tr

__all__ = ["MarkRows", "mark_words"]

_LINES: tuple[tuple[Literal["across", "up"], str], ...] = (("across", tr("across")), ("up", tr("up")))


def mark_words(volume: AnyVolume, laid: FaceMark, document: Document) -> str:
    """Return what a mark is, in words; of one that is not drawn now, that too."""
    said = _words(volume, laid, document)
    return said if has_place(volume, laid) else tr("{mark} (away: its place is not there now)", mark=said)


def _words(volume: AnyVolume, laid: FaceMark, document: Document) -> str:
    if isinstance(laid, CurveMark):
        return line_words(volume, laid, document)
    if isinstance(laid, DivideMark):
        return tr("{across} x {up} on the {face}", across=lines_words(laid, "across", document) or "1",
                  up=lines_words(laid, "up", document) or "1", face=face_name(volume, laid.face))  # fmt: skip
    if isinstance(laid, TickMark):
        return tr("{count} parts of edge {edge}", count=len(laid.parts) + 1, edge=laid.edge + 1)
    name = mark_name(volume, laid)
    if isinstance(laid, OpeningMark | RingMark):
        sizes = (laid.wide, laid.high) if isinstance(laid, OpeningMark) else (laid.diameter,)
        return f"{name}, {' x '.join(format_length(size, document.unit, with_unit=False) for size in sizes)}"
    return name


class MarkRows:
    """The rows of one mark of a volume, read from it and written back as edits."""

    def __init__(self, document: Document, volume: AnyVolume, number: int) -> None:
        self.document, self._volume, self._number = document, volume, number
        self._laid = volume.marks[number]

    def rows(self) -> list[Row]:
        """Return the rows of its kind."""
        laid = self._laid
        if isinstance(laid, RingMark):
            return [*self.places(laid), *self.row(laid), *self._ring(laid), *self.many(laid), self.name(laid)]
        if isinstance(laid, ArchMark):
            return [*self.places(laid), *self.row(laid), *self._arch(laid), *self.many(laid), self.name(laid)]
        if isinstance(laid, OpeningMark):
            return opening_rows(self, laid)
        if isinstance(laid, CurveMark):
            return line_rows(self, laid, self._volume)
        if isinstance(laid, CourseMark):
            return course_rows(self, laid)
        if isinstance(laid, DivideMark):
            return self._division(laid)
        return self._path(laid) if isinstance(laid, PathMark) else []

    def write(self, name: str, document: Document, value: Any) -> Edit:
        """Return the edit that sets one field of the mark."""
        return self.write_many(document, **{name: value})

    def write_many(self, document: Document, **fields: Any) -> Edit:
        """Return the edit that sets some fields of the mark."""
        return change_mark(document, self._volume.id, self._number, **fields)

    def length(self, name: str, words: str, tip: str, kind: str = "length") -> Row:
        """Return the row of a field that is a length."""
        return Row(words, tip, kind, partial(getattr, self._laid, name), partial(self.write, name))

    def _held(self, edit: Callable[..., Edit], column: int, document: Document, value: Any) -> Edit:
        return edit(document, self._volume.id, self._number, column, value)

    def places(self, laid: Placed) -> list[Row]:
        """How its place is held and where, across the face and up it."""
        if not has_face(self._volume, laid):
            return []
        side = side_under(self._volume, laid)
        if side is not None:
            return self._on_side(laid, whole=side.turn >= 2.0 * pi)
        axes = face_plane(self._volume, laid.face).axes
        edged = not isinstance(laid, RingMark) or laid.diameter > 0.0
        rows: list[Row] = []
        for column, words in enumerate((tr("across"), tr("up"))):
            ends = side_names(self._volume, axes[column])
            choices = hold_choices(words, ends, self.document, self._volume, edges=edged and not (
                isinstance(laid, ArchMark) and column == 1))  # fmt: skip
            rows += [
                Row(tr("{way} is held", way=words), tr("What it is held by when the face changes"), "choice",
                    partial(hold_here, laid.at[column]), partial(self._hold, column), choices),
                Row(words, tr("40 % for a share of the face, a length, or an expression such as wheel / 2"), "text",
                    partial(place_words, laid.at[column], self.document),
                    partial(self._held, type_mark_place, column)),
            ]  # fmt: skip
        return rows

    def _on_side(self, laid: Placed, *, whole: bool) -> list[Row]:
        """Where it lies along the axle, and at which angle about it."""
        at = laid.at[1]

        def turned(document: Document, angle: float) -> Edit:
            return self.write("at", document, (laid.at[0], angle / 360.0))

        tip = tr("40 % for a share of it, or a length")
        along = Row(tr("along the axle"), tip, "text", partial(place_words, laid.at[0], self.document),
                    partial(self._held, type_mark_place, 0))  # fmt: skip
        if not whole or isinstance(at, Measured):
            return [
                along,
                Row(
                    tr("round it"),
                    tip,
                    "text",
                    partial(place_words, at, self.document),
                    partial(self._held, type_mark_place, 1),
                ),
            ]
        return [
            along,
            Row(tr("about it"), tr("The angle from the first half axis"), "angle",
                lambda: 360.0 * at, turned),
        ]  # fmt: skip

    def _hold(self, column: int, document: Document, how: str) -> Edit:
        thing = thing_followed(how)
        return self._held(follow_with_mark if thing else hold_mark, column, document, thing or how)

    def _ring(self, laid: RingMark) -> list[Row]:
        return [
            self.length("diameter", tr("diameter"), tr("0 for the largest that fits")),
            self.length("depth", tr("depth"), tr("Sunk into the face; negative: raised from it"), "any length"),
            self.count("divisions", tr("strokes"), tr("Round the rim, as on a dial"), 0, 360),
            Row(tr("sweep"), tr("The part of the ring that is drawn; 360 for all of it"), "angle", lambda: laid.sweep_deg,
                partial(self.write, "sweep_deg")),
            Row(tr("from"), tr("Where that part begins"), "angle", lambda: laid.start_deg,
                partial(self.write, "start_deg")),
        ]  # fmt: skip

    def _arch(self, laid: ArchMark) -> list[Row]:
        return [
            self.length("wide", tr("wide"), tr("Of the opening")),
            self.length("high", tr("high"), tr("Of the opening")),
            self.length("band", tr("band"), tr("Thickness drawn round the opening")),
            Row(tr("form"), tr("How it is arched"), "choice", lambda: laid.form, partial(self.write, "form"), FORMS),
        ]  # fmt: skip

    def _division(self, laid: DivideMark) -> list[Row]:
        tip = tr(
            "3 for equal parts, 1 : 2 : 1 for a ratio, or places such as 120 mm; 40 %; -2 wheel (from the far end)"
        )
        lines = [
            Row(words, tip, "text", partial(lines_words, laid, field, self.document),
                partial(self._typed_lines, field))
            for field, words in _LINES
        ]  # fmt: skip
        return [
            *lines,
            self.length("border", tr("border"), tr("An offset frame inside the face")),
            Row(tr("diagonals"), tr("Whose crossing is the middle"), "switch", lambda: laid.diagonals,
                partial(self.write, "diagonals")),
            Row(tr("as object lines"), tr("Not as construction"), "switch", lambda: not laid.soft,
                lambda d, on: self.write("soft", d, not on)),
        ]  # fmt: skip

    def _typed_lines(self, field: Any, document: Document, text: str) -> Edit:
        return type_lines(document, self._volume.id, self._number, field, text)

    def _path(self, laid: PathMark) -> list[Row]:
        return [
            Row(tr("closed"), tr("Joined to its start"), "switch", lambda: laid.closed, partial(self.write, "closed")),
            Row(tr("smooth curve"), tr("Through the points, not straight from one to the next"), "switch", lambda: laid.smooth,
                partial(self.write, "smooth")),
            Row(tr("carried on to the body"), tr("Where it meets the surface, on both sides"), "switch", lambda: laid.carried,
                partial(self.write, "carried")),
            Row(tr("all round, if carried on"), tr("Over the ends of the body too, as a belt along this line"), "switch",
                lambda: laid.around, partial(self.write, "around")),
            Row(tr("plane at %"), tr("Through the volume, in percent; 50 is the centre plane"), "percent",
                lambda: 100.0 * laid.at, lambda d, v: self.write("at", d, min(max(v / 100.0, 0.0), 1.0))),
        ]  # fmt: skip

    def count(self, name: str, words: str, tip: str, least: int, most: int) -> Row:
        """Return the row of a field that is a number of things."""
        return Row(words, tip, "count", partial(getattr, self._laid, name),
                   lambda d, v: self.write(name, d, max(int(v), least)), most=most)  # fmt: skip

    def mirrored(self, laid: Placed) -> Row:
        """Whether its mirror image on the other side of the thing is there too."""
        return Row(tr("on the other side too"), tr("Its mirror image about the thing's own middle"), "switch",
                   lambda: laid.mirrored, partial(self.write, "mirrored"))  # fmt: skip

    def name(self, laid: Placed) -> Row:
        """What it is called."""
        return Row(
            tr("name"),
            tr("What it is called in the list; empty for what it is"),
            "text",
            lambda: laid.name,
            lambda document, text: self.write_many(document, name=text.strip()),
        )

    def row(self, laid: Placed) -> list[Row]:
        """Whether it is on the other side too, and its row as it would be typed."""
        return [
            self.mirrored(laid),
            Row(
                tr("row"),
                MARK_ROW_HINT,
                "text",
                lambda: mark_row_text(laid.count, laid.step, self.document),
                lambda document, text: type_mark_row(document, self._volume.id, self._number, text),
            ),
        ]

    def many(self, laid: Placed) -> list[Row]:
        """How many of it stand in a row, and how one follows the other."""
        rows = [
            Row(
                tr("how many"),
                tr("In a row on the face"),
                "count",
                lambda: laid.count,
                lambda document, count: count_mark_row(document, self._volume.id, self._number, int(count)),
                most=200,
            ),
        ]
        if laid.count == 1:
            return rows
        ways = (tr("step across"), tr("step up"))
        if side_under(self._volume, laid) is not None:
            ways = (tr("step along the axle"), tr("step round it"))
        for column, words in enumerate(ways):
            choices = (
                (tr("{words}: share of the face", words=words), "share"),
                (tr("{words}: pitch", words=words), "pitch"),
                (tr("{words}: gap", words=words), "gap"),
            )
            rows += [
                Row(tr("{way} is held", way=words), tr("How one follows the other when the face changes"), "choice",
                    partial(step_kind, laid.step[column]), partial(self._held, step_mark, column), choices),
                Row(words, tr("20 % for a share of the face, a length, or an expression; negative: the other way"), "text",
                    partial(step_words, laid.step[column], self.document),
                    partial(self._held, type_mark_step, column)),
            ]  # fmt: skip
        return rows
