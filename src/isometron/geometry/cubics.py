"""Cubic pieces in Bézier's form, (N, 4, K): points on them, parts of them, their length, and smooth ones through points.

Farin, *Curves and Surfaces for CAGD* (2002), chapters 4 (blossoms), 9 (cubic splines through points).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.geometry.along import summed_along
from isometron.geometry.frames import Bools, Floats

__all__ = ["at", "length", "part", "smooth_through", "spline_through", "velocity"]


def at(pieces: Floats, t: Floats) -> Floats:
    """Return the points (N, M, K) at parameters (M,) from 0 to 1."""
    s = 1.0 - t
    weights = np.stack([s**3, 3.0 * s**2 * t, 3.0 * s * t**2, t**3], axis=-1)
    found: Floats = np.einsum("mi,nik->nmk", weights, pieces)
    return found


def velocity(pieces: Floats, t: Floats) -> Floats:
    """Return the derivatives (N, M, K) at parameters (M,)."""
    s = 1.0 - t
    weights = np.stack([s**2, 2.0 * s * t, t**2], axis=-1)
    found: Floats = 3.0 * np.einsum("mi,nik->nmk", weights, np.diff(pieces, axis=1))
    return found


def part(pieces: Floats, low: Floats, high: Floats) -> Floats:
    """Return the parts of pieces (N, 4, K) between parameters (N,), by their blossoms."""

    def blossom(r: Floats, s: Floats, t: Floats) -> Floats:
        found = pieces
        for u in (r, s, t):
            found = (1.0 - u)[:, None, None] * found[:, :-1] + u[:, None, None] * found[:, 1:]
        return found[:, 0]

    ends = ((low, low, low), (low, low, high), (low, high, high), (high, high, high))
    return np.stack([blossom(*three) for three in ends], axis=1)


def length(pieces: Floats) -> float:
    """Return the length of all pieces together."""
    return summed_along(lambda t: np.sqrt((velocity(pieces, t) ** 2).sum(axis=2)).sum(axis=0))


def smooth_through(
    points: Floats, *, closed: bool = False, sharp: Bools | None = None, ways: Sequence[Floats | None] | None = None
) -> Floats:
    """Return the cubic pieces (N - 1, 4, K), N when closed, of a smooth curve through points (N, K), two at least.

    At each point it runs along the parabola through its neighbours, by the lengths of the chords; at ends along that of the last
    three. sharp : (N,) corners, at which it turns as it comes; ways : (N,) directions it is held to, of any length, None for free.
    """
    count = len(points)
    sharp = np.zeros(count, dtype=bool) if sharp is None else sharp
    after = np.roll(points, -1, axis=0) - points if closed else np.diff(points, axis=0)
    size = np.maximum(np.sqrt((after * after).sum(axis=1)), 1e-300)
    speed = after / size[:, None]
    pieces = []
    for k in range(len(after)):
        one, two = k, (k + 1) % count
        start = _slope(speed, size, one, closed=closed, sharp=sharp, out=True)
        end = _slope(speed, size, two, closed=closed, sharp=sharp, out=False)
        if ways is not None:
            start, end = (_held(slope, way) for slope, way in ((start, ways[one]), (end, ways[two])))
        third = size[k] / 3.0
        pieces.append([points[one], points[one] + third * start, points[two] - third * end, points[two]])
    return np.array(pieces)


def spline_through(points: Floats) -> Floats:
    """Return the cubic pieces (N - 1, 4, K) of the spline through points (N, K), four at least, that lie evenly along a smooth curve:
    off it by the fourth power of their step."""
    from scipy.interpolate import CubicSpline  # here, because few drawings have such curves

    step = np.arange(len(points), dtype=np.float64)
    slopes = CubicSpline(step, points, axis=0)(step, 1) / 3.0
    return np.stack([points[:-1], points[:-1] + slopes[:-1], points[1:] - slopes[1:], points[1:]], axis=1)


def _held(slope: Floats, way: Floats | None) -> Floats:
    if way is None:
        return slope
    size = float(np.sqrt(way @ way))
    return slope if size <= 0.0 else way / size * np.sqrt(slope @ slope)


def _slope(speed: Floats, size: Floats, k: int, *, closed: bool, sharp: Bools, out: bool) -> Floats:
    """Return how a curve leaves point k (``out``), or comes to it, per mm of chord."""
    legs, count = len(speed), len(sharp)
    own, other = (k, k - 1) if out else (k - 1, k)
    if closed:
        own, other = own % legs, other % legs
    free = not closed and k in (0, count - 1)
    if not free and not sharp[k]:
        slope: Floats = (speed[own] * size[other] + speed[other] * size[own]) / (size[own] + size[other])
        return slope
    # An end: the parabola of the last three points; where the next point is a corner too the leg is straight.
    neighbour = (k + 1) % count if out else (k - 1) % count
    beyond = own + 1 if out else own - 1
    if closed:
        beyond %= legs
    ends_there = (not closed and neighbour in (0, count - 1)) or sharp[neighbour]
    if ends_there or not 0 <= beyond < legs:
        straight: Floats = speed[own]
        return straight
    there = (speed[own] * size[beyond] + speed[beyond] * size[own]) / (size[own] + size[beyond])
    found: Floats = 2.0 * speed[own] - there
    return found
