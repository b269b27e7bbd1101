"""Parts of a body before they are joined: each knows its surfaces by name, and how it is made of triangles once all arcs are parted alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import acos, ceil, pi
from typing import Protocol

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.shell.surfaces import PLANE, WIDTH, Surfaces, cross, length

__all__ = [
    "Angles",
    "Meshed",
    "Part",
    "Polyhedron",
    "Round",
    "Seamed",
    "block",
    "loft",
    "on_grain",
    "round_frame",
    "strip",
    "turns",
]

GRAIN = 2.0**-20
"""mm: planes square to an axis are put on this grid, so that those which are meant to be equal are equal to the last bit."""
_SQUARE = 1.0 - 1e-12
_LEAST = 2


@dataclass(frozen=True)
class Round:
    """An arc of a part on one of its surfaces. row : of the part's surfaces; ends : places (K, 3) that must be corners of it; radius : the
    greater one, mm; whole : whether it goes all round."""

    row: int
    ends: Floats
    radius: float
    whole: bool = False


class Angles(Protocol):
    """Where the rounds of a surface are parted."""

    def __call__(self, row: int) -> Floats:
        """Return angles (K,), ascending within one turn, in the frame of a part's surface, see `round_frame`."""


@dataclass(frozen=True)
class Meshed:
    """places : (V, 3), on their surfaces; rows : (T, 3) counter-clockwise seen from outside; patch : (T,) rows of the part's surfaces."""

    places: Floats
    rows: Ints
    patch: Ints


class Part(Protocol):
    """A closed solid. names : of each surface, the face that it is; seams : (a, b, c), where surfaces a and b only touch, along a curve
    that is also on c."""

    @property
    def surfaces(self) -> Surfaces:
        """Of its faces, and of what its seams run on."""

    @property
    def names(self) -> tuple[str, ...]:
        """What each surface goes by."""

    @property
    def rounds(self) -> tuple[Round, ...]:
        """Its arcs."""

    @property
    def seams(self) -> tuple[tuple[int, int, int], ...]:
        """Rows of surfaces that only touch, and of what their seam runs on."""

    def meshed(self, angles: Angles) -> Meshed:
        """Return its triangles, its rounds parted at the angles that are given."""


class Seamed:
    """A part whose sides may run on smoothly into one another."""

    @property
    def own_names(self) -> tuple[str, ...]:
        """Of its sides, then of both ends."""
        raise NotImplementedError

    @cached_property
    def made(self) -> tuple[Surfaces, tuple[tuple[int, int, int], ...]]:
        """Surfaces of its sides and ends, then those that seams run on; and the seams."""
        raise NotImplementedError

    @property
    def surfaces(self) -> Surfaces:
        """Of its sides and ends, then what seams run on."""
        return self.made[0]

    @property
    def names(self) -> tuple[str, ...]:
        """Of each surface; of what seams run on, nothing."""
        return (*self.own_names, *[""] * (len(self.surfaces) - len(self.own_names)))

    @property
    def seams(self) -> tuple[tuple[int, int, int], ...]:
        """Where a side runs on smoothly into another."""
        return self.made[1]


def turns(radius: float, chord: float) -> int:
    """Return how many chords go round a circle, a multiple of four, that lie within ``chord`` mm of it."""
    if radius <= chord:
        return 4 * _LEAST
    return 4 * max(ceil(pi / 4.0 / acos(1.0 - chord / radius)), _LEAST)


def round_frame(surfaces: Surfaces, row: int) -> tuple[Floats, Floats, Floats]:
    """Return the place on the axle and both half axes (3,) in which angles of a turned surface are told.

    Of a circular one they depend on its axle alone, so that equal rounds of two parts have equal corners.
    """
    form = surfaces.form[row]
    first, second = (half[0] for half in surfaces.only(row).rings)
    one, two = np.sqrt(first @ first), np.sqrt(second @ second)
    if abs(one - two) > 1e-9 * one:
        return form[:3], first, second
    axle = surfaces.axles[row]
    lead = axle[int((np.abs(axle) > 1e-7).argmax())]
    axle = -axle if lead < 0.0 else axle
    x = np.eye(3)[int(np.abs(np.round(axle, 6)).argmin())]
    x = x - (x @ axle) * axle
    x *= one / np.sqrt(x @ x)
    return form[:3], x, cross(axle, x)


def loft(rings: Floats, patch: Ints, caps: tuple[int, int], flat: Ints) -> Meshed:
    """Return triangles between rings (K, M, 3), counter-clockwise seen from the last one.

    patch : (K - 1, M) of the sides; caps : the patches at both ends; flat : (T, 3) the triangles of the last end. A ring of one place
    repeated is a tip.
    """
    count, m = rings.shape[:2]
    at = np.arange(count * m).reshape(count, m)
    tips = [not np.abs(rings[k] - rings[k, 0]).max() for k in (0, -1)]
    for k, tip in zip((0, -1), tips, strict=True):
        if tip:
            at[k] = at[k, 0]
    a, b = at[:-1], at[1:]
    a1, b1 = np.roll(a, -1, axis=1), np.roll(b, -1, axis=1)
    rows = np.stack([a, a1, b1, a, b1, b], axis=-1).reshape(-1, 3)
    own = np.repeat(patch.reshape(-1), 2)
    keep = (rows[:, 0] != rows[:, 1]) & (rows[:, 1] != rows[:, 2]) & (rows[:, 2] != rows[:, 0])
    parts, owners = [rows[keep]], [own[keep]]
    for k, cap, triangles in ((0, caps[0], flat[:, ::-1]), (-1, caps[1], flat)):
        if not tips[k]:
            parts.append(at[k][triangles])
            owners.append(np.full(len(triangles), cap))
    used, rows = np.unique(np.concatenate(parts), return_inverse=True)
    return Meshed(rings.reshape(-1, 3)[used], rows.reshape(-1, 3), np.concatenate(owners))


def strip(m: int) -> Ints:
    """Return triangles (m - 2, 3) of a convex outline of m corners, as a zigzag: the corner of a fan would have all of them."""
    low, high, rows = 0, m - 1, []
    while high - low >= 2:
        rows.append((low, low + 1, high))
        low += 1
        if high - low >= 2:
            rows.append((low, high - 1, high))
            high -= 1
    return np.array(rows, dtype=np.intp).reshape(-1, 3)


def on_grain(mesh: Meshed, surfaces: Surfaces) -> Floats:
    """Return the places (V, 3) of a mesh; of those on a plane square to an axis that coordinate lies on the grid, and of those on a cylinder along
    an axis the two others.

    Only these: a grid for all coordinates would bend slanted planes.
    """
    places = mesh.places.copy()
    size = np.abs(surfaces.form[:, 3:6])
    square = (surfaces.kind == PLANE) & (size.max(axis=1, initial=0.0) > _SQUARE)
    mine = square[mesh.patch]
    rows, axis = mesh.rows[mine], size[mesh.patch[mine]].argmax(axis=1)[:, None]
    places[rows, axis] = np.round(places[rows, axis] / GRAIN) * GRAIN
    axles = np.abs(surfaces.axles)
    along = surfaces.cylinders & (axles.max(axis=1, initial=0.0) > _SQUARE)
    for k in range(3):
        mine = np.unique(mesh.rows[(along & (axles[:, k] > _SQUARE))[mesh.patch]])
        for other in range(3):
            if other != k:
                places[mine, other] = np.round(places[mine, other] / GRAIN) * GRAIN
    return places


@dataclass(frozen=True)
class Polyhedron:
    """A convex solid of flat faces. corners : (V, 3); faces : rows of corners, counter-clockwise seen from outside; names : of the faces."""

    corners: Floats
    faces: Sequence[Sequence[int]]
    names: tuple[str, ...]
    rounds: tuple[Round, ...] = ()
    seams: tuple[tuple[int, int, int], ...] = field(default=())

    @property
    def surfaces(self) -> Surfaces:
        """A plane for each face."""
        form = np.zeros((len(self.faces), WIDTH))
        for k, face in enumerate(self.faces):
            ring = self.corners[list(face)]
            normal = cross(ring - ring.mean(axis=0), np.roll(ring, -1, axis=0) - ring.mean(axis=0)).sum(axis=0)
            form[k, :3], form[k, 3:6] = ring.mean(axis=0), normal / length(normal)
        return Surfaces(np.full(len(self.faces), PLANE, dtype=np.int8), form)

    def meshed(self, angles: Angles) -> Meshed:
        """Return its triangles; it has no rounds."""
        rows = [np.array(face)[strip(len(face))] for face in self.faces]
        return Meshed(self.corners, np.concatenate(rows), np.repeat(np.arange(len(rows)), [len(r) for r in rows]))


def block(low: Floats, high: Floats, names: tuple[str, ...]) -> Polyhedron:
    """Return the block between two corners (3,); ``names`` of its faces x0, x1, y0, y1, z0, z1."""
    bits = (np.arange(8)[:, None] >> np.arange(3)) & 1
    corners = np.where(bits == 1, np.asarray(high, dtype=np.float64), np.asarray(low, dtype=np.float64))
    faces = ((0, 4, 6, 2), (1, 3, 7, 5), (0, 1, 5, 4), (2, 6, 7, 3), (0, 2, 3, 1), (4, 5, 7, 6))
    return Polyhedron(corners, faces, names)
