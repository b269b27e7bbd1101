"""Convex bodies in flat arrays, and the region that each of them hides from an eye."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.shadow_loops import packed, shadow_planes
from isometron.geometry.tolerances import TOUCH

__all__ = ["ConvexBodies", "Packed", "Shadows", "inside", "shadows", "stacked"]


class Packed(NamedTuple):
    """Bodies after each other, without padding.

    vertices : (sum of V, 3); faces : (sum of F, 4) normals and offsets; ridges : (sum of R, 4) the two vertices and the two
    faces of each, counted in its body; first : (3, N + 1) where the vertices, faces and ridges of each body begin.
    """

    vertices: Floats
    faces: Floats
    ridges: NDArray[np.int16]
    first: Ints


_NAMES = ("vertices", "normals", "offsets", "ridges", "ridge_faces")


@dataclass(frozen=True)
class ConvexBodies:
    """N convex bodies of at most V vertices, F faces and R ridges; short rows are padded.

    vertices : (N, V, 3), padded by repeating a vertex; normals, offsets : (N, F, 3), (N, F), outward unit
    normals with n . x <= offset inside, padded with a zero normal and offset 1 (always true); ridges and
    ridge_faces : (N, R, 2) indices of vertices and of the two faces that meet there, padded with zeros.
    """

    vertices: Floats
    normals: Floats
    offsets: Floats
    ridges: NDArray[np.int16]
    ridge_faces: NDArray[np.int16]

    def __len__(self) -> int:
        return len(self.vertices)

    @property
    def widths(self) -> tuple[int, int, int]:
        """V, F and R."""
        return self.vertices.shape[1], self.normals.shape[1], self.ridges.shape[1]

    @cached_property
    def packed(self) -> Packed:
        """The same without padding."""
        vertices, normals, offsets = map(np.ascontiguousarray, (self.vertices, self.normals, self.offsets))
        ridges, faces = (np.ascontiguousarray(rows, dtype=np.int16) for rows in (self.ridges, self.ridge_faces))
        return Packed(*packed(vertices, normals, offsets, ridges, faces))

    def placed(self, rotation: Floats, corner: Floats) -> ConvexBodies:
        """Return the bodies turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        normals = self.normals @ rotation.T
        vertices = self.vertices @ rotation.T + corner
        return ConvexBodies(vertices, normals, self.offsets + normals @ corner, self.ridges, self.ridge_faces)

    def select(self, rows: Ints | Bools) -> ConvexBodies:
        """Return the bodies of the given rows."""
        return ConvexBodies(
            self.vertices[rows], self.normals[rows], self.offsets[rows], self.ridges[rows], self.ridge_faces[rows]
        )


def stacked(parts: Sequence[ConvexBodies]) -> ConvexBodies:
    """Return the bodies of all parts, the shorter rows padded as `ConvexBodies` says; no part at all works."""
    parts = [part for part in parts if len(part)]
    if len(parts) == 1:
        return parts[0]
    if len({part.widths for part in parts}) == 1:
        return ConvexBodies(*(np.concatenate([getattr(part, name) for part in parts]) for name in _NAMES))
    v, f, r = (max((getattr(b, n).shape[1] for b in parts), default=1) for n in ("vertices", "normals", "ridges"))
    count = sum(len(part) for part in parts)
    bodies = ConvexBodies(
        vertices=np.zeros((count, v, 3)),
        normals=np.zeros((count, f, 3)),
        offsets=np.ones((count, f)),
        ridges=np.zeros((count, r, 2), dtype=np.int16),
        ridge_faces=np.zeros((count, r, 2), dtype=np.int16),
    )
    ends = np.cumsum([len(part) for part in parts])
    alike: dict[tuple[int, ...], list[int]] = {}
    for number, part in enumerate(parts):
        alike.setdefault(part.widths, []).append(number)
    for (own_v, own_f, own_r), numbers in alike.items():
        rows = np.concatenate([np.arange(ends[n] - len(parts[n]), ends[n]) for n in numbers])
        vertices = np.concatenate([parts[n].vertices for n in numbers])
        bodies.vertices[rows, :own_v], bodies.vertices[rows, own_v:] = vertices, vertices[:, :1]
        bodies.normals[rows, :own_f] = np.concatenate([parts[n].normals for n in numbers])
        bodies.offsets[rows, :own_f] = np.concatenate([parts[n].offsets for n in numbers])
        bodies.ridges[rows, :own_r] = np.concatenate([parts[n].ridges for n in numbers])
        bodies.ridge_faces[rows, :own_r] = np.concatenate([parts[n].ridge_faces for n in numbers])
    return bodies


@dataclass(frozen=True)
class Shadows:
    """The open convex region hidden by each body: n . (x - eye) < d for all of its planes.

    planes : (P, 4) n and d; begins : (N + 1,) where those of each body begin. A body that contains the eye has none: seen
    from inside it hides nothing. touch : (N,) mm, a point so near to a plane lies on it.
    """

    planes: Floats
    begins: Ints
    touch: Floats

    @property
    def active(self) -> Bools:
        """Bodies (N,) that hide anything."""
        return np.diff(self.begins) > 0


def shadows(bodies: ConvexBodies, eye: Floats) -> Shadows:
    """Return the shadow regions of ``bodies`` seen from ``eye`` (3,), in eye-centred coordinates.

    A point is hidden when the sight line passes through the open inside of the body before it reaches the
    point. Those points lie behind every face that looks at the eye, and inside the cone of planes through
    the eye and the silhouette (the ridges between a face that looks at the eye and one that does not).
    """
    return Shadows(*shadow_planes(*bodies.packed, eye, TOUCH))


def inside(bodies: ConvexBodies, point: Floats) -> Bools:
    """Tell for each body whether ``point`` (3,) lies in its open inside (on a face is not inside)."""
    heights = bodies.normals @ point - bodies.offsets
    scale = np.abs(bodies.vertices - point).max(axis=(1, 2), initial=1.0)
    return np.asarray((heights < -TOUCH * scale[:, None]).all(axis=1))
