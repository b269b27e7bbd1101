"""What a volume may say of itself beside its place and size: copies of it, a mirror image, what it is joined to, what
drives its sizes, and which of its ratios is kept."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

__all__ = ["Direction", "Drives", "Hold", "How", "Join", "Keep", "Mirror", "Repeat", "SizeExpression"]

Direction = Literal["long", "wide", "high"]
Distance = Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")]
How = Literal["start", "end", "before", "after", "middle", "share"]
Drives = Literal["long", "wide", "high", "pitch"]


class Repeat(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Copies of a volume in a row along one of its own directions; they are one thing with one set of numbers.

    Args:
        along: the own direction.
        count: how many there are, the volume itself among them.
        pitch: from the start of one to the start of the next, mm; below nothing the row runs the other way.
        last: size of the last one along the row, mm; 0 when it is as long as the others.
    """

    along: Direction = "long"
    count: Annotated[int, Meta(ge=1, le=400)] = 2
    pitch: Distance
    last: Annotated[float, Meta(ge=0.0, le=1e7, description="mm")] = 0.0


class Mirror(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A mirror image across the middle plane of another volume, or across the world's plane through the origin.

    Args:
        about: id of the volume whose middle plane it is; empty for the world's.
        across: the direction, of that volume or of the world (x, y, z), that the plane lies square to.
    """

    about: Annotated[str, Meta(max_length=80)] = ""
    across: Direction = "wide"


class Hold(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How a joined volume lies along one direction of the other one.

    Args:
        how: from its start or end (inside), before or after it (outside), from its middle, or at a share of it.
        by: mm that it is inset (start, end), apart (before, after) or off the middle, as it was worked out last.
        on: id of a face of the other's body, square to the direction, that it stands before or after; empty for the side of
            the bounding volume.
        to: what of the joined volume is held from the start or the end: its near "edge", or its "middle", as of an axle.
        share: where its middle lies when ``how`` is "share", 0 at the start and 1 at the end.
        says: an expression that gives ``by``, empty for none; bare numbers in it are in ``unit``.
    """

    how: How
    by: Distance = 0.0
    on: Annotated[str, Meta(max_length=60)] = ""
    to: Literal["edge", "middle"] = "edge"
    share: Annotated[float, Meta(ge=-5.0, le=6.0, description="part of the other volume, 0 to 1")] = 0.5
    says: Annotated[str, Meta(max_length=200)] = ""
    unit: Literal["mm", "cm", "m", "in"] = "mm"


class Join(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A volume that goes where another one goes: one `Hold` for each direction of the other (long, wide, high)."""

    to: Annotated[str, Meta(min_length=1, max_length=80)]
    holds: tuple[Hold, Hold, Hold]


class SizeExpression(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """An expression that drives a size, or the pitch of the first row of copies; bare numbers in it are in ``unit``."""

    drives: Drives
    text: Annotated[str, Meta(min_length=1, max_length=200)]
    unit: Literal["mm", "cm", "m", "in"] = "mm"


class Keep(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A locked ratio long : wide : high; a part of 0 is free. Changing one of the others changes them all."""

    parts: tuple[
        Annotated[float, Meta(ge=0.0, le=1e6)],
        Annotated[float, Meta(ge=0.0, le=1e6)],
        Annotated[float, Meta(ge=0.0, le=1e6)],
    ]
