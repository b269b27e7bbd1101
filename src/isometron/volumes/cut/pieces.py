"""The space that a cut body fills, as convex pieces: for asking what shares it and what touches it, never for drawing."""

from __future__ import annotations

from functools import lru_cache
from itertools import product

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.faces.convex import as_convex_body
from isometron.geometry.faces.cutting import cut_body
from isometron.geometry.outlines import Outline, convex_pieces, flattened
from isometron.geometry.tolerances import SAME_PLACE
from isometron.volumes.box import box_corners
from isometron.volumes.cut.body import Profiles, used_outlines
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.volume import Volume

__all__ = ["CHORDS", "at_rest", "cut_pieces"]

CHORDS = 6
"""Chords to a quarter turn: what stands in a round's way by less than 1 % of its radius is not told."""
_MOST = 300


def cut_pieces(volume: Volume) -> ConvexBodies:
    """Return convex pieces whose union is a cut body, rounds taken a little smaller; of an intricate one its bounding box."""
    assert isinstance(volume, CutBody)
    bounds, rotations = box_corners([volume])
    return at_rest(volume.size, (volume.side, volume.plan, volume.front)).placed(rotations[0], bounds[0, 0])


@lru_cache(maxsize=256)
def at_rest(size: tuple[float, float, float], profiles: Profiles) -> ConvexBodies:
    """Return the pieces of a cut body in its own axes."""
    outlines = used_outlines(size, profiles)
    views = [convex_pieces(flattened(outline, CHORDS)) for outline in outlines]
    if len(views[0]) * len(views[1]) * len(views[2]) > _MOST:
        views = [[np.array([o.corners.min(axis=0), [o.corners[:, 0].max(), o.corners[:, 1].min()],
                            o.corners.max(axis=0), [o.corners[:, 0].min(), o.corners[:, 1].max()]])] for o in outlines]  # fmt: skip
    found = []
    for one in product(*views):
        cut = cut_body(*(Outline(piece, {}) for piece in one))
        if cut.volume > SAME_PLACE * min(size) ** 2:
            found.append(as_convex_body(cut))
    return stacked(found)
