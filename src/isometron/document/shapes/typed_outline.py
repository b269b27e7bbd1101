"""A whole outline as one typed line: corner after corner, each where it lies and how it is rounded, chamfered or bowed."""

from __future__ import annotations

import re

from isometron.document.edits import Edit
from isometron.document.lengths.typed import part_typed, typed_length
from isometron.document.lengths.typed_places import full_place_words, typed_place
from isometron.document.lengths.units import format_length, format_number
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.profiles import put_profile
from isometron.errors import IsometronError
from isometron.geometry.tolerances import HAIR
from isometron.volumes.cut.corners import CutProfile, ProfileCorner
from isometron.volumes.cut.profiles import ViewName, mirror_column, view_size
from isometron.volumes.marks.holds import held_at
from isometron.volumes.own_sides import view_word
from isometron.wording import tr

__all__ = ["OUTLINE_HINT", "outline_text", "type_outline"]

OUTLINE_HINT = tr(
    "0, 0; 0, 100 % round 80; 60 %, 100 %; 100 from end, 40 % chamfer 50; 100 %, 0; alike mirrors one half"
)

_SHAPED = re.compile(r"\s+(round|chamfer|bow)\s+", re.IGNORECASE)
_ALIKE = "alike"


def outline_text(profile: CutProfile | None, document: Document) -> str:
    """Return an outline as it would be typed; nothing without one."""
    if profile is None:
        return ""
    parts = [_corner_text(corner, document) for corner in profile.corners]
    return "; ".join([*parts, *([_ALIKE] if profile.alike else [])])


def _corner_text(corner: ProfileCorner, document: Document) -> str:
    words = ", ".join(full_place_words(held, document) for held in corner.at)
    for name in ("round", "chamfer"):
        size = getattr(corner, name)
        words += f" {name} {format_length(size, document.unit)}" if size else ""
    return words + (f" bow {format_number(100.0 * corner.bow, 3)} %" if corner.bow else "")


def type_outline(document: Document, volume_id: str, view: ViewName, text: str) -> Edit:
    """Let a view cut a volume by an outline as it is typed: ``x, y`` between semicolons, each a share, a length, ``100 from end`` or an
    expression, with ``round``, ``chamfer`` or ``bow`` after it; a last ``alike`` mirrors one half. Nothing typed: the view cuts nothing.

    Raises `DocumentError` naming the corner that is wrong.
    """
    volume = document.volume(volume_id)
    what = tr("type the {view} of", view=view_word(volume, view))
    parts = [part.strip() for part in text.split(";") if part.strip()]
    alike = bool(parts) and parts[-1].lower() == _ALIKE
    old = getattr(volume, view, None)
    said = {} if old is None else {_corner_text(corner, document): corner for corner in old.corners}
    # What was left as it stood is the corner that stands there, to its last digit.
    corners = [
        said.get(part) or _corner(number, part, document)
        for number, part in enumerate(parts[: -1 if alike else None], start=1)
    ]
    if not corners:
        return put_profile(document, volume_id, view, None, what)
    if len(corners) < (2 if alike else 3):
        raise DocumentError(tr("An outline has three corners at least: {hint}.", hint=OUTLINE_HINT))
    if alike:
        corners = _from_the_middle(corners, mirror_column(view), view_size(volume, view))
    return put_profile(document, volume_id, view, CutProfile.through(corners, alike=alike), what, anew=True)


def _from_the_middle(corners: list[ProfileCorner], column: int, size: tuple[float, float]) -> list[ProfileCorner]:
    """Return the corners of a half from where it leaves the middle to where it comes back, wherever it was begun."""
    middle = [abs(held_at(c.at[column], size[column]) - size[column] / 2) <= HAIR for c in corners]
    begins = next((k for k in range(1, len(corners)) if middle[k] and middle[k - 1]), 0)
    return corners[begins:] + corners[:begins]


def _corner(number: int, text: str, document: Document) -> ProfileCorner:
    place, *shaped = _SHAPED.split(text)
    at = place.split(",")
    try:
        if len(at) != 2:
            raise DocumentError(tr("write how far along, a comma, and how far up or across"))
        fields: dict[str, float] = {}
        for name, value in zip(shaped[::2], shaped[1::2], strict=True):
            part = part_typed(value)
            fields[name.lower()] = typed_length(value, document)[0] if part is None else part
        held = tuple(typed_place(each.strip(), 0.0, document) for each in at)
        return checked(ProfileCorner(at=(held[0], held[1]), **fields), tr("corner"))  # type: ignore[arg-type]
    except IsometronError as error:
        raise DocumentError(
            tr("Corner {number}, {text!r}: {error}", number=number, text=text, error=error)
        ) from error
