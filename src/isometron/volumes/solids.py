"""What a kind of volume hands to the solver: N volumes of one shape, in world millimetres."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.faces.flat import FlatFaces, no_faces
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import EXACT

__all__ = ["CORNERS", "Solids"]

CORNERS = 8
"""The first vertices of every volume are the corners of its bounding box, in the box's order."""


@dataclass(frozen=True)
class Solids:
    """N volumes of one kind and one topology.

    vertices : (N, V, 3), the bounding box's corners first; edges : (E, 2) vertex numbers; edge_axes : (E,) own direction
    of each edge, -1 for none; soft : (E,) edges that are drawn as construction; rotations : (N, 3, 3), own directions in
    columns; bodies : the convex pieces; body_row : (B,) which of the N volumes each piece belongs to, ascending;
    faces, face_row : (F,) the same of the flat faces of bodies that are not made of convex pieces; body_copy, face_copy : which
    copy of its volume each belongs to: a mirror image may fall into other pieces than the volume itself.
    """

    vertices: Floats
    edges: Ints
    edge_axes: Ints
    soft: Bools
    rotations: Floats
    bodies: ConvexBodies
    body_row: Ints
    is_mark: Bools | None = None
    faces: FlatFaces = field(default_factory=no_faces)
    face_row: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.intp))
    copy_of_body: Ints | None = None
    copy_of_face: Ints | None = None

    @property
    def body_copy(self) -> Ints:
        """Which copy of its volume each piece (B,) belongs to."""
        return np.zeros(len(self.body_row), dtype=np.intp) if self.copy_of_body is None else self.copy_of_body

    @property
    def face_copy(self) -> Ints:
        """Which copy of its volume each face (F,) belongs to."""
        return np.zeros(len(self.face_row), dtype=np.intp) if self.copy_of_face is None else self.copy_of_face

    @property
    def marks(self) -> Bools:
        """Edges (E,) that come from marks is_mark on the volume."""
        return np.zeros(len(self.edges), dtype=bool) if self.is_mark is None else self.is_mark

    def placed(self, rotation: Floats, corner: Floats) -> Solids:
        """Return the volumes turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        return replace(
            self,
            vertices=self.vertices @ rotation.T + corner,
            rotations=rotation @ self.rotations,
            bodies=self.bodies.placed(rotation, corner),
            faces=self.faces.placed(rotation, corner),
        )

    @staticmethod
    def as_one(parts: Sequence[Solids]) -> Solids:
        """Return solids of one volume each as the solids of one volume: what a repeated volume is drawn from."""
        first, base = parts[0], np.cumsum([0] + [part.vertices.shape[1] for part in parts])
        alike = [np.abs(part.rotations - first.rotations).max() < EXACT for part in parts]
        return Solids(
            vertices=np.concatenate([part.vertices for part in parts], axis=1),
            edges=np.concatenate([part.edges + start for part, start in zip(parts, base, strict=False)]),
            # A copy that stands in other directions has edges of its own.
            edge_axes=np.concatenate(
                [
                    part.edge_axes if same else np.full(len(part.edges), -1)
                    for part, same in zip(parts, alike, strict=True)
                ]
            ),
            soft=np.concatenate([part.soft for part in parts]),
            is_mark=np.concatenate([part.marks for part in parts]),
            rotations=first.rotations,
            bodies=stacked([part.bodies for part in parts]),
            body_row=np.zeros(sum(len(part.body_row) for part in parts), dtype=np.intp),
            faces=FlatFaces.joined([part.faces for part in parts]),
            face_row=np.zeros(sum(len(part.face_row) for part in parts), dtype=np.intp),
            copy_of_body=np.repeat(np.arange(len(parts)), [len(part.body_row) for part in parts]),
            copy_of_face=np.repeat(np.arange(len(parts)), [len(part.face_row) for part in parts]),
        )


def hard(edges: Ints) -> Bools:
    """Return the flags of edges (E, 2) that are all drawn as the object's own."""
    return np.zeros(len(edges), dtype=bool)
