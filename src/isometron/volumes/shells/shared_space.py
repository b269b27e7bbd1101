"""The space that two volumes share, asked of their shells: a post that stands free in a doorway shares none."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from isometron.geometry.frames import Floats
from isometron.volumes.copies import placements
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.shells.outside import chord_of
from isometron.volumes.shells.shape import shape_of
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.volume import Volume

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = ["common_space"]

_MOST = 400
"""Pairs of copies that are asked; of more the answer is taken as not known."""


def common_space(one: Volume, other: Volume, named: Mapping[str, Volume]) -> tuple[float, Floats] | None:
    """Return how deep two volumes are in each other, mm, and the middle (3,) of that space; 0 where they share none. None where one has no
    shell, or there are too many copies.

    How deep is the least extent of that space along the first one's axes; of what is thin but bent, six times its volume by its surface (as of a
    cube). Chords of rounds share a hair of space where rounds touch: less than three of their chords is none.
    """
    solids = [_solid_of(shape_of(volume)) for volume in (one, other)]
    ways = [placements(volume, lambda: named) for volume in (one, other)]
    if any(solid is None for solid in solids) or len(ways[0]) * len(ways[1]) > _MOST:
        return None
    least = max(_slack(volume) for volume in (one, other))
    stands = [stand_of(volume) for volume in (one, other)]
    found = 0.0, np.zeros(3)
    for turn, shift in ways[0]:
        for other_turn, other_shift in ways[1]:
            # The second is brought into the axes of the first, in which planes are square.
            linear, moved = stands[0][1].T @ turn.T, -stands[0][1].T @ (turn.T @ shift + stands[0][0])
            there = linear @ other_turn @ stands[1][1], linear @ (other_turn @ stands[1][0] + other_shift) + moved
            depth, middle = _shared(solids[0], solids[1], there)
            if depth > max(found[0], least):
                found = depth, turn @ (stands[0][1] @ middle + stands[0][0]) + shift
    return found


def _shared(one: Manifold | None, other: Manifold | None, there: tuple[Floats, Floats]) -> tuple[float, Floats]:
    assert one is not None and other is not None
    both = one ^ other.transform(np.column_stack(there))
    if both.is_empty():
        return 0.0, np.zeros(3)
    box = np.array(both.bounding_box()).reshape(2, 3)
    thick = 6.0 * both.volume() / max(both.surface_area(), 1e-300)
    return min(float((box[1] - box[0]).min()), thick), box.mean(axis=0)


def _slack(volume: Volume) -> float:
    found = shell_of(volume).shell
    return 3.0 * chord_of(volume) if found is not None and found.surfaces.kind.any() else 1e-3


@lru_cache(maxsize=256)
def _solid_of(shape: Volume) -> Manifold | None:
    import manifold3d

    shell = shell_of(shape).shell
    if shell is None:
        return None
    solid = manifold3d.Manifold(
        manifold3d.Mesh64(np.ascontiguousarray(shell.places), np.ascontiguousarray(shell.rows, dtype=np.uint64))
    )
    return solid if solid.status() == manifold3d.Error.NoError and not solid.is_empty() else None
