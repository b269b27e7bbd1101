"""The faces of a turned body: its flat ends, and its round side as a surface with a height and an angle."""

from __future__ import annotations

from math import ceil, degrees, pi, sqrt

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.profile import profile_sides
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["ROUND_SIDE", "round_side", "side_place", "turned_faces", "turned_sides"]

ROUND_SIDE = "side"
"""The face id of a turned body's round side."""
_SMALL = 1e-4
"""Of an axle's length: the step that the slope of a side is measured by."""

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


def turned_sides(volume: Volume) -> dict[str, RoundSurface]:
    """Return the round side of a turned body by its id."""
    assert isinstance(volume, Turned)
    return {ROUND_SIDE: round_side(volume)}


def round_side(volume: Turned) -> RoundSurface:
    """Return the round side of a turned body, unrolled at its greatest radius; its angle begins as in `turned.side_place`."""
    corner, rotation = turned_frame(volume)
    k = DIRECTIONS.index(volume.axle)
    a, b = (k + 1) % 3, (k + 2) % 3
    long, half = volume.size[k], (volume.size[a] / 2.0, volume.size[b] / 2.0)
    origin = corner + rotation[:, a] * half[0] + rotation[:, b] * half[1]
    wide = max(half)
    return RoundSurface(
        origin, rotation[:, k], rotation[:, a], rotation[:, b], wide, lambda h: _radius(volume, h, long, wide),
        (half[0] / wide, half[1] / wide), long, breaks=tuple(part.two.at * long for part in profile_sides(volume.profile)[:-1]),
    )  # fmt: skip


def _radius(volume: Turned, along: Floats, long: float, wide: float) -> tuple[Floats, Floats]:
    """Return how far the side lies from the axle, and how fast that grows along it."""
    part = np.clip(along / long, 0.0, 1.0)
    low, high = np.clip(part - _SMALL, 0.0, 1.0), np.clip(part + _SMALL, 0.0, 1.0)
    here, before, after = (_widths(volume, at) for at in (part, low, high))
    return wide * here, wide * (after - before) / np.maximum((high - low) * long, 1e-300)


def _widths(volume: Turned, part: Floats) -> Floats:
    sides = profile_sides(volume.profile)
    found = np.zeros(len(part))
    for side in sides:
        inside = (part >= side.one.at - 1e-12) & (part <= side.two.at + 1e-12)
        if inside.any():
            found[inside] = side.width(part[inside])
    return found
