"""A vanishing point with a name of one's own."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta

__all__ = ["MOST_POINTS", "NamedPoint"]

MOST_POINTS = 60
Part = Annotated[float, Meta(ge=-1.0, le=1.0)]


class NamedPoint(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """name : short, it stands on the board; way : the unit direction that vanishes there, in the world."""

    name: Annotated[str, Meta(min_length=1, max_length=24)]
    way: tuple[Part, Part, Part]
