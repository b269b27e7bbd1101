"""Edits of how marks are held on their faces: a place, the step of a row, and the lines of a division, each as it is typed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import msgspec

from isometron.document.edits import Edit
from isometron.document.lengths.typed import part_typed, typed_length
from isometron.document.lengths.typed_places import (
    HoldKind,
    StepKind,
    following,
    held_as,
    place_words,
    step_as,
    typed_place,
    typed_step,
)
from isometron.document.marks.dividing import change_mark, parse_parts, parts_words
from isometron.document.model import Document, DocumentError
from isometron.volumes.marks.face_marks import DivideMark, PartOrMm
from isometron.volumes.marks.held_places import Way, mark_ways
from isometron.volumes.marks.holds import Held, Measured, Reach, Step
from isometron.volumes.marks.places import Placed, has_face, reach_on
from isometron.wording import tr

__all__ = [
    "follow_with_mark",
    "hold_mark",
    "lines_words",
    "step_mark",
    "type_lines",
    "type_mark_place",
    "type_mark_step",
]


def _laid(document: Document, volume_id: str, number: int, column: int) -> tuple[Placed, Way, Reach]:
    """Return a ring or an arch, the way along which its place is held, and how far it reaches along it."""
    volume = document.volume(volume_id)
    mark = volume.marks[number] if 0 <= number < len(volume.marks) else None
    if not isinstance(mark, Placed):
        raise DocumentError(tr("{volume} has no such mark any more.", volume=volume.name))
    if not has_face(volume, mark):
        raise DocumentError(tr("{volume}: the face of this mark is not there now.", volume=volume.name))
    return mark, mark_ways(mark, volume)[column], reach_on(volume, mark, column)


def _with(pair: tuple[Held, Held] | tuple[Step, Step], column: int, held: Held | Step) -> tuple[object, object]:
    return (held, pair[1]) if column == 0 else (pair[0], held)


def hold_mark(document: Document, volume_id: str, number: int, column: int, how: HoldKind) -> Edit:
    """Hold the place of a ring or an arch otherwise, across (0) or up (1) its face; nothing moves."""
    mark, way, reach = _laid(document, volume_id, number, column)
    held = held_as(how, mark.at[column], way.length, reach)
    return change_mark(document, volume_id, number, at=_with(mark.at, column, held))


def follow_with_mark(document: Document, volume_id: str, number: int, column: int, thing: str) -> Edit:
    """Let the place of a ring or an arch follow the middle of another volume, as far from it as it is now."""
    mark, way, reach = _laid(document, volume_id, number, column)
    held = following(document, thing, volume_id, mark.at[column], way, reach)
    return change_mark(document, volume_id, number, at=_with(mark.at, column, held))


def type_mark_place(document: Document, volume_id: str, number: int, column: int, text: str) -> Edit:
    """Set the place of a ring or an arch as it is typed, see `typed_place`."""
    mark, _, _ = _laid(document, volume_id, number, column)
    held = typed_place(text, mark.at[column], document)
    return change_mark(document, volume_id, number, at=_with(mark.at, column, held))


def step_mark(document: Document, volume_id: str, number: int, column: int, how: StepKind) -> Edit:
    """Hold the step of a row of rings or arches otherwise: as a share of the face, a pitch or a gap; nothing moves."""
    mark, way, reach = _laid(document, volume_id, number, column)
    step = step_as(how, mark.step[column], way.length, reach)
    return change_mark(document, volume_id, number, step=_with(mark.step, column, step))


def type_mark_step(document: Document, volume_id: str, number: int, column: int, text: str) -> Edit:
    """Set the step of a row as it is typed, see `typed_step`."""
    mark, _, _ = _laid(document, volume_id, number, column)
    step = typed_step(text, mark.step[column], document)
    return change_mark(document, volume_id, number, step=_with(mark.step, column, step))


def type_lines(document: Document, volume_id: str, number: int, field: Literal["across", "up"], text: str) -> Edit:
    """Set the lines of a division as they are typed: ``3``, ``1 : 2 : 1``, or places such as ``120 mm; 40 %; -2 wheel``.

    Places are parted by semicolons; a negative one is measured back from the far end.
    """
    return change_mark(document, volume_id, number, **{field: _lines(text, document)})


def _lines(text: str, document: Document) -> tuple[PartOrMm, ...]:
    if ";" not in text and not any(sign.isalpha() or sign in "%\"'" for sign in text):
        return parse_parts(text)
    return tuple(_line(cell.strip(), document) for cell in text.split(";") if cell.strip())


def _line(cell: str, document: Document) -> PartOrMm:
    part = part_typed(cell)
    if part is not None:
        return part
    back = cell.startswith("-")
    mm, says = typed_length(cell.removeprefix("-").strip(), document)
    return Measured(from_="end" if back else "start", mm=mm, says=says, unit=document.unit)


def lines_words(mark: DivideMark, field: Literal["across", "up"], document: Document) -> str:
    """Return the lines of a division as they would be typed; none as nothing."""
    places: Sequence[PartOrMm] = getattr(mark, field)
    shares = [place for place in places if not isinstance(place, Measured)]
    if len(shares) == len(places):
        return parts_words(shares) if places else ""
    return "; ".join(_line_words(place, document) for place in places)


def _line_words(place: PartOrMm, document: Document) -> str:
    if not isinstance(place, Measured):
        return place_words(place, document)
    if place.from_ == "middle":  # what is typed has no word for the middle
        return place_words(msgspec.structs.replace(place, from_="start"), document)
    return ("-" if place.from_ == "end" else "") + place_words(place, document)
