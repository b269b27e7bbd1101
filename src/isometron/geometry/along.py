"""Lengths along curves, to the last digits that matter."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["summed_along"]

_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(16)
_MOST = 4096


def summed_along(speed: Callable[[Floats], Floats], *, least: int = 4, within: float = 1e-12) -> float:
    """Return the integral of a speed over t from 0 to 1, by Gauss's rule in ever more equal parts until it changes by less than
    ``within`` of itself."""
    count, before = least, np.inf
    while True:
        t = (np.arange(count)[:, None] + (_NODES + 1.0) / 2.0) / count
        values = speed(t.reshape(-1)).reshape(count, -1)
        total = float((values @ _WEIGHTS).sum()) / (2.0 * count)
        if not np.isfinite(total) or abs(total - before) <= within * abs(total) or count >= _MOST:
            return total
        count, before = 2 * count, total
