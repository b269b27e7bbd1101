"""Following an edge of a picture from where it begins: step by step along it, each step caught anew, until it bends away or fades."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.pictures.edges import Grey, caught_point

__all__ = ["followed_edge"]

_MOST, _FAINT = 160, 2
_FIRST_DEG, _TURN_DEG = 65.0, 40.0
_WORTH = 0.8
"""Pixels by which a point may lie off the line between its neighbours and still be left out."""


def followed_edge(
    grey: Grey, start: tuple[float, float], way: Floats, step: float, ends_at: Floats | None = None
) -> Floats:
    """Return points (N, 2), px, along the edge that begins at a pixel and leads on about in a direction (2,).

    step : px from point to point. ends_at : a line (2, 2) that the edge is not followed across. It ends where it would turn by more
    than 40 degrees, or where nothing is caught.
    """
    way = np.asarray(way, dtype=np.float64) / np.hypot(*way)
    points = [np.array(start, dtype=np.float64)]
    missed = 0
    side = None if ends_at is None else _side(points[0], ends_at)
    for number in range(_MOST):
        # A hand's first place and way are rough.
        reach, most = (1.3 * step, _FIRST_DEG) if number < 3 else (0.7 * step, _TURN_DEG)
        guess = points[-1] + (1 + missed) * step * way
        x, y = guess
        if not (1.0 <= x <= grey.shape[1] - 2.0 and 1.0 <= y <= grey.shape[0] - 2.0):
            break
        found = np.array(caught_point(grey, (float(x), float(y)), way, reach))
        if np.array_equal(found, guess):
            missed += 1  # a faint stretch is stepped over
            if missed > _FAINT:
                break
            continue
        new = found - points[-1]
        size = float(np.hypot(*new))
        turn = np.degrees(np.arccos(np.clip(float(new @ way) / max(size, 1e-9), -1.0, 1.0)))
        if turn > most or (ends_at is not None and _side(found, ends_at) != side):
            break
        points.append(found)
        missed = 0
        # What was caught last counts as much as where the edge has led so far: it neither lags nor jumps.
        way = way + new / size
        way = way / np.hypot(*way)
    return _sparse(np.array(points))


def _side(point: Floats, line: Floats) -> bool:
    (ax, ay), (bx, by) = line
    return bool((bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax) > 0.0)


def _sparse(points: Floats) -> Floats:
    """Return the points without those that tell nothing (Douglas and Peucker, 1973)."""
    if len(points) < 3:
        return points
    start, end = points[0], points[-1]
    way = end - start
    off = np.abs((points - start) @ np.array([-way[1], way[0]])) / max(float(np.hypot(*way)), 1e-9)
    far = int(np.argmax(off))
    if off[far] <= _WORTH:
        return points[[0, -1]]
    return np.vstack([_sparse(points[: far + 1])[:-1], _sparse(points[far:])])
