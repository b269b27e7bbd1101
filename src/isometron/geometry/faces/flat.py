"""Flat faces with outlines and holes, in flat arrays: what hides where convex bodies are not enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cache, cached_property

import numpy as np

from isometron.geometry.faces.cutting import CHORDS, CutFaces
from isometron.geometry.frames import Bools, Floats, Ints, after_each_other

__all__ = ["FlatFaces", "faces_of", "holds_place", "no_faces"]


@dataclass(frozen=True)
class FlatFaces:
    """N faces, each of closed loops of sides in any order: what an odd number of loops goes round is the face.

    frames : (N, 12) a place on each plane, its two directions and its outward normal, all of length one; near : (N,) mm that
    a thing must lie behind a face to be hidden by it (chords of a hollow round stand before it); count : (N,) sides
    of each; sides : (S, 4) their ends in mm of the face's two directions; places : (S, 3) where they start.
    """

    frames: Floats
    near: Floats
    count: Ints
    sides: Floats
    places: Floats

    def __len__(self) -> int:
        return len(self.frames)

    @property
    def first(self) -> Ints:
        """Where the sides of each face begin (N + 1,)."""
        return np.concatenate([[0], np.cumsum(self.count)])

    @cached_property
    def ends(self) -> Floats:
        """Both ends (2 S, 3) of every side, one after the other."""
        own = self.frames[np.repeat(np.arange(len(self)), self.count)]
        other = own[:, :3] + self.sides[:, 2:3] * own[:, 3:6] + self.sides[:, 3:] * own[:, 6:9]
        return np.stack([self.places, other], axis=1).reshape(-1, 3)

    @property
    def normals(self) -> Floats:
        """Outward normals (N, 3)."""
        return self.frames[:, 9:]

    @property
    def offsets(self) -> Floats:
        """How far each plane lies from the origin along its normal (N,)."""
        found: Floats = np.einsum("fk,fk->f", self.frames[:, :3], self.frames[:, 9:])
        return found

    def placed(self, rotation: Floats, corner: Floats) -> FlatFaces:
        """Return the faces turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        frames = (self.frames.reshape(-1, 3) @ rotation.T).reshape(-1, 12)
        frames[:, :3] += corner
        return replace(self, frames=frames, places=self.places @ rotation.T + corner)

    def select(self, rows: Ints | Bools) -> FlatFaces:
        """Return some of the faces."""
        rows = np.arange(len(self))[rows]
        count = self.count[rows]
        first = np.repeat(self.first[rows] - np.concatenate([[0], np.cumsum(count)[:-1]]), count)
        own = first + np.arange(int(count.sum()))
        return FlatFaces(self.frames[rows], self.near[rows], count, self.sides[own], self.places[own])

    @staticmethod
    def joined(parts: Sequence[FlatFaces]) -> FlatFaces:
        """Return all faces in their order; no part at all works."""
        parts = [part for part in parts if len(part)]
        if len(parts) < 2:
            return parts[0] if parts else no_faces()
        return FlatFaces(*(after_each_other([getattr(p, own.name) for p in parts]) for own in fields(FlatFaces)))


@cache
def no_faces() -> FlatFaces:
    """Return no faces: what most volumes have."""
    return FlatFaces(np.zeros((0, 12)), np.zeros(0), np.zeros(0, dtype=np.intp), np.zeros((0, 4)), np.zeros((0, 3)))


def faces_of(body: CutFaces) -> FlatFaces:
    """Return the faces of a cut body, in its own axes; planes on which nothing is left give none."""
    order = np.argsort(body.face, kind="stable")
    count = np.bincount(body.face, minlength=len(body.bend))
    rows = np.flatnonzero(count)
    frames = np.hstack([body.origin, body.along, body.across, body.normal])
    ends, own = body.ends[order], body.face[order]
    off = ends - frames[own, None, :3]
    u, v = (np.einsum("sek,sk->se", off, frames[own, k : k + 3]) for k in (3, 6))
    radius = np.sqrt((body.rounds[:, 3:6] ** 2).sum(axis=1))
    near = np.zeros(len(body.bend))
    # Only of hollow ones: what lies on a round that bulges lies before its chords.
    round_ = (body.bend >= 0) & (body.span[body.bend, 1] < 0.0) if len(body.span) else body.bend >= 0
    near[round_] = 2.0 * (1.0 - np.cos(np.pi / 4 / CHORDS)) * radius[body.bend[round_]]
    return FlatFaces(
        frames[rows], near[rows], count[rows], np.stack([u[:, 0], v[:, 0], u[:, 1], v[:, 1]], axis=1),
        np.ascontiguousarray(ends[:, 0]),
    )  # fmt: skip


def holds_place(faces: FlatFaces, place: Floats) -> bool:
    """Tell whether a place (3,) lies inside the closed body of some faces: a way out of it crosses an odd number of them."""
    return len(crossed(faces, place, _ASKEW)[0]) % 2 == 1


_ASKEW = np.array([0.3713906763, 0.2672612419, 0.8891905736])
"""A way that runs along none of the faces that people draw."""


def crossed(faces: FlatFaces, place: Floats, way: Floats) -> tuple[Ints, Floats]:
    """Return the faces (K,) that the ray from a place (3,) crosses, and how far along ``way`` (K,)."""
    frames = faces.frames
    off = place - frames[:, :3]
    slope, height = frames[:, 9:] @ way, np.einsum("fk,fk->f", frames[:, 9:], off)
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        t = -height / slope
    ahead = np.isfinite(t) & (t > 0.0)
    met = off + np.where(ahead, t, 0.0)[:, None] * way
    u, v = (np.einsum("fk,fk->f", met, frames[:, k : k + 3]) for k in (3, 6))
    own = np.repeat(np.arange(len(faces)), faces.count)
    sides = faces.sides
    spans = (sides[:, 1] > v[own]) != (sides[:, 3] > v[own])
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        x = sides[:, 0] + (v[own] - sides[:, 1]) / (sides[:, 3] - sides[:, 1]) * (sides[:, 2] - sides[:, 0])
    odd = np.bincount(own[spans & (u[own] < x)], minlength=len(faces)) % 2 == 1
    rows = np.flatnonzero(odd & ahead)
    return rows, t[rows]
