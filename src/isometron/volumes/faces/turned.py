"""The faces of a turned body: its flat ends, and its round side as a surface with a height and an angle."""

from __future__ import annotations

from math import ceil, degrees, pi, sqrt

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["side_place", "turned_faces"]

_OFF, _MOST = 0.004, 2000
"""mm that the outline of an end may stand inside its circle, and how many corners it has at most."""


def turned_faces(volume: Volume) -> list[BodyFace]:
    """Return the flat ends of a turned body, ``end.0`` where its axle starts and ``end.1``; none where it ends in a point.

    Their directions are those of its own axes, so that what lies on an end keeps its place when the body is steered.
    """
    assert isinstance(volume, Turned)
    corner, rotation = turned_frame(volume)
    k = DIRECTIONS.index(volume.axle)
    a, b = (n for n in range(3) if n != k)
    half = np.array(volume.size) / 2.0
    middle = corner + rotation @ (half * (np.arange(3) != k))
    rings = sorted(volume.profile, key=lambda ring: ring.at)
    found = []
    for number, (ring, sense) in enumerate(((rings[0], -1.0), (rings[-1], 1.0))):
        if ring.wide <= CLOSE:
            continue
        centre = middle + ring.at * volume.size[k] * rotation[:, k]
        outline = _ellipse(ring.wide * half[a], ring.wide * half[b])
        found.append(
            BodyFace(f"end.{number}", centre, rotation[:, a], rotation[:, b], sense * rotation[:, k], (outline,))
        )
    return found


def _ellipse(one: float, two: float) -> Floats:
    """Return the corners (K, 2) of an ellipse's outline, mm, four of them on its axes."""
    steps = 4 * min(max(ceil(pi / sqrt(2.0 * _OFF / max(one, two)) / 4.0), 12), _MOST // 4)
    angle = np.arange(steps) * (2.0 * pi / steps)
    return np.column_stack([one * np.cos(angle), two * np.sin(angle)])


def side_place(volume: Turned, place: Floats) -> tuple[float, float]:
    """Return where a world place (3,) lies on a body's round side: mm along the axle from its start, and degrees about it.

    The angle is 0 at the start of the axes' first half axis and grows by the right-hand rule about the axle.
    """
    corner, rotation = turned_frame(volume)
    k = DIRECTIONS.index(volume.axle)
    own = (place - corner) @ rotation - np.array(volume.size) / 2.0
    first, second = (own[(k + step) % 3] for step in (1, 2))
    return float(own[k]) + volume.size[k] / 2.0, degrees(float(np.arctan2(second, first))) % 360.0
