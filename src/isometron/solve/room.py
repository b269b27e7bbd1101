"""The space that solid volumes fill, and how far a thing can be slid before it touches what is there."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.frusta import inscribed_bodies, straightened
from isometron.geometry.overlap import contact_spans
from isometron.geometry.tolerances import SAME_PLACE
from isometron.solve.picture import Picture
from isometron.volumes.filled import filled

__all__ = ["Stop", "filled_space", "room_along"]

Stop = tuple[float, int]
"""How far something can be slid, mm, and the position of the volume that stops it; infinite and -1 for none."""


def filled_space(picture: Picture) -> tuple[ConvexBodies, Ints]:
    """Return the space that solid volumes fill as convex bodies, and the volumes they belong to."""
    scene = picture.scene
    bodies, owner = filled(scene)
    flat = np.flatnonzero((scene.solid & ~scene.turned)[owner])
    bodies, owner = bodies.select(flat), owner[flat]
    frusta = scene.rounds.frusta
    if len(frusta):
        frusta = straightened(frusta.select(np.flatnonzero(scene.solid[frusta.owner])))
        bodies, owner = stacked([bodies, inscribed_bodies(frusta)]), np.concatenate([owner, frusta.owner])
    return bodies, owner


def room_along(picture: Picture, owners: Collection[int], way: Floats) -> tuple[Stop, Stop]:
    """Return how far volumes can be slid against a direction (3,) of length one, and along it, before one touches another one that
    stands still; what they share space with already does not count."""
    bodies, owner = filled_space(picture)
    mine = np.isin(owner, list(owners))
    one, other = np.flatnonzero(mine), np.flatnonzero(~mine)
    # Only what lies in the track of a thing can stop it.
    tracks = np.linalg.svd(way[None])[2][1:]
    low, high = ((bodies.vertices @ tracks.T).min(axis=1), (bodies.vertices @ tracks.T).max(axis=1))
    meets = ((low[one][:, None] < high[other]) & (low[other] < high[one][:, None])).all(axis=2)
    pairs = np.column_stack([one[np.nonzero(meets)[0]], other[np.nonzero(meets)[1]]])
    if not len(pairs):
        return (-np.inf, -1), (np.inf, -1)
    spans = contact_spans(bodies, pairs, way)
    ahead = np.where(spans[:, 0] >= -SAME_PLACE, spans[:, 0], np.inf)
    behind = np.where(spans[:, 1] <= SAME_PLACE, spans[:, 1], -np.inf)
    first, last = int(ahead.argmin()), int(behind.argmax())
    forth = (
        (max(float(ahead[first]), 0.0), int(owner[pairs[first, 1]])) if np.isfinite(ahead[first]) else (np.inf, -1)
    )
    back = (min(float(behind[last]), 0.0), int(owner[pairs[last, 1]])) if np.isfinite(behind[last]) else (-np.inf, -1)
    return back, forth
