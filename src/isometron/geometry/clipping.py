"""Clipping of many lines on paper by a rectangle (Liang and Barsky 1984)."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats

__all__ = ["clip_to_rectangle", "rectangle_exit"]


def _clip_parameters(at_start: Floats, at_end: Floats) -> tuple[Floats, Floats]:
    """Return the interval t0, t1 (N,) of each segment on which every condition is >= 0; t0 > t1 where none is.

    ``at_start``, ``at_end`` : (K, N) values of K linear functions at the two ends of N segments.
    """
    t0 = np.zeros(at_start.shape[1])
    t1 = np.ones(at_start.shape[1])
    for a, b in zip(at_start, at_end, strict=True):
        with np.errstate(divide="ignore", invalid="ignore"):
            cross = a / (a - b)
        t0 = np.where((a < 0) & (b >= 0), np.maximum(t0, cross), t0)
        t1 = np.where((a >= 0) & (b < 0), np.minimum(t1, cross), t1)
        t1 = np.where((a < 0) & (b < 0), -1.0, t1)
    return t0, t1


def clip_to_rectangle(lines: ArrayLike, left: float, lower: float, right: float, upper: float) -> Floats:
    """Clip paper lines (N, 4) of u1, v1, u2, v2 to a rectangle; lines wholly outside are dropped."""
    lines = np.asarray(lines, dtype=np.float64).reshape(-1, 4)
    kept, t0, t1 = _rectangle_parameters(lines, left, lower, right, upper)
    a, d = lines[kept, :2], lines[kept, 2:] - lines[kept, :2]
    return np.hstack([a + t0[:, None] * d, a + t1[:, None] * d])


def _rectangle_parameters(
    lines: Floats, left: float, lower: float, right: float, upper: float
) -> tuple[np.ndarray, Floats, Floats]:
    def sides(u: Floats, v: Floats) -> Floats:
        return np.stack([u - left, right - u, v - lower, upper - v])

    t0, t1 = _clip_parameters(sides(lines[:, 0], lines[:, 1]), sides(lines[:, 2], lines[:, 3]))
    kept = np.flatnonzero(t1 > t0)
    return kept, t0[kept], t1[kept]


def rectangle_exit(
    inside: tuple[float, float], towards: tuple[float, float], rectangle: tuple[float, float, float, float]
) -> tuple[float, float]:
    """Return the point of the segment ``inside`` -> ``towards`` where it leaves (left, lower, right, upper)."""
    left, lower, right, upper = rectangle
    # One segment at a time, and several a frame: plain numbers are quicker here than arrays of one.
    part = 1.0
    for start, end, least, most in zip(inside, towards, (left, lower), (right, upper), strict=True):
        limit = min(max(end, least), most)
        if limit != end and end != start:
            part = min(part, (limit - start) / (end - start))
    if not 0.0 <= part < 1.0:
        return towards
    return inside[0] + part * (towards[0] - inside[0]), inside[1] + part * (towards[1] - inside[1])
