# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""From marks in millimetres to lines in device units: placed, bent marks cut into chords, clipped, dashed. Compiled."""

import cython
import numpy as np
from cython.cimports.libc.math import ceil, cos, fabs, floor, sin, sqrt

from isometron.geometry.tolerances import CLOSE

__all__ = ["Strokes"]

_CLOSE = cython.declare(cython.double, CLOSE)

_STRAY = cython.declare(cython.double, 0.2)  # device units by which a chord may stray from its arc
_FEWEST = cython.declare(cython.double, 0.5236)  # a whole ring has at least twelve chords
_FINEST = cython.declare(cython.double, 0.0175)  # and a chord spans a degree or more
_MOST_DASHES = cython.declare(cython.double, 20000.0)


@cython.final
@cython.cclass
class Strokes:
    """Lines x1, y1, x2, y2 in device units, made of marks in mm.

    A point (u, v) of paper lies at (x + scale (u cos t + v sin t), y + scale (u sin t - v cos t)), where t is the turn of the
    paper in radians, clockwise as it is seen. What is outside ``window`` (left, top, right, bottom, device units) is cut off;
    lines with an end outside ``sheet`` (left, lower, right, upper, mm) are kept a second time in `leaving`.
    """

    scale: cython.double
    one: cython.double  # scale times cosine and sine of the turn
    two: cython.double
    turn: cython.double
    x: cython.double
    y: cython.double
    left: cython.double
    top: cython.double
    right: cython.double
    bottom: cython.double
    sheet_left: cython.double
    sheet_lower: cython.double
    sheet_right: cython.double
    sheet_upper: cython.double
    dash: cython.double
    period: cython.double
    from_x: cython.double  # where the dash of an arc that is under way began
    from_y: cython.double
    joints: cython.int  # chords it has come over
    drawing: cython.bint
    room: cython.double  # to the end of the dash, or of the gap
    made: cython.double[:, ::1]
    count = cython.declare(cython.Py_ssize_t, visibility="readonly")
    off: cython.double[:, ::1]
    off_count = cython.declare(cython.Py_ssize_t, visibility="readonly")

    def __init__(
        self,
        scale: cython.double,
        x: cython.double,
        y: cython.double,
        window,
        sheet,
        room=1024,
        turn: cython.double = 0.0,
    ):
        """``room``: lines that there is room for at first; more is made when it is wanted."""
        self.scale, self.x, self.y, self.turn = scale, x, y, turn
        self.one, self.two = scale * cos(turn), scale * sin(turn)
        self.left, self.top, self.right, self.bottom = window
        self.sheet_left, self.sheet_lower, self.sheet_right, self.sheet_upper = sheet
        self.made, self.off = np.empty((room, 4)), np.empty((64, 4))
        self.count = self.off_count = 0
        self.dash = self.period = 0.0

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _to_x(self, u: cython.double, v: cython.double) -> cython.double:
        return self.x + self.one * u + self.two * v

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _to_y(self, u: cython.double, v: cython.double) -> cython.double:
        return self.y + self.two * u - self.one * v

    @property
    def all(self):
        """All lines, (N, 4)."""
        return np.asarray(self.made)[: self.count]

    @property
    def leaving(self):
        """Those with an end outside the sheet, (M, 4)."""
        return np.asarray(self.off)[: self.off_count]

    def set_dash(self, dash: cython.double, gap: cython.double):
        """Draw dashes of ``dash`` device units, and leave out ``gap`` between them; 0 and 0 for whole lines."""
        self.dash, self.period = dash, dash + gap

    def add_lines(self, points: cython.double[:, ::1], role: cython.schar[::1], wanted: cython.int):
        """Add the lines (N, 4), mm, whose role (N,) is wanted.

        Dashes begin at each line's start, and run on over lines that start exactly where the one before them ends.
        """
        k: cython.Py_ssize_t
        x: cython.double
        y: cython.double
        x1: cython.double
        y1: cython.double
        last: cython.Py_ssize_t = points.shape[0] - 1
        on: cython.bint = False
        on_next: cython.bint
        for k in range(points.shape[0]):
            on_next = (
                self.period > 0.0
                and k < last
                and points[k, 2] == points[k + 1, 0]
                and points[k, 3] == points[k + 1, 1]
                and role[k] == role[k + 1]
            )
            if role[k] == wanted:
                x, y = self._to_x(points[k, 0], points[k, 1]), self._to_y(points[k, 0], points[k, 1])
                x1, y1 = self._to_x(points[k, 2], points[k, 3]), self._to_y(points[k, 2], points[k, 3])
                if on or on_next:
                    self._run_on(x, y, x1, y1, on, on_next)
                else:
                    self._line(x, y, x1, y1)
            on = on_next

    @cython.cfunc
    @cython.exceptval(check=False)
    def _run_on(
        self,
        x: cython.double,
        y: cython.double,
        x1: cython.double,
        y1: cython.double,
        on: cython.bint,
        on_next: cython.bint,
    ) -> cython.void:
        """Carry the dashes over one line of several that run on."""
        if not on:
            self._begin_dashes()
            self.from_x, self.from_y = x, y
        if fabs(x1 - x) + fabs(y1 - y) > _MOST_DASHES * self.period:
            self._clipped(x, y, x1, y1)  # dashes more than any sheet shows
        else:
            self._dashed_chord(x, y, x1, y1)
        if not on_next and self.drawing:
            self._clipped(self.from_x, self.from_y, x1, y1)

    def add_arcs(self, shape: cython.double[:, ::1], role: cython.schar[::1], wanted: cython.int):
        """Add the arcs (N, 7) of `solve.marks.Arcs` whose role is wanted, as chords; dashes run on over the chords."""
        k: cython.Py_ssize_t
        for k in range(shape.shape[0]):
            if role[k] == wanted and self._in_window(shape, k):
                self._arc(shape, k)

    def add_curves(self, points: cython.double[:, ::1], role: cython.schar[::1], wanted: cython.int):
        """Add the cubic pieces (N, 8) of `solve.marks.Curves` whose role is wanted, as chords.

        Dashes run on over the chords, and over pieces that start exactly where the one before them ends.
        """
        k: cython.Py_ssize_t
        on: cython.bint = False
        for k in range(points.shape[0]):
            if role[k] != wanted:
                on = False
                continue
            on = on and points[k, 0] == points[k - 1, 6] and points[k, 1] == points[k - 1, 7]
            self._curve(points, k, on)
            on = True
            if self.period > 0.0 and (
                k + 1 == points.shape[0]
                or role[k + 1] != wanted
                or points[k + 1, 0] != points[k, 6]
                or points[k + 1, 1] != points[k, 7]
            ):
                self._end_dashes(points[k, 6], points[k, 7])

    @cython.cfunc
    @cython.exceptval(check=False)
    def _end_dashes(self, u: cython.double, v: cython.double) -> cython.void:
        if self.drawing:
            self._clipped(self.from_x, self.from_y, self._to_x(u, v), self._to_y(u, v))

    @cython.cfunc
    @cython.exceptval(check=False)
    def _curve(self, points: cython.double[:, ::1], k: cython.Py_ssize_t, on: cython.bint) -> cython.void:
        """Add one cubic piece as chords: evenly in its parameter, so many that none strays (Wang 1984)."""
        i: cython.Py_ssize_t
        bend: cython.double = 0.0
        for i in range(2):
            bend = max(bend, fabs(points[k, 2 * i] - 2.0 * points[k, 2 * i + 2] + points[k, 2 * i + 4]))
            bend = max(bend, fabs(points[k, 2 * i + 1] - 2.0 * points[k, 2 * i + 3] + points[k, 2 * i + 5]))
        number: cython.Py_ssize_t = cython.cast(
            cython.Py_ssize_t, ceil(sqrt(0.75 * sqrt(2.0) * bend * self.scale / _STRAY))
        )
        number = min(max(number, 1), 1000)
        x: cython.double = self._to_x(points[k, 0], points[k, 1])
        y: cython.double = self._to_y(points[k, 0], points[k, 1])
        if not on:
            self._begin_dashes()
            self.from_x, self.from_y = x, y
        for i in range(1, number + 1):
            t: cython.double = cython.cast(cython.double, i) / number
            s: cython.double = 1.0 - t
            u: cython.double = (
                s * s * s * points[k, 0] + 3.0 * s * s * t * points[k, 2]
                + 3.0 * s * t * t * points[k, 4] + t * t * t * points[k, 6]
            )  # fmt: skip
            v: cython.double = (
                s * s * s * points[k, 1] + 3.0 * s * s * t * points[k, 3]
                + 3.0 * s * t * t * points[k, 5] + t * t * t * points[k, 7]
            )  # fmt: skip
            x1: cython.double = self._to_x(u, v)
            y1: cython.double = self._to_y(u, v)
            if self.period <= 0.0:
                self._line(x, y, x1, y1)
            else:
                self._dashed_chord(x, y, x1, y1)
            x, y = x1, y1

    def lines_near(self, points: cython.double[:, ::1]) -> np.ndarray:
        """Return the rows of lines (N, 4), mm, whose bounds meet the window."""
        k: cython.Py_ssize_t
        n: cython.Py_ssize_t = 0
        x: cython.double
        y: cython.double
        x1: cython.double
        y1: cython.double
        found = np.empty(points.shape[0], dtype=np.intp)
        rows: cython.Py_ssize_t[::1] = found
        for k in range(points.shape[0]):
            x, x1 = self._to_x(points[k, 0], points[k, 1]), self._to_x(points[k, 2], points[k, 3])
            y, y1 = self._to_y(points[k, 0], points[k, 1]), self._to_y(points[k, 2], points[k, 3])
            if not (
                max(x, x1) < self.left or min(x, x1) > self.right or max(y, y1) < self.top or min(y, y1) > self.bottom
            ):
                rows[n] = k
                n += 1
        return found[:n]

    def arcs_near(self, shape: cython.double[:, ::1]) -> np.ndarray:
        """Return the rows of arcs (N, 7), mm, whose ellipses' bounds meet the window."""
        k: cython.Py_ssize_t
        n: cython.Py_ssize_t = 0
        found = np.empty(shape.shape[0], dtype=np.intp)
        rows: cython.Py_ssize_t[::1] = found
        for k in range(shape.shape[0]):
            if self._in_window(shape, k):
                rows[n] = k
                n += 1
        return found[:n]

    @cython.cfunc
    @cython.exceptval(check=False)
    def _in_window(self, shape: cython.double[:, ::1], k: cython.Py_ssize_t) -> cython.bint:
        """Tell whether the square round an arc's whole ellipse meets the window."""
        reach: cython.double = self.scale * max(shape[k, 2], shape[k, 3])
        x: cython.double = self._to_x(shape[k, 0], shape[k, 1])
        y: cython.double = self._to_y(shape[k, 0], shape[k, 1])
        if x + reach < self.left or x - reach > self.right:
            return False
        return not (y + reach < self.top or y - reach > self.bottom)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _arc(self, shape: cython.double[:, ::1], k: cython.Py_ssize_t) -> cython.void:
        i: cython.Py_ssize_t
        sweep: cython.double = shape[k, 6] - shape[k, 5]
        radius: cython.double = self.scale * max(shape[k, 2], shape[k, 3])
        # A chord over the angle d strays by r d^2 / 8.
        step: cython.double = min(max(sqrt(8.0 * _STRAY / max(radius, _CLOSE)), _FINEST), _FEWEST)
        number: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, ceil(fabs(sweep) / step))
        cosine: cython.double = cos(shape[k, 4])
        sine: cython.double = sin(shape[k, 4])
        one: cython.double = cos(shape[k, 5])
        two: cython.double = sin(shape[k, 5])
        a: cython.double
        b: cython.double
        u: cython.double
        v: cython.double
        x: cython.double = 0.0
        y: cython.double = 0.0
        x1: cython.double
        y1: cython.double
        number = max(number, 1)
        turn_one: cython.double = cos(sweep / number)
        turn_two: cython.double = sin(sweep / number)
        self._begin_dashes()
        for i in range(number + 1):
            a, b = shape[k, 2] * one, shape[k, 3] * two
            # From one chord to the next the direction is turned on: at most 360 times, so to the twelfth digit.
            one, two = one * turn_one - two * turn_two, two * turn_one + one * turn_two
            u = shape[k, 0] + a * cosine - b * sine
            v = shape[k, 1] + a * sine + b * cosine
            x1, y1 = self._to_x(u, v), self._to_y(u, v)
            if i == 0:
                self.from_x, self.from_y = x1, y1
            elif self.period <= 0.0:
                self._line(x, y, x1, y1)
            else:
                self._dashed_chord(x, y, x1, y1)
            x, y = x1, y1
        if self.period > 0.0 and self.drawing:
            self._clipped(self.from_x, self.from_y, x, y)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _begin_dashes(self) -> cython.void:
        self.drawing, self.joints, self.room = True, 0, self.dash

    @cython.cfunc
    @cython.exceptval(check=False)
    def _dashed_chord(
        self, x0: cython.double, y0: cython.double, x1: cython.double, y1: cython.double
    ) -> cython.void:
        """Carry the dashes of an arc on over one chord: a dash is one line over one joint of chords, or more over more."""
        length: cython.double = sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0))
        done: cython.double = 0.0
        x: cython.double
        y: cython.double
        while length - done > self.room:
            done += self.room
            x, y = x0 + (x1 - x0) * done / length, y0 + (y1 - y0) * done / length
            if self.drawing:
                self._clipped(self.from_x, self.from_y, x, y)
            self.from_x, self.from_y, self.joints = x, y, 0
            self.drawing = not self.drawing
            self.room = self.dash if self.drawing else self.period - self.dash
        self.room -= length - done
        self.joints += 1
        if self.drawing and self.joints == 2:
            self._clipped(self.from_x, self.from_y, x1, y1)
            self.from_x, self.from_y, self.joints = x1, y1, 0

    @cython.cfunc
    @cython.exceptval(check=False)
    def _clipped(self, x0: cython.double, y0: cython.double, x1: cython.double, y1: cython.double) -> cython.void:
        low: cython.double
        high: cython.double
        low, high = self._within(x0, y0, x1 - x0, y1 - y0)
        if low < high:
            self._add(x0, y0, x1 - x0, y1 - y0, low, high)

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _within(
        self, x0: cython.double, y0: cython.double, dx: cython.double, dy: cython.double
    ) -> tuple[cython.double, cython.double]:
        """Return the part of a line that lies in the window."""
        low: cython.double = 0.0
        high: cython.double = 1.0
        if not (self._inside(x0, y0) and self._inside(x0 + dx, y0 + dy)):
            low, high = _kept(-dx, x0 - self.left, low, high)
            low, high = _kept(dx, self.right - x0, low, high)
            low, high = _kept(-dy, y0 - self.top, low, high)
            low, high = _kept(dy, self.bottom - y0, low, high)
        return low, high

    @cython.cfunc
    @cython.exceptval(check=False)
    def _line(self, x0: cython.double, y0: cython.double, x1: cython.double, y1: cython.double) -> cython.void:
        """Add the part of a line within the window, in dashes that begin at its start."""
        dx: cython.double = x1 - x0
        dy: cython.double = y1 - y0
        low: cython.double
        high: cython.double
        low, high = self._within(x0, y0, dx, dy)
        if not low < high:
            return
        if self.period <= 0.0:
            self._add(x0, y0, dx, dy, low, high)
            return
        length: cython.double = sqrt(dx * dx + dy * dy)
        if length <= 0.0 or (high - low) * length > _MOST_DASHES * self.period:
            # Dashes more than any sheet shows: the line is left whole.
            self._add(x0, y0, dx, dy, low, high)
            return
        begin: cython.double = floor(low * length / self.period) * self.period
        while begin < high * length:
            if begin + self.dash > low * length:
                self._add(x0, y0, dx, dy, max(begin / length, low), min((begin + self.dash) / length, high))
            begin += self.period

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _inside(self, x: cython.double, y: cython.double) -> cython.bint:
        return self.left <= x <= self.right and self.top <= y <= self.bottom

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _on_sheet(self, x: cython.double, y: cython.double) -> cython.bint:
        # Back from device units to the paper, where the sheet stands upright, with room for the last digit.
        dx: cython.double = (x - self.x) / (self.scale * self.scale)
        dy: cython.double = (y - self.y) / (self.scale * self.scale)
        u: cython.double = self.one * dx + self.two * dy
        v: cython.double = self.two * dx - self.one * dy
        return (
            self.sheet_left - _CLOSE <= u <= self.sheet_right + _CLOSE
            and self.sheet_lower - _CLOSE <= v <= self.sheet_upper + _CLOSE
        )

    @cython.cfunc
    @cython.exceptval(check=False)
    def _add(
        self,
        x: cython.double,
        y: cython.double,
        dx: cython.double,
        dy: cython.double,
        low: cython.double,
        high: cython.double,
    ) -> cython.void:
        x0: cython.double = x + low * dx
        y0: cython.double = y + low * dy
        x1: cython.double = x + high * dx
        y1: cython.double = y + high * dy
        if self.count == self.made.shape[0]:
            self.made = _doubled(self.made)
        self.made[self.count, 0], self.made[self.count, 1] = x0, y0
        self.made[self.count, 2], self.made[self.count, 3] = x1, y1
        self.count += 1
        if self._on_sheet(x0, y0) and self._on_sheet(x1, y1):
            return
        if self.off_count == self.off.shape[0]:
            self.off = _doubled(self.off)
        self.off[self.off_count, 0], self.off[self.off_count, 1] = x0, y0
        self.off[self.off_count, 2], self.off[self.off_count, 3] = x1, y1
        self.off_count += 1


def _doubled(lines) -> np.ndarray:
    """Return the same lines with room for as many more."""
    room = np.empty((2 * len(lines), 4))
    room[: len(lines)] = lines
    return room


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _kept(
    towards: cython.double, room: cython.double, low: cython.double, high: cython.double
) -> tuple[cython.double, cython.double]:
    """Cut low to high down to where towards * t <= room (Liang and Barsky 1984); an empty part has high before low."""
    if towards == 0.0:
        return (low, high) if room >= 0.0 else (1.0, 0.0)
    if towards > 0.0:
        return low, min(high, room / towards)
    return max(low, room / towards), high
