# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""What round pieces hide of a line or a ring.

A frustum hides a point when the sight line runs inside it on the way there (see `frusta`): along a line that changes only at
a root of one of four quadratics (silhouette, two rims, side) or at an end plane; along a ring it is sampled, and each change
is bisected.
"""

import math

import cython
import numpy as np
from cython.cimports.libc.math import cos, fabs, floor, sin, sqrt

from isometron.geometry.sight.curve import Curve  # noqa: F401 (the compiler's types)
from isometron.geometry.tolerances import HAIR, MERGE_PARAMETER

__all__ = ["MOST_SAMPLES", "BehindFrusta"]

MOST_SAMPLES = 400
_EYE = cython.declare(cython.Py_ssize_t, 9)  # columns of a frustum: the eye in its coordinates,
_LOW = cython.declare(cython.Py_ssize_t, 12)  # its radii below and above,
_BULGE = cython.declare(cython.Py_ssize_t, 14)  # and how much its side swells
_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_TURN = cython.declare(cython.double, math.tau)
_FINE = cython.declare(cython.double, 0.001)  # mm of paper to which a change along a ring is bisected
_STEP = cython.declare(cython.double, 3.0)  # mm of paper between two samples of a ring, at most
_LEAST_RUN = cython.declare(cython.double, HAIR)  # a sight line within for less of its length only touches
_FRESH = cython.declare(cython.Py_ssize_t, 32)  # a direction turned on so many times is computed anew
_MOST_SAMPLES = cython.declare(cython.Py_ssize_t, MOST_SAMPLES)
_FEWEST_SAMPLES = cython.declare(cython.Py_ssize_t, 24)
_NARROW = cython.declare(cython.double, 1e-3)  # a dip is followed down to this part of two steps


def _dips(before, here, after):
    """Tell whether a value is so much nearer to nothing than its neighbours that it may pass it between them."""
    return here < before and here <= after and 2.0 * here < max(before, after)


class BehindFrusta:
    """frusta : (R, 15) world to local directions row by row, the eye in local coordinates, low, high, bulge; own_least : (R,)
    mm that a sight line must run inside one to be hidden from a lenient line of the same volume; box : their bounds on paper
    (R, 4); curve : the one that is looked at. work : that may be spent on it; full : so many are listed that no more will be.

    Those that may hide it are listed, ``maybe_count`` of them: local : the curve in their coordinates, less the eye.
    """

    def __init__(self, frusta, own_least, box, curve):
        self.frusta, self.own_least, self.box, self.curve = frusta, own_least, box, curve
        self.local, self.least = np.empty((len(frusta), 9)), np.empty(len(frusta))
        self.maybe = np.empty(len(frusta), dtype=np.intp)

    def list_one(self, r, lenient):
        """List frustum r as one that may hide the curve: the curve in its coordinates, less the eye."""
        m: cython.Py_ssize_t = self.maybe_count
        i: cython.Py_ssize_t
        j: cython.Py_ssize_t
        if m * _FEWEST_SAMPLES > self.work:
            self.full = True  # in such a heap the nearest, which come first, hide it
            return
        for i in range(3):
            for j in range(3):
                self.local[m, 3 * i + j] = (
                    self.frusta[r, 3 * j] * self.curve.here[3 * i]
                    + self.frusta[r, 3 * j + 1] * self.curve.here[3 * i + 1]
                    + self.frusta[r, 3 * j + 2] * self.curve.here[3 * i + 2]
                )
        self.maybe[m], self.least[m] = r, self.own_least[r] if lenient else 0.0
        self.maybe_count += 1

    def hide_all(self):
        """Hide what the listed frusta hide: behind each by itself along a line, behind all at once along a ring."""
        m: cython.Py_ssize_t
        x: cython.double = self.curve.here[0]
        y: cython.double = self.curve.here[1]
        z: cython.double = self.curve.here[2]
        away: cython.double = sqrt(x * x + y * y + z * z)
        sampled: cython.bint = self.curve.ring
        for m in range(self.maybe_count):
            # Along its own rounded side a line is hidden only where the sight line runs well within: no root tells where.
            sampled = sampled or self.least[m] > 0.0
            self.least[m] = max(self.least[m] / away if away > 0.0 else 0.0, _LEAST_RUN)
        if sampled:
            self._sample()
            return
        for m in range(self.maybe_count):
            self._cut_at_roots(m)
            self._hide_between(m)
            if self.curve.whole():
                return

    def _cut_at_roots(self, m):
        """Note where along a line it may pass into or out of what listed frustum m hides.

        With the sight line e + s d and d = d0 + t d1 the side is a s^2 + 2 b s + c = 0 (see `_margin`), so the
        silhouette is b^2 - a c = 0, the side is passed at s = 1, and the rims and ends at the heights 0 and 1.
        """
        r: cython.Py_ssize_t = self.maybe[m]
        k: cython.Py_ssize_t
        e0: cython.double = self.frusta[r, _EYE]
        e1: cython.double = self.frusta[r, _EYE + 1]
        e2: cython.double = self.frusta[r, _EYE + 2]
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
        c: cython.double = e0 * e0 + e1 * e1 - (self.frusta[r, _LOW] ** 2 + linear * e2 + square * e2 * e2)
        self.curve.cut_count = 0
        self._cut_quadratic(b1 * b1 - c * a11, b0 * b1 - c * a01, b0 * b0 - c * a00)
        self._cut_quadratic(a11, a01 + b1, a00 + 2.0 * b0 + c)
        for k in range(2):
            wide, up = self.frusta[r, _LOW + k], k - e2
            # The sight line meets the end's plane at e + d up / d2: on the rim the distance from the axle is the radius.
            self._cut_quadratic(
                (e0 * q2 + up * q0) ** 2 + (e1 * q2 + up * q1) ** 2 - (wide * q2) ** 2,
                (e0 * p2 + up * p0) * (e0 * q2 + up * q0)
                + (e1 * p2 + up * p1) * (e1 * q2 + up * q1)
                - wide * wide * p2 * q2,
                (e0 * p2 + up * p0) ** 2 + (e1 * p2 + up * p1) ** 2 - (wide * p2) ** 2,
            )
            if q2 != 0.0:
                self.curve.cut((up - p2) / q2)

    def _cut_quadratic(self, a, b, c):
        """Note the roots of a t^2 + 2 b t + c; the one that would lose digits follows from the other (Vieta)."""
        inner: cython.double = b * b - a * c
        q: cython.double
        if inner >= 0.0:
            q = -(b + sqrt(inner)) if b > 0.0 else sqrt(inner) - b
            if a != 0.0:
                self.curve.cut(q / a)
            if q != 0.0:
                self.curve.cut(c / q)

    def _swell(self, r):
        """Return the factors of z and of its square in the square of frustum r's radius at the height z."""
        low: cython.double = self.frusta[r, _LOW]
        more: cython.double = self.frusta[r, _LOW + 1] - low
        return 2.0 * low * more + self.frusta[r, _BULGE], more * more - self.frusta[r, _BULGE]

    def _hide_between(self, frustum):
        """Hide the stretches between the cuts whose middle lies behind a listed frustum, or (-1) behind any."""
        i: cython.Py_ssize_t
        low: cython.double = 0.0
        high: cython.double
        hidden: cython.bint
        self.curve.cuts[self.curve.cut_count] = 1.0
        for i in range(self.curve.cut_count + 1):
            high = self.curve.cuts[i]
            if high - low <= _MERGE:
                continue
            if frustum >= 0:
                hidden = self._margin(frustum, (low + high) / 2, 0.0) > 0.0
            else:
                hidden = self._best_margin((low + high) / 2) > 0.0
            if hidden:
                self.curve.hide(low, high)
            low = high

    def _sample(self):
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
        turn_one: cython.double = cos(_TURN * step * self.curve.sweep)
        turn_two: cython.double = sin(_TURN * step * self.curve.sweep)
        last: cython.Py_ssize_t = number + 1 if self.curve.ring and fabs(self.curve.sweep) >= 1.0 else number
        self.curve.cut_count = 0
        for i in range(last + 1):
            if not self.curve.ring:
                one, two = i * step, 0.0
            elif i % _FRESH == 0:
                angle = _TURN * (self.curve.begin + i * step * self.curve.sweep)
                one, two = cos(angle), sin(angle)
            else:
                one, two = one * turn_one - two * turn_two, two * turn_one + one * turn_two
            c = self._best_margin_at(one, two)
            if i > 0 and (b > 0.0) != (c > 0.0):
                self._cut_change((i - 1) * step, i * step, length)
            elif i > 1 and (a > 0.0) == (b > 0.0) and _dips(fabs(a), fabs(b), fabs(c)):
                self._cut_dip((i - 2) * step, (i - 1) * step, i * step, length)
            a, b = b, c
        self._hide_between(-1)

    def _how_many(self):
        """Return the number of samples, four to the narrowest hider of another volume, and the step's length on paper."""
        m: cython.Py_ssize_t
        h: cython.Py_ssize_t
        # An ellipse in a box of sides w and h is no longer than 1.6 (w + h); a line is shorter.
        length: cython.double = 1.6 * (self.curve.right - self.curve.left + self.curve.upper - self.curve.lower)
        step: cython.double = _STEP
        if self.curve.ring:
            length *= fabs(self.curve.sweep)
        if not length < 1e4:
            return _MOST_SAMPLES, 1e4 / _MOST_SAMPLES
        for m in range(self.maybe_count):
            if self.least[m] <= _LEAST_RUN:
                h = self.maybe[m]
                step = min(step, min(self.box[h, 2] - self.box[h, 0], self.box[h, 3] - self.box[h, 1]) / 4.0)
        if step * _MOST_SAMPLES <= length:
            return _MOST_SAMPLES, length / _MOST_SAMPLES
        number: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, length / step) + 1
        number = max(number, 24 if self.curve.ring else 2)
        return number, length / number

    def _cut_change(self, low, high, length):
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
        self.curve.cut(middle - floor(middle))

    def _cut_dip(self, low, middle, high, length):
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

    def _best_margin(self, t):
        """Return by how much the listed frusta hide the curve's point at t, positive where one does."""
        angle: cython.double = _TURN * (self.curve.begin + t * self.curve.sweep)
        return self._best_margin_at(cos(angle), sin(angle)) if self.curve.ring else self._best_margin_at(t, 0.0)

    def _best_margin_at(self, one, two):
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

    def _margin(self, m, one, two):
        """Return how much more of the sight line runs inside listed frustum m than it takes to be hidden by it.

        The sight line to start + one first + two second of the curve is e + s d, 0 <= s <= 1; its part between the end
        planes is cut with a s^2 + 2 b s + c <= 0.
        """
        r: cython.Py_ssize_t = self.maybe[m]
        x: cython.double = self.local[m, 0] + one * self.local[m, 3] + two * self.local[m, 6]
        y: cython.double = self.local[m, 1] + one * self.local[m, 4] + two * self.local[m, 7]
        z: cython.double = self.local[m, 2] + one * self.local[m, 5] + two * self.local[m, 8]
        height: cython.double = self.frusta[r, _EYE + 2]
        low: cython.double = 0.0
        high: cython.double = 1.0
        if z != 0.0:
            low, high = max(min(-height / z, (1.0 - height) / z), 0.0), min(max(-height / z, (1.0 - height) / z), 1.0)
        elif not 0.0 < height < 1.0:
            return -1.0
        if high - low <= self.least[m]:
            return high - low - self.least[m]
        return self._run(r, x, y, z, low, high) - self.least[m]

    def _run(self, r, x, y, z, low, high):
        """Return how much of the sight line towards (x, y, z) between low and high runs within the side of frustum r."""
        e0: cython.double = self.frusta[r, _EYE]
        e1: cython.double = self.frusta[r, _EYE + 1]
        e2: cython.double = self.frusta[r, _EYE + 2]
        linear: cython.double
        square: cython.double
        near: cython.double
        far: cython.double
        q: cython.double
        linear, square = self._swell(r)
        a: cython.double = x * x + y * y - square * z * z
        b: cython.double = e0 * x + e1 * y - (linear / 2.0 + square * e2) * z
        c: cython.double = e0 * e0 + e1 * e1 - (self.frusta[r, _LOW] ** 2 + linear * e2 + square * e2 * e2)
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
