"""A row of a mark on its face as it is typed: ``3 gap 900``, ``up 4 x 250``."""

from __future__ import annotations

import re

from isometron.document.edits import Edit
from isometron.document.lengths.typed import typed_length
from isometron.document.lengths.typed_places import step_words
from isometron.document.marks.dividing import change_mark
from isometron.document.model import Document, DocumentError
from isometron.volumes.marks.holds import Apart, Step
from isometron.wording import tr

__all__ = ["MARK_ROW_HINT", "mark_row_text", "type_mark_row"]

MARK_ROW_HINT = tr("3 gap 900 clear between them, 4 x 1200 by pitch; up before it for a row up the face")

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
        return change_mark(document, volume_id, number, count=count)
    mm, says = typed_length(found[4], document)
    apart = Apart(by="gap" if found[3].lower() == "gap" else "pitch", mm=mm, says=says, unit=document.unit)
    step: tuple[Step, Step] = (0.0, apart) if found[1] else (apart, 0.0)
    return change_mark(document, volume_id, number, count=count, step=step)
