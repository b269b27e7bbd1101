"""Planes in space, and how outlines, round bodies and convex bodies cut them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Floats
from isometron.geometry.sections.pieces import Piece, straight
from isometron.geometry.sections.regions import Region
from isometron.geometry.tolerances import CLOSE

__all__ = ["Cutting", "faces_region"]


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
