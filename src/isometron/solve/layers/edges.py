"""Straight edges: visible and hidden parts, none ruled twice."""

from __future__ import annotations

import numpy as np

from isometron.solve.layers.layer import Layer, Seen, own_bounds
from isometron.solve.marks import Lines, Marks, Role

__all__ = ["EDGES"]


def _marks(seen: Seen) -> Marks:
    """Return the edges as lines on paper.

    No stretch is ruled twice (`Scene.spans`). Hidden parts are marks of their own role, or left out; construction behind a
    volume is not drawn at all.
    """
    picture, scene = seen.picture, seen.picture.scene
    dashed = ~scene.edge_soft & seen.hidden
    points, edge, back = picture.eye.lens.lines(
        picture.camera, scene.edges, seen.reach, picture.hidden, scene.spans, dashed
    )
    role = np.where(scene.edge_light, np.int8(Role.CONSTRUCTION), np.int8(Role.OBJECT))[edge]
    role[back] = Role.HIDDEN
    return Marks(lines=Lines(points, role, scene.edge_owner[edge], edge))


EDGES = Layer(_marks, own_bounds)
