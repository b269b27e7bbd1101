"""One-, two- or three-point: not a choice of program but how the object stands to the picture plane, in words."""

from __future__ import annotations

from isometron.geometry.frames import Floats
from isometron.view.eye import Eye
from isometron.view.vanishing import box_vanishing
from isometron.wording import tr

__all__ = ["standing_words"]

_NAMES = (tr("long"), tr("wide"), tr("high"))
_HEADS = {0: tr("No point"), 1: tr("One-point"), 2: tr("Two-point"), 3: tr("Three-point")}


def standing_words(eye: Eye, rotation: Floats) -> str:
    """Return the number of vanishing points of a box's directions and the reason for it."""
    points = box_vanishing(eye, rotation)
    count = sum(point.finite for point in points)
    parallel = [name for name, point in zip(_NAMES, points, strict=True) if not point.finite]
    if count == 3:
        return tr("Three-point: no edge is parallel to the paper.")
    edges = tr(" and ").join(parallel)
    reason = (
        tr("uprights stay parallel to the paper")
        if parallel == [_NAMES[2]]
        else tr("{edges} edges are parallel to the paper", edges=edges)
    )
    return f"{_HEADS[count]}: {reason}."
