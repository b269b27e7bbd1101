"""Edits that part faces and edges, lay rings and arches on faces, and repeat volumes and marks."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise
from math import isfinite

import msgspec

from isometron.document.edits import Edit, change_volume
from isometron.document.marks.lying import hold_on_body
from isometron.document.model import Document, DocumentError, checked
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import CourseMark, DivideMark, FaceMark, TickMark
from isometron.volumes.relations import Direction, Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = [
    "change_mark",
    "divide_edge",
    "divide_face",
    "fill_between",
    "fill_face",
    "lay_mark",
    "parse_parts",
    "parts_words",
    "remove_mark",
    "repeat",
    "repeat_on",
]

_MOST = 200
_WORDS = {"halves": 2, "thirds": 3, "quarters": 4}


def parse_parts(text: str) -> tuple[float, ...]:
    """Return places from 0 to 1 of the lines that part a length: ``3`` in equal parts, ``1 : 2 : 1`` in that ratio.

    Nothing, 0 and 1 part nothing. Raises `DocumentError` for anything else.
    """
    body = text.strip().lower()
    if body in _WORDS:
        body = str(_WORDS[body])
    if not body:
        return ()
    try:
        cells = [float(cell.replace(",", ".")) for cell in re.split(r"\s*:\s*|\s+", body)]
    except ValueError as error:
        raise DocumentError(
            tr("{text!r} is no division. Write 3 for equal parts, or 1 : 2 : 1 for parts in a ratio.", text=text)
        ) from error
    if len(cells) == 1:
        count = cells[0]
        if not (isfinite(count) and count == int(count) and 0 <= count <= _MOST):
            raise DocumentError(
                tr("A length is parted in a whole number of parts up to {most}, not {text}.", most=_MOST, text=text)
            )
        return tuple(k / int(count) for k in range(1, int(count)))
    total = sum(cells)
    if any(not cell > 0.0 for cell in cells) or not isfinite(total) or len(cells) > _MOST:
        raise DocumentError(tr("Every part of a ratio is greater than 0: {text}.", text=text))
    places, run = [], 0.0
    for cell in cells[:-1]:
        run += cell
        places.append(run / total)
    return tuple(places)


def parts_words(places: Sequence[float]) -> str:
    """Return places as they would be typed: a count when the parts are equal, else their ratio."""
    count = len(places) + 1
    if all(abs(place - (k + 1) / count) < CLOSE for k, place in enumerate(places)):
        return str(count)
    ends = [0.0, *places, 1.0]
    parts = [b - a for a, b in pairwise(ends)]
    return " : ".join(f"{part / min(parts):.3g}" for part in parts)


def _marked(document: Document, volume: AnyVolume, marks: tuple[FaceMark, ...], what: str) -> Edit:
    hold_on_body(volume, [mark for mark in marks if mark not in volume.marks])
    return change_volume(document, volume.id, what, marks=marks)


def divide_face(document: Document, volume_id: str, mark: DivideMark) -> Edit:
    """Part a face; what parted it before, with the same border, is replaced. A mark that parts nothing takes it away."""
    volume = document.volume(volume_id)
    others = [
        m for m in volume.marks if not (isinstance(m, DivideMark) and m.face == mark.face and m.border == mark.border)
    ]
    empty = not (mark.across or mark.up or mark.diagonals or mark.border > 0.0)
    marks = tuple(others) if empty else (*others, mark)
    return _marked(document, volume, marks, tr("divide a face of"))


def divide_edge(document: Document, volume_id: str, edge: int, places: Sequence[float]) -> Edit:
    """Part an edge by ticks; what parted it before is replaced."""
    volume = document.volume(volume_id)
    others = [m for m in volume.marks if not (isinstance(m, TickMark) and m.edge == edge)]
    new = [TickMark(edge=edge, parts=tuple(places))] if places else []
    return _marked(document, volume, (*others, *new), tr("divide an edge of"))


def fill_face(document: Document, volume_id: str, mark: CourseMark) -> Edit:
    """Fill a face with courses; what filled it before is replaced."""
    volume = document.volume(volume_id)
    others = tuple(m for m in volume.marks if not (isinstance(m, CourseMark) and m.face == mark.face))
    return _marked(document, volume, (*others, mark), tr("fill a face of"))


def lay_mark(document: Document, volume_id: str, mark: FaceMark) -> Edit:
    """Lay a ring, an arch or a path on a volume."""
    volume = document.volume(volume_id)
    return _marked(document, volume, (*volume.marks, mark), tr("lay a mark on"))


def change_mark(document: Document, volume_id: str, number: int, **fields: object) -> Edit:
    """Change a mark of a volume."""
    volume = document.volume(volume_id)
    marks = list(volume.marks)
    if not 0 <= number < len(marks):
        raise DocumentError(tr("{volume} has no such mark any more.", volume=volume.name))
    marks[number] = checked(
        msgspec.structs.replace(marks[number], **fields), tr("mark of {volume}", volume=volume.name)
    )
    return _marked(document, volume, tuple(marks), tr("change a mark of"))


def remove_mark(document: Document, volume_id: str, number: int) -> Edit:
    """Take a mark off a volume."""
    volume = document.volume(volume_id)
    marks = tuple(m for k, m in enumerate(volume.marks) if k != number)
    return _marked(document, volume, marks, tr("take a mark off"))


def repeat(document: Document, volume_id: str, rows: Sequence[Repeat]) -> Edit:
    """Let a volume stand in rows; no row at all leaves it alone."""
    volume = document.volume(volume_id)
    kept = tuple(checked(row, tr("row of {volume}", volume=volume.name)) for row in rows if row.count > 1)
    says = volume.says if kept else tuple(s for s in volume.says if s.drives != "pitch")
    return change_volume(document, volume_id, tr("repeat"), copies=kept, says=says)


def repeat_on(document: Document, volume_id: str, along: Direction, by: int = 1) -> Edit:
    """Repeat a bay beyond its end: one more in its first row, which begins beside the volume when there is none."""
    volume = document.volume(volume_id)
    if volume.copies:
        first = msgspec.structs.replace(volume.copies[0], count=max(volume.copies[0].count + by, 1))
        return repeat(document, volume_id, (first, *volume.copies[1:]))
    size = volume.size[DIRECTIONS.index(along)]
    return repeat(document, volume_id, (Repeat(along=along, count=1 + by, pitch=size),))


def fill_between(volume: AnyVolume, along: Direction, whole: float, count: int) -> Repeat:
    """Return the row of ``count`` that fills a length from end to end, mm; raises `DocumentError` where there is no room."""
    size = volume.size[DIRECTIONS.index(along)]
    if count < 2 or not whole > size:
        raise DocumentError(
            tr(
                "A row that fills a length needs two or more, and a length beyond one of them ({size:g} mm).",
                size=size,
            )
        )
    return Repeat(along=along, count=count, pitch=(whole - size) / (count - 1))
