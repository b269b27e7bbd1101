"""How a coordinate of a place is held: a share of the way, or so many mm from where it starts, its middle or its end."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

__all__ = ["Held", "Measured", "MeasuredFrom", "held_at", "other_way", "reheld"]

MeasuredFrom = Literal["start", "middle", "end"]


class Measured(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A coordinate so many mm from an end of its way, or from the middle.

    Args:
        from_: where it is measured from: "start", "middle" or "end"; from the end it is measured back.
        mm: how far, as it was worked out last.
        says: an expression that gives it, empty for none; bare numbers in it are in ``unit``.
        thing: id of the volume whose place along the way it follows ("middle" of it), empty for none; ``mm`` is then worked
            out from there, and ``says`` and ``apart`` are added.
        apart: mm from the thing's middle.
    """

    from_: Annotated[MeasuredFrom, Meta(description="where it is measured from")] = msgspec.field(
        name="from", default="start"
    )
    mm: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")]
    says: Annotated[str, Meta(max_length=200)] = ""
    unit: Literal["mm", "cm", "m", "in"] = "mm"
    thing: Annotated[str, Meta(max_length=80)] = ""
    apart: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")] = 0.0


Share = Annotated[float, Meta(ge=-5.0, le=6.0, description="part of the way, 0 to 1")]
Held = Share | Measured
"""A bare number is a share of the way."""


def held_at(held: Held, length: float) -> float:
    """Return where a held coordinate lies, mm along a way of ``length`` mm."""
    if not isinstance(held, Measured):
        return held * length
    if held.from_ == "start":
        return held.mm
    return length - held.mm if held.from_ == "end" else length / 2.0 + held.mm


def reheld(held: Held, length: float, at: float) -> Held:
    """Return a coordinate held as before, but at ``at`` mm along the way; what an expression or a thing gave is let go."""
    if not isinstance(held, Measured):
        return at / length
    mm = {"start": at, "middle": at - length / 2.0, "end": length - at}[held.from_]
    return Measured(from_=held.from_, mm=mm)


def other_way(held: Held) -> Held:
    """Return a coordinate as it is held when its way is gone from the other end."""
    if not isinstance(held, Measured):
        return 1.0 - held
    if held.from_ == "middle":
        return msgspec.structs.replace(held, mm=-held.mm, says="", thing="", apart=0.0)
    other: MeasuredFrom = "end" if held.from_ == "start" else "start"
    return msgspec.structs.replace(held, from_=other)
