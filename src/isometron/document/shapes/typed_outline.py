"""A whole outline as one typed line: corner after corner, each where it lies and how it is rounded, chamfered or bowed."""

from __future__ import annotations

import re
from collections.abc import Sequence
from math import hypot

import msgspec

from isometron.document.edits import Edit
from isometron.document.lengths.typed import part_typed, typed_length
from isometron.document.lengths.typed_places import full_place_words, typed_place
from isometron.document.lengths.units import LengthError, format_length, format_number
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.profiles import change_corner, put_profile
from isometron.errors import IsometronError
from isometron.geometry.tolerances import HAIR
from isometron.volumes.cut.corners import CutProfile, ProfileCorner
from isometron.volumes.cut.profiles import ViewName, mirror_column, view_size
from isometron.volumes.marks.holds import held_at
from isometron.volumes.own_sides import view_word
from isometron.wording import tr

__all__ = ["OUTLINE_HINT", "bow_text", "outline_text", "type_bow", "type_outline"]

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
    typed = [
        (said[part], 0.0) if part in said else _corner(number, part, document)
        for number, part in enumerate(parts[: -1 if alike else None], start=1)
    ]
    corners = [checked(corner, tr("corner")) for corner in _risen(typed, view_size(volume, view), alike, view)]
    if not corners:
        return put_profile(document, volume_id, view, None, what)
    if len(corners) < (2 if alike else 3):
        raise DocumentError(tr("An outline has three corners at least: {hint}.", hint=OUTLINE_HINT))
    if alike:
        corners = _from_the_middle(corners, mirror_column(view), view_size(volume, view))
    return put_profile(document, volume_id, view, CutProfile.through(corners, alike=alike), what, anew=True)


def type_bow(document: Document, volume_id: str, view: ViewName, number: int, text: str) -> Edit:
    """Bow the side that begins at a corner by how far it rises, as it is typed: a length, below 0 inwards, or a share of half its length.

    Raises `DocumentError` for what is neither.
    """
    volume = document.volume(volume_id)
    profile: CutProfile | None = getattr(volume, view, None)
    corners = [] if profile is None else list(profile.corners)
    at = next((k for k, corner in enumerate(corners) if corner.n == number), None)
    if profile is None or at is None:
        raise DocumentError(tr("There is no corner {number} now.", number=number))
    try:
        part = part_typed(text)
        rise = typed_length(text or "0", document)[0] if part is None else 0.0
    except LengthError as error:
        raise DocumentError(str(error)) from error
    if part is None:
        part = 2.0 * rise / _chord(corners, at, view_size(volume, view), profile.alike, view)
    return change_corner(document, volume_id, view, number, bow=part)


def bow_text(profile: CutProfile, number: int, size: tuple[float, float], view: ViewName, document: Document) -> str:
    """Return how far the side that begins at a corner rises, as it would be typed."""
    at = next(k for k, corner in enumerate(profile.corners) if corner.n == number)
    chord = _chord(profile.corners, at, size, profile.alike, view)
    return format_length(round(profile.corners[at].bow * chord / 2.0, 4), document.unit)


def _chord(
    corners: Sequence[ProfileCorner], at: int, size: tuple[float, float], alike: bool, view: ViewName
) -> float:
    """Return how long the side from a corner to the next one is, mm; of the last of a half, to its image."""
    one, other = (
        [held_at(c.at[k], size[k]) for k in (0, 1)] for c in (corners[at], corners[(at + 1) % len(corners)])
    )
    if alike and at == len(corners) - 1:
        column = mirror_column(view)
        other = [size[k] - one[k] if k == column else one[k] for k in (0, 1)]
    return max(hypot(other[0] - one[0], other[1] - one[1]), HAIR)


def _risen(
    corners: Sequence[tuple[ProfileCorner, float]], size: tuple[float, float], alike: bool, view: ViewName
) -> list[ProfileCorner]:
    """Return corners with the rises (mm) of the sides that begin there as their bows: shares of half of each side."""
    plain = [corner for corner, _ in corners]
    return [
        msgspec.structs.replace(corner, bow=2.0 * rise / _chord(plain, k, size, alike, view)) if rise else corner
        for k, (corner, rise) in enumerate(corners)
    ]


def _from_the_middle(corners: list[ProfileCorner], column: int, size: tuple[float, float]) -> list[ProfileCorner]:
    """Return the corners of a half from where it leaves the middle to where it comes back, wherever it was begun."""
    middle = [abs(held_at(c.at[column], size[column]) - size[column] / 2) <= HAIR for c in corners]
    begins = next((k for k in range(1, len(corners)) if middle[k] and middle[k - 1]), 0)
    return corners[begins:] + corners[:begins]


def _corner(number: int, text: str, document: Document) -> tuple[ProfileCorner, float]:
    """Return a corner and how far the side that begins there rises, mm, where that is typed as a length."""
    place, *shaped = _SHAPED.split(text)
    at = place.split(",")
    try:
        if len(at) != 2:
            raise DocumentError(tr("write how far along, a comma, and how far up or across"))
        fields: dict[str, float] = {}
        rise = 0.0
        for name, value in zip(shaped[::2], shaped[1::2], strict=True):
            part = part_typed(value)
            size = typed_length(value, document)[0] if part is None else part
            if name.lower() == "bow" and part is None:
                rise = size
            else:
                fields[name.lower()] = size
        held = tuple(typed_place(each.strip(), 0.0, document) for each in at)
        return checked(ProfileCorner(at=(held[0], held[1]), **fields), tr("corner")), rise  # type: ignore[arg-type]
    except IsometronError as error:
        raise DocumentError(
            tr("Corner {number}, {text!r}: {error}", number=number, text=text, error=error)
        ) from error
