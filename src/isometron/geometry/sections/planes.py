"""Planes in space, and how outlines, round bodies and convex bodies cut them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["Cutting"]


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
