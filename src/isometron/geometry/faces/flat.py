"""Flat faces with outlines and holes, of straight sides and arcs, in flat arrays: what hides where convex bodies are not enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cache, cached_property

import numpy as np

from isometron.geometry.faces.cutting import CHORDS, CutFaces
from isometron.geometry.frames import Bools, Floats, Ints, after_each_other

__all__ = ["FlatFaces", "faces_of", "faces_round", "holds_place", "no_faces"]


@dataclass(frozen=True)
class FlatFaces:
    """N faces, each of closed loops of sides in any order: what an odd number of loops goes round is the face.

    frames : (N, 12) a place on each plane, its two directions and its outward normal, all of length one; near : (N,) mm that
    a thing must lie behind a face to be hidden by it (chords of a hollow round stand before it); both : (N,) whether a face
    hides from behind too, which those of closed bodies need not do, but where a round's chords beside them fall short; count : (N,) sides
    of each; sides : (S, 4) their ends in mm of the face's two directions; places : (S, 3) where they start; bows : (S, 7) of a
    side that is an arc of an ellipse its centre, the half axis to its start and the other one, in mm of the face's two
    directions, and its sweep from the first to the second in radians, up to a quarter turn; nothing of a straight one.
    """

    frames: Floats
    near: Floats
    both: Bools
    count: Ints
    sides: Floats
    places: Floats
    bows: Floats

    def __len__(self) -> int:
        return len(self.frames)

    @property
    def first(self) -> Ints:
        """Where the sides of each face begin (N + 1,)."""
        return np.concatenate([[0], np.cumsum(self.count)])

    @cached_property
    def hulls(self) -> Floats:
        """Three places (3 S, 3) round every side: both its ends, and of an arc where its tangents meet, else an end again."""
        own = self.frames[np.repeat(np.arange(len(self)), self.count)]
        corner = self.sides[:, 2:].copy()
        rows = np.flatnonzero(self.bows[:, 6])
        bows = self.bows[rows]
        half = bows[:, 6:] / 2.0
        corner[rows] = bows[:, :2] + bows[:, 2:4] + np.tan(half) * bows[:, 4:6]
        flat = np.stack([self.sides[:, 2:], corner], axis=1)
        others = own[:, None, :3] + flat[..., :1] * own[:, None, 3:6] + flat[..., 1:] * own[:, None, 6:9]
        return np.concatenate([self.places[:, None], others], axis=1).reshape(-1, 3)

    @cached_property
    def bow_forms(self) -> Floats:
        """The arcs (S, 9) as the loops ask them: the centre, the inverse (4) of the half axes as columns, in whose measure the
        arc lies on the unit circle, the way (2) to its middle there, and how far along it the chord lies; 2 of straight sides."""
        found = np.zeros((len(self.bows), 9))
        found[:, 8] = 2.0
        rows = np.flatnonzero(self.bows[:, 6])
        bows = self.bows[rows]
        a, b, c, d = bows[:, 2], bows[:, 4], bows[:, 3], bows[:, 5]
        one = a * d - b * c
        half = bows[:, 6] / 2.0
        found[rows] = np.column_stack(
            [bows[:, :2], d / one, -b / one, -c / one, a / one, np.cos(half), np.sin(half), np.cos(half)]
        )
        return found

    def chorded(self, chords: int = 24) -> FlatFaces:
        """Return the same faces with so many chords to a quarter turn in place of arcs."""
        rows = np.flatnonzero(self.bows[:, 6])
        if not len(rows):
            return self
        parts = np.ones(len(self.sides), dtype=np.intp)
        parts[rows] = np.maximum(np.ceil(self.bows[rows, 6] / (np.pi / 2) * chords - 1e-9), 1).astype(np.intp)
        own = np.repeat(np.arange(len(parts)), parts)
        number = np.arange(len(own)) - np.repeat(np.cumsum(parts) - parts, parts)
        low, high = (self._along(own, (number + k) / parts[own]) for k in (0, 1))
        face = np.repeat(np.arange(len(self)), self.count)
        count = np.bincount(face[own], minlength=len(self))
        frame = self.frames[face[own]]
        places = frame[:, :3] + low[:, :1] * frame[:, 3:6] + low[:, 1:] * frame[:, 6:9]
        return replace(self, count=count, sides=np.hstack([low, high]), places=places, bows=np.zeros((len(own), 7)))

    def _along(self, rows: Ints, part: Floats) -> Floats:
        """Return the places (K, 2) at parts (K,) of sides (K,); those of arcs by equal angle."""
        sides, bows = self.sides[rows], self.bows[rows]
        found = sides[:, :2] + part[:, None] * (sides[:, 2:] - sides[:, :2])
        angle = (part * bows[:, 6])[:, None]
        arcs = bows[:, :2] + np.cos(angle) * bows[:, 2:4] + np.sin(angle) * bows[:, 4:6]
        inner: Floats = np.where((bows[:, 6:] > 0.0) & (part[:, None] > 0.0) & (part[:, None] < 1.0), arcs, found)
        return inner

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
        return FlatFaces(
            self.frames[rows],
            self.near[rows],
            self.both[rows],
            count,
            self.sides[own],
            self.places[own],
            self.bows[own],
        )

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
    return FlatFaces(
        np.zeros((0, 12)), np.zeros(0), np.zeros(0, dtype=bool), np.zeros(0, dtype=np.intp), np.zeros((0, 4)),
        np.zeros((0, 3)), np.zeros((0, 7)),
    )  # fmt: skip


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
        frames[rows], near[rows], np.zeros(len(rows), dtype=bool), count[rows],
        np.stack([u[:, 0], v[:, 0], u[:, 1], v[:, 1]], axis=1), np.ascontiguousarray(ends[:, 0]), np.zeros((len(ends), 7)),
    )  # fmt: skip


def faces_round(corners: Floats, near: float, sign: float) -> FlatFaces:
    """Return flat faces round corners (F, K, 3), counter-clockwise as seen from outside; those that look inwards with a ``sign`` of -1."""
    count = corners.shape[1]
    x = corners[:, 1] - corners[:, 0]
    x = x / np.sqrt((x * x).sum(axis=1))[:, None]
    y = corners[:, count // 2 if count > 3 else 2] - corners[:, 0]
    y = y - (y * x).sum(axis=1)[:, None] * x
    y = y / np.sqrt((y * y).sum(axis=1))[:, None]
    frames = np.hstack([corners[:, 0], x, y, sign * np.cross(x, y)])
    off = corners - corners[:, :1]
    flat = np.stack([np.einsum("fck,fk->fc", off, x), np.einsum("fck,fk->fc", off, y)], axis=2)
    sides = np.concatenate([flat, np.roll(flat, -1, axis=1)], axis=2).reshape(-1, 4)
    own: Bools = np.zeros(len(corners), dtype=bool)
    return FlatFaces(
        frames, np.full(len(corners), near), own, np.full(len(corners), count, dtype=np.intp), sides,
        np.ascontiguousarray(corners.reshape(-1, 3)), np.zeros((len(sides), 7)),
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
    odd = np.bincount(own[(spans & (u[own] < x)) ^ _over_chord(faces, u[own], v[own])], minlength=len(faces)) % 2 == 1
    rows = np.flatnonzero(odd & ahead)
    return rows, t[rows]


def _over_chord(faces: FlatFaces, u: Floats, v: Floats) -> Bools:
    """Tell of sides (S,) whether the place (u, v) (S,) on their plane lies between an arc and its chord."""
    form = faces.bow_forms
    off_u, off_v = u - form[:, 0], v - form[:, 1]
    x, y = form[:, 2] * off_u + form[:, 3] * off_v, form[:, 4] * off_u + form[:, 5] * off_v
    found: Bools = (x * form[:, 6] + y * form[:, 7] > form[:, 8]) & (x * x + y * y < 1.0)
    return found
