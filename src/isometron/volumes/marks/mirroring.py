"""The mirror image of what lies on a thing: about its own middle, between its left and its right side."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.volumes.box import box_corners
from isometron.volumes.volume import Volume

__all__ = ["middle_axis", "mirror_of"]


def middle_axis(volume: Volume) -> int:
    """Return the own direction, 0 or 1, from a thing's one side to the other: the one that its front does not look along."""
    return 1 if volume.ahead[0] == "x" else 0


def mirror_of(volume: Volume) -> tuple[Floats, Floats]:
    """Return (L, o) so that the mirror image of a place p (3,) about the thing's middle is L p + o; L is (3, 3)."""
    corners, rotations = box_corners([volume])
    normal = rotations[0][:, middle_axis(volume)]
    middle = corners[0].mean(axis=0)
    return np.eye(3) - 2.0 * np.outer(normal, normal), 2.0 * float(middle @ normal) * normal
