# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Clipping of lines on paper by a rectangle, line by line (Liang and Barsky 1984). Compiled, see `sight`."""

import cython
import numpy as np

__all__ = ["clipped"]


def clipped(
    lines: cython.double[:, ::1],
    left: cython.double,
    lower: cython.double,
    right: cython.double,
    upper: cython.double,
) -> tuple:
    """Return what lies of lines (N, 4) of u1, v1, u2, v2 within a rectangle, (M, 4), and of which line it is (M,)."""
    n: cython.Py_ssize_t
    m: cython.Py_ssize_t = 0
    u: cython.double
    v: cython.double
    du: cython.double
    dv: cython.double
    low: cython.double
    high: cython.double
    found = np.empty((lines.shape[0], 4))
    out: cython.double[:, ::1] = found
    rows = np.empty(lines.shape[0], dtype=np.intp)
    row: cython.Py_ssize_t[::1] = rows
    for n in range(lines.shape[0]):
        u, v = lines[n, 0], lines[n, 1]
        du, dv = lines[n, 2] - u, lines[n, 3] - v
        low, high = 0.0, 1.0
        low, high = _behind(u - left, lines[n, 2] - left, low, high)
        low, high = _behind(right - u, right - lines[n, 2], low, high)
        low, high = _behind(v - lower, lines[n, 3] - lower, low, high)
        low, high = _behind(upper - v, upper - lines[n, 3], low, high)
        if high > low:
            out[m, 0], out[m, 1], out[m, 2], out[m, 3] = u + low * du, v + low * dv, u + high * du, v + high * dv
            row[m] = n
            m += 1
    return found[:m], rows[:m]


@cython.cfunc
@cython.exceptval(check=False)
def _behind(
    start: cython.double, end: cython.double, low: cython.double, high: cython.double
) -> tuple[cython.double, cython.double]:
    """Return what is left of a part of a line where a number that changes evenly along it is not negative."""
    if start < 0.0 and end < 0.0:
        return low, -1.0
    if start < 0.0 <= end:
        return max(low, start / (start - end)), high
    if end < 0.0 <= start:
        return low, min(high, start / (start - end))
    return low, high
