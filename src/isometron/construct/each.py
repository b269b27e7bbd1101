"""Several boxes by one school, each for itself: what is selected, and every copy of what stands in rows."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from isometron.construct.outcome import Construction, NotHere, Options
from isometron.construct.schools import construct
from isometron.document.edits import add_volume
from isometron.document.model import Document, DocumentError
from isometron.volumes.copies import copies_of, is_many
from isometron.wording import tr

__all__ = ["construct_each"]

_ONE_BOX = {"plan", "measuring", "diagonal", "one-point", "by-guess", "three-point"}
"""Schools that draw one box: of a row they draw each; the others draw the row, or a part that all have alike."""
_MOST = 60
"""A page for each of more is a book."""


def construct_each(
    document: Document, ids: Sequence[str], school: str, options: Options | None = None
) -> tuple[Document, list[Construction | NotHere]]:
    """Construct volumes by a school, each copy of a row for itself where the school draws one box.

    Returns the constructions and the document that they are of: there each copy has a name of its own.
    Raises `DocumentError` for an unknown volume or school, and for more copies than make a worksheet.
    """
    wanted: list[str] = []
    for volume_id in ids:
        document, names = _apart(document, volume_id) if school in _ONE_BOX else (document, [volume_id])
        wanted += names
    asked = options if options is not None else Options()
    return document, [construct(document, each, school, asked) for each in wanted]


def _apart(document: Document, volume_id: str) -> tuple[Document, list[str]]:
    volume = document.volume(volume_id)
    if not is_many(volume):
        return document, [volume_id]
    copies = copies_of(volume, lambda: {each.id: each for each in document.volumes})
    if len(copies) > _MOST:
        raise DocumentError(
            tr("{name} stands for {count}: a worksheet has a page for each of at most {most}. The school of rows draws them on one.",
               name=volume.name, count=len(copies), most=_MOST)
        )  # fmt: skip
    alone = tuple(copies[0] if each.id == volume_id else each for each in document.volumes)
    apart = msgspec.structs.replace(document, volumes=alone)
    names = [volume_id]
    for number, copy in enumerate(copies[1:], start=2):
        name = f"{volume.name} · {number}"
        one = msgspec.structs.replace(copy, id=f"{volume_id}-{number}", name=name, joined=None, says=())
        apart = add_volume(apart, one).document  # type: ignore[arg-type]
        names.append(one.id)
    return apart, names
