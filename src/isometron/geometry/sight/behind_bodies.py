# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""What convex bodies hide of a line or a ring.

A body hides what lies behind its planes (`bodies.shadows`): of a line one stretch, by Liang and Barsky's clipping (1984); of a
ring the stretches between the angles at which it passes a plane, a + b cos t + c sin t = 0.
"""

import math

import cython
import numpy as np
from cython.cimports.libc.math import acos, atan2, cos, fabs, floor, sin, sqrt

from isometron.geometry.sight.curve import Curve  # noqa: F401 (the compiler's types)
from isometron.geometry.tolerances import MERGE_PARAMETER, SHORT_ARC

__all__ = ["BehindBodies"]

_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_SHORT = cython.declare(cython.double, SHORT_ARC)
_TURN = cython.declare(cython.double, math.tau)


class BehindBodies:
    """planes, begins, touch : of B bodies, see `shadow_loops.shadow_planes`; curve : the one that is looked at.

    crossed : planes of one body that a ring may pass; under_low, under_high : stretches of a short arc under all planes
    looked at so far.
    """

    def __init__(self, planes, begins, touch, curve):
        self.planes, self.begins, self.touch, self.curve = planes, begins, touch, curve
        self.crossed = np.empty(len(planes), dtype=np.intp)
        self.under_low, self.under_high = np.empty(len(planes) + 2), np.empty(len(planes) + 2)

    def line_behind(self, h):
        """Hide the stretch of a line that lies behind all planes of body h; what is on a plane is not behind it.

        A line along the rim of what is seen of the body lies on a plane through the eye: the body stands on one side of it.
        """
        i: cython.Py_ssize_t
        rim: cython.Py_ssize_t = -1
        a: cython.double
        b: cython.double
        low: cython.double = 0.0
        high: cython.double = 1.0
        touch: cython.double = self.touch[h]
        x: cython.double = self.curve.here[0]
        y: cython.double = self.curve.here[1]
        z: cython.double = self.curve.here[2]
        x1: cython.double = x + self.curve.here[3]
        y1: cython.double = y + self.curve.here[4]
        z1: cython.double = z + self.curve.here[5]
        for i in range(self.begins[h], self.begins[h + 1]):
            a = self._along(i, x, y, z) - self.planes[i, 3]
            b = self._along(i, x1, y1, z1) - self.planes[i, 3]
            a = 0.0 if fabs(a) <= touch else a
            b = 0.0 if fabs(b) <= touch else b
            if a >= 0.0 and b >= 0.0:
                if a > 0.0 or b > 0.0 or fabs(self.planes[i, 3]) > touch:
                    return
                # A face seen edge on has itself, and its ridges, on one plane.
                if rim >= 0 and self._along(rim, self.planes[i, 0], self.planes[i, 1], self.planes[i, 2]) < 0.0:
                    return
                rim = i
                continue
            if a > 0.0:
                low = max(low, a / (a - b))
            elif b > 0.0 and a < 0.0:
                high = min(high, a / (a - b))
            if high - low <= _MERGE:
                return
        if rim < 0:
            self.curve.hide(low, high)
            return
        # The way to the right of the line as the eye sees it is that of p x q; the body lies against the plane's normal.
        a = self._along(rim, y * z1 - z * y1, z * x1 - x * z1, x * y1 - y * x1)
        self.curve.beside(a < 0.0, low, high)

    def ring_behind(self, h):
        """Hide the stretches of a ring that lie behind all planes of body h."""
        i: cython.Py_ssize_t
        low: cython.double
        high: cython.double
        touch: cython.double = self.touch[h]
        self.crossed_count = self.curve.cut_count = 0
        for i in range(self.begins[h], self.begins[h + 1]):
            low, high = self._reach_over(i)
            if low >= -touch:
                return
            if high > -touch:
                self.crossed[self.crossed_count] = i
                self.crossed_count += 1
        if fabs(self.curve.sweep) <= _SHORT:
            self._arc_behind(touch)
            return
        for i in range(self.crossed_count):
            self._cut_plane(self.crossed[i])
        self._hide_between(h)

    def _arc_behind(self, touch):
        """Hide what a short arc shows under all planes it passes: over each lies what is within `half` of `towards`."""
        i: cython.Py_ssize_t
        k: cython.int
        over: cython.double
        across: cython.double
        towards: cython.double
        half: cython.double
        start: cython.double
        turn: cython.double = 1.0 / fabs(self.curve.sweep)  # in spans of the arc
        self.under_low[0], self.under_high[0], self.under_count = 0.0, 1.0, 1
        for i in range(self.crossed_count):
            over, across, towards = self._passing(self.crossed[i])
            if across > 0.0:
                half = acos(max(min(-(over + touch) / across, 1.0), -1.0)) / _TURN * turn
                start = (towards / _TURN - self.curve.begin) / self.curve.sweep - half
                start -= turn * floor(start / turn)
                # The arc is short: what lies over the plane comes to it from one side or the other.
                for k in range(2):
                    self._leave_out(start - k * turn, start - k * turn + 2.0 * half)
                if self.under_count == 0:
                    return
        for i in range(self.under_count):
            self.curve.hide(self.under_low[i], self.under_high[i])

    def _leave_out(self, low, high):
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

    def _reach_over(self, i):
        """Return between which heights over plane i the ring lies: a short arc by the three corners of its hull."""
        one: cython.double
        two: cython.double
        three: cython.double
        over: cython.double
        across: cython.double
        if fabs(self.curve.sweep) > _SHORT:
            over, across = self._over(i)
            return over - across, over + across
        one = (
            self._along(i, self.curve.places[0, 0], self.curve.places[0, 1], self.curve.places[0, 2])
            - self.planes[i, 3]
        )
        two = (
            self._along(i, self.curve.places[1, 0], self.curve.places[1, 1], self.curve.places[1, 2])
            - self.planes[i, 3]
        )
        three = (
            self._along(i, self.curve.places[2, 0], self.curve.places[2, 1], self.curve.places[2, 2])
            - self.planes[i, 3]
        )
        return min(one, min(two, three)), max(one, max(two, three))

    def _over(self, i):
        """Return how high the ring's centre lies over plane i, and how far the ring reaches up and down from there."""
        b: cython.double = self._along(i, self.curve.here[3], self.curve.here[4], self.curve.here[5])
        c: cython.double = self._along(i, self.curve.here[6], self.curve.here[7], self.curve.here[8])
        over: cython.double = (
            self._along(i, self.curve.here[0], self.curve.here[1], self.curve.here[2]) - self.planes[i, 3]
        )
        return over, sqrt(b * b + c * c)

    def _cut_plane(self, i):
        """Note where the ring passes plane i: over + across cos(t - towards) = 0."""
        over: cython.double
        across: cython.double
        towards: cython.double
        half: cython.double
        over, across, towards = self._passing(i)
        if across > 0.0:
            half = acos(max(min(-over / across, 1.0), -1.0))
            self.curve.cut_angle(towards + half)
            self.curve.cut_angle(towards - half)

    def _passing(self, i):
        """Return the ring's height over plane i as over + across cos(t - towards)."""
        b: cython.double = self._along(i, self.curve.here[3], self.curve.here[4], self.curve.here[5])
        c: cython.double = self._along(i, self.curve.here[6], self.curve.here[7], self.curve.here[8])
        over: cython.double = (
            self._along(i, self.curve.here[0], self.curve.here[1], self.curve.here[2]) - self.planes[i, 3]
        )
        return over, sqrt(b * b + c * c), atan2(c, b)

    def _hide_between(self, body):
        """Hide the stretches between the cuts whose middle lies behind a body."""
        i: cython.Py_ssize_t
        low: cython.double = 0.0
        high: cython.double
        self.curve.cuts[self.curve.cut_count] = 1.0
        for i in range(self.curve.cut_count + 1):
            high = self.curve.cuts[i]
            if high - low <= _MERGE:
                continue
            if self._holds(body, (low + high) / 2):
                self.curve.hide(low, high)
            low = high

    def _holds(self, h, t):
        """Tell whether the ring's point at t lies behind all planes of body h."""
        i: cython.Py_ssize_t
        angle: cython.double = _TURN * (self.curve.begin + t * self.curve.sweep)
        one: cython.double = cos(angle)
        two: cython.double = sin(angle)
        x: cython.double = self.curve.here[0] + one * self.curve.here[3] + two * self.curve.here[6]
        y: cython.double = self.curve.here[1] + one * self.curve.here[4] + two * self.curve.here[7]
        z: cython.double = self.curve.here[2] + one * self.curve.here[5] + two * self.curve.here[8]
        for i in range(self.begins[h], self.begins[h + 1]):
            if self._along(i, x, y, z) - self.planes[i, 3] >= -self.touch[h]:
                return False
        return True

    def _along(self, i, x, y, z):
        """Return how far (x, y, z) reaches along the normal of plane i."""
        return self.planes[i, 0] * x + self.planes[i, 1] * y + self.planes[i, 2] * z
