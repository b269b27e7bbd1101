"""Lines of a plain view carried straight on to a round side: where they meet it, on both sides."""

from __future__ import annotations

import numpy as np

from isometron.geometry import cubics
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.intervals import turning_point
from isometron.geometry.tolerances import HAIR
from isometron.volumes.lines.surfaces import RoundSurface

__all__ = ["carried_onto_round"]

_STEPS = 64
"""Places on a piece at which it is asked whether it lies before the body."""
_LEAST = 4
"""Places that a curve runs through at least."""


def carried_onto_round(pieces: Floats, side: RoundSurface, across: Floats) -> Floats:
    """Return the cubic pieces (C, 12) in which a line of cubic pieces (N, 4, 3), carried both ways along a direction (3,) of length one
    that lies square to the axle, meets a round side; none where the direction runs along the axle, to the ends."""
    if abs(float(across @ side.axle)) > HAIR:
        return np.zeros((0, 12))
    found = [np.zeros((0, 12))]
    for piece in pieces:
        for low, high in _before(piece, side, across):
            # Near its outline the side runs away from the view: places crowd there, as on a circle.
            t = low + (high - low) * (1.0 - np.cos(np.linspace(0.0, np.pi, _STEPS // 2 + 1))) / 2.0
            places = _level(cubics.at(piece[None], t)[0], side, across)
            far = _half(places, side, across)
            for sign in (-1.0, 1.0):
                on = places + sign * far[:, None] * across
                if len(on) >= _LEAST:
                    found.append(cubics.spline_through(on).reshape(-1, 12))
    return np.concatenate(found)


def _level(places: Floats, side: RoundSurface, across: Floats) -> Floats:
    """Return places (K, 3) moved along the direction to where the axle is."""
    off = places - side.origin
    moved: Floats = places - (off @ across)[:, None] * across
    return moved


def _half(places: Floats, side: RoundSurface, across: Floats) -> Floats:
    """Return how far (K,) the side lies from places (K, 3) beside the axle, along the direction; of a section that is an ellipse."""
    off = places - side.origin
    radius, _ = side.radius(off @ side.axle)
    along = np.array([across @ side.first / side.flattened[0], across @ side.second / side.flattened[1]])
    here = np.stack([off @ side.first / side.flattened[0], off @ side.second / side.flattened[1]], axis=1)
    a, b, c = float(along @ along), here @ along, (here * here).sum(axis=1) - radius**2
    root = np.sqrt(np.maximum(b * b - a * c, 0.0))
    found: Floats = root / a
    return found


def _before(piece: Floats, side: RoundSurface, across: Floats) -> list[tuple[float, float]]:
    """Return the stretches of a piece (4, 3) that lie before the body."""

    def within(t: Floats) -> Bools:
        places = _level(cubics.at(piece[None], t)[0], side, across)
        along = (places - side.origin) @ side.axle
        inside: Bools = (side.off(places) < 0.0) & (along >= -HAIR) & (along <= side.long + HAIR)
        return inside

    steps = np.linspace(0.0, 1.0, _STEPS + 1)
    mask = within(steps)
    cuts = [0.0] if mask[0] else []
    for k in np.flatnonzero(mask[1:] != mask[:-1]):
        cuts.append(turning_point(lambda t: bool(within(np.array([t]))[0]), steps[k], steps[k + 1]))
    if mask[-1]:
        cuts.append(1.0)
    return [(a, b) for a, b in zip(cuts[::2], cuts[1::2], strict=True) if b - a > HAIR]
