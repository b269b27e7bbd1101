"""Clipping of lines on paper by a rectangle."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.clip_loops import clipped
from isometron.geometry.frames import Floats, Ints

__all__ = ["clip_rows", "clip_to_rectangle", "rectangle_exit"]


def clip_to_rectangle(lines: ArrayLike, left: float, lower: float, right: float, upper: float) -> Floats:
    """Clip paper lines (N, 4) of u1, v1, u2, v2 to a rectangle; lines wholly outside are dropped."""
    return clip_rows(lines, left, lower, right, upper)[0]


def clip_rows(lines: ArrayLike, left: float, lower: float, right: float, upper: float) -> tuple[Floats, Ints]:
    """Clip lines as `clip_to_rectangle` does; return what is left (M, 4), and of which line each is (M,)."""
    found: tuple[Floats, Ints] = clipped(
        np.ascontiguousarray(lines, dtype=np.float64).reshape(-1, 4), left, lower, right, upper
    )
    return found


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
