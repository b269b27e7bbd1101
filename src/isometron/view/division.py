"""Equal parts and repeats on a line in perspective, from the true places along it.

With the camera points S and E of both ends the place t lies at S + t (E - S). On paper, with the end the part e of the way
from the start P to the vanishing point V, it lies at (P + t k V) / (1 + t k), k = e / (1 - e) (cross-ratio; Hartley and
Zisserman, Multiple View Geometry, 2004, section 2.5).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.view.eye import Eye

__all__ = ["equal_parts", "on_edge", "on_paper", "row_places"]


def equal_parts(parts: int) -> Floats:
    """Return the places (parts + 1,) that part a line from 0 to 1."""
    return np.linspace(0.0, 1.0, parts + 1)


def row_places(copies: int, gap_ratio: float) -> Floats:
    """Return where each of some copies begins and ends (copies, 2), in lengths of the first one; the gap likewise."""
    start = np.arange(float(copies)) * (1.0 + gap_ratio)
    return np.column_stack([start, start + 1.0])


def on_edge(eye: Eye, start: ArrayLike, end: ArrayLike, places: ArrayLike) -> Floats:
    """Return paper points (N, 2) at true places (N,) along a segment in the world; NaN behind the eye."""
    one, two = (np.asarray(p, dtype=np.float64) for p in (start, end))
    t = np.asarray(places, dtype=np.float64).reshape(-1, 1)
    return eye.picture(eye.to_camera(one + t * (two - one)))


def on_paper(start: ArrayLike, vanishing: ArrayLike, end_fraction: float, places: ArrayLike) -> Floats:
    """Return paper points (N, 2) at true places (N,) from the pictures of the start and of the vanishing point.

    end_fraction : how far the end lies on the way to the vanishing point, below 1; NaN for places behind the eye.
    """
    p, v = (np.asarray(at, dtype=np.float64) for at in (start, vanishing))
    k = end_fraction / (1.0 - end_fraction)
    weight = 1.0 + k * np.asarray(places, dtype=np.float64).reshape(-1, 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        points: Floats = np.where(weight > 0.0, (p + (weight - 1.0) * v) / weight, np.nan)
    return points
