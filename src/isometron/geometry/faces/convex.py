"""Cut bodies without hollows as convex bodies, which hide quicker than faces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.faces.cutting import CutFaces
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.tolerances import EXACT, HAIR

__all__ = ["are_convex", "as_convex_body"]


def are_convex(outlines: Sequence[Outline]) -> bool:
    """Whether all outlines are straight-sided and turn one way only, so that what they cut is convex."""
    return all(not outline.bends and _turns_left(outline.corners) for outline in outlines)


def _turns_left(corners: Floats) -> bool:
    along = np.roll(corners, -1, axis=0) - corners
    before = np.roll(along, 1, axis=0)
    turn = before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]
    return bool((turn >= -EXACT * float((along * along).sum(axis=1).max())).all())


def as_convex_body(cut: CutFaces) -> ConvexBodies:
    """Return a cut body that has no hollows as one convex body."""
    rows = np.flatnonzero(np.bincount(cut.face, minlength=len(cut.bend)))
    number = np.full(len(cut.bend), -1)
    number[rows] = np.arange(len(rows))
    edges = cut.once[cut.beyond[cut.once] >= 0]
    edges = edges[number[cut.beyond[edges]] >= 0]
    flat: Floats = cut.ends[edges].reshape(-1, 3)
    _, first, inverse = np.unique(np.round(flat / HAIR / 10.0), axis=0, return_index=True, return_inverse=True)
    faces = np.column_stack([number[cut.face[edges]], number[cut.beyond[edges]]])
    return ConvexBodies(
        flat[first][None], cut.normal[rows][None], cut.offset[rows][None],
        _short(inverse.reshape(1, -1, 2)), _short(faces[None]),
    )  # fmt: skip


def _short(numbers: NDArray[np.intp]) -> NDArray[np.int16]:
    return np.ascontiguousarray(numbers, dtype=np.int16)
