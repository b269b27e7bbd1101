"""A row of openings or rings that is typed with their size, while the first of them is pulled."""

from __future__ import annotations

from dataclasses import replace

from isometron.document.edits import Edit
from isometron.document.marks.typed_mark_rows import type_mark_row
from isometron.document.model import DocumentError
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.openings.solids import uncut_openings
from isometron.wording import tr

__all__ = ["in_row", "row_apart"]


def row_apart(text: str) -> tuple[str, str]:
    """Part what is typed while a mark is pulled into its size and its row: ``800 x 900, 3 gap 400``; no row without a comma and a space."""
    size, comma, row = text.rpartition(", ")
    return (size, row) if comma else (text, "")


def in_row(edit: Edit, volume_id: str, row: str) -> Edit:
    """Return the edit that lays a mark, and lets it stand in the row that was typed with it; raises `DocumentError`."""
    if not row.strip():
        return edit
    number = len(edit.document.volume(volume_id).marks) - 1
    laid = type_mark_row(edit.document, volume_id, number, row).document
    volume = laid.volume(volume_id)
    why = uncut_openings(volume).get(number) if isinstance(volume.marks[number], OpeningMark) else None
    if why is not None:
        raise DocumentError(tr("{row} is too long a row here. {why}", row=row.strip(), why=why))
    return replace(edit, document=laid)
