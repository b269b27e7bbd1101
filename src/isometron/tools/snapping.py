"""Snapping in words: a pull stops level with other volumes' corners and middles, or at an equal size."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.wording import tr

__all__ = ["Snap", "level_targets", "nearest_snap", "size_targets"]

_SIZE_WORDS = (tr("length"), tr("width"), tr("height"))


@dataclass(frozen=True)
class Snap:
    """A length that a pull may stop at, and why, in words."""

    length: float
    words: str


def level_targets(drawing: Drawing, moving: set[int], origin: Floats, direction: Floats) -> list[Snap]:
    """Return lengths along ``direction`` (unit) from ``origin`` that are level with parts of the other volumes.

    For each other volume its two extents (faces, edges and corners lie there) and its middle.
    """
    scene = drawing.scene
    reach = (scene.vertices - origin) @ direction
    found = []
    for owner, volume in enumerate(drawing.document.volumes):
        if owner in moving or volume.put_away:
            continue
        lo, hi = np.searchsorted(scene.vertex_owner, [owner, owner + 1])
        own = reach[lo:hi]
        for length in np.unique(np.round(own, 4)):
            found.append(Snap(float(length), tr("level with {volume}", volume=volume.name)))
        found.append(Snap(float(own.mean()), tr("middle of {volume}", volume=volume.name)))
    return found


def size_targets(drawing: Drawing, owner: int | None, axis: int, own_size: float) -> list[Snap]:
    """Return pulls that would make the volume's size along ``axis`` equal to a size of another volume.

    owner : row of the volume, or None for one that is still being drawn.
    """
    found = []
    for other, volume in enumerate(drawing.document.volumes):
        if other != owner and not volume.put_away:
            for k, size in enumerate(volume.size):
                own, other_size = _SIZE_WORDS[axis], _SIZE_WORDS[k]
                words = (
                    tr("same {size} as {volume}", size=own, volume=volume.name)
                    if k == axis
                    else tr("{size} is the {other} of {volume}", size=own, other=other_size, volume=volume.name)
                )
                found.append(Snap(size - own_size, words))
    return found


def nearest_snap(targets: list[Snap], length: float, within: float) -> Snap | None:
    """Return the target nearest to ``length`` within ``within`` mm, the first of equals, or None."""
    close = [t for t in targets if abs(t.length - length) <= within]
    return min(close, key=lambda t: abs(t.length - length)) if close else None
