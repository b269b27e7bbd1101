# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Hiders sorted into a grid on paper, the nearest first in every cell."""

import cython
import numpy as np

__all__ = ["HiderGrid"]

_MOST_CELLS = cython.declare(cython.Py_ssize_t, 64)
_MOST_PLACES = cython.declare(cython.Py_ssize_t, 32)  # cells that a hider is listed in, on the average


class HiderGrid:
    """box, near : paper bounds (H, 4) and least depths (H,) of all hiders; order : by depth, of those that hide anything.

    limit : mm, how far from the centre of vision the grid reaches at most. first : of each cell in ``listed``.
    """

    def __init__(self, box, near, order, limit):
        self.box, self.near = box, near
        self._lay(limit, order)
        self._fill(order)

    def _lay(self, limit: cython.double, order: cython.Py_ssize_t[::1]):
        """Lay the grid over the hiders' bounds, as far as ``limit``; what reaches on belongs to the cells at the rim.

        As fine as there are hiders, but not so fine that in a heap each of them is listed in many cells.
        """
        h: cython.Py_ssize_t
        right: cython.double = -limit
        upper: cython.double = -limit
        self.left = self.lower = limit
        for h in range(self.near.shape[0]):
            self.left, self.lower = min(self.left, self.box[h, 0]), min(self.lower, self.box[h, 1])
            right, upper = max(right, self.box[h, 2]), max(upper, self.box[h, 3])
        self.left, self.lower = max(self.left, -limit), max(self.lower, -limit)
        right, upper = min(right, limit), min(upper, limit)
        self.cells = 1
        while self.cells < _MOST_CELLS and self.cells * self.cells < 4 * self.near.shape[0]:
            self.cells *= 2
        while True:
            self.columns = self.cells / (right - self.left) if right > self.left else 0.0
            self.rows = self.cells / (upper - self.lower) if upper > self.lower else 0.0
            if self.cells == 1 or self._places(order) <= _MOST_PLACES * order.shape[0]:
                return
            self.cells //= 2

    def _places(self, order):
        """Return in how many cells the hiders lie, each counted by itself."""
        i: cython.Py_ssize_t
        h: cython.Py_ssize_t
        found: cython.Py_ssize_t = 0
        for i in range(order.shape[0]):
            h = order[i]
            found += (self.row(self.box[h, 3]) - self.row(self.box[h, 1]) + 1) * (
                self.column(self.box[h, 2]) - self.column(self.box[h, 0]) + 1
            )
        return found

    def _fill(self, order: cython.Py_ssize_t[::1]):
        """List the hiders of every cell, the nearest first: twice over all, once to count and once to write."""
        h: cython.Py_ssize_t
        i: cython.Py_ssize_t
        c: cython.Py_ssize_t
        x: cython.Py_ssize_t
        y: cython.Py_ssize_t
        turn: cython.Py_ssize_t
        self.first = np.zeros(self.cells * self.cells + 1, dtype=np.intp)
        place: cython.Py_ssize_t[::1] = np.zeros(self.cells * self.cells, dtype=np.intp)
        for turn in range(2):
            for i in range(order.shape[0]):
                h = order[i]
                for y in range(self.row(self.box[h, 1]), self.row(self.box[h, 3]) + 1):
                    for x in range(self.column(self.box[h, 0]), self.column(self.box[h, 2]) + 1):
                        c = y * self.cells + x
                        if turn == 0:
                            self.first[c + 1] += 1
                        else:
                            self.listed[place[c]] = h
                            place[c] += 1
            if turn == 0:
                for c in range(self.cells * self.cells):
                    self.first[c + 1] += self.first[c]
                    place[c] = self.first[c]
                self.listed = np.empty(self.first[self.cells * self.cells], dtype=np.intp)

    def column(self, u):
        """Return the column of a place, mm of paper; what lies beyond belongs to the rim."""
        return self._cell((u - self.left) * self.columns)

    def row(self, v):
        """Return the row of a place, mm of paper."""
        return self._cell((v - self.lower) * self.rows)

    def _cell(self, x):
        if not x > 0.0:  # a place that is no number as well
            return 0
        if x >= self.cells - 1:
            return self.cells - 1
        return cython.cast(cython.Py_ssize_t, x)
