"""The box: eight corners, twelve edges in three directions, six faces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Floats, box_rotations
from isometron.volumes.solids import Solids, hard
from isometron.volumes.volume import Volume

__all__ = [
    "BOX_BITS",
    "BOX_EDGES",
    "BOX_EDGE_AXES",
    "BOX_FACES",
    "BOX_FACE_CORNERS",
    "Box",
    "box_bodies",
    "box_corners",
    "box_solids",
]

BOX_BITS = np.array([[(i >> k) & 1 for k in range(3)] for i in range(8)], dtype=np.float64)
"""Steps (8, 3) along long, wide, high from the first corner to each."""

BOX_EDGES = np.array([[i, i | 1 << k] for k in range(3) for i in range(8) if not i >> k & 1], dtype=np.intp)
"""Corner numbers of the twelve edges: four along each own direction. Corner i = ia + 2 ib + 4 ic."""

BOX_EDGE_AXES = np.repeat(np.arange(3), 4)
"""Own direction (0 long, 1 wide, 2 high) of each edge of `BOX_EDGES`."""

BOX_FACES: tuple[tuple[int, int], ...] = tuple((k, s) for k in range(3) for s in (0, 1))
"""The six faces as (own direction, 0 at the corner's side or 1 at the far side)."""

BOX_FACE_CORNERS = np.array(
    [
        [s << k | a << (k + 1) % 3 | b << (k + 2) % 3 for a, b in ((0, 0), (1, 0), (1, 1), (0, 1))]
        for k, s in BOX_FACES
    ],
    dtype=np.intp,
)
"""Corner numbers (6, 4) round each face."""


class Box(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="box", gc=False):
    """A rectangular box; corner number i = ia + 2 ib + 4 ic is corner + ia La a + ib Lb b + ic Lc c."""


def _ridge_faces() -> np.ndarray:
    """Faces (12, 2) of `BOX_FACES` that meet at each edge of `BOX_EDGES`."""
    rows = []
    for (start, _), axis in zip(BOX_EDGES, BOX_EDGE_AXES, strict=True):
        rows.append([2 * k + (start >> k & 1) for k in range(3) if k != axis])
    return np.array(rows, dtype=np.intp)


_RIDGE_FACES = _ridge_faces()


def box_corners(boxes: Sequence[Volume]) -> tuple[Floats, Floats]:
    """Return the corners (N, 8, 3) and the rotations (N, 3, 3) of ``boxes``."""
    rows = [(*b.corner, *b.size, b.yaw_deg, b.pitch_deg, b.roll_deg) for b in boxes]
    numbers = np.array(rows, dtype=np.float64).reshape(-1, 9)
    rotations = box_rotations(np.radians(numbers[:, 6:]))
    steps = BOX_BITS[None] * numbers[:, None, 3:6]
    return numbers[:, None, :3] + steps @ rotations.transpose(0, 2, 1), rotations


def box_solids(boxes: Sequence[Volume]) -> Solids:
    """Return the boxes as solids of one convex piece each."""
    corners, rotations = box_corners(boxes)
    normals = np.empty((len(boxes), 6, 3))
    normals[:, 0::2] = -rotations.transpose(0, 2, 1)
    normals[:, 1::2] = rotations.transpose(0, 2, 1)
    on_face = corners[:, [0, 7, 0, 7, 0, 7]]
    return Solids(
        vertices=corners,
        edges=BOX_EDGES,
        edge_axes=BOX_EDGE_AXES,
        soft=hard(BOX_EDGES),
        rotations=rotations,
        bodies=box_bodies(corners, normals, np.einsum("nfk,nfk->nf", normals, on_face)),
        body_row=np.arange(len(boxes)),
    )


def box_bodies(corners: Floats, normals: Floats, offsets: Floats) -> ConvexBodies:
    """Return bodies of the box's topology: corners (N, 8, 3), normals and offsets of the six `BOX_FACES`."""
    shape = (len(corners), *BOX_EDGES.shape)
    return ConvexBodies(
        corners, normals, offsets, np.broadcast_to(BOX_EDGES, shape), np.broadcast_to(_RIDGE_FACES, shape)
    )
