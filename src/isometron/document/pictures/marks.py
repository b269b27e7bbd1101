"""What is marked on a picture: lines along edges, rings, true lengths. Pixels: x right, y down, the centre of the top left one is (0, 0)."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

__all__ = ["Along", "KnownLength", "LineMark", "Pixel", "RingOnPicture"]

Along = Literal["long", "wide", "high"]
Pixel = tuple[
    Annotated[float, Meta(ge=-1e5, le=2e5, description="px")],
    Annotated[float, Meta(ge=-1e5, le=2e5, description="px")],
]
Named = Annotated[str, Meta(max_length=120)]


class LineMark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A line along an edge.

    Args:
        object: which object's three directions it belongs to; objects stand upright, each turned as it likes.
        along: the object's direction that it runs in.
        points: two or more on it, px; more where it bends with the lens.
        box: a box of the object whose edge it is, empty for none.
        by_hand: whether a person has said its direction.
        edge: at which ends of the two other directions the edge lies, in their order: "00", "01", "10" or "11".
    """

    object: Named = ""
    along: Along
    points: Annotated[tuple[Pixel, ...], Meta(min_length=2, max_length=200)]
    box: Named = ""
    edge: Literal["", "00", "01", "10", "11"] = ""
    by_hand: bool = False


class RingOnPicture(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A ring, by points on it.

    Args:
        points: three or more, px; five tell what it says of the eye.
        square_to: the object's direction that its axle runs in; "high" for a level ring.
        object: whose direction that is.
        axle: rings of one name stand on one axle, empty for none.
    """

    points: Annotated[tuple[Pixel, ...], Meta(min_length=3, max_length=400)]
    square_to: Along = "high"
    object: Named = ""
    axle: Named = ""


class KnownLength(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A true length of a box: one gives the scale, two of one box a ratio as well."""

    box: Named
    along: Along
    mm: Annotated[float, Meta(gt=0.0, le=1e7, description="mm")]
