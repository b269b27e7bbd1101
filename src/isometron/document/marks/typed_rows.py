"""Rows of copies as they are typed, for all that is selected: ``4 x 2500``, ``5 gap 300``, ``7 in 4200``, and rows of rows."""

from __future__ import annotations

import re
from collections.abc import Iterable

from isometron.document.edits import Edit
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError, format_length
from isometron.document.marks.dividing import fill_between, repeat
from isometron.document.model import Document, DocumentError
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["ROW_HINT", "is_row", "repeat_all", "row_text", "type_rows"]

ROW_HINT = tr(
    "4 x 2500 by pitch, 5 gap 300, 7 in 4200 to fill a length; wide 3 x 800 another way; a semicolon for rows of rows"
)

_ROW = re.compile(r"(?:(long|wide|high)\s+)?(\d+)\s*(x|gap|in)\s*(.+)", re.IGNORECASE)


def is_row(text: str) -> bool:
    """Tell whether a text has the form of a row."""
    return _ROW.fullmatch(text.strip()) is not None


def row_text(volume: AnyVolume, document: Document) -> str:
    """Return the rows of a volume as they would be typed; nothing where it stands alone."""
    parts = []
    for number, row in enumerate(volume.copies):
        way = "" if number == 0 and row.along == "long" else f"{row.along} "
        parts.append(f"{way}{row.count} x {format_length(row.pitch, document.unit)}")
    return "; ".join(parts)


def type_rows(document: Document, ids: Iterable[str], text: str) -> Edit:
    """Let volumes stand in rows as they are typed; nothing typed leaves each alone.

    Raises `DocumentError` for what is no row, naming how one is typed.
    """
    edit = Edit("", document)
    for volume_id in ids:
        volume = edit.document.volume(volume_id)
        rows = [_row(edit.document, volume, part.strip()) for part in text.split(";") if part.strip()]
        edit = repeat(edit.document, volume_id, rows)
    return edit


def _row(document: Document, volume: AnyVolume, text: str) -> Repeat:
    found = _ROW.fullmatch(text)
    if found is None:
        raise DocumentError(tr("{text!r} is no row. Type {hint}.", text=text, hint=ROW_HINT))
    along, count, how = (found[1] or "long").lower(), int(found[2]), found[3].lower()
    size = volume.size[DIRECTIONS.index(along)]
    try:
        far = read_length(found[4], document, size)
    except LengthError as error:
        raise DocumentError(str(error)) from error
    if how == "in":
        return fill_between(volume, along, far, count)  # type: ignore[arg-type]
    return Repeat(along=along, count=count, pitch=far + size if how == "gap" else far)  # type: ignore[arg-type]


def repeat_all(document: Document, ids: Iterable[str], rows_of) -> Edit:  # type: ignore[no-untyped-def]
    """Let each of some volumes stand in the rows that ``rows_of`` gives for it, as one step."""
    edit = Edit("", document)
    for volume_id in ids:
        edit = repeat(edit.document, volume_id, rows_of(edit.document.volume(volume_id)))
    return edit
