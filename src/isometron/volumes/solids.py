"""What a kind of volume hands to the solver: N volumes of one shape, in world millimetres."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Bools, Floats, Ints

__all__ = ["CORNERS", "Solids"]

CORNERS = 8
"""The first vertices of every volume are the corners of its bounding box, in the box's order."""


@dataclass(frozen=True)
class Solids:
    """N volumes of one kind and one topology.

    vertices : (N, V, 3), the bounding box's corners first; edges : (E, 2) vertex numbers; edge_axes : (E,) own direction
    of each edge, -1 for none; soft : (E,) edges that are drawn as construction; rotations : (N, 3, 3), own directions in
    columns; bodies : the convex pieces; body_row : (B,) which of the N volumes each piece belongs to, ascending.
    """

    vertices: Floats
    edges: Ints
    edge_axes: Ints
    soft: Bools
    rotations: Floats
    bodies: ConvexBodies
    body_row: Ints


def hard(edges: Ints) -> Bools:
    """Return the flags of edges (E, 2) that are all drawn as the object's own."""
    return np.zeros(len(edges), dtype=bool)
