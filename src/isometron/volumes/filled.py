"""The space that a scene's volumes fill, as convex bodies, whatever hides what is behind them."""

from __future__ import annotations

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.frames import Ints
from isometron.volumes.copies import copies_of
from isometron.volumes.keeping import Kept
from isometron.volumes.kinds import kind_of
from isometron.volumes.openings.filled import opened_pieces
from isometron.volumes.openings.solids import is_carved
from isometron.volumes.scene import Scene

__all__ = ["filled"]

_KEPT: Kept[tuple[ConvexBodies, Ints]] = Kept(2)


def filled(scene: Scene) -> tuple[ConvexBodies, Ints]:
    """Return the convex bodies (B) of a scene, and the volumes (B,) they belong to, ascending; round pieces are not among them."""
    return _KEPT.of((scene,), lambda: _filled(scene))


def _filled(scene: Scene) -> tuple[ConvexBodies, Ints]:
    if not len(scene.faces):
        return scene.bodies, scene.body_owner
    named = {volume.id: volume for volume in scene.volumes}
    parts, owner = [scene.bodies], [scene.body_owner]
    made_of_pieces = set(scene.body_owner.tolist())
    for row, volume in enumerate(scene.volumes):
        pieces = opened_pieces if is_carved(volume) else kind_of(type(volume)).filled
        if pieces is None or row in made_of_pieces:
            continue
        own = stacked([pieces(copy) for copy in copies_of(volume, lambda: named)])
        parts.append(own)
        owner.append(np.full(len(own), row))
    everyone = np.concatenate(owner)
    order = np.argsort(everyone, kind="stable")
    return stacked(parts).select(order), everyone[order]
