"""The frame: four legs inset at the corners, rails between them, and a top if wanted: tables, stools, racks.

It is a union of boxes along the own directions; what is drawn are the edges of the union.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.faces.box_unions import BoxUnion
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_bodies, box_corners
from isometron.volumes.solids import Solids, hard
from isometron.volumes.volume import Length, Volume

__all__ = ["Framed", "Rail", "framed_boxes", "framed_parts", "framed_solids", "framed_union"]

Part = Annotated[float, Meta(ge=0.0, le=1.0, description="part of the size, 0 to 1")]
Small = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]
_SAME = HAIR


class Rail(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Rails round the frame at one height: ``at`` of its middle as a part of the whole, ``high`` and ``thick`` in mm."""

    at: Part
    high: Length
    thick: Length


class Framed(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="frame", gc=False):
    """Legs, rails and a top inside a bounding volume.

    Args:
        leg: thickness of the legs along long and wide, mm.
        inset: how far the legs stand in from the corners, mm.
        top: thickness of the slab on the legs, mm; 0 for none.
        rails: between neighbouring legs, on all four sides.
    """

    leg: tuple[Length, Length] = (40.0, 40.0)
    inset: Small = 0.0
    top: Small = 0.0
    rails: Annotated[tuple[Rail, ...], Meta(max_length=20)] = ()


Corners = tuple[tuple[float, float, float], tuple[float, float, float]]


def framed_boxes(volume: Framed) -> Floats:
    """Return the boxes (M, 2, 3) that make up a frame: least and greatest own coordinates, mm from its corner."""
    return np.array(list(framed_parts(volume).values()), dtype=np.float64).reshape(-1, 2, 3)


def framed_parts(volume: Framed) -> dict[str, Corners]:
    """Return the boxes of a frame by what they are: ``leg.1`` to ``leg.4``, ``slab``, and ``rail.2.1`` for the first of the
    second rails; what has no room is not among them."""
    long, wide, high = volume.size
    inset = min(volume.inset, 0.45 * long, 0.45 * wide)
    leg = [min(t, (size - 2 * inset) / 2) for t, size in zip(volume.leg, (long, wide), strict=True)]
    top = min(volume.top, high)
    under = high - top
    x = (inset, long - inset - leg[0])
    y = (inset, wide - inset - leg[1])
    legs = [((a, b, 0.0), (a + leg[0], b + leg[1], under)) for a in x for b in y]
    boxes: dict[str, Corners] = {f"leg.{n}": box for n, box in enumerate(legs, 1)}
    boxes["slab"] = ((0.0, 0.0, under), (long, wide, high))
    for number, rail in enumerate(volume.rails, 1):
        low = max(min(rail.at * high - rail.high / 2, under - rail.high), 0.0)
        up = min(low + rail.high, under)
        thick = min(rail.thick, *leg)
        for n, b in enumerate(y, 1):  # along long, in the middle of the legs' thickness
            side = b + (leg[1] - thick) / 2
            boxes[f"rail.{number}.{n}"] = ((x[0] + leg[0], side, low), (x[1], side + thick, up))
        for n, a in enumerate(x, 3):
            side = a + (leg[0] - thick) / 2
            boxes[f"rail.{number}.{n}"] = ((side, y[0] + leg[1], low), (side + thick, y[1], up))
    return {name: box for name, box in boxes.items() if all(q - p > _SAME for p, q in zip(*box, strict=True))}


def framed_union(volume: Framed) -> BoxUnion:
    """Return the union of the boxes that make up a frame, in its own axes."""
    return BoxUnion(framed_boxes(volume))


def framed_solids(volumes: Sequence[Volume]) -> Solids:
    """Return one frame as a union of boxes."""
    (volume,) = volumes
    assert isinstance(volume, Framed)
    bounds, rotations = box_corners(volumes)
    corner, rotation = np.array(volume.corner), rotations[0]
    boxes = framed_boxes(volume)
    ends, axes = framed_union(volume).edges
    bits = np.array([[i >> k & 1 for k in range(3)] for i in range(8)])
    own = np.where(bits[None] == 1, boxes[:, 1][:, None, :], boxes[:, 0][:, None, :])
    corners = corner + own @ rotation.T
    normals = np.empty((len(boxes), 6, 3))
    normals[:, 0::2], normals[:, 1::2] = -rotation.T, rotation.T
    on_face = corners[:, [0, 7, 0, 7, 0, 7]]
    edges = 8 + np.arange(2 * len(ends)).reshape(-1, 2)
    return Solids(
        vertices=np.concatenate([bounds[0], corner + ends.reshape(-1, 3) @ rotation.T])[None],
        edges=edges,
        edge_axes=axes,
        soft=hard(edges),
        rotations=rotations,
        bodies=box_bodies(corners, normals, np.einsum("nfk,nfk->nf", normals, on_face)),
        body_row=np.zeros(len(boxes), dtype=np.intp),
    )
