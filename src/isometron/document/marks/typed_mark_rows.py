"""A row of a mark on its face as it is typed: ``3 gap 900``, ``up 4 x 250``."""

from __future__ import annotations

import re
from math import pi

from isometron.document.edits import Edit
from isometron.document.lengths.typed import typed_length
from isometron.document.lengths.typed_places import step_words
from isometron.document.lengths.units import LengthError
from isometron.document.marks.dividing import change_mark
from isometron.document.model import Document, DocumentError
from isometron.volumes.marks.face_marks import ArchMark, OpeningMark, RingMark
from isometron.volumes.marks.holds import Apart, Step
from isometron.volumes.marks.places import side_under
from isometron.wording import tr

__all__ = ["MARK_ROW_HINT", "count_mark_row", "mark_row_text", "type_mark_row"]

MARK_ROW_HINT = tr(
    "6 for so many, 3 gap 900 clear between them, 4 x 1200 by pitch; up before it for a row up the face"
)

_APART = 0.25
"""The gap between the first two of a row, as a part of their width."""
_ROW = re.compile(r"(up\s+)?(\d+)(?:\s*(x|gap)\s*(.+))?", re.IGNORECASE)


def mark_row_text(count: int, step: tuple[Step, Step], document: Document) -> str:
    """Return a row as it would be typed; nothing for one that stands alone."""
    if count == 1:
        return ""
    up = step[0] == 0.0 and step[1] != 0.0
    along = step[1] if up else step[0]
    how = along.by if isinstance(along, Apart) else ""
    words = {"gap": "gap", "pitch": "x"}.get(how)
    if words is None or (step[0] != 0.0 and step[1] != 0.0):
        return str(count)
    return f"{'up ' if up else ''}{count} {words} {step_words(along, document)}"


def count_mark_row(document: Document, volume_id: str, number: int, count: int, *, up: bool = False) -> Edit:
    """Let so many of a mark stand in a row; those of a first row stand clear of each other, all round a round side evenly.

    up : a first row runs up the face.
    """
    volume = document.volume(volume_id)
    laid = volume.marks[number] if 0 <= number < len(volume.marks) else None
    if not isinstance(laid, OpeningMark | RingMark | ArchMark):
        return change_mark(document, volume_id, number, count=count)  # which says what it cannot do
    first = laid.count == 1 and laid.step == (0.0, 0.0)
    wide, high = (laid.diameter, laid.diameter) if isinstance(laid, RingMark) else (laid.wide, laid.high)
    apart = round(_APART * (high if up else wide), 1)
    side = side_under(volume, laid)
    even: tuple[Step, Step] = (0.0, Apart(by="gap", mm=apart)) if up else (Apart(by="gap", mm=apart), 0.0)
    if side is not None:
        # Evenly all round, as long as nobody says otherwise.
        first = first or laid.step == (0.0, round(1.0 / laid.count, 9))
        even = (0.0, round(1.0 / max(count, 1), 9)) if side.turn >= 2.0 * pi else (0.0, Apart(by="gap", mm=apart))
    step = even if first and count > 1 else laid.step
    return change_mark(document, volume_id, number, count=max(count, 1), step=step)


def type_mark_row(document: Document, volume_id: str, number: int, text: str) -> Edit:
    """Let a mark stand in a row as it is typed; nothing typed leaves one.

    Raises `DocumentError` for what is no row, naming how one is typed.
    """
    if not text.strip():
        return change_mark(document, volume_id, number, count=1)
    found = _ROW.fullmatch(text.strip())
    if found is None or int(found[2]) < 1:
        raise DocumentError(tr("{text!r} is no row. Type {hint}.", text=text, hint=MARK_ROW_HINT))
    count = int(found[2])
    if found[3] is None:
        return count_mark_row(document, volume_id, number, count, up=bool(found[1]))
    try:
        mm, says = typed_length(found[4], document)
    except LengthError as error:
        raise DocumentError(str(error)) from error
    apart = Apart(by="gap" if found[3].lower() == "gap" else "pitch", mm=mm, says=says, unit=document.unit)
    step: tuple[Step, Step] = (0.0, apart) if found[1] else (apart, 0.0)
    return change_mark(document, volume_id, number, count=count, step=step)
