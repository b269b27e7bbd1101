"""Directions as they are seen: where something runs on the paper, in the words of somebody who looks at it."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye
from isometron.volumes.box import box_corners
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["seen_side", "seen_way"]

_ALONG = 0.26
"""Tangent of 15 degrees: within it a direction is called level, or upright."""


def seen_way(eye: Eye, place: Floats, direction: Floats) -> str:
    """Return how a world direction (3,) runs on paper from a place (3,): *to the lower right*, *upwards*, *away from you*."""
    camera, along = eye.to_camera(place)[0], eye.axes @ direction
    move = along[:2] * camera[2] - camera[:2] * along[2]
    if camera[2] <= 0.0 or np.hypot(*move) <= CLOSE * np.linalg.norm(camera) * np.linalg.norm(along):
        return tr("away from you") if along[2] > 0.0 else tr("towards you")
    du, dv = move
    if abs(dv) <= _ALONG * abs(du):
        return tr("to the right") if du > 0.0 else tr("to the left")
    if abs(du) <= _ALONG * abs(dv):
        return tr("upwards") if dv > 0.0 else tr("downwards")
    if dv > 0.0:
        return tr("to the upper right") if du > 0.0 else tr("to the upper left")
    return tr("to the lower right") if du > 0.0 else tr("to the lower left")


def seen_side(eye: Eye, volume: Volume, axis: int, side: int) -> str:
    """Return where a side of a volume faces on paper: across its own direction 0 to 2, at its start (0) or its end (1)."""
    corners, rotations = box_corners([volume])
    direction = rotations[0][:, axis] * (1.0 if side else -1.0)
    return seen_way(eye, corners[0].mean(axis=0), direction)
