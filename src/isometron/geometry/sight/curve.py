# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""The curve that is looked at: where it lies, which stretches of it are hidden so far, and where it may change."""

import math

import cython
import numpy as np
from cython.cimports.libc.math import floor

from isometron.geometry.tolerances import MERGE_PARAMETER

__all__ = ["Curve"]

_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_MOST_BESIDE = cython.declare(cython.Py_ssize_t, 64)  # rims that one line runs along; more are not kept
_TURN = cython.declare(cython.double, math.tau)


class Curve:
    """A line or a ring, about the eye. here : a ring's centre and half axes, or a line's start and way; places : of a hull
    round it; left, lower, right, upper, far : its bounds on paper and its greatest depth; begin, sweep : the part of a ring,
    in turns. low, high : hidden stretches, sorted and disjoint, ``count`` of them; cuts : places in order where it may change.
    beside_low, beside_high : (2, K) stretches of a line along which something stands before it on its left (0) or its right (1)
    only, ``beside_count`` of them: where there is something on both sides, as at a closed joint, it is hidden.
    """

    def __init__(self, most_cuts):
        self.low, self.high, self.cuts = np.empty(64), np.empty(64), np.empty(most_cuts)
        self.beside_low, self.beside_high = np.empty((2, _MOST_BESIDE)), np.empty((2, _MOST_BESIDE))
        self.beside_count = np.zeros(2, dtype=np.intp)

    def make_room(self, number):
        """Make room for so many stretches."""
        self.low = np.resize(np.asarray(self.low), number)
        self.high = np.resize(np.asarray(self.high), number)

    def whole(self):
        """Tell whether all of it is hidden."""
        return self.count == 1 and self.low[0] <= 0.0 and self.high[0] >= 1.0

    def hide(self, low, high):
        """Put a hidden stretch among the others; those that meet become one."""
        i: cython.Py_ssize_t = 0
        j: cython.Py_ssize_t
        k: cython.Py_ssize_t
        if self.count + 1 >= self.low.shape[0]:
            with cython.gil:
                self.make_room(2 * self.count + 2)
        while i < self.count and self.high[i] < low - _MERGE:
            i += 1
        j = i
        while j < self.count and self.low[j] <= high + _MERGE:
            low, high = min(low, self.low[j]), max(high, self.high[j])
            j += 1
        # Stretches i to j - 1 become one; those behind them move up or down.
        if j == i:
            for k in range(self.count, i, -1):
                self.low[k], self.high[k] = self.low[k - 1], self.high[k - 1]
        elif j > i + 1:
            for k in range(j, self.count):
                self.low[k - j + i + 1], self.high[k - j + i + 1] = self.low[k], self.high[k]
        self.count += 1 - (j - i)
        self.low[i], self.high[i] = low, high

    def begin_anew(self):
        """Forget what was hidden of the curve before."""
        self.count = 0
        self.beside_count[0] = self.beside_count[1] = 0

    def beside(self, right, low, high):
        """Note a stretch along which a line runs along the rim of what stands before it on one side."""
        i: cython.Py_ssize_t = self.beside_count[right]
        if i < _MOST_BESIDE:
            self.beside_low[right, i], self.beside_high[right, i] = low, high
            self.beside_count[right] = i + 1

    def close_joints(self):
        """Hide where something stands before the line on its left and on its right."""
        i: cython.Py_ssize_t
        j: cython.Py_ssize_t
        low: cython.double
        high: cython.double
        for i in range(self.beside_count[0]):
            for j in range(self.beside_count[1]):
                low = max(self.beside_low[0, i], self.beside_low[1, j])
                high = min(self.beside_high[0, i], self.beside_high[1, j])
                if high - low > _MERGE:
                    self.hide(low, high)

    def cut(self, t):
        """Note a place within the curve, in order."""
        i: cython.Py_ssize_t = self.cut_count
        if t > 0.0 and t < 1.0:
            while i > 0 and self.cuts[i - 1] > t:
                self.cuts[i] = self.cuts[i - 1]
                i -= 1
            self.cuts[i] = t
            self.cut_count += 1

    def cut_angle(self, angle):
        """Note the place of an angle on the ring's span, if it lies there."""
        turns: cython.double = angle / _TURN - self.begin
        sweep: cython.double = self.sweep
        if sweep < 0.0:
            turns, sweep = -turns, -sweep
        self.cut((turns - floor(turns)) / sweep)
