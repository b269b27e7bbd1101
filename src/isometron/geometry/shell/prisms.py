"""Outlines with arcs carried straight through: what cuts a body by a view, what an opening takes out of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import pi

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Bend, Outline
from isometron.geometry.shell.parts import Angles, Meshed, Round, Seamed, loft, round_frame, strip
from isometron.geometry.shell.surfaces import LINE, Surfaces, cross, plane_row, turned_row
from isometron.geometry.tolerances import CLOSE

__all__ = ["Prism"]

_TOUCHING = 1.0 - CLOSE
_ROUND_CURVE = (0.0, 1.0, 1.0)


@dataclass(frozen=True)
class Prism(Seamed):
    """An outline, counter-clockwise, on the plane through ``place`` along the unit vectors x and y, carried ``deep`` mm along x cross y.

    sides : the names of the outline's sides; ends : of the face where it begins and the one where it ends.
    """

    outline: Outline
    place: Floats
    x: Floats
    y: Floats
    deep: float
    sides: tuple[str, ...]
    ends: tuple[str, str]

    @property
    def own_names(self) -> tuple[str, ...]:
        """Of its sides, then of both ends."""
        return (*self.sides, *self.ends)

    @cached_property
    def rounds(self) -> tuple[Round, ...]:
        """Its bends, with their ends at both ends of the prism."""
        corners, found = self.outline.corners, []
        for k, bend in self.outline.bends.items():
            ends = self._on(np.array([corners[k], corners[(k + 1) % len(corners)]]))
            radius = max(float(np.hypot(*bend.first)), float(np.hypot(*bend.second)))
            found.append(Round(k, ends, radius, abs(bend.sweep) >= 2.0 * pi - CLOSE))
        return tuple(found)

    @property
    def _z(self) -> Floats:
        return cross(self.x, self.y)

    def _on(self, flat: Floats) -> Floats:
        found: Floats = self.place + flat[:, :1] * self.x + flat[:, 1:] * self.y
        return found

    @cached_property
    def made(self) -> tuple[Surfaces, tuple[tuple[int, int, int], ...]]:
        """Surfaces of its sides and ends, then those that seams run on; and the seams."""
        corners, count, z = self.outline.corners, len(self.outline.corners), self._z
        rows, ways = [], []
        for k in range(count):
            one, two = corners[k], corners[(k + 1) % count]
            bend = self.outline.bends.get(k)
            if bend is None:
                way = (two - one) / np.hypot(*(two - one))
                rows.append(plane_row(self._on(one[None])[0], way[1] * self.x - way[0] * self.y))
                ways.append((way, way))
            else:
                first, second = (w[0] * self.x + w[1] * self.y for w in _square(bend))
                rows.append(turned_row(LINE, self._on(bend.centre[None])[0], z, first, second, _ROUND_CURVE))
                ends = [bend.tangent(t) for t in (bend.start, bend.start + bend.sweep)]
                ways.append((ends[0] / np.hypot(*ends[0]), ends[1] / np.hypot(*ends[1])))
        rows += [plane_row(self.place, -z), plane_row(self.place + self.deep * z, z)]
        seams = []
        for k in range(count):
            after = (k + 1) % count
            bent = k in self.outline.bends or after in self.outline.bends
            if bent and float(ways[k][1] @ ways[after][0]) > _TOUCHING and count > 1:
                seams.append((k, after, len(rows)))
                way = ways[k][1]
                rows.append(plane_row(self._on(corners[after][None])[0], way[0] * self.x + way[1] * self.y))
        return Surfaces.of(rows), tuple(seams)

    def meshed(self, angles: Angles) -> Meshed:
        """Return its triangles; raises `ValueError` for an outline that crosses itself."""
        import manifold3d
        from shapely import is_valid, linearrings

        flat, side = self.flat(angles)
        if not is_valid(linearrings(flat)):
            raise ValueError("an outline crosses itself")
        ring = self._on(flat)
        convex = len(flat) == 4 and not self.outline.bends and _is_convex(flat)
        cap = strip(4) if convex else np.asarray(manifold3d.triangulate([flat]), dtype=np.intp).reshape(-1, 3)
        foot = len(self.sides)
        return loft(np.stack([ring, ring + self.deep * self._z]), np.array([side]), (foot, foot + 1), cap)

    def flat(self, angles: Angles) -> tuple[Floats, list[int]]:
        """Return the points (N, 2) of the outline with its bends in chords, and the side that begins at each."""
        corners, parts, side = self.outline.corners, [], []
        for k in range(len(corners)):
            bend = self.outline.bends.get(k)
            points = (
                corners[k][None]
                if bend is None
                else np.concatenate([corners[k][None], self._parted(k, bend, angles(k))])
            )
            parts.append(points)
            side += [k] * len(points)
        return np.concatenate(parts), side

    def _parted(self, k: int, bend: Bend, angles: Floats) -> Floats:
        """Return the points (N, 2) of a bend between its ends, at the angles of its surface."""
        _, first, second = round_frame(self.surfaces, k)
        centre = bend.centre

        def flat(way: Floats) -> Floats:
            return np.array([way @ self.x, way @ self.y])

        u, v = flat(first), flat(second)

        def angle_of(t: float) -> float:
            off = bend.at(np.array([t]))[0] - centre
            return float(np.arctan2(off @ v / (v @ v), off @ u / (u @ u)))

        begin, quarter = angle_of(bend.start), angle_of(bend.start + np.sign(bend.sweep) * pi / 2.0)
        sense = 1.0 if (quarter - begin) % (2.0 * pi) < pi else -1.0
        past = (sense * (angles - begin)) % (2.0 * pi)
        far, slack = abs(bend.sweep), 1e-7
        inner = np.sort(past[(past > slack) & (past < far - slack)])
        t = begin + sense * inner
        return centre + np.cos(t)[:, None] * u + np.sin(t)[:, None] * v


def _square(bend: Bend) -> tuple[Floats, Floats]:
    """Return the half axes (2,) of a bend, square to each other, the second to the left of the first."""
    first, second = bend.first, bend.second
    turned = first[0] * second[1] - first[1] * second[0]
    return first, second if turned > 0.0 else -second


def _is_convex(flat: Floats) -> bool:
    way = np.roll(flat, -1, axis=0) - flat
    after = np.roll(way, -1, axis=0)
    return bool((way[:, 0] * after[:, 1] - way[:, 1] * after[:, 0] > 0.0).all())
