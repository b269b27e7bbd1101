"""Do two convex bodies share space? Separating axes (Gottschalk, Lin, Manocha 1996), for bodies of any faces."""

from __future__ import annotations

import itertools

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import SAME_DIRECTION, SAME_PLACE

__all__ = ["bounds", "overlap_depth", "pairs_within_reach"]


def bounds(bodies: ConvexBodies) -> tuple[Floats, Floats]:
    """Return the least and greatest corners (N, 3) of the upright boxes round the bodies."""
    return bodies.vertices.min(axis=1), bodies.vertices.max(axis=1)


def pairs_within_reach(low: Floats, high: Floats) -> Ints:
    """Return the pairs (M, 2), i < j, whose upright bounds (N, 3) share space by more than `SAME_PLACE`."""
    if len(low) < 2:
        return np.zeros((0, 2), dtype=np.intp)
    hit = np.ones((len(low), len(low)), dtype=bool)
    for axis in range(3):
        hit &= low[:, None, axis] < high[None, :, axis] - SAME_PLACE
    return np.argwhere(np.triu(hit & hit.T, k=1))


def overlap_depth(bodies: ConvexBodies, first: int, second: int) -> float:
    """Return by how many mm two bodies interpenetrate: the least push that parts them; 0.0 when they only touch."""
    pair = bodies.select(np.array([first, second]))
    axes = _separating_axes(pair)
    spans = np.einsum("nvk,ak->nva", pair.vertices, axes)
    low, high = spans.min(axis=1), spans.max(axis=1)
    depth = float(np.minimum(high[0] - low[1], high[1] - low[0]).min())
    return depth if depth > SAME_PLACE else 0.0


def _separating_axes(pair: ConvexBodies) -> Floats:
    faces = pair.normals.reshape(-1, 3)
    faces = faces[np.any(faces != 0.0, axis=1)]
    along = [v[r[:, 1]] - v[r[:, 0]] for v, r in zip(pair.vertices, pair.ridges, strict=True)]
    crosses = np.array([np.cross(a, b) for a, b in itertools.product(*map(_directions, along))])
    length = np.sqrt((crosses**2).sum(axis=1))
    good = length > SAME_DIRECTION
    return np.vstack([faces, crosses[good] / length[good, None]])


def _directions(along: Floats) -> Floats:
    """Return the unit directions without repeats (a box has three, its twelve edges notwithstanding)."""
    length = np.sqrt((along**2).sum(axis=1))
    unit = along[length > 0.0] / length[length > 0.0, None]
    kept: list[Floats] = []
    for direction in unit:
        if all(np.sqrt((np.cross(direction, k) ** 2).sum()) > SAME_DIRECTION for k in kept):
            kept.append(direction)
    return np.array(kept)
