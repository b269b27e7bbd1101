"""A face while openings are cut into it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.faces.cutting import CHORDS
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Floats

__all__ = ["LooseFace", "chords_of"]


@dataclass
class LooseFace:
    """A face while it is worked on. frame : (12,); sides : (S, 4) and bows : (S, 7) as in `FlatFaces`."""

    frame: Floats
    sides: Floats
    bows: Floats
    near: float = 0.0
    both: bool = False

    def place(self, flat: Floats) -> Floats:
        """Return the places (K, 3) of points (K, 2) of the plane."""
        found: Floats = self.frame[:3] + flat[..., :1] * self.frame[3:6] + flat[..., 1:] * self.frame[6:9]
        return found

    def flat(self, places: Floats) -> Floats:
        """Return places (K, 3) in the two directions of the plane (K, 2)."""
        off = places - self.frame[:3]
        return np.stack([off @ self.frame[3:6], off @ self.frame[6:9]], axis=-1)


def chords_of(face: LooseFace) -> Floats:
    """Return the sides (S, 2, 2) of a face as chords."""
    if not face.bows[:, 6].any():
        return face.sides.reshape(-1, 2, 2)
    one = FlatFaces(
        face.frame[None], np.zeros(1), np.zeros(1, dtype=bool), np.array([len(face.sides)]), face.sides,
        face.place(face.sides[:, :2]), face.bows,
    )  # fmt: skip
    return one.chorded(CHORDS).sides.reshape(-1, 2, 2)
