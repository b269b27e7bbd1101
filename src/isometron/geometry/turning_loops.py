# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Where rounded sides turn away from the eye, step by step along their curves. Compiled, see `sight`."""

import cython
import numpy as np
from cython.cimports.libc.math import acos, ceil, cos, fabs

from isometron.geometry.tolerances import EXACT

__all__ = ["Contours"]

_EXACT = cython.declare(cython.double, EXACT)

_NONE = cython.declare(cython.double, 2.0)  # no cosine: there is no contour
_HALVINGS = cython.declare(cython.int, 30)
_MOST = cython.declare(cython.Py_ssize_t, 128)  # lines that one step is cut into


@cython.final
@cython.cclass
class Contours:
    """Lines of contours: the sides they are on, and at, wide, the angle from the eye's and the step along the curve at both ends (N, 2, 4)."""

    low: cython.double[::1]  # at, wide and their slopes at both ends of a step
    high: cython.double[::1]
    height: cython.double  # of the eye, in parts of the axle
    away: cython.double  # from the axle, in half widths
    at: cython.double  # a place on the step
    wide: cython.double
    begins: cython.double  # the step that is looked at, and how many of the curve's it takes in
    stride: cython.double
    rows: cython.Py_ssize_t[::1]
    places: cython.double[:, :, ::1]
    count: cython.Py_ssize_t

    def __init__(self):
        self.low, self.high = np.empty(4), np.empty(4)
        self.rows, self.places, self.count = np.empty(256, dtype=np.intp), np.empty((256, 2, 4)), 0

    def find(
        self,
        curves: cython.double[:, :, ::1],
        strides: cython.Py_ssize_t[::1],
        height: cython.double[::1],
        away: cython.double[::1],
        turn: cython.double[::1],
    ) -> tuple:
        """Return the sides (N,) and the lines (N, 2, 4) of all contours on one half; the other half mirrors them.

        curves : (K, M, 4); strides : (K,) every how many places count; height, away : (K,) the eye's; turn : (K,) the angle
        that one line may go round, at most.
        """
        k: cython.Py_ssize_t
        i: cython.Py_ssize_t
        step: cython.Py_ssize_t
        stride: cython.Py_ssize_t
        last: cython.Py_ssize_t = curves.shape[1] - 1
        for k in range(curves.shape[0]):
            stride = strides[k]
            self.height, self.away = height[k], away[k]
            for step in range(0, last, stride):
                for i in range(4):
                    scale: cython.double = stride if i > 1 else 1.0
                    self.low[i], self.high[i] = curves[k, step, i] * scale, curves[k, step + stride, i] * scale
                self.begins, self.stride = step, stride
                self._step(k, turn[k])
        return np.asarray(self.rows)[: self.count].copy(), np.asarray(self.places)[: self.count].copy()

    @cython.cfunc
    @cython.exceptval(check=False)
    def _step(self, k: cython.Py_ssize_t, turn: cython.double) -> cython.void:
        one: cython.double = self._cosine(0.0)
        two: cython.double = self._cosine(1.0)
        begin: cython.double = 0.0
        end: cython.double = 1.0
        middle: cython.double
        if fabs(one) > 1.0 and fabs(two) > 1.0:
            if (one > 0.0) == (two > 0.0):
                return
            # It goes all round within this step, as on a wheel that is seen along its axle.
            middle = self._where(0.0, 0.0, 1.0, one <= 0.0, 2 * _HALVINGS)
            one, begin = self._turning_back(0.0, middle, one)
            two, end = self._turning_back(1.0, middle, two)
        elif fabs(one) > 1.0:
            one, begin = self._turning_back(0.0, 1.0, one)
        elif fabs(two) > 1.0:
            two, end = self._turning_back(1.0, 0.0, two)
        first: cython.double = acos(one)
        last: cython.double = acos(two)
        count: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, ceil(fabs(last - first) / turn))
        i: cython.Py_ssize_t
        t: cython.double = begin
        angle: cython.double
        count = min(max(count, 1), _MOST)
        for i in range(count):
            self._room()
            self._between(t)
            angle = first + (last - first) * i / count
            self.places[self.count, 0, 0], self.places[self.count, 0, 1] = self.at, self.wide
            self.places[self.count, 0, 2], self.places[self.count, 0, 3] = angle, self.begins + t * self.stride
            angle = first + (last - first) * (i + 1) / count
            t = end if i == count - 1 else self._where(cos(angle), t, end, last < first, _HALVINGS)
            self._between(t)
            self.places[self.count, 1, 0], self.places[self.count, 1, 1] = self.at, self.wide
            self.places[self.count, 1, 2], self.places[self.count, 1, 3] = angle, self.begins + t * self.stride
            self.rows[self.count] = k
            self.count += 1

    @cython.cfunc
    @cython.exceptval(check=False)
    def _turning_back(
        self, outer: cython.double, inner: cython.double, beyond: cython.double
    ) -> tuple[cython.double, cython.double]:
        """Return the cosine, 1 or -1, at which a contour turns back between two places, and where."""
        middle: cython.double
        limit: cython.double = 1.0 if beyond > 0.0 else -1.0
        for _ in range(_HALVINGS):
            middle = (outer + inner) / 2.0
            if limit * self._cosine(middle) <= 1.0:
                inner = middle
            else:
                outer = middle
        return limit, inner

    @cython.cfunc
    @cython.exceptval(check=False)
    def _where(
        self,
        wanted: cython.double,
        low: cython.double,
        high: cython.double,
        rising: cython.bint,
        halvings: cython.int,
    ) -> cython.double:
        """Return where between two places of the step the cosine passes a wanted value."""
        middle: cython.double
        for _ in range(halvings):
            middle = (low + high) / 2.0
            if (self._cosine(middle) < wanted) == rising:
                low = middle
            else:
                high = middle
        return (low + high) / 2.0

    @cython.cfunc
    @cython.exceptval(check=False)
    def _between(self, t: cython.double) -> cython.void:
        """Set the place at t of the step, by Hermite's cubic."""
        h00: cython.double = (2.0 * t - 3.0) * t * t + 1.0
        h10: cython.double = ((t - 2.0) * t + 1.0) * t
        h11: cython.double = (t - 1.0) * t * t
        self.at = h00 * self.low[0] + h10 * self.low[2] + (1.0 - h00) * self.high[0] + h11 * self.high[2]
        self.wide = h00 * self.low[1] + h10 * self.low[3] + (1.0 - h00) * self.high[1] + h11 * self.high[3]

    @cython.cfunc
    @cython.exceptval(check=False)
    def _cosine(self, t: cython.double) -> cython.double:
        """Return the cosine of the contour's angle at t of the step; beyond 1 there is no contour."""
        d00: cython.double = 6.0 * (t - 1.0) * t
        d10: cython.double = (3.0 * t - 4.0) * t + 1.0
        d11: cython.double = (3.0 * t - 2.0) * t
        rise: cython.double = d00 * (self.low[0] - self.high[0]) + d10 * self.low[2] + d11 * self.high[2]
        run: cython.double = d00 * (self.low[1] - self.high[1]) + d10 * self.low[3] + d11 * self.high[3]
        self._between(t)
        over: cython.double = self.wide * rise - run * (self.at - self.height)
        under: cython.double = rise * self.away
        if fabs(under) <= _EXACT * fabs(over) or under == 0.0:
            return _NONE if over >= 0.0 else -_NONE
        return over / under

    @cython.cfunc
    @cython.exceptval(check=False)
    def _room(self) -> cython.void:
        if self.count == self.rows.shape[0]:
            rows, places = np.empty(2 * self.count, dtype=np.intp), np.empty((2 * self.count, 2, 4))
            rows[: self.count], places[: self.count] = self.rows, self.places
            self.rows, self.places = rows, places
