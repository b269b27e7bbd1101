# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Where a turned body hides its own outline. Compiled, see `sight`.

A place on an outline is one where the sight line touches the side. The touch itself hides nothing; what does is the body elsewhere, or
the side right there, where it curves the other way along the sight line (a neck that is seen steeply). Both are one question: does the
sight line, on its way to the place, run inside the curve that is turned? That is asked at the curve's own places, where its width is known.
"""

import cython
import numpy as np
from cython.cimports.libc.math import cos, sin

__all__ = ["OwnSides"]

_WITHIN = cython.declare(cython.double, 1e-4)  # of its square: so much nearer to the axle than the side is inside
_LEAST = cython.declare(cython.double, 2e-5)
_GOLDEN = cython.declare(cython.double, 0.6180339887498949)
_SECTIONS = cython.declare(cython.int, 14)
_NOWHERE = cython.declare(cython.double, -1e300)
_NEWTON = cython.declare(cython.int, 3)
_MOST_STEP = cython.declare(cython.double, 0.2)  # that one of them may go
_MOST_TURN = cython.declare(cython.double, 0.01)
_NEAR = cython.declare(cython.double, 1e-4)
_LEVELS = cython.declare(cython.int, 24)
_HALVINGS = cython.declare(cython.int, 14)
_STRAIGHT = cython.declare(cython.Py_ssize_t, 24)  # places that are asked along a straight line
_BENT = cython.declare(cython.Py_ssize_t, 2)  # along a piece of a bent one,
_ROUND = cython.declare(cython.Py_ssize_t, 60)  # and along a ring
_RING = cython.declare(cython.Py_ssize_t, -2)


@cython.final
@cython.cclass
class OwnSides:
    """What is hidden (N,) of outlines, as stretches (N, low, high) of each; bodies are in the measure of their halves and their axle."""

    eyes: cython.double[:, ::1]
    first: cython.Py_ssize_t[::1]
    knots: cython.double[:, ::1]
    each: cython.Py_ssize_t
    curves: cython.double[:, :, ::1]
    rows: cython.Py_ssize_t[::1]
    stretches: cython.double[:, ::1]
    count: cython.Py_ssize_t
    body: cython.Py_ssize_t  # that is asked now
    bend: cython.Py_ssize_t  # the bent side that a line lies on, -1 for a straight one, -2 for a ring
    line: cython.double[
        ::1
    ]  # its ends; the step along the curve and the angle at both ends; or a ring, where it starts and its sweep
    x: cython.double  # the place that is asked now, and the way there from the eye
    y: cython.double
    z: cython.double
    dx: cython.double
    dy: cython.double
    dz: cython.double
    high: cython.double  # where the curve of a bent side is, and how it goes on
    wide: cython.double
    rise: cython.double
    run: cython.double

    def __init__(self, eyes, first, knots, curves, each):
        """eyes : (B, 3); knots : (K, 4) at, wide and their derivatives by the step along each body, from ``first`` (B + 1,) on, ``each`` to a stretch; curves : (S, M, 4) of bent sides."""
        self.eyes, self.first, self.knots, self.curves, self.each = eyes, first, knots, curves, each
        self.rows, self.stretches, self.count = np.empty(64, dtype=np.intp), np.empty((64, 2)), 0
        self.line = np.empty(11)

    def hidden(
        self, body: cython.Py_ssize_t[::1], bend: cython.Py_ssize_t[::1], lines: cython.double[:, ::1]
    ) -> tuple:
        """Return lines (H,) and what is hidden of each (H, 2), in order; body : (N,) -1 for none; bend : (N,); lines : (N, 11)."""
        k: cython.Py_ssize_t
        i: cython.Py_ssize_t
        for k in range(body.shape[0]):
            if body[k] < 0:
                continue
            self.body, self.bend = body[k], bend[k]
            for i in range(11):
                self.line[i] = lines[k, i]
            self._along(k, _ROUND if bend[k] == _RING else _STRAIGHT if bend[k] < 0 else _BENT)
        return np.asarray(self.rows)[: self.count].copy(), np.asarray(self.stretches)[: self.count].copy()

    @cython.cfunc
    @cython.exceptval(check=False)
    def _along(self, k: cython.Py_ssize_t, steps: cython.Py_ssize_t) -> cython.void:
        i: cython.Py_ssize_t
        before: cython.bint = self._is_hidden(0.0)
        here: cython.bint
        begun: cython.double = 0.0
        at: cython.double
        for i in range(1, steps + 1):
            here = self._is_hidden(cython.cast(cython.double, i) / steps)
            if here != before:
                at = self._change(
                    cython.cast(cython.double, i - 1) / steps, cython.cast(cython.double, i) / steps, before
                )
                if before:
                    self._tell(k, begun, at)
                begun, before = at, here
        if before:
            self._tell(k, begun, 1.0)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _change(self, low: cython.double, high: cython.double, before: cython.bint) -> cython.double:
        middle: cython.double
        for _ in range(_HALVINGS):
            middle = (low + high) / 2.0
            if self._is_hidden(middle) == before:
                low = middle
            else:
                high = middle
        return (low + high) / 2.0

    @cython.cfunc
    @cython.exceptval(check=False)
    def _is_hidden(self, t: cython.double) -> cython.bint:
        self._place(t)
        k: cython.Py_ssize_t
        ex: cython.double = self.eyes[self.body, 0]
        ey: cython.double = self.eyes[self.body, 1]
        ez: cython.double = self.eyes[self.body, 2]
        dx: cython.double = self.x - ex
        dy: cython.double = self.y - ey
        dz: cython.double = self.z - ez
        if dz == 0.0:
            return False
        self.dx, self.dy, self.dz = dx, dy, dz
        before: cython.double = _NOWHERE
        here: cython.double = _NOWHERE
        after: cython.double
        last: cython.Py_ssize_t = self.first[self.body + 1]
        for k in range(self.first[self.body], last):
            after = self._depth(k, 0.0)
            if after > 0.0:
                return True
            if k > self.first[self.body] and self._is_peak(k - 1, before, here, after) and self._deepest(k - 1) > 0.0:
                return True
            if after == here == _NOWHERE and k % self.each > 0 and self._is_within(k - 1):
                return True
            before, here = here, after
        return False

    @cython.cfunc
    @cython.exceptval(check=False)
    def _depth(self, k: cython.Py_ssize_t, u: cython.double) -> cython.double:
        """Return by how much (of squares) the sight line runs inside the side at the height of a place of the curve: u of the way on from k."""
        at: cython.double = self.knots[k, 0]
        wide: cython.double = self.knots[k, 1]
        if u > 0.0:
            h00: cython.double = (2.0 * u - 3.0) * u * u + 1.0
            h10: cython.double = ((u - 2.0) * u + 1.0) * u
            h11: cython.double = (u - 1.0) * u * u
            at = h00 * at + h10 * self.knots[k, 2] + (1.0 - h00) * self.knots[k + 1, 0] + h11 * self.knots[k + 1, 2]
            wide = (
                h00 * wide + h10 * self.knots[k, 3] + (1.0 - h00) * self.knots[k + 1, 1] + h11 * self.knots[k + 1, 3]
            )
        s: cython.double = (at - self.eyes[self.body, 2]) / self.dz
        if s <= 0.0 or s >= 1.0:
            return _NOWHERE
        x: cython.double = self.eyes[self.body, 0] + s * self.dx
        y: cython.double = self.eyes[self.body, 1] + s * self.dy
        return wide * wide * (1.0 - _WITHIN) - (x * x + y * y) - _LEAST

    @cython.cfunc
    @cython.exceptval(check=False)
    def _is_peak(
        self, k: cython.Py_ssize_t, before: cython.double, here: cython.double, after: cython.double
    ) -> cython.bint:
        """Tell whether the sight line may run deepest about place k: each stretch ends there for itself."""
        if here == _NOWHERE:
            return False
        return (here > before or k % self.each == 0) and (here >= after or k % self.each == self.each - 1)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _is_within(self, k: cython.Py_ssize_t) -> cython.bint:
        """Tell whether a sight line all of which lies between the heights of places k and k + 1 runs inside the side there."""
        low: cython.double = self.knots[k, 0]
        tall: cython.double = self.knots[k + 1, 0] - low
        ez: cython.double = self.eyes[self.body, 2]
        i: cython.int
        if tall == 0.0 or min(ez, self.z) < low or max(ez, self.z) > low + tall:
            return False
        for i in range(1, _LEVELS):
            if self._depth(k, (ez + (self.z - ez) * i / _LEVELS - low) / tall) > 0.0:
                return True
        return False

    @cython.cfunc
    @cython.exceptval(check=False)
    def _deepest(self, k: cython.Py_ssize_t) -> cython.double:
        """Return the greatest depth between the places before and after place k, which is deeper than both (golden section)."""
        # A stretch ends where the next one begins: between those two places there is no curve.
        low: cython.double = k - 1.0 if k % self.each > 0 else k
        high: cython.double = k + 1.0 if k % self.each < self.each - 1 else k
        one: cython.double = high - _GOLDEN * (high - low)
        two: cython.double = low + _GOLDEN * (high - low)
        f: cython.double = self._at(one)
        g: cython.double = self._at(two)
        for _ in range(_SECTIONS):
            if f > 0.0 or g > 0.0:
                return 1.0
            if f > g:
                high, two, g = two, one, f
                one = high - _GOLDEN * (high - low)
                f = self._at(one)
            else:
                low, one, f = one, two, g
                two = low + _GOLDEN * (high - low)
                g = self._at(two)
        return max(f, g)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _at(self, t: cython.double) -> cython.double:
        k: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, t)
        return self._depth(k, t - k)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _place(self, t: cython.double) -> cython.void:
        """Set the place at t of the line: on a bent side the place of the curve there, turned."""
        one: cython.double
        two: cython.double
        if self.bend == _RING:
            one = cos(self.line[9] + t * self.line[10])
            two = sin(self.line[9] + t * self.line[10])
            self.x = self.line[0] + one * self.line[3] + two * self.line[6]
            self.y = self.line[1] + one * self.line[4] + two * self.line[7]
            self.z = self.line[2] + one * self.line[5] + two * self.line[8]
            return
        if self.bend < 0:
            self.x = self.line[0] + t * (self.line[3] - self.line[0])
            self.y = self.line[1] + t * (self.line[4] - self.line[1])
            self.z = self.line[2] + t * (self.line[5] - self.line[2])
            return
        step: cython.double = self.line[0] + t * (self.line[2] - self.line[0])
        angle: cython.double = self.line[1] + t * (self.line[3] - self.line[1])
        touch: cython.double
        by_step: cython.double
        by_angle: cython.double
        size: cython.double
        # Between two places of the outline the sight line has to touch the side too: Newton's steps square to the outline.
        for _ in range(_NEWTON):
            touch = self._touch(step, angle)
            by_angle = (self._touch(step, angle + _NEAR) - touch) / _NEAR
            by_step = (self._touch(step + _NEAR, angle) - touch) / _NEAR
            size = by_angle * by_angle + by_step * by_step
            if size == 0.0:
                break
            step -= min(max(touch * by_step / size, -_MOST_STEP), _MOST_STEP)
            angle -= min(max(touch * by_angle / size, -_MOST_TURN), _MOST_TURN)
        self._on_curve(step)
        self.x, self.y, self.z = self.wide * cos(angle), self.wide * sin(angle), self.high

    @cython.cfunc
    @cython.exceptval(check=False)
    def _touch(self, step: cython.double, angle: cython.double) -> cython.double:
        """Return how far the eye is before the plane that touches the side, times the length of the side's normal; see `turning`."""
        self._on_curve(step)
        away: cython.double = self.eyes[self.body, 0] * cos(angle) + self.eyes[self.body, 1] * sin(angle)
        return self.rise * (away - self.wide) + self.run * (self.high - self.eyes[self.body, 2])

    @cython.cfunc
    @cython.exceptval(check=False)
    def _on_curve(self, step: cython.double) -> cython.void:
        """Set height and width of the bent side's curve at a step, and how they grow with it."""
        last: cython.Py_ssize_t = self.curves.shape[1] - 1
        k: cython.Py_ssize_t = min(max(cython.cast(cython.Py_ssize_t, step), 0), last - 1)
        u: cython.double = step - k
        b: cython.Py_ssize_t = self.bend
        h00: cython.double = (2.0 * u - 3.0) * u * u + 1.0
        h10: cython.double = ((u - 2.0) * u + 1.0) * u
        h11: cython.double = (u - 1.0) * u * u
        d00: cython.double = 6.0 * (u - 1.0) * u
        d10: cython.double = (3.0 * u - 4.0) * u + 1.0
        d11: cython.double = (3.0 * u - 2.0) * u
        z0: cython.double = self.curves[b, k, 0]
        z1: cython.double = self.curves[b, k + 1, 0]
        w0: cython.double = self.curves[b, k, 1]
        w1: cython.double = self.curves[b, k + 1, 1]
        self.high = h00 * z0 + h10 * self.curves[b, k, 2] + (1.0 - h00) * z1 + h11 * self.curves[b, k + 1, 2]
        self.wide = h00 * w0 + h10 * self.curves[b, k, 3] + (1.0 - h00) * w1 + h11 * self.curves[b, k + 1, 3]
        self.rise = d00 * (z0 - z1) + d10 * self.curves[b, k, 2] + d11 * self.curves[b, k + 1, 2]
        self.run = d00 * (w0 - w1) + d10 * self.curves[b, k, 3] + d11 * self.curves[b, k + 1, 3]

    @cython.cfunc
    @cython.exceptval(check=False)
    def _tell(self, k: cython.Py_ssize_t, low: cython.double, high: cython.double) -> cython.void:
        if self.count == self.rows.shape[0]:
            rows, stretches = np.empty(2 * self.count, dtype=np.intp), np.empty((2 * self.count, 2))
            rows[: self.count], stretches[: self.count] = self.rows, self.stretches
            self.rows, self.stretches = rows, stretches
        self.rows[self.count] = k
        self.stretches[self.count, 0], self.stretches[self.count, 1] = low, high
        self.count += 1
