# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""From curves and their hidden parts to pieces on paper: cut, clipped before the eye, projected. Compiled, see `sight`."""

import cython
import numpy as np
from cython.cimports.libc.math import atan2, cos, fabs, floor, sin, sqrt

from isometron.geometry.tolerances import CLOSE, EXACT, MERGE_PARAMETER

__all__ = ["ArcPieces", "LinePieces", "camera_points", "camera_rings", "ring_ellipses"]

_CLOSE = cython.declare(cython.double, CLOSE)
_EXACT = cython.declare(cython.double, EXACT)

_MERGE = cython.declare(cython.double, MERGE_PARAMETER)
_TURN = cython.declare(cython.double, 6.283185307179586)


@cython.final
@cython.cclass
class LinePieces:
    """The seen and the hidden pieces of lines on paper.

    camera : (V, 3) camera coordinates; edges : (E, 2) rows of it; distance : of the picture plane, reach : how far from the
    centre of vision to each side pieces are carried, mm. After `cut`: points : (M, 4) mm, row : (M,) edges, hidden : (M,).
    """

    camera: cython.double[:, ::1]
    edges: cython.Py_ssize_t[:, ::1]
    distance: cython.double
    reach: cython.double
    made: cython.double[:, ::1]
    rows: cython.Py_ssize_t[::1]
    flags: cython.uchar[::1]
    count: cython.Py_ssize_t

    def __init__(self, camera, edges, distance: cython.double, reach: cython.double):
        self.camera, self.edges, self.distance, self.reach = camera, edges, distance, reach

    def cut(
        self,
        parts: tuple,
        spans: tuple,
        with_hidden: cython.uchar[::1],
    ) -> tuple:
        """Return points (M, 4), mm, edges (M,), and whether hidden (M,), of what the spans (edge, t0, t1) leave of the edges.

        parts : hidden ones (edge, t0, t1), sorted and disjoint as the spans; with_hidden : (E,) edges whose hidden pieces
        are wanted too.
        """
        edge: cython.Py_ssize_t[::1] = parts[0]
        low: cython.double[::1] = parts[1]
        high: cython.double[::1] = parts[2]
        span_edge: cython.Py_ssize_t[::1] = spans[0]
        span_low: cython.double[::1] = spans[1]
        span_high: cython.double[::1] = spans[2]
        s: cython.Py_ssize_t
        e: cython.Py_ssize_t
        k: cython.Py_ssize_t
        h: cython.Py_ssize_t = 0
        at: cython.double
        self._make_room(edge, span_edge)
        for s in range(span_edge.shape[0]):
            e = span_edge[s]
            while h < edge.shape[0] and edge[h] < e:
                h += 1
            k, at = h, 0.0
            while k < edge.shape[0] and edge[k] == e:
                if low[k] - at > _MERGE:
                    self._piece(e, max(at, span_low[s]), min(low[k], span_high[s]), False)
                if with_hidden[e]:
                    self._piece(e, max(low[k], span_low[s]), min(high[k], span_high[s]), True)
                at = high[k]
                k += 1
            if 1.0 - at > _MERGE:
                self._piece(e, max(at, span_low[s]), min(1.0, span_high[s]), False)
        n = self.count
        return np.asarray(self.made)[:n], np.asarray(self.rows)[:n], np.asarray(self.flags)[:n].view(bool)

    @cython.cfunc
    def _make_room(self, edge: cython.Py_ssize_t[::1], span_edge: cython.Py_ssize_t[::1]) -> cython.void:
        """Make room for as many pieces as there can be."""
        most: cython.Py_ssize_t = 0
        s: cython.Py_ssize_t
        k: cython.Py_ssize_t
        h: cython.Py_ssize_t = 0
        for s in range(span_edge.shape[0]):
            while h < edge.shape[0] and edge[h] < span_edge[s]:
                h += 1
            k = h
            while k < edge.shape[0] and edge[k] == span_edge[s]:
                k += 1
            most += 2 * (k - h) + 1
        self.count = 0
        self.made, self.rows = np.empty((most, 4)), np.empty(most, dtype=np.intp)
        self.flags = np.empty(most, dtype=np.uint8)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _piece(
        self, e: cython.Py_ssize_t, low: cython.double, high: cython.double, hidden: cython.bint
    ) -> cython.void:
        """Add the piece of an edge from low to high as far as it lies in the pyramid of what is drawn."""
        a: cython.Py_ssize_t = self.edges[e, 0]
        b: cython.Py_ssize_t = self.edges[e, 1]
        x: cython.double = self.camera[a, 0]
        y: cython.double = self.camera[a, 1]
        z: cython.double = self.camera[a, 2]
        dx: cython.double = self.camera[b, 0] - x
        dy: cython.double = self.camera[b, 1] - y
        dz: cython.double = self.camera[b, 2] - z
        slope: cython.double = self.reach / self.distance
        if not low < high:
            return
        # The four sides already imply a depth of 0 or more: nothing is divided before it lies before the eye.
        low, high = _cut_to(slope * z - x, slope * dz - dx, low, high)
        low, high = _cut_to(slope * z + x, slope * dz + dx, low, high)
        low, high = _cut_to(slope * z - y, slope * dz - dy, low, high)
        low, high = _cut_to(slope * z + y, slope * dz + dy, low, high)
        if not low < high:
            return
        if z + low * dz > 0.0 and z + high * dz > 0.0:
            self._add(
                e, x + low * dx, y + low * dy, z + low * dz, x + high * dx, y + high * dy, z + high * dz, hidden
            )

    @cython.cfunc
    @cython.exceptval(check=False)
    def _add(
        self,
        e: cython.Py_ssize_t,
        x0: cython.double,
        y0: cython.double,
        z0: cython.double,
        x1: cython.double,
        y1: cython.double,
        z1: cython.double,
        hidden: cython.bint,
    ) -> cython.void:
        n: cython.Py_ssize_t = self.count
        f: cython.double = self.distance
        most: cython.double = self.reach * (1.0 + _CLOSE)
        u0: cython.double = x0 * (f / z0)
        v0: cython.double = y0 * (f / z0)
        u1: cython.double = x1 * (f / z1)
        v1: cython.double = y1 * (f / z1)
        # An edge that runs through the eye itself is a point: what is left of its rounding is no line.
        if fabs(u0) <= most and fabs(v0) <= most and fabs(u1) <= most and fabs(v1) <= most:
            self.made[n, 0], self.made[n, 1], self.made[n, 2], self.made[n, 3] = u0, v0, u1, v1
            self.rows[n], self.flags[n] = e, hidden
            self.count += 1


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _cut_to(
    start: cython.double, slope: cython.double, low: cython.double, high: cython.double
) -> tuple[cython.double, cython.double]:
    """Cut low to high down to where start + slope t >= 0."""
    # Nearly all lines lie wholly within: dividing to learn that would take most of the time.
    if start + slope * low >= 0.0 and start + slope * high >= 0.0:
        return low, high
    if slope == 0.0:
        return 1.0, 0.0
    if slope > 0.0:
        return max(low, -start / slope), high
    return low, min(high, -start / slope)


def camera_points(points: cython.double[:, ::1], eye: cython.double[::1], axes: cython.double[:, ::1]) -> np.ndarray:
    """Return points (N, 3) of the world in camera coordinates; axes : (3, 3) right, up, look."""
    n: cython.Py_ssize_t
    i: cython.Py_ssize_t
    x: cython.double
    y: cython.double
    z: cython.double
    found = np.empty((points.shape[0], 3))
    out: cython.double[:, ::1] = found
    for n in range(points.shape[0]):
        x, y, z = points[n, 0] - eye[0], points[n, 1] - eye[1], points[n, 2] - eye[2]
        for i in range(3):
            out[n, i] = axes[i, 0] * x + axes[i, 1] * y + axes[i, 2] * z
    return found


def camera_rings(rings: cython.double[:, ::1], eye: cython.double[::1], axes: cython.double[:, ::1]) -> np.ndarray:
    """Return rings (N, 9), centre and half axes in the world, in camera coordinates; axes : (3, 3) right, up, look."""
    n: cython.Py_ssize_t
    i: cython.Py_ssize_t
    k: cython.Py_ssize_t
    x: cython.double
    y: cython.double
    z: cython.double
    found = np.empty((rings.shape[0], 9))
    out: cython.double[:, ::1] = found
    for n in range(rings.shape[0]):
        for k in range(3):
            x, y, z = rings[n, 3 * k], rings[n, 3 * k + 1], rings[n, 3 * k + 2]
            if k == 0:
                x, y, z = x - eye[0], y - eye[1], z - eye[2]
            for i in range(3):
                out[n, 3 * k + i] = axes[i, 0] * x + axes[i, 1] * y + axes[i, 2] * z
    return found


def ring_ellipses(rings: cython.double[:, ::1], distance: cython.double) -> tuple:
    """Return ellipses (N, 5) centre u, v, semi-axes a >= b, angle of a in radians, and which rows are ellipses (N,).

    rings : (N, 9) in camera coordinates; the two half axes carry the radii and need not be at right angles. The dual conic
    is mapped in closed form (see `view.ring_picture`); rows that reach the eye plane are False.
    """
    n: cython.Py_ssize_t
    p: cython.double[:, ::1] = rings
    found, which = np.zeros((rings.shape[0], 5)), np.zeros(rings.shape[0], dtype=np.uint8)
    out: cython.double[:, ::1] = found
    good: cython.uchar[::1] = which
    d: cython.double
    u: cython.double
    v: cython.double
    suu: cython.double
    svv: cython.double
    suv: cython.double
    middle: cython.double
    spread: cython.double
    for n in range(rings.shape[0]):
        # Dual conic D = p p' + q q' - c c'; its ellipse has centre D13 / D33 and, about it, the dual matrix S below.
        d = p[n, 5] * p[n, 5] + p[n, 8] * p[n, 8] - p[n, 2] * p[n, 2]
        if not (d < 0.0 and p[n, 2] > 0.0):
            continue
        u = (p[n, 3] * p[n, 5] + p[n, 6] * p[n, 8] - p[n, 0] * p[n, 2]) / d
        v = (p[n, 4] * p[n, 5] + p[n, 7] * p[n, 8] - p[n, 1] * p[n, 2]) / d
        suu = u * u - (p[n, 3] * p[n, 3] + p[n, 6] * p[n, 6] - p[n, 0] * p[n, 0]) / d
        svv = v * v - (p[n, 4] * p[n, 4] + p[n, 7] * p[n, 7] - p[n, 1] * p[n, 1]) / d
        suv = u * v - (p[n, 3] * p[n, 4] + p[n, 6] * p[n, 7] - p[n, 0] * p[n, 1]) / d
        middle, spread = (suu + svv) / 2, sqrt((suu - svv) * (suu - svv) / 4 + suv * suv)
        good[n] = middle > spread
        out[n, 0], out[n, 1] = u * distance, v * distance
        out[n, 2] = sqrt(max(middle + spread, 0.0)) * distance
        out[n, 3] = sqrt(max(middle - spread, 0.0)) * distance
        out[n, 4] = 0.5 * atan2(2 * suv, suu - svv)
    return found, which.view(bool)


@cython.final
@cython.cclass
class ArcPieces:
    """The seen and the hidden pieces of rings on paper, as arcs of their ellipses.

    rings : (G, 9) centre and half axes in camera coordinates; span : (G, 2) start and sweep in turns; shapes : (G, 5) the
    ellipses, centre, semi-axes, angle of the first; round_ : (G,) rings whose picture is one; distance : of the picture plane.
    """

    rings: cython.double[:, ::1]
    span: cython.double[:, ::1]
    shapes: cython.double[:, ::1]
    round_: cython.uchar[::1]
    distance: cython.double
    made: cython.double[:, ::1]
    rows: cython.Py_ssize_t[::1]
    flags: cython.uchar[::1]
    count: cython.Py_ssize_t
    flat: cython.double[:, ::1]
    flat_rows: cython.Py_ssize_t[::1]
    flat_flags: cython.uchar[::1]
    flat_count: cython.Py_ssize_t
    begins: cython.double[::1]  # of the seen stretches of one ring
    ends: cython.double[::1]

    def __init__(self, rings, span, shapes, round_, distance: cython.double):
        self.rings, self.span, self.shapes, self.round_, self.distance = rings, span, shapes, round_, distance

    def cut(self, parts: tuple, with_hidden: cython.uchar[::1]) -> tuple:
        """Return arcs (M, 7), rings (M,), and whether hidden (M,); the same of the stretches (K, 2) of rings that are no ellipses.

        parts : hidden ones (ring, t0, t1), sorted and disjoint; with_hidden : (G,) rings whose hidden pieces are wanted too.
        """
        ring: cython.Py_ssize_t[::1] = parts[0]
        low: cython.double[::1] = parts[1]
        high: cython.double[::1] = parts[2]
        g: cython.Py_ssize_t
        h: cython.Py_ssize_t = 0
        first: cython.Py_ssize_t
        self._make_room(self.rings.shape[0] + 2 * ring.shape[0])
        self.begins, self.ends = np.empty(ring.shape[0] + 1), np.empty(ring.shape[0] + 1)
        for g in range(self.rings.shape[0]):
            first = h
            while h < ring.shape[0] and ring[h] == g:
                h += 1
            self._seen(g, low, high, first, h)
            if with_hidden[g]:
                self._pieces(g, low, high, first, h, True)
        n, k = self.count, self.flat_count
        return (
            (np.asarray(self.made)[:n], np.asarray(self.rows)[:n], np.asarray(self.flags)[:n].view(bool)),
            (np.asarray(self.flat)[:k], np.asarray(self.flat_rows)[:k], np.asarray(self.flat_flags)[:k].view(bool)),
        )

    @cython.cfunc
    def _make_room(self, most: cython.Py_ssize_t) -> cython.void:
        self.count = self.flat_count = 0
        self.made, self.flat = np.empty((most, 7)), np.empty((most, 2))
        self.rows, self.flat_rows = np.empty(most, dtype=np.intp), np.empty(most, dtype=np.intp)
        self.flags, self.flat_flags = np.empty(most, dtype=np.uint8), np.empty(most, dtype=np.uint8)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _seen(
        self,
        g: cython.Py_ssize_t,
        low: cython.double[::1],
        high: cython.double[::1],
        first: cython.Py_ssize_t,
        last: cython.Py_ssize_t,
    ) -> cython.void:
        """Add what the hidden stretches first to last - 1 leave of ring g."""
        k: cython.Py_ssize_t
        number: cython.Py_ssize_t = 0
        at: cython.double = 0.0
        for k in range(first, last):
            if low[k] - at > _MERGE:
                self.begins[number], self.ends[number] = at, low[k]
                number += 1
            at = high[k]
        if 1.0 - at > _MERGE:
            self.begins[number], self.ends[number] = at, 1.0
            number += 1
        self._pieces(g, self.begins, self.ends, 0, number, False)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _pieces(
        self,
        g: cython.Py_ssize_t,
        low: cython.double[::1],
        high: cython.double[::1],
        first: cython.Py_ssize_t,
        last: cython.Py_ssize_t,
        hidden: cython.bint,
    ) -> cython.void:
        """Add stretches of ring g; of a closed one the last and the first are one where they meet: it has no seam."""
        k: cython.Py_ssize_t
        more: cython.double = 0.0
        if last - first > 1 and low[first] <= 0.0 and high[last - 1] >= 1.0 and self._closed(g):
            more = high[first]
            first += 1
        for k in range(first, last):
            self._add(g, low[k], high[k] + (more if k == last - 1 else 0.0), hidden)

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _closed(self, g: cython.Py_ssize_t) -> cython.bint:
        return fabs(self.span[g, 1]) >= 1.0 - _EXACT

    @cython.cfunc
    @cython.exceptval(check=False)
    def _add(self, g: cython.Py_ssize_t, low: cython.double, high: cython.double, hidden: cython.bint) -> cython.void:
        k: cython.Py_ssize_t
        n: cython.Py_ssize_t = self.count
        first: cython.double
        last: cython.double
        onward: cython.double
        if not self.round_[g]:
            self.flat[self.flat_count, 0], self.flat[self.flat_count, 1] = low, high
            self.flat_rows[self.flat_count], self.flat_flags[self.flat_count] = g, hidden
            self.flat_count += 1
            return
        # The ends are where they are drawn; the middle tells which way round the ellipse the stretch goes.
        first, last = self._place(g, low), self._place(g, high)
        onward = _turned(last - first)
        if _turned(self._place(g, (low + high) / 2) - first) > onward:
            first, onward = last, _TURN - onward
        if (high - low) * fabs(self.span[g, 1]) >= 1.0 - _EXACT:
            onward = _TURN
        for k in range(5):
            self.made[n, k] = self.shapes[g, k]
        self.made[n, 5], self.made[n, 6] = first, first + onward
        self.rows[n], self.flags[n] = g, hidden
        self.count += 1

    @cython.cfunc
    @cython.exceptval(check=False)
    def _place(self, g: cython.Py_ssize_t, t: cython.double) -> cython.double:
        """Return the parameter on the ellipse of where ring g's point at t is drawn."""
        angle: cython.double = _TURN * (self.span[g, 0] + t * self.span[g, 1])
        one: cython.double = cos(angle)
        two: cython.double = sin(angle)
        z: cython.double = self.rings[g, 2] + one * self.rings[g, 5] + two * self.rings[g, 8]
        u: cython.double = (self.rings[g, 0] + one * self.rings[g, 3] + two * self.rings[g, 6]) * (self.distance / z)
        v: cython.double = (self.rings[g, 1] + one * self.rings[g, 4] + two * self.rings[g, 7]) * (self.distance / z)
        cosine: cython.double = cos(self.shapes[g, 4])
        sine: cython.double = sin(self.shapes[g, 4])
        u, v = u - self.shapes[g, 0], v - self.shapes[g, 1]
        return atan2((v * cosine - u * sine) / self.shapes[g, 3], (u * cosine + v * sine) / self.shapes[g, 2])


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _turned(angle: cython.double) -> cython.double:
    """Return an angle as one from 0 to a whole turn."""
    return angle - _TURN * floor(angle / _TURN)
