"""Places as a person holds and types them: a share, a length from an end or the middle, an expression, another's middle."""

from __future__ import annotations

import re
from typing import Literal

import msgspec

from isometron.document.lengths.expressions import slug
from isometron.document.lengths.given_places import middle_of
from isometron.document.lengths.typed import part_typed, typed_length
from isometron.document.lengths.units import format_length, format_number
from isometron.document.model import Document, DocumentError
from isometron.geometry.tolerances import HAIR
from isometron.volumes.marks.held_places import Way
from isometron.volumes.marks.holds import Apart, Held, Measured, Reach, Step, held_at, reheld, step_mm
from isometron.wording import tr

__all__ = [
    "HoldKind",
    "StepKind",
    "following",
    "full_place_words",
    "held_as",
    "hold_kind",
    "place_words",
    "step_as",
    "step_kind",
    "step_words",
    "typed_place",
    "typed_step",
]

HoldKind = Literal["share", "start", "middle", "end", "edge start", "edge end"]
StepKind = Literal["share", "pitch", "gap"]


def hold_kind(held: Held) -> HoldKind:
    """Return how a place is held: as a share, or measured from the start, the middle or the end of its way.

    With "edge" it is the near edge of the thing that is measured, not its middle.
    """
    if not isinstance(held, Measured):
        return "share"
    if held.to == "edge" and held.from_ != "middle":
        return "edge start" if held.from_ == "start" else "edge end"
    return held.from_


def held_as(how: HoldKind, held: Held, length: float, reach: Reach = (0.0, 0.0)) -> Held:
    """Return a place held in another way; it does not move. length : of its way, mm."""
    at = held_at(held, length, reach)
    if how == "share":
        return reheld(0.0, length, at)
    edge, _, end = how.rpartition(" ")
    start = Measured(from_=end, mm=0.0, to="edge" if edge else "middle")  # type: ignore[arg-type]
    return reheld(start, length, at, reach)


def following(document: Document, thing: str, own: str, held: Held, way: Way, reach: Reach = (0.0, 0.0)) -> Measured:
    """Return a place that follows the middle of another volume, as far from it as it is now.

    own : id of the volume that the place is on. Raises `DocumentError` for a thing that is not there, and for itself.
    """
    if document.index_of(thing) is None or thing == own:
        raise DocumentError(tr("A place follows the middle of another volume."))
    at = held_at(held, way.length, reach)
    return Measured(mm=at, thing=thing, apart=round(at - way.to(middle_of(document.volume(thing))), 9))


def typed_place(text: str, held: Held, document: Document) -> Held:
    """Return a place as it is typed: ``40 %`` for a share, a length from where it is held, or an expression.

    A length typed for a share is measured from the start; of what follows another volume it is the distance from its middle.
    ``100 from end`` and ``50 from middle`` say where it is measured from, ``at wheel + 120`` that it follows the middle of a volume.
    Raises `DocumentError` or `LengthError` for what is neither.
    """
    part = part_typed(text)
    if part is not None:
        return part
    start = held if isinstance(held, Measured) else Measured(mm=0.0)
    follows = _FOLLOWS.fullmatch(text.strip())
    thing = next((v for v in document.volumes if follows and slug(v.name) == slug(follows["name"])), None)
    if follows and thing is not None:
        start = Measured(mm=0.0, thing=thing.id)
        text = (follows["sign"] or "").replace("+", "") + (follows["by"] or "0")
    measured = _FROM.fullmatch(text.strip())
    if measured:
        start, text = Measured(from_=measured["end"].lower(), mm=0.0), measured["by"]  # type: ignore[arg-type]
    mm, says = typed_length(text, document)
    if start.thing:
        apart = 0.0 if says else mm
        return msgspec.structs.replace(
            start, mm=start.mm - start.apart + mm, apart=apart, says=says, unit=document.unit
        )
    return msgspec.structs.replace(start, mm=mm, says=says, unit=document.unit)


_FROM = re.compile(r"(?P<by>.+?)\s+from\s+(?:the\s+)?(?P<end>start|middle|end)", re.IGNORECASE)
_FOLLOWS = re.compile(r"at\s+(?P<name>\w[\w ]*?)(?:\s*(?P<sign>[+-])\s*(?P<by>.+))?", re.IGNORECASE)


def full_place_words(held: Held, document: Document) -> str:
    """Return a held place as it would be typed where nothing else says what it is measured from."""
    words = place_words(held, document)
    if not isinstance(held, Measured):
        return words
    if held.thing and document.index_of(held.thing) is not None:
        by = words if held.says or abs(held.apart) > HAIR else ""
        against = by.startswith("-")
        by = f" {'-' if against else '+'} {by.lstrip('-').strip()}" if by else ""
        return f"at {slug(document.volume(held.thing).name)}{by}"
    return words if held.from_ == "start" else f"{words} from {held.from_}"


def place_words(held: Held, document: Document) -> str:
    """Return a held place as it would be typed."""
    if not isinstance(held, Measured):
        return f"{format_number(100.0 * held, 3)} %"
    if held.says:
        return held.says
    return format_length(round(held.apart if held.thing else held.mm, 4), document.unit)


def step_kind(step: Step) -> StepKind:
    """Return how a row's step is held: as a share of the face, a pitch or a gap."""
    return step.by if isinstance(step, Apart) else "share"


def step_as(how: StepKind, step: Step, length: float, reach: Reach) -> Step:
    """Return a row's step held in another way; nothing moves. length : of the face, mm."""
    mm = step_mm(step, length, reach)
    if how == "share":
        return mm / length if length > 0.0 else 0.0
    clear = abs(mm) - (reach[0] + reach[1]) if how == "gap" else abs(mm)
    if how == "gap" and (clear < 0.0 or mm == 0.0):
        raise DocumentError(
            tr("They overlap, so there is no gap between them. Hold them by a pitch, or set them apart.")
        )
    return Apart(by=how, mm=round(clear if mm >= 0.0 else -clear, 9))


def typed_step(text: str, step: Step, document: Document) -> Step:
    """Return a row's step as it is typed: ``20 %`` for a share, a length or an expression for a pitch or a gap."""
    part = part_typed(text)
    if part is not None:
        return part
    mm, says = typed_length(text, document)
    start = step if isinstance(step, Apart) else Apart(mm=0.0)
    return msgspec.structs.replace(start, mm=mm, says=says, unit=document.unit)


def step_words(step: Step, document: Document) -> str:
    """Return a row's step as it would be typed."""
    if not isinstance(step, Apart):
        return f"{format_number(100.0 * step, 3)} %"
    return step.says or format_length(round(step.mm, 4), document.unit)
