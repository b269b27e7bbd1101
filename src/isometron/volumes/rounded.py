"""Rounded edges of a volume: what the file says of them."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta

from isometron.volumes.marks.face_marks import FaceRef

__all__ = ["RoundedEdge", "edge_key"]

Radius = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]


class RoundedEdge(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """The edge between two faces, rounded.

    Args:
        between: the two faces.
        radius: mm; where it grows at the end of the edge that comes first along the thing's own length, width, height.
        grows_to: radius at the other end, mm; None where it is the same all along.
    """

    between: tuple[FaceRef, FaceRef]
    radius: Radius
    grows_to: Radius | None = None


def edge_key(edge: RoundedEdge) -> frozenset[FaceRef]:
    """Return what tells an edge, whichever of its faces comes first."""
    return frozenset(edge.between)
