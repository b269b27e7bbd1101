"""A person's ruler: how long it is, what is engraved on it, and how a length on paper is read off it."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.document.lengths.units import MM_PER
from isometron.wording import tr

__all__ = ["DIVISIONS", "Ruler", "on_ruler"]

DIVISIONS: dict[str, tuple[float, ...]] = {
    "mm": (0.5, 1.0, 2.0, 5.0),
    "in": tuple(MM_PER["in"] / parts for parts in (64, 32, 16, 8)),
}
"""Smallest divisions in mm that rulers of a unit have."""


class Ruler(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """length, division : mm; kind : clear (one sees the paper through it), opaque, or the edge of a paper, which has no divisions."""

    length: Annotated[float, Meta(ge=50.0, le=3000.0, description="mm")] = 300.0
    unit: Literal["mm", "in"] = "mm"
    division: Annotated[float, Meta(ge=0.1, le=30.0, description="mm")] = 1.0
    kind: Literal["clear", "opaque", "edge"] = "opaque"


def on_ruler(mm: float, ruler: Ruler) -> str:
    """Return a length on paper as it is read off a ruler: in its unit, to its smallest division."""
    count = round(mm / ruler.division)
    if ruler.unit == "mm":
        return tr("{length:g} mm", length=round(count * ruler.division, 3) + 0.0)
    whole, part = divmod(abs(Fraction(count) * Fraction(ruler.division / MM_PER["in"]).limit_denominator(128)), 1)
    sign = "-" if count < 0 else ""
    words = f"{whole} {part}" if whole and part else str(part or whole)
    return tr("{length} in", length=f"{sign}{words}")
