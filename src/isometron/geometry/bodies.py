"""Convex bodies in flat arrays, and the region that each of them hides from an eye."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import TOUCH

__all__ = ["ConvexBodies", "Shadows", "inside", "shadows", "stacked"]


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
    ridges: Ints
    ridge_faces: Ints

    def __len__(self) -> int:
        return len(self.vertices)

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
    v, f, r = (max((getattr(b, n).shape[1] for b in parts), default=1) for n in ("vertices", "normals", "ridges"))
    count = sum(len(part) for part in parts)
    bodies = ConvexBodies(
        vertices=np.zeros((count, v, 3)),
        normals=np.zeros((count, f, 3)),
        offsets=np.ones((count, f)),
        ridges=np.zeros((count, r, 2), dtype=np.intp),
        ridge_faces=np.zeros((count, r, 2), dtype=np.intp),
    )
    base = 0
    for part in parts:
        at = slice(base, base + len(part))
        own = part.vertices.shape[1]
        bodies.vertices[at, :own] = part.vertices
        bodies.vertices[at, own:] = part.vertices[:, :1]
        for name in ("normals", "offsets", "ridges", "ridge_faces"):
            values = getattr(part, name)
            getattr(bodies, name)[at, : values.shape[1]] = values
        base += len(part)
    return bodies


@dataclass(frozen=True)
class Shadows:
    """The open convex region hidden by each body: n . (x - eye) < offset for all of its planes.

    normals, offsets : (N, K, 3), (N, K), padded as in `ConvexBodies`. active : (N,) is False for a body
    that contains the eye: seen from inside it hides nothing. scale : (N,) mm, for `TOUCH`.
    """

    normals: Floats
    offsets: Floats
    active: Bools
    scale: Floats

    def select(self, rows: Ints) -> Shadows:
        """Return the regions of the given rows."""
        return Shadows(self.normals[rows], self.offsets[rows], self.active[rows], self.scale[rows])


def shadows(bodies: ConvexBodies, eye: Floats) -> Shadows:
    """Return the shadow regions of ``bodies`` seen from ``eye`` (3,), in eye-centred coordinates.

    A point is hidden when the sight line passes through the open inside of the body before it reaches the
    point. Those points lie behind every face that looks at the eye, and inside the cone of planes through
    the eye and the silhouette (the ridges between a face that looks at the eye and one that does not).
    """
    vertices = bodies.vertices - eye
    scale = np.abs(vertices).max(axis=(1, 2), initial=1.0)
    offsets = bodies.offsets - bodies.normals @ eye
    offsets = np.where(np.any(bodies.normals != 0.0, axis=2), offsets, 1.0)
    front = offsets < -TOUCH * scale[:, None]
    cone, silhouette = _silhouette_planes(bodies, vertices, front)
    normals = np.concatenate((bodies.normals, cone), axis=1)
    offsets = np.concatenate((offsets, np.zeros(silhouette.shape)), axis=1)
    used = np.concatenate((front, silhouette), axis=1)
    normals, offsets = _pack(normals, offsets, used)
    return Shadows(normals, offsets, front.any(axis=1), scale)


def _silhouette_planes(bodies: ConvexBodies, vertices: Floats, front: Bools) -> tuple[Floats, Bools]:
    rows = np.arange(len(bodies))[:, None]
    first, second = bodies.ridge_faces[..., 0], bodies.ridge_faces[..., 1]
    silhouette = front[rows, first] != front[rows, second]
    p = vertices[rows, bodies.ridges[..., 0]]
    q = vertices[rows, bodies.ridges[..., 1]]
    normal = np.cross(p, q)
    length = np.sqrt(np.einsum("nrk,nrk->nr", normal, normal))
    # A ridge in line with the eye spans no plane; its neighbours on the silhouette bound the region there.
    silhouette &= length > 0.0
    normal /= np.where(length > 0.0, length, 1.0)[..., None]
    towards_body = np.einsum("nrk,nk->nr", normal, vertices.mean(axis=1))
    return np.where((towards_body > 0.0)[..., None], -normal, normal), silhouette


def _pack(normals: Floats, offsets: Floats, used: Bools) -> tuple[Floats, Floats]:
    """Move the used planes of each row to the front and cut the columns that no row uses."""
    width = int(used.sum(axis=1).max(initial=0))
    order = np.argsort(~used, axis=1, kind="stable")[:, :width]
    rows = np.arange(len(used))[:, None]
    keep = used[rows, order]
    packed = np.where(keep[..., None], normals[rows, order], 0.0)
    return packed, np.where(keep, offsets[rows, order], 1.0)


def inside(bodies: ConvexBodies, point: Floats) -> Bools:
    """Tell for each body whether ``point`` (3,) lies in its open inside (on a face is not inside)."""
    heights = bodies.normals @ point - bodies.offsets
    scale = np.abs(bodies.vertices - point).max(axis=(1, 2), initial=1.0)
    return np.asarray((heights < -TOUCH * scale[:, None]).all(axis=1))
