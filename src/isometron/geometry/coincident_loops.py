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
    """Return where edges start and end along their lines (E, 2), mm, keys (E, 6), the same for edges on one line, and the
    keys mixed (E,), numbers of 31 bits.

    start, end : (E, 3). Directions have one sign a line. A key is the direction in steps of ``direction`` and the foot of the origin's perpendicular in steps
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
    places, lines, mixed = (
        np.empty((count, 2)),
        np.empty((count, 6), dtype=np.int64),
        np.empty(count, dtype=np.int64),
    )
    unit = cython.declare(cython.double[3])
    reach: cython.double[:, ::1] = places
    key: cython.longlong[:, ::1] = lines
    mix: cython.longlong[::1] = mixed
    for e in range(count):
        length = along = 0.0
        for i in range(3):
            unit[i] = end[e, i] - start[e, i]
            length += unit[i] * unit[i]
        length, lead = sqrt(length), 0
        for i in range(3):
            key[e, i] = cython.cast(cython.longlong, floor(unit[i] / length / direction + 0.5))
            lead = key[e, i] if lead == 0 else lead
        length = -length if lead < 0 else length
        for i in range(3):
            unit[i] /= length
            key[e, i] = -key[e, i] if lead < 0 else key[e, i]
            along += unit[i] * start[e, i]
        reach[e, 0], reach[e, 1] = along, along + length
        hashed = 0
        for i in range(6):
            if i >= 3:
                foot = start[e, i - 3] - along * unit[i - 3]
                key[e, i] = cython.cast(cython.longlong, floor(foot / place + shift + 0.5))
            hashed = _mixed(hashed, key[e, i])
        mix[e] = hashed
    return places, lines, mixed


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
    reach: cython.double[:, ::1],
    key: cython.longlong[:, ::1],
    mixed: cython.longlong[::1],
    order: cython.Py_ssize_t[::1],
    place: cython.double,
    least: cython.double,
) -> tuple:
    """Return the spans (edge, t0, t1), sorted, that edges rule themselves, of where they reach along their lines (E, 2).

    order : edges by ``mixed``, and those that come before others on one line before them; what has been ruled is left out.
    Overlaps, and stretches, of no more than ``place`` mm count for nothing, nor do spans of no more than ``least``.
    """
    i: cython.Py_ssize_t
    j: cython.Py_ssize_t
    e: cython.Py_ssize_t
    n: cython.Py_ssize_t
    m: cython.Py_ssize_t = 0
    first: cython.Py_ssize_t = 0
    low: cython.double
    high: cython.double
    count: cython.Py_ssize_t = order.shape[0]
    whole: cython.uchar[::1] = np.zeros(count, dtype=np.uint8)
    left: list
    parts: dict = {}  # what is left of edges that share their lines: few, so lists will do
    for i in range(count):
        e = order[i]
        low, high = min(reach[e, 0], reach[e, 1]), max(reach[e, 0], reach[e, 1])
        left = []
        if i > 0 and mixed[e] != mixed[order[i - 1]]:
            first = i
        shared: cython.bint = False
        for j in range(first, i):
            n = order[j]
            if (
                min(reach[n, 0], reach[n, 1]) < high - place
                and max(reach[n, 0], reach[n, 1]) > low + place
                and _alike(key, e, n)
            ):
                left = _without(
                    left if shared else [(low, high)],
                    min(reach[n, 0], reach[n, 1]),
                    max(reach[n, 0], reach[n, 1]),
                    place,
                )
                shared = True
        if shared:
            left = [_part(reach, e, start, until) for start, until in left]
            parts[e] = sorted([(start, until) for start, until in left if until - start > least])
            m += len(parts[e])
        else:
            whole[e] = True
            m += 1
    edges, starts, ends = np.empty(m, dtype=np.intp), np.empty(m), np.empty(m)
    edge: cython.Py_ssize_t[::1] = edges
    start_: cython.double[::1] = starts
    end_: cython.double[::1] = ends
    m = 0
    for e in range(count):
        if whole[e]:
            edge[m], start_[m], end_[m] = e, 0.0, 1.0
            m += 1
        else:
            for start, until in parts[e]:
                edge[m], start_[m], end_[m] = e, start, until
                m += 1
    return edges, starts, ends


@cython.cfunc
def _part(reach: cython.double[:, ::1], e: cython.Py_ssize_t, start: cython.double, until: cython.double) -> tuple:
    """Return the edge and the part of it from start to until along its line, which may run the other way."""
    length: cython.double = reach[e, 1] - reach[e, 0]
    one: cython.double = (start - reach[e, 0]) / length
    two: cython.double = (until - reach[e, 0]) / length
    return max(min(one, two), 0.0), min(max(one, two), 1.0)


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
