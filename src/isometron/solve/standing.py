"""One-, two- or three-point: not a choice of program but how the object stands to the picture plane, in words."""

from __future__ import annotations

from isometron.geometry.frames import Floats
from isometron.view.eye import Eye
from isometron.view.vanishing import box_vanishing

__all__ = ["standing_words"]

_HEADS = {0: "No point", 1: "One-point", 2: "Two-point", 3: "Three-point"}


def standing_words(eye: Eye, rotation: Floats) -> str:
    """Return the number of vanishing points of a box's directions and the reason for it."""
    points = box_vanishing(eye, rotation)
    count = sum(point.finite for point in points)
    parallel = [name for name, point in zip(("long", "wide", "high"), points, strict=True) if not point.finite]
    if count == 3:
        return "Three-point: no edge is parallel to the paper."
    edges = " and ".join(f"{name}" for name in parallel)
    reason = (
        "uprights stay parallel to the paper" if parallel == ["high"] else f"{edges} edges are parallel to the paper"
    )
    return f"{_HEADS[count]}: {reason}."
