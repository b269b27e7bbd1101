"""What a kind of volume hands to the solver: N volumes of one shape, in world millimetres."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.geometry.frames import Floats, Ints

__all__ = ["Solids"]


@dataclass(frozen=True)
class Solids:
    """N volumes of one kind and one topology.

    vertices : (N, V, 3); edges : (E, 2) vertex numbers; edge_axes : (E,) own direction of each edge, -1 for
    none; rotations : (N, 3, 3), own directions in columns; normals, offsets : (N, F, 3), (N, F) outward unit
    normals of the convex piece, n . x <= offset inside; ridges, ridge_faces : (R, 2) vertices of each ridge
    and the two faces that meet there.
    """

    vertices: Floats
    edges: Ints
    edge_axes: Ints
    rotations: Floats
    normals: Floats
    offsets: Floats
    ridges: Ints
    ridge_faces: Ints
