"""Planes in space, and how outlines, round bodies and convex bodies cut them."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline, inside_parts
from isometron.geometry.sections.pieces import Piece, crossings, ellipse, straight
from isometron.geometry.sections.regions import Region, region_of
from isometron.geometry.tolerances import CLOSE

__all__ = ["Cutting", "conic_region", "convex_region", "half_plane", "prism_region"]

_ALONG = 1e-9
"""A prism that runs along the plane within this part cuts strips out of it."""


@dataclass(frozen=True)
class Cutting:
    """A plane: a place on it (3,), and its two directions (3,), of length one; reach : mm, beyond all that is cut."""

    origin: Floats
    x: Floats
    y: Floats
    reach: float

    @staticmethod
    def through(place: Floats, normal: Floats, reach: float) -> Cutting:
        """Return the plane through a place (3,) square to a direction (3,)."""
        normal = np.asarray(normal, dtype=float) / np.sqrt(np.dot(normal, normal))
        least = np.eye(3)[int(np.argmin(np.abs(normal)))]
        x = np.cross(least, normal)
        x = x / np.sqrt(x @ x)
        return Cutting(np.asarray(place, dtype=float), x, np.cross(normal, x), reach)

    @property
    def normal(self) -> Floats:
        """Square to the plane, (3,)."""
        return np.cross(self.x, self.y)

    def world(self, places: Floats) -> Floats:
        """Return the places (N, 3) of points (N, 2) of the plane."""
        found: Floats = self.origin + places[:, :1] * self.x + places[:, 1:] * self.y
        return found

    def way(self, direction: Floats) -> Floats:
        """Return a direction (2,) of the plane as one of the world (3,)."""
        found: Floats = direction[0] * self.x + direction[1] * self.y
        return found


def _square(reach: float) -> Floats:
    return reach * np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])


def _polygon(corners: Floats) -> Region | None:
    if len(corners) < 3:
        return None
    return Region(tuple(straight(a, b) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True)))


def faces_region(cutting: Cutting, faces: FlatFaces) -> Region | None:
    """Return what a plane cuts out of a closed body of flat faces; of the arcs of its faces by chords. None where it misses it."""
    faces = faces.chorded()
    pieces: list[Piece] = []
    first = faces.first
    for row in range(len(faces)):
        frame, sides = faces.frames[row], faces.sides[first[row] : first[row + 1]]
        ends = frame[:3] + sides.reshape(-1, 2)[:, :1] * frame[3:6] + sides.reshape(-1, 2)[:, 1:] * frame[6:9]
        off = ((ends - cutting.origin) @ cutting.normal).reshape(-1, 2)
        met = np.flatnonzero((off[:, 0] >= 0.0) != (off[:, 1] >= 0.0))
        if len(met) < 2:
            continue
        ends = ends.reshape(-1, 2, 3)[met]
        part = (off[met, 0] / (off[met, 0] - off[met, 1]))[:, None]
        places = ends[:, 0] + part * (ends[:, 1] - ends[:, 0]) - cutting.origin
        flat = np.stack([places @ cutting.x, places @ cutting.y], axis=1)
        way = np.cross(frame[9:], cutting.normal)
        flat = flat[np.argsort(places @ way, kind="stable")]
        pieces += [
            straight(one, two)
            for one, two in zip(flat[::2], flat[1::2], strict=True)
            if np.abs(two - one).max() > CLOSE
        ]
    return Region(tuple(pieces)) if pieces else None


def half_plane(cutting: Cutting, normals: Floats, offsets: Floats) -> Region | None:
    """Return where the plane lies behind all of some planes: normals (F, 3) . place <= offsets (F,); None where nowhere."""
    corners = _square(cutting.reach)
    for normal, offset in zip(normals, offsets, strict=True):
        if not np.any(normal):
            continue
        way = np.array([normal @ cutting.x, normal @ cutting.y])
        level = float(offset - normal @ cutting.origin)
        over = corners @ way - level
        kept = []
        for k in range(len(corners)):
            a, b = over[k], over[(k + 1) % len(corners)]
            if a <= 0.0:
                kept.append(corners[k])
            if (a <= 0.0) != (b <= 0.0):
                kept.append(corners[k] + a / (a - b) * (corners[(k + 1) % len(corners)] - corners[k]))
        corners = np.array(kept).reshape(-1, 2)
        if len(corners) < 3:
            return None
    return _polygon(corners)


def convex_region(cutting: Cutting, bodies: ConvexBodies, row: int) -> Region | None:
    """Return what a plane cuts out of a convex body."""
    return half_plane(cutting, bodies.normals[row], bodies.offsets[row])


def prism_region(cutting: Cutting, outline: Outline, origin: Floats, x: Floats, y: Floats) -> Region | None:
    """Return what a plane cuts out of an endless prism: an outline in the directions x and y (3,) from a place (3,)."""
    turn = np.array([[cutting.x @ x, cutting.y @ x], [cutting.x @ y, cutting.y @ y]])
    shift = np.array([(cutting.origin - origin) @ x, (cutting.origin - origin) @ y])
    if abs(float(np.linalg.det(turn))) > _ALONG:
        return _carried(region_of(outline), np.linalg.inv(turn), shift)
    # The plane runs along the prism: its outline is met along a line.
    k = int(np.argmax(np.abs(turn).sum(axis=0)))
    across = turn[:, k] / np.hypot(*turn[:, k])
    rate = turn.T @ across  # how far along that line a step on the plane goes
    size = float(np.hypot(*rate))
    reach = cutting.reach * 3.0
    spans = _met(outline, shift - reach * across, shift + reach * across)
    pieces: list[Piece] = []
    step = rate / size
    along = np.array([-step[1], step[0]]) * reach
    for low, high in spans:
        one, two = ((2.0 * part - 1.0) * reach / size * step for part in (low, high))
        corners = [one - along, two - along, two + along, one + along]
        pieces += [straight(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
    return Region(tuple(pieces)) if pieces else None


def _carried(region: Region, inverse: Floats, shift: Floats) -> Region:
    """Return a region of an outline's plane as one of the cutting plane."""
    pieces = []
    for piece in region.pieces:
        first = inverse @ (piece.first - shift) if piece.sweep == 0.0 else inverse @ piece.first
        pieces.append(Piece(inverse @ (piece.centre - shift), first, inverse @ piece.second, piece.sweep))
    return Region(tuple(pieces))


def _met(outline: Outline, one: Floats, two: Floats) -> list[tuple[float, float]]:
    """Return the parts (t0, t1) of a line that lie inside an outline, its arcs true."""
    if not outline.bends:
        return inside_parts(outline.corners, one, two)
    region = region_of(outline)
    line = straight(one, two)
    cuts = sorted({0.0, 1.0, *(u for piece in region.pieces for u in crossings(line, piece))})
    middles = np.array([(a + b) / 2.0 for a, b in pairwise(cuts)])
    inside = region.holds(line.at(middles))
    found: list[tuple[float, float]] = []
    for (low, high), kept in zip(pairwise(cuts), inside, strict=True):
        if kept and high > low:
            if found and found[-1][1] == low:
                found[-1] = (found[-1][0], high)
            else:
                found.append((low, high))
    return found


def conic_region(cutting: Cutting, quadric: Floats) -> Region | None:
    """Return where a plane lies inside a quadric: X' Q X <= 0 for X = (x, y, z, 1), Q (4, 4), where that is an ellipse.

    None where the plane passes it by. Raises `ValueError` where the section is no ellipse.
    """
    frame = np.column_stack([np.append(cutting.x, 0.0), np.append(cutting.y, 0.0), np.append(cutting.origin, 1.0)])
    conic = frame.T @ quadric @ frame
    square, line, level = conic[:2, :2], conic[:2, 2], float(conic[2, 2])
    values, axes = np.linalg.eigh(square)
    if not values[0] > 1e-12 * abs(values[1]):
        raise ValueError("no ellipse")
    centre = -np.linalg.solve(square, line)
    depth = -(level + float(line @ centre))
    if depth <= 0.0:
        return None
    first, second = (np.sqrt(depth / values[k]) * axes[:, k] for k in (0, 1))
    if float(first[0] * second[1] - first[1] * second[0]) < 0.0:
        second = -second
    return Region(tuple(ellipse(centre, first, second)))
