"""How a coordinate of a place is held: a share of the way, or so many mm from where it starts, its middle or its end;
and how things that stand in a row on a face follow each other."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

__all__ = ["Apart", "Held", "Measured", "MeasuredFrom", "Reach", "Step", "held_at", "other_way", "reheld", "step_mm"]

MeasuredFrom = Literal["start", "middle", "end"]


class Measured(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A coordinate so many mm from an end of its way, or from the middle.

    Args:
        from_: where it is measured from: "start", "middle" or "end"; from the end it is measured back.
        mm: how far, as it was worked out last.
        to: what of the thing lies there: its "middle" (of an arch its foot), or its near "edge", so that 0 mm is flush.
        says: an expression that gives it, empty for none; bare numbers in it are in ``unit``.
        thing: id of the volume whose place along the way it follows ("middle" of it), empty for none; ``mm`` is then worked
            out from there, and ``says`` and ``apart`` are added.
        apart: mm from the thing's middle.
    """

    from_: Annotated[MeasuredFrom, Meta(description="where it is measured from")] = msgspec.field(
        name="from", default="start"
    )
    mm: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")]
    to: Literal["middle", "edge"] = "middle"
    says: Annotated[str, Meta(max_length=200)] = ""
    unit: Literal["mm", "cm", "m", "in"] = "mm"
    thing: Annotated[str, Meta(max_length=80)] = ""
    apart: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")] = 0.0


Share = Annotated[float, Meta(ge=-5.0, le=6.0, description="part of the way, 0 to 1")]
Held = Share | Measured
"""A bare number is a share of the way."""


Reach = tuple[float, float]
"""How far a thing reaches from the place that is held, mm: towards the start of its way, and towards its end."""


class Apart(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A step in a row on a face: from one to the next (a pitch), or clear between them (a gap).

    Args:
        by: "pitch" or "gap".
        mm: how far, as it was worked out last; negative the other way.
        says: an expression that gives it, empty for none; bare numbers in it are in ``unit``.
    """

    by: Literal["pitch", "gap"] = "pitch"
    mm: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")]
    says: Annotated[str, Meta(max_length=200)] = ""
    unit: Literal["mm", "cm", "m", "in"] = "mm"


Step = Share | Apart
"""A bare number is a share of the face."""


def held_at(held: Held, length: float, reach: Reach = (0.0, 0.0)) -> float:
    """Return where a held coordinate lies, mm along a way of ``length`` mm."""
    if not isinstance(held, Measured):
        return held * length
    before, after = reach if held.to == "edge" else (0.0, 0.0)
    if held.from_ == "start":
        return held.mm + before
    return length - held.mm - after if held.from_ == "end" else length / 2.0 + held.mm


def reheld(held: Held, length: float, at: float, reach: Reach = (0.0, 0.0)) -> Held:
    """Return a coordinate held as before, but at ``at`` mm along the way; what an expression or a thing gave is let go."""
    if not isinstance(held, Measured):
        return at / length if length > 0.0 else held
    before, after = reach if held.to == "edge" else (0.0, 0.0)
    mm = {"start": at - before, "middle": at - length / 2.0, "end": length - at - after}[held.from_]
    return Measured(from_=held.from_, mm=round(mm, 9) + 0.0, to=held.to)


def other_way(held: Held) -> Held:
    """Return a coordinate as it is held when its way is gone from the other end."""
    if not isinstance(held, Measured):
        return 1.0 - held
    if held.from_ == "middle":
        return msgspec.structs.replace(held, mm=-held.mm, says="", thing="", apart=0.0)
    other: MeasuredFrom = "end" if held.from_ == "start" else "start"
    return msgspec.structs.replace(held, from_=other)


def step_mm(step: Step, length: float, reach: Reach) -> float:
    """Return the mm from one thing of a row to the next along a way of ``length`` mm, on which each takes up ``reach``."""
    if not isinstance(step, Apart):
        return step * length
    if step.by == "pitch":
        return step.mm
    own = reach[0] + reach[1]
    return step.mm + own if step.mm >= 0.0 else step.mm - own
