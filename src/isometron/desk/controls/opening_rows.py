"""The fields of an opening."""

from __future__ import annotations

from functools import partial
from typing import Any, Protocol

import msgspec

from isometron.desk.controls.field_rows import Row
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.volumes.marks.face_marks import ARCH_FORMS, OpeningMark
from isometron.wording import tr

__all__ = ["GOES", "OPENING_FORMS", "opening_rows"]

OPENING_FORMS = (
    (tr("rectangle"), "rectangle"), (tr("ring"), "ring"), (tr("half-round arch"), "half-round"), (tr("segmental arch"), "segmental"),
    (tr("pointed arch"), "pointed"), (tr("the face\'s outline, inwards"), "inset"),
)  # fmt: skip
GOES = (
    (tr("through one wall"), "wall"), (tr("right through the body"), "through"), (tr("a pocket with a bottom"), "pocket"),
)  # fmt: skip
_PERCENT = 100.0


class MarkRows(Protocol):
    """What gives the rows of a mark, see `mark_rows`."""

    document: Document

    def write(self, name: str, document: Document, value: Any) -> Edit: ...
    def write_many(self, document: Document, **fields: Any) -> Edit: ...
    def length(self, name: str, words: str, tip: str) -> Row: ...
    def places(self, laid: Any) -> list[Row]: ...
    def row(self, laid: Any) -> list[Row]: ...
    def many(self, laid: Any) -> list[Row]: ...
    def name(self, laid: Any) -> Row: ...
    def mirrored(self, laid: Any) -> Row: ...


def opening_rows(rows: MarkRows, laid: OpeningMark) -> list[Row]:
    """Return the rows of an opening: only those that its form and its depth ask for."""
    inset = laid.form == "inset"
    where = [rows.mirrored(laid)] if inset else [*rows.places(laid), *rows.row(laid)]
    after = [] if inset else [*rows.many(laid), rows.name(laid)]
    return [*where, *_form(rows, laid), *_depth(rows, laid), *_fittings(rows, laid), *after]


def _form(rows: MarkRows, laid: OpeningMark) -> list[Row]:
    forms = OPENING_FORMS if laid.form != "outline" else (*OPENING_FORMS, (tr("an outline of its own"), "outline"))
    found = [
        Row(tr("form"), tr("Of the opening"), "choice", lambda: laid.form, partial(_reformed, rows, laid), forms)
    ]
    if laid.form == "inset":
        found.append(rows.length("inset", tr("inside by"), tr("How far inside the outline of the face")))
        for end, words, tip in (
            (0, tr("from height"), tr("Where its part of the face begins, in percent of the face's height")),
            (1, tr("to height"), tr("Where its part of the face ends, in percent of the face's height")),
        ):
            found.append(Row(words, tip, "percent", partial(_part, laid, end), partial(_with_part, rows, laid, end)))
    else:
        found.append(rows.length("wide", tr("wide"), tr("Of the opening")))
        found.append(rows.length("high", tr("high"), tr("Of the opening")))
    if laid.form in ("rectangle", "inset"):
        found.append(rows.length("round", tr("corner radius"), tr("0 for sharp corners")))
    if laid.form == "segmental":
        found.append(
            Row(tr("rise"), tr("Of the arch, in percent of half its width"), "percent", lambda: _PERCENT * laid.rise,
                lambda d, v: rows.write("rise", d, min(max(v / _PERCENT, 0.01), 1.0)))
        )  # fmt: skip
    return found


def _reformed(rows: MarkRows, laid: OpeningMark, document: Document, form: str) -> Edit:
    """Change the form; one that stood by its foot keeps standing there."""
    column = laid.at[1]
    at = laid.at
    stood, stands = laid.form in ARCH_FORMS, form in ARCH_FORMS
    if stood != stands and not isinstance(column, float | int) and column.to == "middle" and column.from_ != "middle":
        off = -laid.high / 2.0 if stands == (column.from_ == "start") else laid.high / 2.0
        at = (at[0], msgspec.structs.replace(column, mm=column.mm + off))
    return rows.write_many(document, form=form, at=at)


def _part(laid: OpeningMark, end: int) -> float:
    return _PERCENT * laid.part[end]


def _with_part(rows: MarkRows, laid: OpeningMark, end: int, document: Document, value: float) -> Edit:
    part = list(laid.part)
    part[end] = min(max(value / _PERCENT, 0.0), 1.0)
    return rows.write("part", document, (part[0], part[1]))


def _depth(rows: MarkRows, laid: OpeningMark) -> list[Row]:
    found = [
        Row(tr("how deep it goes"), tr("One wall of a hollow body, all of it, or a pocket"), "choice", lambda: laid.goes,
            partial(_gone, rows, laid), GOES)
    ]  # fmt: skip
    if laid.goes == "pocket":
        found.append(rows.length("depth", tr("depth"), tr("From the face to the bottom of the pocket")))
    return found


_FIRST_DEPTH = 50.0


def _gone(rows: MarkRows, laid: OpeningMark, document: Document, goes: str) -> Edit:
    depth = laid.depth or (_FIRST_DEPTH if goes == "pocket" else 0.0)
    return rows.write_many(document, goes=goes, depth=depth)


def _fittings(rows: MarkRows, laid: OpeningMark) -> list[Row]:
    found = [
        rows.length("frame", tr("band"), tr("Width of a band drawn round it; 0 for none")),
        rows.length("sill", tr("sill"), tr("How far a sill stands out at its foot; 0 for none")),
        _bars(rows, laid, 0, tr("upright bars")),
        _bars(rows, laid, 1, tr("level bars")),
    ]
    if laid.bars != (0, 0):
        found.append(rows.length("bar", tr("bar"), tr("Width of a bar; 0 for single lines")))
    found.append(
        Row(tr("with a pane"), tr("A line where the pane meets the wall; it hides nothing"), "switch", lambda: laid.pane,
            partial(rows.write, "pane"))
    )  # fmt: skip
    if laid.pane or laid.bars != (0, 0):
        found.append(rows.length("back", tr("set back"), tr("How far behind the face pane and bars stand")))
    return found


def _bars(rows: MarkRows, laid: OpeningMark, column: int, words: str) -> Row:
    def write(document: Document, value: float) -> Edit:
        bars = list(laid.bars)
        bars[column] = int(value)
        return rows.write("bars", document, (bars[0], bars[1]))

    return Row(words, tr("How many stand in the opening"), "count", lambda: laid.bars[column], write, most=40)
