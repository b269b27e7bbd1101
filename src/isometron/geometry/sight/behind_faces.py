# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""What flat faces with holes hide of a line or a ring.

Each is looked at in a face's own two directions: what lies behind the plane is carried on to it from the eye. A line stays a
line there and is met by the face's sides; along a side only that is hidden which is hidden on either side of it. A ring is
cut where it passes the planes through the eye and the sides, a + b cos t + c sin t = 0. Of a side that is an arc the line
meets the ellipse, and the ring its cone from the eye, where a wave of two harmonics is nothing.
"""

import math

import cython
import numpy as np
from cython.cimports.libc.math import atan2, cos, fabs, sin, sqrt

from isometron.geometry.sight.curve import Curve  # noqa: F401 (the compiler's types)
from isometron.geometry.tolerances import MERGE_PARAMETER, TOUCH

__all__ = ["BehindFaces"]

_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_TOUCH = cython.declare(cython.double, TOUCH)
_BESIDE = cython.declare(cython.double, 1e-6)  # mm of paper
_TURN = cython.declare(cython.double, math.tau)
_ON_ARC = cython.declare(cython.double, 1e-9)  # of its radius: a place on the line of its chord is one of its ends
_STEPS = cython.declare(cython.Py_ssize_t, 24)  # at which a ring is asked on which side of an arc's cone it lies


class BehindFaces:
    """frames, near, sides, bows, first : of F faces, see `FlatFaces` and its `bow_forms`; eyes : (F, 3) the eye in each face's own directions, its
    height over the plane last; boxes : (S, 4) bounds of the sides on paper; curve : the one that is looked at. local : a ring
    about the eye in a face's directions; wave : (5,) the mean and the cosines and sines of a wave of two harmonics."""

    def __init__(self, frames, eyes, near, sides, bows, first, boxes, curve):
        self.frames, self.eyes, self.near, self.sides, self.bows = frames, eyes, near, sides, bows
        self.first, self.boxes, self.curve = first, boxes, curve
        most = 2 * int(np.diff(np.asarray(first)).max(initial=0)) + 2
        self.local, self.wave = np.empty(9), np.empty(5)
        self.met_one = self.met_two = 0.0
        self.crossed, self.crossed_too = np.empty(most), np.empty(most)

    def _part(self, f, k, i):
        """Return the curve's place or way k along direction i of face f: 0, 1 its own two, 2 its normal."""
        return (
            self.curve.here[3 * k] * self.frames[f, 3 + 3 * i]
            + self.curve.here[3 * k + 1] * self.frames[f, 4 + 3 * i]
            + self.curve.here[3 * k + 2] * self.frames[f, 5 + 3 * i]
        )

    def line_behind(self, f):
        """Hide what of a line lies behind face f."""
        eye: cython.double = self.eyes[f, 2]
        # How far down towards the plane and through it, at both ends.
        wa: cython.double = -self._part(f, 0, 2)
        wb: cython.double = wa - self._part(f, 1, 2)
        touch: cython.double = max(self.near[f], _TOUCH * (eye + fabs(wa) + fabs(wb)))
        t0: cython.double = 0.0
        t1: cython.double = 1.0
        if wa <= eye + touch and wb <= eye + touch:
            return
        ua: cython.double = self._part(f, 0, 0)
        va: cython.double = self._part(f, 0, 1)
        ub: cython.double = ua + self._part(f, 1, 0)
        vb: cython.double = va + self._part(f, 1, 1)
        if wa < eye - touch:
            t0 = (eye - wa) / (wb - wa)
        elif wb < eye - touch:
            t1 = (eye - wa) / (wb - wa)
        du: cython.double = ub - ua
        dv: cython.double = vb - va
        dw: cython.double = wb - wa
        ub, vb, wb = ua + t1 * du, va + t1 * dv, wa + t1 * dw
        ua, va, wa = ua + t0 * du, va + t0 * dv, wa + t0 * dw
        ua, va, ub, vb = ua * eye / wa, va * eye / wa, ub * eye / wb, vb * eye / wb
        du, dv = ub - ua, vb - va
        long: cython.double = sqrt(du * du + dv * dv)
        ua, va = ua + self.eyes[f, 0], va + self.eyes[f, 1]
        touch = _TOUCH * (
            eye + fabs(ua) + fabs(va) + fabs(ub) + fabs(vb) + fabs(self.eyes[f, 0]) + fabs(self.eyes[f, 1])
        )
        if long <= touch:
            if self._holds(f, ua, va):
                self.curve.hide(t0, t1)
            return
        count: cython.Py_ssize_t
        other: cython.Py_ssize_t
        inside: cython.bint
        inside_too: cython.bint
        along: cython.bint
        count, inside, along = self._cross(f, ua, va, du / long, dv / long, touch, True, self.crossed)
        i: cython.Py_ssize_t = 0
        j: cython.Py_ssize_t = 0
        low: cython.double = 0.0
        at: cython.double
        if not along:
            while i < count and self.crossed[i] < long - touch:
                at = self.crossed[i] / long
                if inside:
                    self._hide_run(low, at, wa, wb, t0, t1, True, True)
                inside = not inside
                low = at
                i += 1
            if inside:
                self._hide_run(low, 1.0, wa, wb, t0, t1, True, True)
            return
        # Along a side: hidden is what is hidden when the line is shifted to either side.
        turned: cython.bint = self._turned(f)
        other, inside_too, along = self._cross(f, ua, va, du / long, dv / long, touch, False, self.crossed_too)
        while True:
            at = long
            if i < count:
                at = min(at, self.crossed[i])
            if j < other:
                at = min(at, self.crossed_too[j])
            # Corners on the line that count as to its left leave what the line meets when it is shifted to its right.
            if inside or inside_too:
                if turned:
                    self._hide_run(low, at / long, wa, wb, t0, t1, inside, inside_too)
                else:
                    self._hide_run(low, at / long, wa, wb, t0, t1, inside_too, inside)
            low = at / long
            if at >= long:
                return
            if i < count and self.crossed[i] <= at:
                inside = not inside
                i += 1
            else:
                inside_too = not inside_too
                j += 1

    def _turned(self, f):
        """Tell whether left is right to the eye in a face's own two directions."""
        x: cython.double = self.frames[f, 4] * self.frames[f, 8] - self.frames[f, 5] * self.frames[f, 7]
        y: cython.double = self.frames[f, 5] * self.frames[f, 6] - self.frames[f, 3] * self.frames[f, 8]
        z: cython.double = self.frames[f, 3] * self.frames[f, 7] - self.frames[f, 4] * self.frames[f, 6]
        return x * self.frames[f, 9] + y * self.frames[f, 10] + z * self.frames[f, 11] < 0.0

    def _cross(self, f, u, v, du, dv, touch, up, found):
        """Return how many sides of face f the line from (u, v) meets further on, in order, whether it starts inside the face,
        and whether a corner lies on it; such corners count as to its left, or to its right when not ``up``."""
        i: cython.Py_ssize_t
        k: cython.Py_ssize_t
        count: cython.Py_ssize_t = 0
        inside: cython.bint = False
        along: cython.bint = False
        one: cython.double
        two: cython.double
        level: cython.double = -touch if up else touch
        at: cython.double
        met: cython.Py_ssize_t
        n: cython.Py_ssize_t
        for i in range(self.first[f], self.first[f + 1]):
            one = du * (self.sides[i, 1] - v) - dv * (self.sides[i, 0] - u)
            two = du * (self.sides[i, 3] - v) - dv * (self.sides[i, 2] - u)
            along = along or fabs(one) <= touch or fabs(two) <= touch
            if self.bows[i, 8] <= 1.0:
                met = self._met(i, u, v, du, dv, (one > level) != (two > level))
            elif (one > level) == (two > level):
                continue
            else:
                at = min(max(one / (one - two), 0.0), 1.0)
                self.met_one = du * (self.sides[i, 0] + at * (self.sides[i, 2] - self.sides[i, 0]) - u) + dv * (
                    self.sides[i, 1] + at * (self.sides[i, 3] - self.sides[i, 1]) - v
                )
                met = 1
            for n in range(met):
                at = self.met_two if n else self.met_one
                if at <= touch:
                    inside = not inside
                    continue
                k = count
                while k > 0 and found[k - 1] > at:
                    found[k] = found[k - 1]
                    k -= 1
                found[k] = at
                count += 1
        return count, inside, along

    def _met(self, i, u, v, du, dv, odd):
        """Return how often a line meets side i, an arc, and note how far along it: once where its ends lie on either side of
        it (``odd``), twice where both places on the ellipse are on the arc, else not at all."""
        x: cython.double = u - self.bows[i, 0]
        y: cython.double = v - self.bows[i, 1]
        px: cython.double = self.bows[i, 2] * x + self.bows[i, 3] * y
        py: cython.double = self.bows[i, 4] * x + self.bows[i, 5] * y
        dx: cython.double = self.bows[i, 2] * du + self.bows[i, 3] * dv
        dy: cython.double = self.bows[i, 4] * du + self.bows[i, 5] * dv
        a: cython.double = dx * dx + dy * dy
        b: cython.double = px * dx + py * dy
        root: cython.double = b * b - a * (px * px + py * py - 1.0)
        if root <= 0.0 and not odd:
            return 0
        root = sqrt(max(root, 0.0))
        self.met_one, self.met_two = (-b - root) / a, (-b + root) / a
        # How far each lies beyond the chord, on the arc's side of it.
        one: cython.double = (px + self.met_one * dx) * self.bows[i, 6] + (py + self.met_one * dy) * self.bows[i, 7]
        two: cython.double = (px + self.met_two * dx) * self.bows[i, 6] + (py + self.met_two * dy) * self.bows[i, 7]
        if odd:
            if two > one:
                self.met_one = self.met_two
            return 1
        return 2 if min(one, two) >= self.bows[i, 8] - _ON_ARC else 0

    def _hide_run(self, low, high, wa, wb, t0, t1, left, right):
        """Hide from low to high of a line as it is seen on the plane, wa and wb deep at its ends, which are t0 and t1 on it.

        left, right : on which sides of the line the face stands before it.
        """
        low = low * wa / (low * wa + (1.0 - low) * wb)
        high = high * wa / (high * wa + (1.0 - high) * wb)
        low, high = t0 + low * (t1 - t0), t0 + high * (t1 - t0)
        low = 0.0 if low < _MERGE else low
        high = 1.0 if high > 1.0 - _MERGE else high
        if high - low > _MERGE:
            if left and right:
                self.curve.hide(low, high)
            else:
                self.curve.beside(right, low, high)

    def ring_behind(self, f):
        """Hide what of a ring lies behind face f."""
        i: cython.Py_ssize_t
        k: cython.Py_ssize_t
        at: cython.double[::1] = self.local
        eye: cython.double = self.eyes[f, 2]
        for k in range(3):
            for i in range(3):
                at[3 * k + i] = self._part(f, k, i)
        swing: cython.double = sqrt(at[5] * at[5] + at[8] * at[8])
        touch: cython.double = max(self.near[f], _TOUCH * (eye + fabs(at[2]) + swing))
        if -at[2] + swing <= eye + touch:
            return
        self.curve.cut_count = 0
        self._cut_roots(at[2] + eye + touch, at[5], at[8], f, -1)
        for i in range(self.first[f], self.first[f + 1]):
            # Most sides of a face with arches lie beside the ring on paper.
            if (
                self.boxes[i, 0] <= self.curve.right + _BESIDE
                and self.boxes[i, 2] >= self.curve.left - _BESIDE
                and self.boxes[i, 1] <= self.curve.upper + _BESIDE
                and self.boxes[i, 3] >= self.curve.lower - _BESIDE
            ):
                if self.bows[i, 8] <= 1.0:
                    self._cut_bow(f, i)
                else:
                    self._cut_side(f, i)
        low: cython.double = 0.0
        high: cython.double
        angle: cython.double
        one: cython.double
        two: cython.double
        w: cython.double
        self.curve.cuts[self.curve.cut_count] = 1.0
        for i in range(self.curve.cut_count + 1):
            high = self.curve.cuts[i]
            if high - low > _MERGE:
                angle = _TURN * (self.curve.begin + (low + high) / 2.0 * self.curve.sweep)
                one, two = cos(angle), sin(angle)
                w = -(at[2] + one * at[5] + two * at[8])
                if w > eye + touch and self._holds(
                    f,
                    self.eyes[f, 0] + (at[0] + one * at[3] + two * at[6]) * eye / w,
                    self.eyes[f, 1] + (at[1] + one * at[4] + two * at[7]) * eye / w,
                ):
                    self.curve.hide(0.0 if low < _MERGE else low, 1.0 if high > 1.0 - _MERGE else high)
                low = high

    def _cut_side(self, f, i):
        """Note where a ring passes the plane through the eye and side i, where it is seen on the side itself."""
        at: cython.double[::1] = self.local
        eye: cython.double = self.eyes[f, 2]
        u: cython.double = self.sides[i, 0] - self.eyes[f, 0]
        v: cython.double = self.sides[i, 1] - self.eyes[f, 1]
        x: cython.double = self.sides[i, 2] - self.eyes[f, 0]
        y: cython.double = self.sides[i, 3] - self.eyes[f, 1]
        # The normal of the plane: (u, v, -eye) x (x, y, -eye).
        n0: cython.double = eye * (y - v)
        n1: cython.double = eye * (u - x)
        n2: cython.double = u * y - v * x
        self._cut_roots(
            n0 * at[0] + n1 * at[1] + n2 * at[2],
            n0 * at[3] + n1 * at[4] + n2 * at[5],
            n0 * at[6] + n1 * at[7] + n2 * at[8],
            f, i,
        )  # fmt: skip

    def _cut_bow(self, f, i):
        """Note where a ring passes the cone from the eye through side i, an arc.

        In the measure in which the arc lies on the unit circle about its centre, what is seen on it has x^2 + y^2 = w^2 with w
        how deep it lies: each is p + q cos t + r sin t, so the whole is a wave of two harmonics.
        """
        at: cython.double[::1] = self.local
        wave: cython.double[::1] = self.wave
        eye: cython.double = self.eyes[f, 2]
        n: cython.Py_ssize_t
        k: cython.Py_ssize_t
        p: cython.double
        q: cython.double
        r: cython.double
        x: cython.double
        y: cython.double
        sign: cython.double
        off_u: cython.double = self.eyes[f, 0] - self.bows[i, 0]
        off_v: cython.double = self.eyes[f, 1] - self.bows[i, 1]
        for n in range(5):
            wave[n] = 0.0
        p = q = r = 0.0
        for n in range(3):
            for k in range(3):
                # The part k of the ring: centre, first and second half axis.
                x = eye * at[3 * k] - off_u * at[3 * k + 2]
                y = eye * at[3 * k + 1] - off_v * at[3 * k + 2]
                if n == 0:
                    x = self.bows[i, 2] * x + self.bows[i, 3] * y
                elif n == 1:
                    x = self.bows[i, 4] * x + self.bows[i, 5] * y
                else:
                    x = at[3 * k + 2]
                if k == 0:
                    p = x
                elif k == 1:
                    q = x
                else:
                    r = x
            sign = -1.0 if n == 2 else 1.0
            wave[0] += sign * (p * p + (q * q + r * r) / 2.0)
            wave[1] += sign * 2.0 * p * q
            wave[2] += sign * 2.0 * p * r
            wave[3] += sign * (q * q - r * r) / 2.0
            wave[4] += sign * q * r
        if fabs(wave[0]) > sqrt(wave[1] * wave[1] + wave[2] * wave[2]) + sqrt(wave[3] * wave[3] + wave[4] * wave[4]):
            return
        start: cython.double = _TURN * self.curve.begin
        step: cython.double = _TURN * self.curve.sweep / _STEPS
        before: cython.double = 0.0
        one: cython.double = self._over(start)
        two: cython.double
        for n in range(1, _STEPS + 1):
            two = self._over(start + n * step)
            if (one > 0.0) != (two > 0.0):
                self._root(start + (n - 1) * step, start + n * step, one, two)
            elif n > 1 and (before > 0.0) == (one > 0.0) and fabs(one) <= fabs(before) and fabs(one) <= fabs(two):
                self._dip(start + (n - 2) * step, start + n * step)
            before, one = one, two

    def _over(self, angle):
        """Return the wave at an angle."""
        c: cython.double = cos(angle)
        s: cython.double = sin(angle)
        return (
            self.wave[0]
            + self.wave[1] * c
            + self.wave[2] * s
            + self.wave[3] * (2.0 * c * c - 1.0)
            + self.wave[4] * 2.0 * s * c
        )

    def _root(self, low, high, one, two):
        """Note where the wave is nothing between two angles at which it has either sign (regula falsi after Dowell and Jarratt,
        1971: an end that stays loses half of its weight)."""
        _k: cython.int
        at: cython.double = low
        last: cython.double = low
        here: cython.double
        for _k in range(60):
            last = at
            at = high - two * (high - low) / (two - one)
            here = self._over(at)
            if (here > 0.0) == (two > 0.0):
                one = one * 0.5
            else:
                low, one = high, two
            high, two = at, here
            if here == 0.0 or fabs(at - last) < 1e-15:
                break
        self.curve.cut_angle(at)

    def _dip(self, low, high):
        """Note where the wave is nothing between two angles of the same sign between which it comes nearer to nothing."""
        _k: cython.int
        one: cython.double
        two: cython.double
        first: cython.double = low
        last: cython.double = high
        sign: cython.double = 1.0 if self._over(low) > 0.0 else -1.0
        for _k in range(40):
            one, two = low + (high - low) / 3.0, high - (high - low) / 3.0
            if sign * self._over(one) < sign * self._over(two):
                high = two
            else:
                low = one
        one = (low + high) / 2.0
        two = self._over(one)
        if (two > 0.0) != (sign > 0.0):
            self._root(first, one, self._over(first), two)
            self._root(one, last, two, self._over(last))

    def _over_chord(self, i, u, v):
        """Tell whether a place lies between side i, an arc, and its chord."""
        u -= self.bows[i, 0]
        v -= self.bows[i, 1]
        x: cython.double = self.bows[i, 2] * u + self.bows[i, 3] * v
        y: cython.double = self.bows[i, 4] * u + self.bows[i, 5] * v
        return x * self.bows[i, 6] + y * self.bows[i, 7] > self.bows[i, 8] and x * x + y * y < 1.0

    def _cut_roots(self, a, b, c, f, side):
        """Note the angles at which a + b cos + c sin is nothing; of a side those that are seen within its ends."""
        at: cython.double[::1] = self.local
        _k: cython.int
        square: cython.double = b * b + c * c
        root: cython.double
        one: cython.double
        two: cython.double
        w: cython.double
        u: cython.double
        v: cython.double
        x: cython.double
        y: cython.double
        part: cython.double
        if not a * a < square:
            return
        root = sqrt(square - a * a)
        for _k in range(2):
            # Cosine and sine of the angle, by the foot of the line a + b x + c y = 0 and half its chord in the unit circle.
            one, two = (c * root - a * b) / square, -(b * root + a * c) / square
            root = -root
            if side >= 0:
                w = -(at[2] + one * at[5] + two * at[8])
                if not w > 0.0:
                    continue
                u = self.eyes[f, 0] + (at[0] + one * at[3] + two * at[6]) * self.eyes[f, 2] / w
                v = self.eyes[f, 1] + (at[1] + one * at[4] + two * at[7]) * self.eyes[f, 2] / w
                x, y = self.sides[side, 2] - self.sides[side, 0], self.sides[side, 3] - self.sides[side, 1]
                part = ((u - self.sides[side, 0]) * x + (v - self.sides[side, 1]) * y) / (x * x + y * y)
                if not -_MERGE <= part <= 1.0 + _MERGE:
                    continue
            self.curve.cut_angle(atan2(two, one))

    def _holds(self, f, u, v):
        """Tell whether a place on its plane lies inside face f."""
        i: cython.Py_ssize_t
        inside: cython.bint = False
        for i in range(self.first[f], self.first[f + 1]):
            if (self.sides[i, 1] > v) != (self.sides[i, 3] > v) and u < self.sides[i, 0] + (v - self.sides[i, 1]) / (
                self.sides[i, 3] - self.sides[i, 1]
            ) * (self.sides[i, 2] - self.sides[i, 0]):
                inside = not inside
            if self.bows[i, 8] <= 1.0 and self._over_chord(i, u, v):
                inside = not inside
        return inside
