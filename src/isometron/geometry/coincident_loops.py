# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Which edges lie on one line, and who rules which stretch of it, in loops. Compiled, see `sight`."""

import cython
import numpy as np
from cython.cimports.libc.math import floor, sqrt

__all__ = ["line_keys", "shared_out"]


def line_keys(
    start: cython.double[:, ::1],
    end: cython.double[:, ::1],
    direction: cython.double,
    place: cython.double,
    shift: cython.double,
) -> tuple:
    """Return unit directions (E, 3), one sign a line, keys (E, 6), the same for edges on one line, and the keys mixed (E,).

    start, end : (E, 3). A key is the direction in steps of ``direction`` and the foot of the origin's perpendicular in steps
    of ``place``, ``shift`` steps off the round numbers.
    """
    e: cython.Py_ssize_t
    i: cython.Py_ssize_t
    length: cython.double
    along: cython.double
    foot: cython.double
    lead: cython.longlong
    hashed: cython.longlong
    count: cython.Py_ssize_t = start.shape[0]
    directions, lines, mixed = (
        np.empty((count, 3)),
        np.empty((count, 6), dtype=np.int64),
        np.empty(count, dtype=np.int64),
    )
    unit: cython.double[:, ::1] = directions
    key: cython.longlong[:, ::1] = lines
    mix: cython.longlong[::1] = mixed
    for e in range(count):
        length = along = 0.0
        for i in range(3):
            unit[e, i] = end[e, i] - start[e, i]
            length += unit[e, i] * unit[e, i]
        length, lead = sqrt(length), 0
        for i in range(3):
            key[e, i] = cython.cast(cython.longlong, floor(unit[e, i] / length / direction + 0.5))
            lead = key[e, i] if lead == 0 else lead
        length = -length if lead < 0 else length
        for i in range(3):
            unit[e, i] /= length
            key[e, i] = -key[e, i] if lead < 0 else key[e, i]
            along += unit[e, i] * start[e, i]
        hashed = 0
        for i in range(6):
            if i >= 3:
                foot = start[e, i - 3] - along * unit[e, i - 3]
                key[e, i] = cython.cast(cython.longlong, floor(foot / place + shift + 0.5))
            hashed = _mixed(hashed, key[e, i])
        mix[e] = hashed
    return directions, lines, mixed


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _mixed(hashed: cython.longlong, key: cython.longlong) -> cython.longlong:
    """Return two numbers as one of 31 bits (after Fowler, Noll, Vo); it may mistake two pairs, so the keys are compared too."""
    return ((hashed ^ ((key ^ (key >> 31)) & 0x7FFFFFFF)) * 16777619) & 0x7FFFFFFF


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _alike(key: cython.longlong[:, ::1], one: cython.Py_ssize_t, other: cython.Py_ssize_t) -> cython.bint:
    i: cython.Py_ssize_t = 0
    while i < 6 and key[one, i] == key[other, i]:
        i += 1
    return i == 6


def shared_out(
    low: cython.double[::1],
    high: cython.double[::1],
    key: cython.longlong[:, ::1],
    mixed: cython.longlong[::1],
    order: cython.Py_ssize_t[::1],
    place: cython.double,
) -> tuple:
    """Return the stretches (edge, from, to), where the edges (E,) reach along their lines, that each rules itself.

    order : edges by ``mixed``, and those that come before others on one line before them; what has been ruled is left out.
    Overlaps, and stretches, of no more than ``place`` count for nothing.
    """
    i: cython.Py_ssize_t
    j: cython.Py_ssize_t
    e: cython.Py_ssize_t
    n: cython.Py_ssize_t
    m: cython.Py_ssize_t = 0
    first: cython.Py_ssize_t = 0
    count: cython.Py_ssize_t = order.shape[0]
    edges, begins, ends = np.empty(count, dtype=np.intp), np.empty(count), np.empty(count)
    edge: cython.Py_ssize_t[::1] = edges
    begin: cython.double[::1] = begins
    end: cython.double[::1] = ends
    left: list
    more: list = []  # what is left of edges that share their lines: few, so lists will do
    for i in range(count):
        e = order[i]
        left = []
        if i > 0 and mixed[e] != mixed[order[i - 1]]:
            first = i
        shared: cython.bint = False
        for j in range(first, i):
            n = order[j]
            if low[n] < high[e] - place and high[n] > low[e] + place and _alike(key, e, n):
                left = _without(left if shared else [(low[e], high[e])], low[n], high[n], place)
                shared = True
        if shared:
            more += [(e, start, until) for start, until in left]
        else:
            edge[m], begin[m], end[m] = e, low[e], high[e]
            m += 1
    others = np.array(more, dtype=np.float64).reshape(-1, 3)
    return (
        np.concatenate((edges[:m], others[:, 0].astype(np.intp))),
        np.concatenate((begins[:m], others[:, 1])),
        np.concatenate((ends[:m], others[:, 2])),
    )


@cython.cfunc
def _without(left: list, low: cython.double, high: cython.double, place: cython.double) -> list:
    """Return stretches less the one from low to high."""
    kept: list = []
    begin: cython.double
    until: cython.double
    for begin, until in left:
        if low >= until - place or high <= begin + place:
            kept.append((begin, until))
            continue
        if low - begin > place:
            kept.append((begin, low))
        if until - high > place:
            kept.append((high, until))
    return kept
