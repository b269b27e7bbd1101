"""Round bodies as stacks of frusta, and where sight lines touch them.

A frustum is { base + x e1 + y e2 + z axle : 0 <= z <= 1, x^2 + y^2 <= (r0 + (r1 - r0) z)^2 + bulge z (1 - z) }; e1, e2
carry the radii, so a section may be an ellipse. With a bulge of twice the square of its one radius it is half an
ellipsoid. A sight line enters it where a quadratic along the line is not positive (any text on ray tracing, e.g. Glassner
1989, chapter 2).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Bools, Floats, Ints, after_each_other
from isometron.geometry.frustum_loops import contour_lines, end_points, local_frames
from isometron.geometry.tolerances import CLOSE, EXACT, HAIR

__all__ = [
    "AROUND",
    "Frusta",
    "dome_contours",
    "each_from",
    "inscribed_bodies",
    "straightened",
]


_SIXTEENTHS: Floats = np.arange(16, dtype=np.float64) * (np.pi / 8)
AROUND: Floats = np.column_stack([np.cos(_SIXTEENTHS), np.sin(_SIXTEENTHS)]) / np.cos(np.pi / 16)
"""Corners of a polygon of sixteen sides round the unit circle."""

_NAMES = ("owner", "base", "axle", "first", "second", "low", "high", "bulge")


@dataclass(frozen=True)
class Frusta:
    """R frusta. owner : (R,); base, axle, first, second : (R, 3) mm; low, high : (R,) radii in units of first, second;
    bulge : (R,) how much the square of the radius swells between them, 0 for straight sides."""

    owner: Ints
    base: Floats
    axle: Floats
    first: Floats
    second: Floats
    low: Floats
    high: Floats
    bulge: Floats

    def __len__(self) -> int:
        return len(self.owner)

    def select(self, rows: Ints) -> Frusta:
        """Return the frusta of the given rows."""
        return Frusta(*(getattr(self, name)[rows] for name in _NAMES))

    def placed(self, rotation: Floats, corner: Floats) -> Frusta:
        """Return the frusta turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        if len(self) == 0:
            return self
        base, axle, first, second = (way @ rotation.T for way in (self.base, self.axle, self.first, self.second))
        return Frusta(self.owner, base + corner, axle, first, second, self.low, self.high, self.bulge)

    @staticmethod
    def none() -> Frusta:
        """Return no frusta at all."""
        nothing, places = np.zeros(0), np.zeros((0, 3))
        return Frusta(np.zeros(0, dtype=np.intp), places, places, places, places, nothing, nothing, nothing)

    @staticmethod
    def joined(parts: Sequence[Frusta], bases: Sequence[int] | Ints | None = None) -> Frusta:
        """Return the frusta of all parts in their order; the owners of each are counted from its base, if there are any."""
        owners = [part.owner for part in parts]
        owner = after_each_other(owners) if bases is None else each_from(bases, owners)
        filled = [part for part in parts if len(part)]
        if len(filled) < 2:
            return replace(filled[0] if filled else parts[0], owner=owner)
        made = {name: np.concatenate([getattr(part, name) for part in filled]) for name in _NAMES[1:]}
        return Frusta(owner, **made)

    def seen_from(self, eye: Floats) -> Floats:
        """Return rows (R, 12): what turns world directions into local ones, and the eye (3,) in local coordinates."""
        return local_frames(*self._frames, eye)

    @cached_property
    def _frames(self) -> tuple[Floats, Floats, Floats, Floats]:
        base, first, second, axle = map(np.ascontiguousarray, (self.base, self.first, self.second, self.axle))
        return base, first, second, axle

    def contours(self, span: Floats, asked: Bools, eye: Floats) -> tuple[Floats, Ints]:
        """Return the lines (N, 2, 3) along which sight lines touch the straight sides of those ``asked`` (R,), and their
        rows (N,); ``span`` (R, 2) radians: where the part of the side that is there starts, and how far it goes."""
        radii = np.column_stack([self.low, self.high])
        return contour_lines(*self._frames, radii, span, asked.view(np.uint8), eye)

    @cached_property
    def domed(self) -> Bools:
        """Those (R,) that are half an ellipsoid."""
        domed: Bools = self.bulge > np.maximum(self.low, self.high) ** 2
        return domed

    @cached_property
    def reach(self) -> Floats:
        """Largest radius of each, mm (R,)."""
        size = np.maximum(np.sqrt((self.first**2).sum(axis=1)), np.sqrt((self.second**2).sum(axis=1)))
        reach: Floats = size * np.maximum(self.low, self.high)
        return reach

    def local(self, rows: Ints, points: Floats) -> Floats:
        """Return local coordinates (P, K, 3) of world points (P, K, 3) in the frusta ``rows`` (P,)."""
        turn = self.seen_from(np.zeros(3))[rows, :9].reshape(-1, 3, 3)
        local: Floats = (points - self.base[rows][:, None, :]) @ turn.transpose(0, 2, 1)
        return local

    def end_points(self, places: Floats) -> Floats:
        """Return points (R, 2, K, 3) about both ends: ``places`` (K, 2) in the measure of the rings there.

        What bulges lies within the cylinder of its widest place.
        """
        radii = np.column_stack([self.low, self.high])
        bulging = np.flatnonzero(self.bulge > 0.0)
        most = radii[bulging].max(axis=1)
        # Half an ellipsoid is widest at its end, a piece of a rounded side may be a little wider between its ends.
        swollen = np.sqrt(most**2 + self.bulge[bulging] / 4.0)
        radii[bulging] = np.where(self.domed[bulging], most, swollen)[:, None]
        points: Floats = end_points(*self._frames, radii, places)
        return points

    @cached_property
    def hulls(self) -> Floats:
        """Points (R, 2 K, 3) whose hull encloses each."""
        return self.end_points(AROUND).reshape(len(self), 2 * len(AROUND), 3)


def each_from(bases: Sequence[int] | Ints, owners: Sequence[Ints]) -> Ints:
    """Return the owners of some parts as one array, each part's counted from its base."""
    filled = [(own, base) for own, base in zip(owners, bases, strict=False) if len(own)]
    counts = [len(own) for own, _ in filled]
    joined = after_each_other([own for own, _ in filled] or [owners[0]])
    found: Ints = joined + np.repeat(np.array([base for _, base in filled], dtype=np.intp), counts)
    return found


def dome_contours(frusta: Frusta, rows: Ints, eye: Floats) -> tuple[Floats, Floats, Ints]:
    """Return the outlines of half ellipsoids ``rows``: rings (G, 9), the spans (G, 2) of them in turns, and their rows (G,).

    In the frame where the ellipsoid is the unit ball the sight lines from e touch it on the circle about e / |e|^2 in the plane
    square to e (pole and polar, e.g. Coxeter, Projective Geometry, chapter 9); of it the part on the half that is there counts.
    """
    if len(rows) == 0:
        return np.zeros((0, 9)), np.zeros((0, 2)), rows
    e = frusta.local(rows, np.broadcast_to(eye, (len(rows), 1, 3)))[:, 0]
    wide = np.maximum(frusta.low, frusta.high)[rows]
    lower = frusta.low[rows] < frusta.high[rows]  # the half below its widest ring
    e = np.column_stack([e[:, 0] / wide, e[:, 1] / wide, e[:, 2] - lower])
    away = np.sqrt((e * e).sum(axis=1))
    outside = np.flatnonzero(away > 1.0 + CLOSE)
    e, away, wide, lower, rows = e[outside], away[outside], wide[outside], lower[outside], rows[outside]
    n = e / away[:, None]
    up = np.array([0.0, 0.0, 1.0]) - n[:, 2:] * n
    level = np.sqrt((up * up).sum(axis=1)) < CLOSE
    up[level] = (1.0, 0.0, 0.0)
    up /= np.sqrt((up * up).sum(axis=1))[:, None]
    across = np.cross(n, up)
    centre, radius = n / away[:, None], np.sqrt(1.0 - 1.0 / away**2)[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        limit = -centre[:, 2] / (radius[:, 0] * up[:, 2])
    limit = np.where(up[:, 2] > EXACT, limit, np.where(centre[:, 2] >= 0.0, -np.inf, np.inf))
    half = np.arccos(np.clip(limit, -1.0, 1.0))  # the part above the widest ring is within this of the top
    start, sweep = np.where(lower, half, -half), np.where(lower, 2 * np.pi - 2 * half, 2 * half)
    own = frusta.select(rows)

    def world(v: Floats) -> Floats:
        out: Floats = (
            (wide * v[:, 0])[:, None] * own.first + (wide * v[:, 1])[:, None] * own.second + v[:, 2:] * own.axle
        )
        return out

    middle = own.base + lower[:, None] * own.axle + world(centre)
    rings = np.hstack([middle, world(radius * up), world(radius * across)])
    kept = sweep > HAIR
    return rings[kept], np.column_stack([start, sweep])[kept] / (2 * np.pi), rows[kept]


def straightened(frusta: Frusta, pieces: int = 6) -> Frusta:
    """Return the frusta with each half ellipsoid cut into straight ones that lie inside it; others are taken as straight."""
    bent = np.flatnonzero(frusta.domed)
    plain = frusta.select(np.flatnonzero(~frusta.domed))
    parts = [replace(plain, bulge=np.zeros(len(plain)))]
    z = np.sin(np.linspace(0.0, np.pi / 2, pieces + 1))
    own = frusta.select(bent)
    # Finer towards the pole, where the side turns most.
    places = np.where((own.low > own.high)[:, None], z, 1.0 - z[::-1])
    wide = np.sqrt((own.low[:, None] + (own.high - own.low)[:, None] * places) ** 2
                   + own.bulge[:, None] * places * (1.0 - places))  # fmt: skip
    for k in range(pieces if len(bent) else 0):
        base, step = places[:, k, None] * own.axle, (places[:, k + 1] - places[:, k])[:, None] * own.axle
        none = np.zeros(len(bent))
        parts.append(
            Frusta(own.owner, own.base + base, step, own.first, own.second, wide[:, k], wide[:, k + 1], none)
        )
    return Frusta.joined(parts)


def inscribed_bodies(frusta: Frusta, sides: int = 12) -> ConvexBodies:
    """Return the frusta as prisms of so many sides that lie inside them: what they fill, to 3.4 % of the radius for 12.

    What bulges is straightened first, so there are `straightened(frusta)` of them.

    For questions of shared space only: the prisms hide nothing, and their `ridge_faces` are not filled in.
    """
    frusta = straightened(frusta)
    angle: Floats = np.arange(sides, dtype=np.float64) * (2 * np.pi / sides)
    places = np.column_stack([np.cos(angle), np.sin(angle)])
    vertices = frusta.end_points(places).reshape(len(frusta), 2 * sides, 3)
    k, after = np.arange(sides), (np.arange(sides) + 1) % sides
    ridges = np.concatenate(
        [np.column_stack(pair) for pair in ((k, after), (k + sides, after + sides), (k, k + sides))]
    )
    lower, upper = vertices[:, k], vertices[:, k + sides]
    # A ring drawn together to a point still has a side face: its direction follows from the wider ring.
    wide = np.where((frusta.low >= frusta.high)[:, None, None], lower, upper)
    along = wide[:, after] - wide
    normals = np.cross(along, upper - lower)
    ends = np.cross(frusta.first, frusta.second)[:, None, :]
    normals = np.concatenate([normals, -ends, ends], axis=1)
    normals /= np.maximum(np.sqrt((normals**2).sum(axis=2)), 1e-300)[..., None]
    middle = vertices.mean(axis=1)
    on_face = np.concatenate([wide, lower[:, :1], upper[:, :1]], axis=1)
    inward = np.einsum("nfk,nfk->nf", normals, on_face - middle[:, None, :]) < 0.0
    normals = np.where(inward[..., None], -normals, normals)
    return ConvexBodies(
        vertices=vertices,
        normals=normals,
        offsets=np.einsum("nfk,nfk->nf", normals, on_face),
        ridges=np.broadcast_to(ridges, (len(frusta), *ridges.shape)).astype(np.int16),
        ridge_faces=np.zeros((len(frusta), *ridges.shape), dtype=np.int16),
    )
