"""Convex pieces of a plane outline carried straight on: convex bodies."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.frames import Floats, Ints

__all__ = ["prisms"]


def prisms(pieces: Sequence[Floats], way: Floats) -> ConvexBodies:
    """Return the bodies between convex pieces (K, 3) and themselves carried square to their plane by ``way`` (3,)."""
    alike: dict[int, list[Floats]] = {}
    for piece in pieces:
        alike.setdefault(len(piece), []).append(piece)
    return stacked([_alike(np.array(rings), way) for rings in alike.values()])


def _alike(rings: Floats, way: Floats) -> ConvexBodies:
    """Return the bodies of pieces (N, K, 3): sides first, then the near and the far end."""
    count, corners, _ = rings.shape
    along = np.roll(rings, -1, axis=1) - rings
    up = way / np.sqrt(way @ way)
    sides = np.cross(along, up)
    sides /= np.sqrt((sides**2).sum(axis=2))[:, :, None]
    inward = (sides * (rings - rings.mean(axis=1)[:, None])).sum(axis=2) < 0.0
    sides[inward] *= -1.0
    ends = np.broadcast_to(np.stack([-up, up]), (count, 2, 3))
    on_faces = np.concatenate([rings, rings[:, :1], rings[:, :1] + way], axis=1)
    normals = np.concatenate([sides, ends], axis=1)
    k, after = np.arange(corners), (np.arange(corners) + 1) % corners
    ridges = [(k, after), (k + corners, after + corners), (k, k + corners)]
    faces = [(k, np.full(corners, corners)), (k, np.full(corners, corners + 1)), ((k - 1) % corners, k)]
    return ConvexBodies(
        vertices=np.concatenate([rings, rings + way], axis=1),
        normals=normals,
        offsets=(normals * on_faces).sum(axis=2),
        ridges=_everywhere(ridges, count),
        ridge_faces=_everywhere(faces, count),
    )


def _everywhere(pairs: Sequence[tuple[Ints, Ints]], count: int) -> NDArray[np.int16]:
    one = np.concatenate([np.column_stack(pair) for pair in pairs]).astype(np.int16)
    return np.broadcast_to(one, (count, *one.shape)).copy()
