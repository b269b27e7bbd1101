# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Faces of the body under three outlines: on each plane, what lies inside both other outlines, by slabs. Compiled.

Between breakpoints every boundary is one straight line (trapezoidal decomposition, de Berg et al., *Computational Geometry*,
chapter 6). The plane of a slanted side is met by the two other outlines; on a level plane (square to an axis) lies what is
inside just before it and not just behind it.
"""

import cython
import numpy as np
from cython.cimports.libc.math import atan2, fabs, sqrt

from isometron.geometry.tolerances import CLOSE, EXACT, HAIR

__all__ = ["Slabs", "TooMuchWork"]

_CLOSE = cython.declare(cython.double, CLOSE)
_EXACT = cython.declare(cython.double, EXACT)
_HAIR = cython.declare(cython.double, HAIR)
_MOST_WORK = cython.declare(cython.double, 3e8)  # pairs of lines: a second or two


class TooMuchWork(Exception):  # noqa: N818 (an answer, not a fault)
    """The outlines are so intricate that cutting them would not end while a person waits."""


class Slabs:
    """Three outlines after each other, and the rows that are found of their body's faces.

    points : (P, 2), the corners of all outlines, counter-clockwise, equal coordinates exactly equal; first : (4,) where each
    begins; after : (P,) the next corner of its outline; plane : (P,) the plane of the side that begins at each corner;
    bent : (P,) sides that are pieces of a round which bulges; frames : (F, 9) of the planes: outward normal, and the ways of
    s and of c.

    rows : own plane, s, c, s, c of its ends and the plane beyond, with the face to the left; s runs along the side from 0 to
    1 (on a level plane in mm), c along the third axis in mm. sheets : side, s, low, high, s, low, high of the bent ones.
    """

    def __init__(self, points, first, after, plane, bent, frames):
        count = len(points)
        self.points, self.first, self.after, self.plane, self.bent = points, first, after, plane, bent
        self.rows, self.total = np.empty((8 * count + 64, 6)), 0
        self.sheets, self.sheet_total = np.empty((4 * count + 64, 7)), 0
        self.cuts, self.cut_plane = np.empty(4 * count + 64), np.empty((4 * count + 64, 2), dtype=np.intp)
        self.low, self.high = np.empty(2 * count + 8), np.empty(2 * count + 8)
        self.line, self.order = np.empty(2 * count + 8, dtype=np.intp), np.empty(2 * count + 8, dtype=np.intp)
        self.between = np.empty(64)
        self.latest = np.empty(2 * count, dtype=np.intp)
        self.before, self.here, self.there = np.empty(2 * count + 8), np.empty(2 * count + 8), np.empty(2 * count + 8)
        self.across, self.across_line = np.empty(4 * count + 8), np.empty(4 * count + 8, dtype=np.intp)
        self.across_beyond = np.zeros(4 * count + 8, dtype=np.uint8)
        self.frames, self.work = frames, 0.0

    def found(self) -> tuple:
        """Return the rows (R, 6) and the sheets (K, 7)."""
        return np.asarray(self.rows)[: self.total].copy(), np.asarray(self.sheets)[: self.sheet_total].copy()

    def slanted(
        self,
        k: cython.Py_ssize_t,
        one: cython.Py_ssize_t,
        one_column: cython.int,
        two: cython.Py_ssize_t,
        two_column: cython.int,
    ):
        """Lay the face on the plane of side k.

        one, two : the outlines that share its outline's first and second axis, which is their column.
        """
        n: cython.Py_ssize_t
        m: cython.Py_ssize_t = self.after[k]
        a: cython.double = self.points[k, 0]
        b: cython.double = self.points[k, 1]
        da: cython.double = self.points[m, 0] - a
        db: cython.double = self.points[m, 1] - b
        low: cython.double = 0.0
        high: cython.double
        last: cython.Py_ssize_t = k - 1
        if k == self.first[0] or k == self.first[1] or k == self.first[2]:
            last = k
            while self.after[last] != k:
                last = self.after[last]
        self._begin(self.plane[k], k)
        self._cut(0.0, self.plane[last], self.plane[last])
        self._cut_at_points(one, one_column, a, da, 1.0)
        self._cut_at_points(two, two_column, b, db, 1.0)
        for n in range(self.cut_count):
            low = self.cuts[n]
            high = self.cuts[n + 1] if n + 1 < self.cut_count else 1.0
            self.count = 0
            self._load(one, one_column, a + da * (low + high) / 2.0, a + da * low, a + da * high)
            self.first_set = self.count
            self._load(two, two_column, b + db * (low + high) / 2.0, b + db * low, b + db * high)
            self._slab(low, high, self.cut_plane[n, 0], self.cut_plane[n, 1])
        self.here_count = 0
        self._upright(1.0, self.plane[m], self.plane[m])

    def level(
        self,
        plane: cython.Py_ssize_t,
        at: cython.double,
        beyond: cython.double,
        one: cython.Py_ssize_t,
        one_column: cython.int,
        two: cython.Py_ssize_t,
        two_column: cython.int,
        three: cython.Py_ssize_t,
        three_column: cython.int,
    ):
        """Lay the face on a plane square to an axis at ``at``, with the outside towards ``beyond`` (1 or -1).

        one, two : the outlines that share the axis, which is their column; three : the outline on the plane itself, which
        shares its column with the other axis of ``one``.
        """
        n: cython.Py_ssize_t
        i: cython.Py_ssize_t
        ones: cython.Py_ssize_t
        low: cython.double
        high: cython.double
        mid: cython.double
        self._begin(plane, -1)
        self.across_count = 0
        self._read_across(one, one_column, at, beyond, False)
        self._read_across(one, one_column, at, beyond, True)
        ones = self.across_count
        self._read_across(two, two_column, at, beyond, False)
        self._read_across(two, two_column, at, beyond, True)
        for i in range(ones):
            self._cut(self.across[i], self.plane[self.across_line[i]], self.plane[self.across_line[i]])
        self._cut_at_points(three, three_column, 0.0, 1.0, 1e300)
        for n in range(self.cut_count - 1):
            low, high = self.cuts[n], self.cuts[n + 1]
            mid = (low + high) / 2.0
            self.count = self.first_set = 0
            if self._within(0, ones, False, mid):
                self._load_level(ones, self.across_count, self._within(0, ones, True, mid))
                self.first_set = self.count
                self._load(three, three_column, mid, low, high)
            self._slab(low, high, self.cut_plane[n, 0], self.cut_plane[n, 1])
        if self.cut_count > 0:
            n = self.cut_count - 1
            self.here_count = 0
            self._upright(self.cuts[n], self.cut_plane[n, 0], self.cut_plane[n, 1])

    def _begin(self, own, side):
        k: cython.Py_ssize_t
        self.own, self.side = own, side
        self.cut_count = self.before_count = self.here_count = self.first_set = self.count = 0
        for k in range(self.latest.shape[0]):
            self.latest[k] = -1

    # --- breakpoints --------------------------------------------------------------------------------------------------

    def _cut(self, s, up, down):
        """Note a breakpoint with the planes of the uprights there: what is inside ends at ``up``, or begins at ``down``."""
        i: cython.Py_ssize_t = self.cut_count
        k: cython.Py_ssize_t
        while i > 0 and self.cuts[i - 1] > s + _EXACT:
            i -= 1
        if i > 0 and self.cuts[i - 1] >= s - _EXACT:
            self.cut_plane[i - 1, 0] = self._nearer(self.cut_plane[i - 1, 0], up, 1.0, 0.0)
            self.cut_plane[i - 1, 1] = self._nearer(self.cut_plane[i - 1, 1], down, -1.0, 0.0)
            return
        for k in range(self.cut_count, i, -1):
            self.cuts[k] = self.cuts[k - 1]
            self.cut_plane[k, 0], self.cut_plane[k, 1] = self.cut_plane[k - 1, 0], self.cut_plane[k - 1, 1]
        self.cuts[i], self.cut_plane[i, 0], self.cut_plane[i, 1] = s, up, down
        self.cut_count += 1

    def _cut_at_points(self, outline, column, start, way, stop):
        """Note the corners of an outline that are passed, going ``way`` from ``start`` along one of its axes."""
        k: cython.Py_ssize_t
        m: cython.Py_ssize_t
        s: cython.double
        up: cython.Py_ssize_t
        down: cython.Py_ssize_t
        for k in range(self.first[outline], self.first[outline + 1]):
            m = self.after[k]
            s = (self.points[k, column] - start) / way
            if stop == 1.0 and not _EXACT < s < 1.0 - _EXACT:
                continue
            up = down = -1
            if self.points[m, column] == self.points[k, column]:
                # Counter-clockwise: the body lies to the left of a side, so at one that goes up the body ends.
                if ((self.points[m, 1 - column] > self.points[k, 1 - column]) == (column == 0)) == (way > 0.0):
                    up = self.plane[k]
                else:
                    down = self.plane[k]
            self._cut(s, up, down)

    # --- one slab -----------------------------------------------------------------------------------------------------

    def _load(self, outline, column, mid, start, end):
        """Add the lines of an outline over a slab: what they read at its start and its end."""
        k: cython.Py_ssize_t
        m: cython.Py_ssize_t
        slope: cython.double
        for k in range(self.first[outline], self.first[outline + 1]):
            m = self.after[k]
            if (self.points[k, column] > mid) != (self.points[m, column] > mid):
                slope = (self.points[m, 1 - column] - self.points[k, 1 - column]) / (
                    self.points[m, column] - self.points[k, column]
                )
                self.low[self.count] = self.points[k, 1 - column] + slope * (start - self.points[k, column])
                self.high[self.count] = self.points[k, 1 - column] + slope * (end - self.points[k, column])
                self.line[self.count] = k
                self.count += 1

    def _slab(self, start, end, up, down):
        """Lay what lies inside both sets of lines of a slab; up, down : the planes of uprights at its start."""
        i: cython.Py_ssize_t
        u: cython.double = 0.0
        v: cython.double
        if self.first_set == 0 or self.first_set == self.count:
            self.first_set = self.count = 0
        self.work += 1.0 + self.first_set * (self.count - self.first_set)
        if self.work > _MOST_WORK:
            raise TooMuchWork
        self._cross_lines()
        for i in range(self.between_count + 1):
            v = self.between[i] if i < self.between_count else 1.0
            if v - u < _EXACT:
                continue
            self._sort_lines(u, v)
            self._part(start, end, u, v)
            if u == 0.0:
                self._upright(start, up, down)
            self._keep()
            u = v
        return 0

    def _cross_lines(self):
        """Note where lines of one set cross those of the other; such as coincide do not."""
        k: cython.Py_ssize_t
        m: cython.Py_ssize_t
        i: cython.Py_ssize_t
        f0: cython.double
        f1: cython.double
        t: cython.double
        self.between_count = 0
        for k in range(self.first_set):
            for m in range(self.first_set, self.count):
                f0, f1 = self.low[k] - self.low[m], self.high[k] - self.high[m]
                if (f0 > 0.0) == (f1 > 0.0) or (fabs(f0) < _HAIR and fabs(f1) < _HAIR):
                    continue
                t = f0 / (f0 - f1)
                if not _EXACT < t < 1.0 - _EXACT:
                    continue
                if self.between_count == self.between.shape[0]:
                    self.between = np.resize(np.asarray(self.between), 2 * self.between_count)
                i = self.between_count
                while i > 0 and self.between[i - 1] > t:
                    self.between[i] = self.between[i - 1]
                    i -= 1
                self.between[i] = t
                self.between_count += 1

    def _sort_lines(self, u, v):
        """Put the lines in order of height half way between two parts of the slab."""
        k: cython.Py_ssize_t
        i: cython.Py_ssize_t
        m: cython.Py_ssize_t
        t: cython.double = (u + v) / 2.0
        x: cython.double
        for k in range(self.count):
            x = self.low[k] + t * (self.high[k] - self.low[k])
            i = k
            while i > 0:
                m = self.order[i - 1]
                if not self.low[m] + t * (self.high[m] - self.low[m]) > x:
                    break
                self.order[i] = m
                i -= 1
            self.order[i] = k

    def _part(self, start, end, u, v):
        """Lay the trapezoids between two parts of a slab."""
        i: cython.Py_ssize_t
        k: cython.Py_ssize_t
        m: cython.Py_ssize_t
        bottom: cython.Py_ssize_t = -1
        one: cython.bint = False
        two: cython.bint = False
        inside: cython.bint = False
        s0: cython.double = start + u * (end - start)
        s1: cython.double = start + v * (end - start)
        b0: cython.double
        b1: cython.double
        t0: cython.double
        t1: cython.double
        self.here_count = 0
        for i in range(self.count):
            k = self.order[i]
            if k < self.first_set:
                one = not one
            else:
                two = not two
            if (one and two) == inside:
                continue
            inside = not inside
            if inside:
                bottom = i
                continue
            m = self.order[bottom]
            b0, b1 = self.low[m] + u * (self.high[m] - self.low[m]), self.low[m] + v * (self.high[m] - self.low[m])
            t0, t1 = self.low[k] + u * (self.high[k] - self.low[k]), self.low[k] + v * (self.high[k] - self.low[k])
            if t0 - b0 < _HAIR and t1 - b1 < _HAIR:
                continue
            self._lay(self.line[m], 0, s0, b0, s1, b1, self._label(bottom, s1 - s0, b1 - b0, 1.0, u, v))
            self._lay(self.line[k], 1, s0, t0, s1, t1, self._label(i, s1 - s0, t1 - t0, -1.0, u, v))
            self.here[self.here_count], self.there[self.here_count] = b0, b1
            self.here[self.here_count + 1], self.there[self.here_count + 1] = t0, t1
            self.here_count += 2
            if self.side >= 0 and self.bent[self.side]:
                self._lay_sheet(s0, b0, t0, s1, b1, t1)

    def _label(self, place, run, rise, side, u, v):
        """Return the plane beyond the line at a place in the order; of lines that coincide see `_nearer`."""
        i: cython.Py_ssize_t
        m: cython.Py_ssize_t
        way: cython.Py_ssize_t
        k: cython.Py_ssize_t = self.order[place]
        found: cython.Py_ssize_t = self.plane[self.line[k]]
        for way in range(-1, 2, 2):
            i = place + way
            while i >= 0 and i < self.count:
                m = self.order[i]
                if self._gap(k, m, u) > _HAIR or self._gap(k, m, v) > _HAIR:
                    break
                # Square to the line, away from the face: down, or up.
                found = self._nearer(found, self.plane[self.line[m]], side * rise, -side * run)
                i += way
        return found

    def _nearer(self, one, two, along, across):
        """Return which of two planes through an edge of the own face bounds the body there: the one that folds back more.

        along, across : the way out of the face, square to the edge, in its own ways of s (mm where it is upright) and c.
        """
        if one < 0 or two < 0 or one == two:
            return max(one, two)
        return one if self._fold(one, along, across) >= self._fold(two, along, across) else two

    def _fold(self, plane, along, across):
        """Return the angle by which the body's surface folds back over an edge on to a plane, radians."""
        i: cython.int
        out: cython.double
        up: cython.double = 0.0
        away: cython.double = 0.0
        long: cython.double = 0.0
        size: cython.double = 0.0
        for i in range(3):
            long += self.frames[self.own, 3 + i] ** 2
        for i in range(3):
            # The rise is measured across and the run along: the way out has its parts the other way round.
            out = along * self.frames[self.own, 3 + i] / long + across * self.frames[self.own, 6 + i]
            up += self.frames[plane, i] * self.frames[self.own, i]
            away += self.frames[plane, i] * out
            size += out * out
        return atan2(away / sqrt(size), up)

    def _gap(self, k, m, u):
        one: cython.double = self.low[k] + u * (self.high[k] - self.low[k])
        return fabs(self.low[m] + u * (self.high[m] - self.low[m]) - one)

    def _keep(self):
        """Remember what is inside where a part of a slab ends."""
        k: cython.Py_ssize_t
        for k in range(self.here_count):
            self.before[k] = self.there[k]
        self.before_count = self.here_count

    # --- rows ---------------------------------------------------------------------------------------------------------

    def _lay(self, k, side, s0, c0, s1, c1, other):
        """Lay a stretch along line k, below (side 0) or above what is inside; one that runs on grows."""
        slot: cython.Py_ssize_t = 2 * k + side
        m: cython.Py_ssize_t = self.latest[slot]
        if m >= 0 and cython.cast(cython.Py_ssize_t, self.rows[m, 5]) == other:
            if side == 0 and fabs(self.rows[m, 3] - s0) < _CLOSE and fabs(self.rows[m, 4] - c0) < _HAIR:
                self.rows[m, 3], self.rows[m, 4] = s1, c1
                return
            if side == 1 and fabs(self.rows[m, 1] - s0) < _CLOSE and fabs(self.rows[m, 2] - c0) < _HAIR:
                self.rows[m, 1], self.rows[m, 2] = s1, c1
                return
        self.latest[slot] = self.total
        if side == 0:
            self._write(s0, c0, s1, c1, other)
        else:
            self._write(s1, c1, s0, c0, other)

    def _lay_sheet(self, s0, low0, high0, s1, low1, high1):
        k: cython.Py_ssize_t = self.sheet_total
        if k == self.sheets.shape[0]:
            self.sheets = np.resize(np.asarray(self.sheets), (2 * k, 7))
        self.sheets[k, 0], self.sheets[k, 1], self.sheets[k, 2], self.sheets[k, 3] = self.side, s0, low0, high0
        self.sheets[k, 4], self.sheets[k, 5], self.sheets[k, 6] = s1, low1, high1
        self.sheet_total += 1

    def _write(self, s0, c0, s1, c1, other):
        k: cython.Py_ssize_t = self.total
        if k == self.rows.shape[0]:
            self.rows = np.resize(np.asarray(self.rows), (2 * k, 6))
        self.rows[k, 0], self.rows[k, 5] = self.own, other
        self.rows[k, 1], self.rows[k, 2], self.rows[k, 3], self.rows[k, 4] = s0, c0, s1, c1
        self.total += 1

    def _upright(self, s, up, down):
        """Lay what is inside on one side of a breakpoint only: it ends at plane ``up``, or begins at ``down``."""
        i: cython.Py_ssize_t = 0
        j: cython.Py_ssize_t = 0
        was: cython.bint = False
        now: cython.bint = False
        at: cython.double
        last: cython.double = 0.0
        while i < self.before_count or j < self.here_count:
            if j >= self.here_count or (i < self.before_count and self.before[i] <= self.here[j]):
                at = self.before[i]
            else:
                at = self.here[j]
            if was != now and at - last > _HAIR:
                if was:
                    self._write(s, last, s, at, up)
                else:
                    self._write(s, at, s, last, down)
            if i < self.before_count and self.before[i] == at:
                was = not was
                i += 1
            else:
                now = not now
                j += 1
            last = at

    # --- level planes -------------------------------------------------------------------------------------------------

    def _read_across(self, outline, column, at, beyond, is_beyond):
        """Note where an outline is met just before ``at`` along one of its axes, or just beyond it."""
        k: cython.Py_ssize_t
        m: cython.Py_ssize_t
        above: cython.bint
        under: cython.bint
        slope: cython.double
        upper: cython.bint = (beyond > 0.0) == is_beyond
        for k in range(self.first[outline], self.first[outline + 1]):
            m = self.after[k]
            if upper:
                above, under = self.points[k, column] > at, self.points[m, column] > at
            else:
                above, under = self.points[k, column] >= at, self.points[m, column] >= at
            if above == under:
                continue
            slope = (self.points[m, 1 - column] - self.points[k, 1 - column]) / (
                self.points[m, column] - self.points[k, column]
            )
            # A corner that lies at the place is met exactly.
            if self.points[m, column] == at:
                self.across[self.across_count] = self.points[m, 1 - column]
            else:
                self.across[self.across_count] = self.points[k, 1 - column] + slope * (at - self.points[k, column])
            self.across_line[self.across_count] = k
            self.across_beyond[self.across_count] = is_beyond
            self.across_count += 1

    def _within(self, start, stop, beyond, at):
        i: cython.Py_ssize_t
        inside: cython.bint = False
        for i in range(start, stop):
            if self.across_beyond[i] == beyond and self.across[i] < at:
                inside = not inside
        return inside

    def _load_level(self, start, stop, beyond):
        """Add level lines: where what is met before the plane begins and ends; without what is met behind it if ``beyond``."""
        i: cython.Py_ssize_t
        k: cython.Py_ssize_t
        n: cython.Py_ssize_t = 0
        was: cython.bint = False
        before: cython.bint = False
        behind: cython.bint = False
        for k in range(start, stop):
            if self.across_beyond[k] and not beyond:
                continue
            i = n
            while i > 0 and self.across[self.order[i - 1]] > self.across[k]:
                self.order[i] = self.order[i - 1]
                i -= 1
            self.order[i] = k
            n += 1
        for i in range(n):
            k = self.order[i]
            if self.across_beyond[k]:
                behind = not behind
            else:
                before = not before
            if i + 1 < n and self.across[self.order[i + 1]] == self.across[k]:
                continue
            if (before and not behind) != was:
                was = not was
                self.low[self.count] = self.high[self.count] = self.across[k]
                self.line[self.count] = self.across_line[k]
                self.count += 1
