"""A whole thing said in one line: a name, three sizes, where it lies, and rows of it.

seat 420 x 400 x 45 at 0, 363, 529
"leg 2" 45 x 45 x 440 20 below seat, 2 x 375
"""

from __future__ import annotations

import re
from dataclasses import dataclass

import msgspec
import numpy as np

from isometron.document.edits import Edit, add_volume, fresh_id, fresh_name
from isometron.document.joins import placed_by
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError
from isometron.document.marks.typed_rows import is_row, type_rows
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.volumes.box import BOX_FACES, Box, box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import Heading, heading_of
from isometron.volumes.relations import Hold, Join
from isometron.wording import tr

__all__ = [
    "SAID_HINT",
    "At",
    "Beside",
    "Said",
    "add_in_rows",
    "add_said",
    "is_said",
    "read_said",
    "sizes_said",
    "start_of",
    "with_place",
]

SAID_HINT = tr("seat 420 x 400 x 45 at 0, 363, 529 · or: on body, 20 above seat, left of body · rows: , 3 x 2800")

_BY = re.compile(r"\s+[x×]\s+|(?<=\d)[x×](?=\s*[\d(.])", re.IGNORECASE)
_COMMA = re.compile(r",\s+")
_NAMED = re.compile(r'\s*(?:"(?P<quoted>[^"]*)"|(?P<plain>[^\d"(]*?))\s*(?P<rest>(?:[\d(.,=].*)?)', re.DOTALL)
_SIDES: dict[str, tuple[Heading, str]] = {
    "above": ("top", "above"), "on": ("top", "on"), "below": ("underside", "below"), "under": ("underside", "below"),
    "left of": ("left side", "left of"), "right of": ("right side", "right of"), "before": ("front", "before"),
    "in front of": ("front", "before"), "behind": ("rear", "behind"), "inside": ("underside", "inside"),
}  # fmt: skip
_PLACE = re.compile(
    r"(?:(?P<before>.*?)\s+|^\s*)(?P<word>flush\s+(?:left|right)\s+of|" + "|".join(w.replace(" ", r"\s+") for w in _SIDES)
    + r")\s+(?P<name>\S.*)",
    re.IGNORECASE,
)  # fmt: skip
_AT = re.compile(r"(?:(?P<before>.*?)\s+|^\s*)at\s+(?P<x>\S.*)", re.IGNORECASE)
_IN = re.compile(r"(?P<z>.*?)\s+in\s+(?P<name>[^\W\d].*)", re.IGNORECASE)
_GROUPED = re.compile(r"\d{1,3}(?: \d{3})+")
_SPACED = re.compile(r"\d+(?:\s+\d+){2}")
"""Three sizes with nothing but spaces between them."""
_MOST = 1e7


@dataclass(frozen=True)
class At:
    """A place of the first corner, mm: x right, y away, z up; along the directions of ``of`` from its corner, where one is named."""

    place: tuple[float, float, float]
    of: str = ""


@dataclass(frozen=True)
class Beside:
    """A side of a thing (its id), said from its own front, and how far from it, mm; ``word`` as it was said."""

    of: str
    side: Heading
    word: str
    by: float = 0.0


@dataclass(frozen=True)
class Said:
    """What one line says; ``sizes`` in the order said, mm, none where there are none."""

    name: str
    sizes: tuple[float, ...]
    place: At | Beside | None
    rows: str


_UNFINISHED = re.compile(r"\d\s*[x×]\s*$")
"""A size that is still to come."""


def is_said(text: str) -> bool:
    """Tell whether a text says more than one length: sizes, a place or rows."""
    return bool(
        _BY.search(text)
        or _UNFINISHED.search(text)
        or _PLACE.fullmatch(text)
        or _AT.fullmatch(text)
        or _COMMA.search(text)
    )


def read_said(document: Document, text: str, *, named: bool = True) -> Said:
    """Read a line; a name may stand first where it is ``named``. Raises `DocumentError` that says what is not understood."""
    name, body = _name(text) if named else ("", text.strip())
    first, *more = _COMMA.split(body)
    at, rows = _AT.fullmatch(first), ""
    # Of a place two more figures are wanted: the last may end in the name of a thing, ``30 in seat``.
    if len(more) > (2 if at is not None else 0) and is_row(more[-1].split(";")[0]):
        rows = more.pop()
    if at is not None:
        return Said(name, _sizes(document, at["before"] or ""), _at(document, [at["x"], *more]), rows)
    placed = _PLACE.fullmatch(first)
    if placed is None and len(more) == 1:
        placed, sizes = _PLACE.fullmatch(more[0]), first
        if placed is not None:
            return Said(name, _sizes(document, sizes), _beside(document, placed, placed["before"] or ""), rows)
    if more:
        raise DocumentError(
            tr("{text!r} is not understood here. Type, say, {hint}.", text=", ".join(more), hint=SAID_HINT)
        )
    if placed is None:
        return Said(name, _sizes(document, first), None, rows)
    size, by = _parted(document, placed["before"] or "")
    return Said(name, _sizes(document, size), _beside(document, placed, by), rows)


def _name(text: str) -> tuple[str, str]:
    found = _NAMED.fullmatch(text)
    if found is None:
        raise DocumentError(tr("{text!r} is not understood here. Type, say, {hint}.", text=text, hint=SAID_HINT))
    name = (found["quoted"] if found["quoted"] is not None else found["plain"] or "").strip()
    if not found["rest"]:
        raise DocumentError(tr("Say its size after the name: {name} 420 x 400 x 45.", name=name or tr("seat")))
    return name, found["rest"]


def _sizes(document: Document, text: str) -> tuple[float, ...]:
    if not text.strip():
        return ()
    parts = _BY.split(text.strip())
    if _UNFINISHED.search(text):
        raise DocumentError(tr("A size is wanted after the last x: 420 x 400 x 45, or 420 x 400 for two."))
    if len(parts) > 3:
        raise DocumentError(
            tr("{text!r} has {count} sizes; a block has three: 420 x 400 x 45.", text=text.strip(), count=len(parts))
        )
    if len(parts) == 1 and _SPACED.fullmatch(text.strip()):
        raise DocumentError(tr("Write an x between the sizes: {sizes}.", sizes=" x ".join(text.split())))
    found = tuple(_length(document, part) for part in parts)
    if any(not 0.01 <= size <= _MOST for size in found):
        raise DocumentError(tr("A length lies between 0.01 mm and 10 km."))
    return found


def _length(document: Document, text: str) -> float:
    try:
        return read_length(text.strip(), document)
    except LengthError as error:
        raise DocumentError(str(error)) from error


def _parted(document: Document, text: str) -> tuple[str, str]:
    """Return the sizes and the distance of what stands before a word of place: ``45 20`` is 45 and 20, ``45`` a size.

    Alone, without sizes, it is the distance; what reads as one length is one.
    """
    if not text.strip():
        return "", ""
    *front, last = re.split(r"(\s+[x×]\s+|(?<=\d)[x×](?=\s*[\d(.]))", text.strip())
    if last.lower().endswith("flush"):
        return "".join(front) + last[: -len("flush")], "0"
    if not front:
        return "", last
    size, _, by = last.rpartition(" ")
    if re.fullmatch(r"[^\W\d]+", by):  # a unit that stands apart
        size, _, number = size.rpartition(" ")
        by = f"{number} {by}"
    try:
        read_length(last, document)
    except LengthError:
        return ("".join(front) + size, by) if size else (text.strip(), "")
    if _GROUPED.fullmatch(last.strip()):
        raise DocumentError(
            tr("{last!r} can be one figure or two. Write {one} for one, or {size}, {by} for a size and a distance.",
               last=last.strip(), one=last.strip().replace(" ", ""), size=size.strip(), by=by)
        )  # fmt: skip
    return text.strip(), ""


def _at(document: Document, parts: list[str]) -> At:
    inside = _IN.fullmatch(parts[-1])
    of = ""
    if inside is not None:
        parts, of = [*parts[:-1], inside["z"]], _named(document, inside["name"]).id
    if len(parts) != 3:
        raise DocumentError(
            tr(
                "After *at* three figures are wanted, with a comma and a space between them: at 0, 363, 529 (x right, y away, z up)."
            )
        )
    x, y, z = (_length(document, part) for part in parts)
    return At((x, y, z), of)


def _beside(document: Document, found: re.Match[str], by: str) -> Beside:
    word = re.sub(r"\s+", " ", found["word"].lower())
    if word.startswith("flush "):
        word, by = word.removeprefix("flush "), "0"
    by = by.strip().removesuffix("flush").strip()
    side, said = _SIDES[word]
    return Beside(_named(document, found["name"]).id, side, said, _length(document, by) if by else 0.0)


def _named(document: Document, name: str) -> AnyVolume:
    wanted = name.strip().strip('"').casefold()
    found = [volume for volume in document.volumes if volume.name.casefold() == wanted]
    if len(found) == 1:
        return found[0]
    if found:
        raise DocumentError(
            tr("{count} things are called {name}: give each a name of its own.", count=len(found), name=name)
        )
    names = ", ".join(volume.name for volume in document.volumes[:6]) or tr("none yet")
    raise DocumentError(tr("There is no {name} here. Things are: {names}.", name=name.strip(), names=names))


def with_place(document: Document, box: Box, place: At | Beside) -> Box:
    """Return a block put where a line says: turned as the thing that is named, and beside a thing joined to it."""
    if isinstance(place, At) and not place.of:
        return msgspec.structs.replace(box, corner=place.place, yaw_deg=0.0, pitch_deg=0.0, roll_deg=0.0)
    other = document.volume(place.of)
    corners, rotations = box_corners([other])
    turned = msgspec.structs.replace(box, yaw_deg=other.yaw_deg, pitch_deg=other.pitch_deg, roll_deg=other.roll_deg)
    if isinstance(place, At):
        x, y, z = np.round(corners[0, 0] + rotations[0] @ np.array(place.place), 6) + 0.0
        return msgspec.structs.replace(turned, corner=(float(x), float(y), float(z)))
    join = Join(to=other.id, holds=_holds(other, place))
    return msgspec.structs.replace(turned, joined=join, corner=placed_by(turned, other, join))


def start_of(document: Document, place: At | Beside) -> tuple[Floats, AnyVolume | None]:
    """Return where (3,) a thing begins whose sizes are not said yet, and the thing whose directions it has; None for the world's."""
    if isinstance(place, At) and not place.of:
        return np.array(place.place), None
    other = document.volume(place.of)
    corners, rotations = box_corners([other])
    if isinstance(place, At):
        return corners[0, 0] + rotations[0] @ np.array(place.place), other
    axis, end = next(BOX_FACES[face] for face in range(6) if heading_of(other, face) == place.side)
    own = np.zeros(3)
    own[axis] = other.size[axis] + place.by if end else -place.by
    own[2] = place.by if place.word == "inside" else own[2]
    return corners[0, 0] + rotations[0] @ own, other


def _holds(other: AnyVolume, place: Beside) -> tuple[Hold, Hold, Hold]:
    """Return how a thing lies beside, on or inside another one: in the middle of it, on its level where it stands beside it."""
    axis, end = next(BOX_FACES[face] for face in range(6) if heading_of(other, face) == place.side)
    holds = [Hold(how="middle"), Hold(how="middle"), Hold(how="middle" if axis == 2 else "start")]
    if place.word == "inside":
        holds[2] = Hold(how="start", by=place.by)
    else:
        holds[axis] = Hold(how="after" if end else "before", by=place.by)
    return holds[0], holds[1], holds[2]


def sizes_said(said: Said) -> tuple[float, float, float]:
    """Return the three sizes of a line; raises `DocumentError` where there are fewer."""
    if len(said.sizes) != 3:
        raise DocumentError(tr("Three sizes make a thing, length x width x height: 420 x 400 x 45."))
    long, wide, high = said.sizes
    return long, wide, high


def add_said(document: Document, text: str) -> Edit:
    """Add a block as a line says it: long x wide x high; without a place it stands to the right of all that is there.

    Raises `DocumentError` for what is not understood.
    """
    said = read_said(document, text)
    size = sizes_said(said)
    name = fresh_name(document, said.name) if said.name else fresh_name(document, tr("Block"))
    box = Box(id=fresh_id(document, name), name=name, corner=(0.0, 0.0, 0.0), size=size)
    place = said.place if said.place is not None else At(_free_place(document))
    return add_in_rows(document, with_place(document, box, place), said.rows)


def add_in_rows(document: Document, volume: AnyVolume, text: str) -> Edit:
    """Add a volume, and the rows of it that are typed, if there are any, as one step; raises `DocumentError`."""
    laid = add_volume(document, volume)
    return Edit(laid.name, type_rows(laid.document, [volume.id], text).document, laid.selection) if text else laid


def _free_place(document: Document) -> tuple[float, float, float]:
    """Return a corner on the ground to the right of all that is there, with a tenth of its breadth between."""
    standing = [box_corners([volume])[0][0] for volume in document.volumes if not volume.put_away]
    if not standing:
        return 0.0, 0.0, 0.0
    corners: Floats = np.concatenate(standing)
    low, high = corners.min(axis=0), corners.max(axis=0)
    gap = float(np.round((high[0] - low[0]) / 10.0, -1)) or 10.0
    return float(np.round(high[0] + gap, 3)), float(np.round(low[1], 3)), 0.0
