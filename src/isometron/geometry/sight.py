# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""What hides what: convex bodies and frusta against straight lines and rings, seen from one eye, in plain loops.

The loops are compiled when the program is installed (Cython, pure Python mode); without a compiler the same text runs as
it stands, 50 to 150 times slower. Hiders are relative to the eye; paper is in mm.

A convex body hides what lies behind its planes (`bodies.shadows`): of a line one stretch, by Liang and Barsky's clipping
(1984); of a ring the stretches between the angles at which it passes a plane, a + b cos t + c sin t = 0. A frustum hides a
point when the sight line runs inside it on the way there (see `frusta`): along a line that changes only at a root of one of
four quadratics (silhouette, two rims, side) or at an end plane; along a ring it is sampled, and each change is bisected.
"""

import cython
import numpy as np
from cython.cimports.libc.math import acos, atan2, cos, fabs, floor, sin, sqrt

from isometron.geometry.tolerances import HAIR, MERGE_PARAMETER

__all__ = ["Sight"]

_HAIR = cython.declare(cython.double, HAIR)

_NO_DEPTH = cython.declare(cython.double, 1e-200)  # as view.eye: dividing by less overflows
_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_SHORT = cython.declare(cython.double, 0.4)  # turns; as `shadow_loops.arc_hulls`
_TURN = cython.declare(cython.double, 6.283185307179586)
_FINE = cython.declare(cython.double, 0.001)  # mm of paper to which a change along a ring is bisected
_STEP = cython.declare(cython.double, 3.0)  # mm of paper between two samples of a ring, at most
_LEAST_RUN = cython.declare(cython.double, HAIR)  # a sight line within for less of its length only touches
_FRESH = cython.declare(cython.Py_ssize_t, 32)  # a direction turned on so many times is computed anew
_MOST_SAMPLES = cython.declare(cython.Py_ssize_t, 400)
_NARROW = cython.declare(cython.double, 1e-3)  # a dip is followed down to this part of two steps
_MOST_CELLS = cython.declare(cython.Py_ssize_t, 64)
_MOST_PLACES = cython.declare(cython.Py_ssize_t, 32)  # cells that a hider is listed in, on the average
_MOST_WORK = cython.declare(cython.double, 2e8)  # times that frusta are asked of places on curves
_FEWEST_SAMPLES = cython.declare(cython.Py_ssize_t, 24)


@cython.nogil
@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _dips(before: cython.double, here: cython.double, after: cython.double) -> cython.bint:
    """Tell whether a value is so much nearer to nothing than its neighbours that it may pass it between them."""
    return here < before and here <= after and 2.0 * here < max(before, after)


@cython.final
@cython.cclass
class Sight:
    """Everything that hides, sorted into a grid on paper, and the loops that ask it.

    planes, begins, touch : of B bodies, see `shadow_loops.shadow_planes`. frusta : (R, 15) world to local directions row by
    row, the eye in local coordinates, low, high, bulge; own_least : (R,) mm that a sight line must run inside one to be hidden
    from a lenient line of the same volume. Of all H = B + R hiders: owner : (H,) volumes; others : (H,) whether
    it hides other volumes too, or only lines of its own that are no marks on it; box, near : paper bounds (H, 4) and least
    depths (H,), order : by depth, of those that hide; volumes : how many, bodies come in their order; limit : mm, how far
    from the centre of vision the grid reaches at most.
    """

    planes: cython.double[:, ::1]
    begins: cython.Py_ssize_t[::1]
    touch: cython.double[::1]
    frusta: cython.double[:, ::1]
    own_least: cython.double[::1]
    owner: cython.Py_ssize_t[::1]
    others: cython.uchar[::1]
    box: cython.double[:, ::1]
    near: cython.double[::1]
    own: cython.Py_ssize_t[::1]  # of each volume: where its bodies begin
    asked: cython.uchar[::1]  # bodies that hide anything
    cells: cython.Py_ssize_t  # to a side of the grid
    left: cython.double
    lower: cython.double
    columns: cython.double  # cells to a mm
    rows: cython.double
    first: cython.Py_ssize_t[::1]  # of each cell in `listed`
    listed: cython.Py_ssize_t[::1]
    stamp: cython.Py_ssize_t[::1]  # by hider: the last curve that met it
    # The curve that is looked at.
    here: cython.double[::1]  # about the eye: a ring's centre and half axes, or a line's start and way
    places: cython.double[:, ::1]  # of a hull round it, about the eye
    row: cython.Py_ssize_t
    box_left: cython.double  # its bounds on paper, and its depths
    box_lower: cython.double
    box_right: cython.double
    box_upper: cython.double
    far: cython.double
    ring: cython.bint
    begin: cython.double
    sweep: cython.double
    low: cython.double[::1]  # hidden stretches, sorted and disjoint
    high: cython.double[::1]
    count: cython.Py_ssize_t
    crossed: cython.Py_ssize_t[::1]  # planes of one body that a ring may pass
    crossed_count: cython.Py_ssize_t
    under_low: cython.double[::1]  # stretches of a short arc under all planes looked at so far
    under_high: cython.double[::1]
    under_count: cython.Py_ssize_t
    cuts: cython.double[::1]
    cut_count: cython.Py_ssize_t
    local: cython.double[:, ::1]  # frusta that may hide it: the curve in their coordinates, less the eye
    least: cython.double[::1]
    maybe: cython.Py_ssize_t[::1]
    maybe_count: cython.Py_ssize_t
    latest: cython.Py_ssize_t
    work: cython.double  # that may be spent on one curve
    # What is told of all curves so far.
    out_row: cython.Py_ssize_t[::1]
    out_low: cython.double[::1]
    out_high: cython.double[::1]
    total: cython.Py_ssize_t

    def __init__(
        self, planes, begins, touch, frusta, own_least, owner, others, box, near, order, volumes, limit: cython.double
    ):
        self.planes, self.begins, self.touch, self.frusta = planes, begins, touch, frusta
        self.own_least, self.owner, self.others, self.box, self.near = own_least, owner, others, box, near
        self.asked = np.zeros(len(near), dtype=np.uint8)
        np.asarray(self.asked)[order] = 1
        self.own = np.searchsorted(owner[: len(touch)], np.arange(volumes + 1))
        self._lay_grid(limit, order)
        self._fill_grid(order)
        self._make_room()

    def _make_room(self):
        """Make room for what is worked out on the way."""
        self.stamp = np.full(self.near.shape[0], -1, dtype=np.intp)
        self.low, self.high = np.empty(64), np.empty(64)
        self.crossed = np.empty(self.planes.shape[0], dtype=np.intp)
        self.under_low, self.under_high = np.empty(self.planes.shape[0] + 2), np.empty(self.planes.shape[0] + 2)
        self.cuts = np.empty(2 * self.planes.shape[0] + 4 * _MOST_SAMPLES)
        self.local, self.least = np.empty((self.frusta.shape[0], 9)), np.empty(self.frusta.shape[0])
        self.maybe = np.empty(self.frusta.shape[0], dtype=np.intp)

    def twin(self) -> "Sight":
        """Return another that sees the same, for a second thread."""
        other: Sight = Sight.__new__(Sight)
        other.planes, other.begins, other.touch, other.frusta = self.planes, self.begins, self.touch, self.frusta
        other.own_least, other.owner, other.others = self.own_least, self.owner, self.others
        other.box, other.near, other.own, other.asked = self.box, self.near, self.own, self.asked
        other.cells, other.left, other.lower, other.columns, other.rows = (
            self.cells, self.left, self.lower, self.columns, self.rows,
        )  # fmt: skip
        other.first, other.listed = self.first, self.listed
        other._make_room()
        return other

    @cython.cfunc
    def _lay_grid(self, limit: cython.double, order: cython.Py_ssize_t[::1]) -> cython.void:
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

    @cython.cfunc
    @cython.exceptval(check=False)
    def _places(self, order: cython.Py_ssize_t[::1]) -> cython.Py_ssize_t:
        """Return in how many cells the hiders lie, each counted by itself."""
        i: cython.Py_ssize_t
        h: cython.Py_ssize_t
        found: cython.Py_ssize_t = 0
        for i in range(order.shape[0]):
            h = order[i]
            found += (self._row(self.box[h, 3]) - self._row(self.box[h, 1]) + 1) * (
                self._column(self.box[h, 2]) - self._column(self.box[h, 0]) + 1
            )
        return found

    @cython.cfunc
    def _fill_grid(self, order: cython.Py_ssize_t[::1]) -> cython.void:
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
                for y in range(self._row(self.box[h, 1]), self._row(self.box[h, 3]) + 1):
                    for x in range(self._column(self.box[h, 0]), self._column(self.box[h, 2]) + 1):
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

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _column(self, u: cython.double) -> cython.Py_ssize_t:
        return self._cell((u - self.left) * self.columns)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _row(self, v: cython.double) -> cython.Py_ssize_t:
        return self._cell((v - self.lower) * self.rows)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _cell(self, x: cython.double) -> cython.Py_ssize_t:
        if not x > 0.0:  # a place that is no number as well
            return 0
        if x >= self.cells - 1:
            return self.cells - 1
        return cython.cast(cython.Py_ssize_t, x)

    def hidden(
        self,
        eye: cython.double[::1],
        bounds: cython.double[:, ::1],
        depths: cython.double[::1],
        at: cython.double[:, ::1],
        ring: cython.bint,
        span: cython.double[:, ::1],
        owner: cython.Py_ssize_t[::1],
        is_mark: cython.uchar[::1],
        lenient: cython.uchar[::1],
        only_hides: cython.uchar[::1],
        hull: cython.double[:, :, ::1],
    ) -> tuple:
        """Return the hidden stretches (curve, t0, t1) of N curves, sorted and disjoint, t from 0 to 1 along each.

        bounds, depths : their bounds on paper (N, 4) and greatest depths (N,), see `shadow_loops.set_bounds`; what lies
        behind the eye is told as seen. Curves are in the world, and so is the eye. at, span, owner, is_mark, lenient, hull : see
        `hiding.Curves`; only_hides : volumes whose curves are told as seen.
        """
        k: cython.Py_ssize_t
        i: cython.Py_ssize_t
        j: cython.Py_ssize_t
        self.total, most = 0, at.shape[0] + 64
        self.out_row, self.out_low, self.out_high = np.empty(most, dtype=np.intp), np.empty(most), np.empty(most)
        self.ring, self.begin, self.sweep = ring, 0.0, 1.0
        self.places, self.here = np.empty((max(hull.shape[1], 3), 3)), np.zeros(9)
        # Two threads may look at once, each with a sight of its own: see `twin`.
        self.work = max(_MOST_WORK / max(at.shape[0], 1), 1e4)
        with cython.nogil:
            for k in range(self.stamp.shape[0]):
                self.stamp[k] = -1
            for k in range(at.shape[0]):
                self.far = depths[k]
                if only_hides[owner[k]] or not self.far > _NO_DEPTH:
                    continue
                self.row = k
                self.box_left, self.box_lower = bounds[k, 0], bounds[k, 1]
                self.box_right, self.box_upper = bounds[k, 2], bounds[k, 3]
                for i in range(at.shape[1]):
                    self.here[i] = at[k, i]
                for i in range(3):
                    self.here[i] -= eye[i]
                if ring:
                    self.begin, self.sweep = span[k, 0], span[k, 1]
                    for i in range(hull.shape[1]):
                        for j in range(3):
                            self.places[i, j] = hull[k, i, j] - eye[j]
                self.count = self.maybe_count = self.latest = 0
                self._meet(owner[k], is_mark[k], lenient[k])
                if self.maybe_count > 0 and not self._whole():
                    self._behind_frusta()
                self._write()
        found = np.asarray(self.out_row), np.asarray(self.out_low), np.asarray(self.out_high)
        return found[0][: self.total], found[1][: self.total], found[2][: self.total]

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _write(self) -> cython.void:
        """Add the stretches of the curve that was looked at to what is told."""
        i: cython.Py_ssize_t
        if self.total + self.count > self.out_row.shape[0]:
            with cython.gil:
                size = 2 * self.total + self.count
                self.out_row = np.resize(np.asarray(self.out_row), size)
                self.out_low = np.resize(np.asarray(self.out_low), size)
                self.out_high = np.resize(np.asarray(self.out_high), size)
        for i in range(self.count):
            self.out_row[self.total + i] = self.row
            self.out_low[self.total + i], self.out_high[self.total + i] = self.low[i], self.high[i]
        self.total += self.count

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _meet(
        self,
        owner: cython.Py_ssize_t,
        is_mark: cython.bint,
        lenient: cython.bint,
    ) -> cython.void:
        """Find the hiders in the curve's cells that lie before it: bodies are asked at once, frusta are listed."""
        k: cython.Py_ssize_t = self.row
        h: cython.Py_ssize_t
        i: cython.Py_ssize_t
        c: cython.Py_ssize_t
        x: cython.Py_ssize_t
        y: cython.Py_ssize_t
        # Its own volume first: back edges, a quarter of all, are wholly hidden by it.
        for h in range(self.own[owner], self.own[owner + 1]):
            if self.asked[h]:
                self._ask(h, owner, is_mark, lenient)
                if self._whole():
                    return
        for y in range(self._row(self.box_lower), self._row(self.box_upper) + 1):
            for x in range(self._column(self.box_left), self._column(self.box_right) + 1):
                c = y * self.cells + x
                for i in range(self.first[c], self.first[c + 1]):
                    h = self.listed[i]
                    # The nearest come first: all others of the cell begin behind the curve.
                    if self.near[h] >= self.far:
                        break
                    if self.stamp[h] != k:
                        self._ask(h, owner, is_mark, lenient)
                        if self._whole():
                            return

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _ask(
        self,
        h: cython.Py_ssize_t,
        owner: cython.Py_ssize_t,
        is_mark: cython.bint,
        lenient: cython.bint,
    ) -> cython.void:
        """Hide what hider h hides of the curve, or list it."""
        k: cython.Py_ssize_t = self.row
        bodies: cython.Py_ssize_t = self.touch.shape[0]
        self.stamp[h] = k
        if self.near[h] >= self.far or self.box_left > self.box[h, 2] or self.box[h, 0] > self.box_right:
            return
        if self.box_lower > self.box[h, 3] or self.box[h, 1] > self.box_upper:
            return
        if not self.others[h] and (self.owner[h] != owner or (is_mark and h < bodies)):
            return
        if h >= bodies:
            self._list(h - bodies, lenient and self.owner[h] == owner)
        elif self.ring:
            self._ring_behind(h)
        else:
            self._line_behind(h)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _whole(self) -> cython.bint:
        return self.count == 1 and self.low[0] <= 0.0 and self.high[0] >= 1.0

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _add(self, low: cython.double, high: cython.double) -> cython.void:
        """Put a hidden stretch among the others; those that meet become one."""
        i: cython.Py_ssize_t = 0
        j: cython.Py_ssize_t
        k: cython.Py_ssize_t
        if self.count + 1 >= self.low.shape[0]:
            with cython.gil:
                self.low = np.resize(np.asarray(self.low), 2 * self.count + 2)
                self.high = np.resize(np.asarray(self.high), 2 * self.count + 2)
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

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _along(self, i: cython.Py_ssize_t, x: cython.double, y: cython.double, z: cython.double) -> cython.double:
        """Return how far (x, y, z) reaches along the normal of plane i."""
        return self.planes[i, 0] * x + self.planes[i, 1] * y + self.planes[i, 2] * z

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _line_behind(self, h: cython.Py_ssize_t) -> cython.void:
        """Hide the stretch of a line that lies behind all planes of body h; what is on a plane is not behind it."""
        i: cython.Py_ssize_t
        a: cython.double
        b: cython.double
        low: cython.double = 0.0
        high: cython.double = 1.0
        touch: cython.double = self.touch[h]
        x: cython.double = self.here[0]
        y: cython.double = self.here[1]
        z: cython.double = self.here[2]
        x1: cython.double = x + self.here[3]
        y1: cython.double = y + self.here[4]
        z1: cython.double = z + self.here[5]
        for i in range(self.begins[h], self.begins[h + 1]):
            a = self._along(i, x, y, z) - self.planes[i, 3]
            b = self._along(i, x1, y1, z1) - self.planes[i, 3]
            a = 0.0 if fabs(a) <= touch else a
            b = 0.0 if fabs(b) <= touch else b
            if a >= 0.0 and b >= 0.0:
                return
            if a > 0.0:
                low = max(low, a / (a - b))
            elif b > 0.0 and a < 0.0:
                high = min(high, a / (a - b))
            if high - low <= _MERGE:
                return
        self._add(low, high)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _ring_behind(self, h: cython.Py_ssize_t) -> cython.void:
        """Hide the stretches of a ring that lie behind all planes of body h."""
        i: cython.Py_ssize_t
        low: cython.double
        high: cython.double
        touch: cython.double = self.touch[h]
        self.crossed_count = self.cut_count = 0
        for i in range(self.begins[h], self.begins[h + 1]):
            low, high = self._reach_over(i)
            if low >= -touch:
                return
            if high > -touch:
                self.crossed[self.crossed_count] = i
                self.crossed_count += 1
        if fabs(self.sweep) <= _SHORT:
            self._arc_behind(touch)
            return
        for i in range(self.crossed_count):
            self._cut_plane(self.crossed[i])
        self._hide_between(h, -1)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _arc_behind(self, touch: cython.double) -> cython.void:
        """Hide what a short arc shows under all planes it passes: over each lies what is within `half` of `towards`."""
        i: cython.Py_ssize_t
        k: cython.int
        over: cython.double
        across: cython.double
        towards: cython.double
        half: cython.double
        start: cython.double
        turn: cython.double = 1.0 / fabs(self.sweep)  # in spans of the arc
        self.under_low[0], self.under_high[0], self.under_count = 0.0, 1.0, 1
        for i in range(self.crossed_count):
            over, across, towards = self._passing(self.crossed[i])
            if across > 0.0:
                half = acos(max(min(-(over + touch) / across, 1.0), -1.0)) / _TURN * turn
                start = (towards / _TURN - self.begin) / self.sweep - half
                start -= turn * floor(start / turn)
                # The arc is short: what lies over the plane comes to it from one side or the other.
                for k in range(2):
                    self._leave_out(start - k * turn, start - k * turn + 2.0 * half)
                if self.under_count == 0:
                    return
        for i in range(self.under_count):
            self._add(self.under_low[i], self.under_high[i])

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _leave_out(self, low: cython.double, high: cython.double) -> cython.void:
        """Take low to high out of what lies under all planes so far."""
        i: cython.Py_ssize_t = 0
        n: cython.Py_ssize_t
        if low >= 1.0 or high <= 0.0:
            return
        while i < self.under_count:
            n = self.under_count
            if high > self.under_low[i] and low < self.under_high[i]:
                if high < self.under_high[i] - _MERGE:
                    self.under_low[n], self.under_high[n] = high, self.under_high[i]
                    self.under_count += 1
                self.under_high[i] = low
                if self.under_high[i] - self.under_low[i] <= _MERGE:
                    n = self.under_count - 1
                    self.under_low[i], self.under_high[i] = self.under_low[n], self.under_high[n]
                    self.under_count = n
                    continue
            i += 1

    @cython.nogil
    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _reach_over(self, i: cython.Py_ssize_t) -> tuple[cython.double, cython.double]:
        """Return between which heights over plane i the ring lies: a short arc by the three corners of its hull."""
        one: cython.double
        two: cython.double
        three: cython.double
        over: cython.double
        across: cython.double
        if fabs(self.sweep) > _SHORT:
            over, across = self._over(i)
            return over - across, over + across
        one = self._along(i, self.places[0, 0], self.places[0, 1], self.places[0, 2]) - self.planes[i, 3]
        two = self._along(i, self.places[1, 0], self.places[1, 1], self.places[1, 2]) - self.planes[i, 3]
        three = self._along(i, self.places[2, 0], self.places[2, 1], self.places[2, 2]) - self.planes[i, 3]
        return min(one, min(two, three)), max(one, max(two, three))

    @cython.nogil
    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _over(self, i: cython.Py_ssize_t) -> tuple[cython.double, cython.double]:
        """Return how high the ring's centre lies over plane i, and how far the ring reaches up and down from there."""
        b: cython.double = self._along(i, self.here[3], self.here[4], self.here[5])
        c: cython.double = self._along(i, self.here[6], self.here[7], self.here[8])
        over: cython.double = self._along(i, self.here[0], self.here[1], self.here[2]) - self.planes[i, 3]
        return over, sqrt(b * b + c * c)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_plane(self, i: cython.Py_ssize_t) -> cython.void:
        """Note where the ring passes plane i: over + across cos(t - towards) = 0."""
        over: cython.double
        across: cython.double
        towards: cython.double
        half: cython.double
        over, across, towards = self._passing(i)
        if across > 0.0:
            half = acos(max(min(-over / across, 1.0), -1.0))
            self._cut_angle(towards + half)
            self._cut_angle(towards - half)

    @cython.nogil
    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _passing(self, i: cython.Py_ssize_t) -> tuple[cython.double, cython.double, cython.double]:
        """Return the ring's height over plane i as over + across cos(t - towards)."""
        b: cython.double = self._along(i, self.here[3], self.here[4], self.here[5])
        c: cython.double = self._along(i, self.here[6], self.here[7], self.here[8])
        over: cython.double = self._along(i, self.here[0], self.here[1], self.here[2]) - self.planes[i, 3]
        return over, sqrt(b * b + c * c), atan2(c, b)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_angle(self, angle: cython.double) -> cython.void:
        """Note the place of an angle on the ring's span, if it lies there."""
        turns: cython.double = angle / _TURN - self.begin
        sweep: cython.double = self.sweep
        if sweep < 0.0:
            turns, sweep = -turns, -sweep
        self._cut((turns - floor(turns)) / sweep)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _cut(self, t: cython.double) -> cython.void:
        """Note a place within the curve, in order."""
        i: cython.Py_ssize_t = self.cut_count
        if t > 0.0 and t < 1.0:
            while i > 0 and self.cuts[i - 1] > t:
                self.cuts[i] = self.cuts[i - 1]
                i -= 1
            self.cuts[i] = t
            self.cut_count += 1

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _hide_between(self, body: cython.Py_ssize_t, frustum: cython.Py_ssize_t) -> cython.void:
        """Hide the stretches between the cuts whose middle lies behind a body, a listed frustum, or any of those."""
        i: cython.Py_ssize_t
        low: cython.double = 0.0
        high: cython.double
        hidden: cython.bint
        self.cuts[self.cut_count] = 1.0
        for i in range(self.cut_count + 1):
            high = self.cuts[i]
            if high - low <= _MERGE:
                continue
            if body >= 0:
                hidden = self._behind_body(body, (low + high) / 2)
            elif frustum >= 0:
                hidden = self._margin(frustum, (low + high) / 2, 0.0) > 0.0
            else:
                hidden = self._best_margin((low + high) / 2) > 0.0
            if hidden:
                self._add(low, high)
            low = high

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _behind_body(self, h: cython.Py_ssize_t, t: cython.double) -> cython.bint:
        """Tell whether the ring's point at t lies behind all planes of body h."""
        i: cython.Py_ssize_t
        angle: cython.double = _TURN * (self.begin + t * self.sweep)
        one: cython.double = cos(angle)
        two: cython.double = sin(angle)
        x: cython.double = self.here[0] + one * self.here[3] + two * self.here[6]
        y: cython.double = self.here[1] + one * self.here[4] + two * self.here[7]
        z: cython.double = self.here[2] + one * self.here[5] + two * self.here[8]
        for i in range(self.begins[h], self.begins[h + 1]):
            if self._along(i, x, y, z) - self.planes[i, 3] >= -self.touch[h]:
                return False
        return True

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _list(self, r: cython.Py_ssize_t, lenient: cython.bint) -> cython.void:
        """List frustum r as one that may hide the curve: the curve in its coordinates, less the eye."""
        m: cython.Py_ssize_t = self.maybe_count
        i: cython.Py_ssize_t
        j: cython.Py_ssize_t
        if self.ring and m * _FEWEST_SAMPLES > self.work:
            return  # in such a heap the nearest, which come first, hide it
        for i in range(3):
            for j in range(3):
                self.local[m, 3 * i + j] = (
                    self.frusta[r, 3 * j] * self.here[3 * i]
                    + self.frusta[r, 3 * j + 1] * self.here[3 * i + 1]
                    + self.frusta[r, 3 * j + 2] * self.here[3 * i + 2]
                )
        self.maybe[m], self.least[m] = r, self.own_least[r] if lenient else 0.0
        self.maybe_count += 1

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _behind_frusta(self) -> cython.void:
        """Hide what the listed frusta hide: behind each by itself along a line, behind all at once along a ring."""
        m: cython.Py_ssize_t
        x: cython.double = self.here[0]
        y: cython.double = self.here[1]
        z: cython.double = self.here[2]
        away: cython.double = sqrt(x * x + y * y + z * z)
        sampled: cython.bint = self.ring
        for m in range(self.maybe_count):
            # Along its own rounded side a line is hidden only where the sight line runs well within: no root tells where.
            sampled = sampled or self.least[m] > 0.0
            self.least[m] = max(self.least[m] / away if away > 0.0 else 0.0, _LEAST_RUN)
        if sampled:
            self._sample()
            return
        for m in range(self.maybe_count):
            self._cut_at_roots(m)
            self._hide_between(-1, m)
            if self._whole():
                return

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_at_roots(self, m: cython.Py_ssize_t) -> cython.void:
        """Note where along a line it may pass into or out of what listed frustum m hides.

        With the sight line e + s d and d = d0 + t d1 the side is a s^2 + 2 b s + c = 0 (see `_margin`), so the
        silhouette is b^2 - a c = 0, the side is passed at s = 1, and the rims and ends at the heights 0 and 1.
        """
        r: cython.Py_ssize_t = self.maybe[m]
        k: cython.Py_ssize_t
        e0: cython.double = self.frusta[r, 9]
        e1: cython.double = self.frusta[r, 10]
        e2: cython.double = self.frusta[r, 11]
        p0: cython.double = self.local[m, 0]
        p1: cython.double = self.local[m, 1]
        p2: cython.double = self.local[m, 2]
        q0: cython.double = self.local[m, 3]
        q1: cython.double = self.local[m, 4]
        q2: cython.double = self.local[m, 5]
        wide: cython.double
        up: cython.double
        linear: cython.double
        square: cython.double
        slope: cython.double
        linear, square = self._swell(r)
        slope = linear / 2.0 + square * e2
        a00: cython.double = p0 * p0 + p1 * p1 - square * p2 * p2
        a01: cython.double = p0 * q0 + p1 * q1 - square * p2 * q2
        a11: cython.double = q0 * q0 + q1 * q1 - square * q2 * q2
        b0: cython.double = e0 * p0 + e1 * p1 - slope * p2
        b1: cython.double = e0 * q0 + e1 * q1 - slope * q2
        c: cython.double = e0 * e0 + e1 * e1 - (self.frusta[r, 12] ** 2 + linear * e2 + square * e2 * e2)
        self.cut_count = 0
        self._cut_quadratic(b1 * b1 - c * a11, b0 * b1 - c * a01, b0 * b0 - c * a00)
        self._cut_quadratic(a11, a01 + b1, a00 + 2.0 * b0 + c)
        for k in range(2):
            wide, up = self.frusta[r, 12 + k], k - e2
            # The sight line meets the end's plane at e + d up / d2: on the rim the distance from the axle is the radius.
            self._cut_quadratic(
                (e0 * q2 + up * q0) ** 2 + (e1 * q2 + up * q1) ** 2 - (wide * q2) ** 2,
                (e0 * p2 + up * p0) * (e0 * q2 + up * q0)
                + (e1 * p2 + up * p1) * (e1 * q2 + up * q1)
                - wide * wide * p2 * q2,
                (e0 * p2 + up * p0) ** 2 + (e1 * p2 + up * p1) ** 2 - (wide * p2) ** 2,
            )
            if q2 != 0.0:
                self._cut((up - p2) / q2)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_quadratic(self, a: cython.double, b: cython.double, c: cython.double) -> cython.void:
        """Note the roots of a t^2 + 2 b t + c; the one that would lose digits follows from the other (Vieta)."""
        inner: cython.double = b * b - a * c
        q: cython.double
        if inner >= 0.0:
            q = -(b + sqrt(inner)) if b > 0.0 else sqrt(inner) - b
            if a != 0.0:
                self._cut(q / a)
            if q != 0.0:
                self._cut(c / q)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    @cython.inline
    def _swell(self, r: cython.Py_ssize_t) -> tuple[cython.double, cython.double]:
        """Return the factors of z and of its square in the square of frustum r's radius at the height z."""
        low: cython.double = self.frusta[r, 12]
        more: cython.double = self.frusta[r, 13] - low
        return 2.0 * low * more + self.frusta[r, 14], more * more - self.frusta[r, 14]

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _sample(self) -> cython.void:
        """Hide what the listed frusta hide together: by how much they do is sampled, changes and near changes are sought."""
        i: cython.Py_ssize_t
        number: cython.Py_ssize_t
        length: cython.double
        a: cython.double = 0.0
        b: cython.double = 0.0
        c: cython.double
        angle: cython.double
        one: cython.double
        two: cython.double
        number, length = self._how_many()
        if number * self.maybe_count > self.work:
            # A heap of round bodies beyond any drawing: fewer places are looked at, so that it ends.
            length *= number
            number = max(_FEWEST_SAMPLES, cython.cast(cython.Py_ssize_t, self.work / self.maybe_count))
            length /= number
        step: cython.double = 1.0 / number
        # A whole ring has no ends: what dips at its seam is seen one step on.
        turn_one: cython.double = cos(_TURN * step * self.sweep)
        turn_two: cython.double = sin(_TURN * step * self.sweep)
        last: cython.Py_ssize_t = number + 1 if self.ring and fabs(self.sweep) >= 1.0 else number
        self.cut_count = 0
        for i in range(last + 1):
            if not self.ring:
                one, two = i * step, 0.0
            elif i % _FRESH == 0:
                angle = _TURN * (self.begin + i * step * self.sweep)
                one, two = cos(angle), sin(angle)
            else:
                one, two = one * turn_one - two * turn_two, two * turn_one + one * turn_two
            c = self._best_margin_at(one, two)
            if i > 0 and (b > 0.0) != (c > 0.0):
                self._cut_change((i - 1) * step, i * step, length)
            elif i > 1 and (a > 0.0) == (b > 0.0) and _dips(fabs(a), fabs(b), fabs(c)):
                self._cut_dip((i - 2) * step, (i - 1) * step, i * step, length)
            a, b = b, c
        self._hide_between(-1, -1)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _how_many(self) -> tuple[cython.Py_ssize_t, cython.double]:
        """Return the number of samples, four to the narrowest hider of another volume, and the step's length on paper."""
        m: cython.Py_ssize_t
        h: cython.Py_ssize_t
        # An ellipse in a box of sides w and h is no longer than 1.6 (w + h); a line is shorter.
        length: cython.double = 1.6 * (self.box_right - self.box_left + self.box_upper - self.box_lower)
        step: cython.double = _STEP
        if self.ring:
            length *= fabs(self.sweep)
        if not length < 1e4:
            return _MOST_SAMPLES, 1e4 / _MOST_SAMPLES
        for m in range(self.maybe_count):
            if self.least[m] <= _LEAST_RUN:
                h = self.touch.shape[0] + self.maybe[m]
                step = min(step, min(self.box[h, 2] - self.box[h, 0], self.box[h, 3] - self.box[h, 1]) / 4.0)
        if step * _MOST_SAMPLES <= length:
            return _MOST_SAMPLES, length / _MOST_SAMPLES
        number: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, length / step) + 1
        number = max(number, 24 if self.ring else 2)
        return number, length / number

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_change(self, low: cython.double, high: cython.double, length: cython.double) -> cython.void:
        """Note where between two places, ``length`` mm of paper apart, the curve passes from seen to hidden or back."""
        middle: cython.double
        before: cython.bint = self._best_margin(low) > 0.0
        while length > _FINE:
            middle = (low + high) / 2
            if (self._best_margin(middle) > 0.0) == before:
                low = middle
            else:
                high = middle
            length /= 2
        middle = (low + high) / 2
        self._cut(middle - floor(middle))

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _cut_dip(
        self, low: cython.double, middle: cython.double, high: cython.double, length: cython.double
    ) -> cython.void:
        """Between two samples on the same side of a third that is nearer to a change, note both changes if there are any."""
        k: cython.Py_ssize_t
        t: cython.double
        there: cython.double
        best: cython.double = self._best_margin(middle)
        hidden: cython.bint = best > 0.0
        narrow: cython.double = (high - low) * _NARROW
        while high - low > narrow:
            for k in range(2):
                t = (low + middle) / 2 if k == 0 else (middle + high) / 2
                there = self._best_margin(t)
                if (there > 0.0) != hidden:
                    self._cut_change(low, t, length)
                    self._cut_change(t, high, length)
                    return
                if fabs(there) < fabs(best):
                    best = there
                    low, middle, high = (low, t, middle) if k == 0 else (middle, t, high)
                    break
                if k == 0:
                    low = t
                else:
                    high = t

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _best_margin(self, t: cython.double) -> cython.double:
        """Return by how much the listed frusta hide the curve's point at t, positive where one does."""
        angle: cython.double = _TURN * (self.begin + t * self.sweep)
        return self._best_margin_at(cos(angle), sin(angle)) if self.ring else self._best_margin_at(t, 0.0)

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _best_margin_at(self, one: cython.double, two: cython.double) -> cython.double:
        """Return the same at start + one first + two second; the frustum that hid latest is asked first, and one is enough."""
        m: cython.Py_ssize_t
        there: cython.double
        best: cython.double = self._margin(self.latest, one, two)
        for m in range(self.maybe_count):
            if best > 0.0:
                break
            if m != self.latest:
                there = self._margin(m, one, two)
                if there > 0.0:
                    self.latest = m
                best = max(best, there)
        return best

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _margin(self, m: cython.Py_ssize_t, one: cython.double, two: cython.double) -> cython.double:
        """Return how much more of the sight line runs inside listed frustum m than it takes to be hidden by it.

        The sight line to start + one first + two second of the curve is e + s d, 0 <= s <= 1; its part between the end
        planes is cut with a s^2 + 2 b s + c <= 0.
        """
        r: cython.Py_ssize_t = self.maybe[m]
        x: cython.double = self.local[m, 0] + one * self.local[m, 3] + two * self.local[m, 6]
        y: cython.double = self.local[m, 1] + one * self.local[m, 4] + two * self.local[m, 7]
        z: cython.double = self.local[m, 2] + one * self.local[m, 5] + two * self.local[m, 8]
        height: cython.double = self.frusta[r, 11]
        low: cython.double = 0.0
        high: cython.double = 1.0
        if z != 0.0:
            low, high = max(min(-height / z, (1.0 - height) / z), 0.0), min(max(-height / z, (1.0 - height) / z), 1.0)
        elif not 0.0 < height < 1.0:
            return -1.0
        if high - low <= self.least[m]:
            return high - low - self.least[m]
        return self._run(r, x, y, z, low, high) - self.least[m]

    @cython.nogil
    @cython.cfunc
    @cython.exceptval(check=False)
    def _run(
        self,
        r: cython.Py_ssize_t,
        x: cython.double,
        y: cython.double,
        z: cython.double,
        low: cython.double,
        high: cython.double,
    ) -> cython.double:
        """Return how much of the sight line towards (x, y, z) between low and high runs within the side of frustum r."""
        e0: cython.double = self.frusta[r, 9]
        e1: cython.double = self.frusta[r, 10]
        e2: cython.double = self.frusta[r, 11]
        linear: cython.double
        square: cython.double
        near: cython.double
        far: cython.double
        q: cython.double
        linear, square = self._swell(r)
        a: cython.double = x * x + y * y - square * z * z
        b: cython.double = e0 * x + e1 * y - (linear / 2.0 + square * e2) * z
        c: cython.double = e0 * e0 + e1 * e1 - (self.frusta[r, 12] ** 2 + linear * e2 + square * e2 * e2)
        inner: cython.double = b * b - a * c
        if inner < 0.0:
            return high - low if a < 0.0 else -1.0
        q = -(b + sqrt(inner)) if b >= 0.0 else sqrt(inner) - b
        near = 0.0 if q == 0.0 else c / q
        if a == 0.0:
            # One root only: inside lies where 2 b s + c is not positive.
            if b == 0.0:
                return high - low if c <= 0.0 else -1.0
            return min(high, near) - low if b > 0.0 else high - max(low, near)
        far = q / a
        near, far = min(near, far), max(near, far)
        if a < 0.0:
            # Opening nappes: inside is before the nearer root or past the farther; only one of them is in the slab.
            return max(min(high, near) - low, high - max(low, far))
        return min(high, far) - max(low, near)
