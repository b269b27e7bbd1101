"""A closed body of flat faces as corners, and loops of them round its faces."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Floats, Ints, square_to
from isometron.geometry.outlines import holds, signed_area

__all__ = ["RUNS_ON", "Mesh", "mesh_of"]

RUNS_ON = np.cos(np.radians(8.0))
"""Faces that meet at a smaller angle than this run on into one another."""

_GRAIN = 1e-5
"""mm: corners of faces that are nearer than this are one."""
_STRAIGHT = 1e-9


@dataclass(frozen=True)
class Mesh:
    """places : (V, 3) corners; loops : of each face its loops of corners, counter-clockwise as seen from outside, holes the other
    way; frames : (F, 12) as in `FlatFaces`."""

    places: Floats
    loops: tuple[tuple[tuple[int, ...], ...], ...]
    frames: Floats

    @cached_property
    def left(self) -> dict[tuple[int, int], int]:
        """The face to the left of every edge, gone from one corner to another."""
        return {
            (one, loop[(k + 1) % len(loop)]): face
            for face, loops in enumerate(self.loops)
            for loop in loops
            for k, one in enumerate(loop)
        }

    @cached_property
    def faces_at(self) -> dict[int, list[int]]:
        """The faces at every corner, one that comes there twice twice."""
        found: dict[int, list[int]] = {}
        for face, loops in enumerate(self.loops):
            for loop in loops:
                for corner in loop:
                    found.setdefault(corner, []).append(face)
        return found

    def stands_out(self, edge: tuple[int, int]) -> bool:
        """Whether the two faces of an edge meet in an outer one."""
        one, two = (self.frames[self.left[way], 9:] for way in (edge, edge[::-1]))
        inward = square_to(one, self.places[edge[1]] - self.places[edge[0]])
        return bool(two @ inward < 0.0)

    def edges_between(self, one: int, two: int) -> list[tuple[int, int]]:
        """Return the edges that have one face to their left and another to their right."""
        return [edge for edge, face in self.left.items() if face == one and self.left.get(edge[::-1]) == two]


def mesh_of(body: FlatFaces) -> Mesh:
    """Return a closed body of straight sides as a mesh; corners on straight runs of all their faces are none."""
    first = body.first
    frames = body.frames
    own = np.repeat(frames, body.count, axis=0)
    ends = np.stack([own[:, :3] + body.sides[:, k, None] * own[:, 3:6] + body.sides[:, k + 1, None] * own[:, 6:9] for k in (0, 2)], axis=1)  # fmt: skip
    keys = np.round(ends.reshape(-1, 3) / _GRAIN).astype(np.int64)
    _, at, inverse = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    places, rows = ends.reshape(-1, 3)[at], inverse.reshape(-1, 2)
    loops = [_loops(rows[first[k] : first[k + 1]], places, frames[k]) for k in range(len(body))]
    real: set[int] = set()
    for face in loops:
        for loop in face:
            real |= {
                corner
                for k, corner in enumerate(loop)
                if _turns(places[[loop[k - 1], corner, loop[(k + 1) % len(loop)]]])
            }
    kept = tuple(tuple(tuple(c for c in loop if c in real) for loop in face) for face in loops)
    return Mesh(places, kept, frames)


def _turns(three: Floats) -> bool:
    (a, b, c), (d, e, f), (g, h, i) = three.tolist()
    one, two = (d - a, e - b, f - c), (g - d, h - e, i - f)
    x, y, z = one[1] * two[2] - one[2] * two[1], one[2] * two[0] - one[0] * two[2], one[0] * two[1] - one[1] * two[0]
    long = sum(part * part for part in one) * sum(part * part for part in two)
    found: bool = x * x + y * y + z * z > _STRAIGHT * long
    return found


def _loops(sides: Ints, places: Floats, frame: Floats) -> list[list[int]]:
    """Return the loops of a face's sides (S, 2), which come in any order."""
    after: dict[int, list[int]] = {}
    for one, two in sides.tolist():
        if one != two:
            after.setdefault(one, []).append(two)
    found: list[list[int]] = []
    while any(after.values()):
        start = next(one for one, ways in after.items() if ways)
        loop, here = [start], after[start].pop()
        while here != start and after.get(here):
            loop.append(here)
            here = after[here].pop()
        found.append(loop)
    flat = [_flat(places[loop], frame) for loop in found]
    turned = []
    for number, loop in enumerate(found):
        around = sum(holds(other, flat[number][0], -1e-9) for n, other in enumerate(flat) if n != number)
        inward = around % 2 == 1
        turned.append(loop if (signed_area(flat[number]) > 0.0) is not inward else loop[::-1])
    return turned


def _flat(places: Floats, frame: Floats) -> Floats:
    """Return places (K, 3) by a frame's two directions (K, 2), counter-clockwise as seen from where it looks."""
    off = places - frame[:3]
    flat: Floats = np.stack([off @ frame[3:6], off @ frame[6:9]], axis=1)
    return flat * (1.0, -1.0) if float(square_to(frame[3:6], frame[6:9]) @ frame[9:]) < 0.0 else flat
