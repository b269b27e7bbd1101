"""The tapered box: its four sides lean in or out, each by itself. Cabins, flared backs, hipped roofs, wedges."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Floats, box_rotations
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.box import BOX_EDGE_AXES, BOX_EDGES, BOX_FACE_CORNERS, BOX_FACES, box_bodies, box_corners
from isometron.volumes.solids import Solids, hard
from isometron.volumes.volume import Volume

__all__ = ["Tapered", "leans_within", "tapered_corners", "tapered_solids"]

Lean = Annotated[float, Meta(ge=-1.0, le=1.0, description="part of the size")]

_EDGES = BOX_EDGES + 8
_AXES = np.where(BOX_EDGE_AXES == 2, -1, BOX_EDGE_AXES)


class Tapered(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="tapered", gc=False):
    """A box inside its bounding volume whose long and wide sides lean.

    Args:
        lean: how far the upper edge of each side stands in, as a part of the size across it: at the start and the end of
            long, at the start and the end of wide. Below nothing the lower edge stands in: the side flares.
    """

    lean: tuple[Lean, Lean, Lean, Lean] = (0.0, 0.0, 0.0, 0.0)


def leans_within(lean: Sequence[float]) -> tuple[float, float, float, float]:
    """Return leans that leave room: two that would pass each other meet on a line, as on a hipped roof."""
    result = list(lean)
    for start, end in ((0, 1), (2, 3)):
        for sign in (1.0, -1.0):
            both = [max(sign * result[k], 0.0) for k in (start, end)]
            if sum(both) > 1.0:
                for k, part in zip((start, end), both, strict=True):
                    if part > 0.0:
                        result[k] = sign * part / sum(both)
    return result[0], result[1], result[2], result[3]


def tapered_corners(volumes: Sequence[Volume]) -> Floats:
    """Return the corners (N, 8, 3) of the bodies themselves."""
    leans = np.array([leans_within(v.lean) for v in volumes if isinstance(v, Tapered)]).reshape(-1, 4)
    numbers = np.array([(*v.corner, *v.size, v.yaw_deg, v.pitch_deg, v.roll_deg) for v in volumes]).reshape(-1, 9)
    parts = np.empty((len(leans), 8, 3))
    for i in range(8):
        x, y, z = i & 1, i >> 1 & 1, i >> 2 & 1
        upper = 1.0 if z else -1.0
        for axis, far in ((0, x), (1, y)):
            inset = np.maximum(upper * leans[:, 2 * axis + far], 0.0)
            parts[:, i, axis] = 1.0 - inset if far else inset
        parts[:, i, 2] = z
    rotations = box_rotations(np.radians(numbers[:, 6:]))
    corners: Floats = numbers[:, None, :3] + (parts * numbers[:, None, 3:6]) @ rotations.transpose(0, 2, 1)
    return corners


def tapered_solids(volumes: Sequence[Volume]) -> Solids:
    """Return tapered boxes as solids of one convex piece each."""
    bounds, rotations = box_corners(volumes)
    corners = tapered_corners(volumes)
    normals = np.empty((len(volumes), 6, 3))
    offsets = np.empty((len(volumes), 6))
    middle = corners.mean(axis=1)
    for number, (axis, side) in enumerate(BOX_FACES):
        a, b, c, d = (corners[:, v] for v in BOX_FACE_CORNERS[number])
        normal = np.cross(c - a, d - b)
        # A face drawn together to a line keeps the direction that it has in the bounding box.
        flat = np.sqrt((normal**2).sum(axis=1)) < CLOSE
        normal[flat] = rotations[flat][:, :, axis] * (1.0 if side else -1.0)
        normal /= np.sqrt((normal**2).sum(axis=1))[:, None]
        place = (a + b + c + d) / 4
        inward = np.einsum("nk,nk->n", normal, place - middle) < 0.0
        normal[inward] *= -1.0
        normals[:, number], offsets[:, number] = normal, np.einsum("nk,nk->n", normal, place)
    return Solids(
        vertices=np.concatenate([bounds, corners], axis=1),
        edges=_EDGES,
        edge_axes=_AXES,
        soft=hard(_EDGES),
        rotations=rotations,
        bodies=box_bodies(corners, normals, offsets),
        body_row=np.arange(len(volumes)),
    )
