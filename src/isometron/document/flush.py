"""Sides that are nearly flush: less than a millimetre apart, or sunk into each other, where two things are meant to meet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from isometron.document.edits import Edit, move_volumes
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.overlap import pairs_within_reach
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.box import box_corners
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["NearlyFlush", "make_flush", "nearly_flush"]

NEAR = 1.0
"""mm: what lies farther apart is apart."""
_LEAST = 1e-5
_MOST_PAIRS = 20_000


@dataclass(frozen=True)
class NearlyFlush:
    """Two volumes, by their ids, whose sides should meet: the second would lie flush with the first moved by ``way`` (3,) mm."""

    one: str
    other: str
    way: tuple[float, float, float]
    place: tuple[float, float, float]

    @property
    def gap(self) -> float:
        """mm between the sides."""
        return float(np.sqrt(np.dot(self.way, self.way)))


def nearly_flush(volumes: Sequence[Volume]) -> list[NearlyFlush]:
    """Return the pairs of volumes that nearly touch with two sides of their bounding volumes, which look along the same direction.

    Of a pair the smallest gap is told; round bodies touch by points, and are none.
    """
    there = [v for v in volumes if not v.put_away and not isinstance(v, Turned)]
    if len(there) < 2:
        return []
    corners, rotations = box_corners(there)
    pairs = pairs_within_reach(corners.min(axis=1) - NEAR, corners.max(axis=1) + NEAR, most=_MOST_PAIRS)
    found = []
    for one, other in pairs:
        turned = rotations[one].T @ rotations[other]
        if float(np.abs(np.abs(turned).max(axis=0) - 1.0).max()) > CLOSE:
            continue  # their directions are not the same
        size = np.array(there[one].size)
        own = (corners[other] - corners[one, 0]) @ rotations[one]
        step = _step(size, own.min(axis=0), own.max(axis=0))
        if step is not None:
            axis, by = step
            way = by * rotations[one][:, axis]
            middle = (np.maximum(own.min(axis=0), 0.0) + np.minimum(own.max(axis=0), size)) / 2.0
            place = corners[one, 0] + rotations[one] @ middle
            found.append(NearlyFlush(there[one].id, there[other].id, _three(way), _three(place)))
    return found


def _three(values: Floats) -> tuple[float, float, float]:
    x, y, z = (float(value) for value in values)
    return x, y, z


def _step(size: Floats, low: Floats, high: Floats) -> tuple[int, float] | None:
    """Return along which direction, and by how many mm, a box from ``low`` to ``high`` is moved to touch the one from 0 to ``size``."""
    best: tuple[int, float] | None = None
    for axis in range(3):
        others = [k for k in range(3) if k != axis]
        if not all(min(high[k], size[k]) - max(low[k], 0.0) > NEAR for k in others):
            continue  # they do not stand before each other there
        for gap in (size[axis] - low[axis], -high[axis]):
            if _LEAST < abs(gap) < NEAR and (best is None or abs(gap) < abs(best[1])):
                best = axis, float(gap)
    return best


def make_flush(document: Document, ids: Sequence[str]) -> Edit:
    """Move the second of two volumes that are nearly flush until its side meets that of the first; what is joined to the other one is moved.

    Raises `DocumentError` where they are not.
    """
    if len(ids) != 2:
        raise DocumentError(tr("Select the two that are to be made flush."))
    one, other = ids
    met = nearly_flush(tuple(document.volume(name) for name in (one, other)))
    if not met:
        raise DocumentError(tr("These two are not nearly flush."))
    way = np.array(met[0].way)
    moved, join = other, document.volume(one).joined
    if join is not None and join.to == other:
        moved, way = one, -way
    return move_volumes(document, (moved,), way.tolist(), tr("make flush"))
