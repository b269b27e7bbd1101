# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""What hides what: convex bodies, round pieces and flat faces against straight lines and rings, seen from one eye, in plain loops.

The loops are compiled when the program is installed (Cython; the .pxd beside each file gives the types); without a compiler
the same text runs as it stands, 50 to 150 times slower. Hiders are relative to the eye; paper is in mm.
"""

import cython
import numpy as np

from isometron.geometry.sight.behind_bodies import BehindBodies
from isometron.geometry.sight.behind_faces import BehindFaces
from isometron.geometry.sight.behind_frusta import MOST_SAMPLES, BehindFrusta
from isometron.geometry.sight.curve import Curve
from isometron.geometry.sight.hider_grid import HiderGrid
from isometron.geometry.tolerances import NO_DEPTH

__all__ = ["Sight"]

_NO_DEPTH = cython.declare(cython.double, NO_DEPTH)
_LEAST_WORK = cython.declare(cython.double, 240.0)  # of one curve, in heaps of round bodies beyond any drawing
_MOST_WORK = cython.declare(cython.double, 2e8)  # times that frusta are asked of places on curves


class Sight:
    """Everything that hides, sorted into a grid on paper, and the loops that ask it.

    planes, begins, touch : of B bodies, see `BehindBodies`; frusta, own_least, spun : of R round pieces, see `BehindFrusta` and
    `RoundParts`; faces : of
    F flat faces, see `BehindFaces`. Of all H = B + R + F hiders: owner : (H,) volumes; others : (H,) whether it hides other volumes too, or only lines of its own that are
    no marks on it; box, near, order, limit : see `HiderGrid`; volumes : how many, bodies, and faces, come in their order.
    """

    def __init__(
        self, planes, begins, touch, frusta, own_least, spun, faces, owner, others, box, near, order, volumes, limit
    ):
        self.owner, self.others = owner, others
        self.asked = np.zeros(len(near), dtype=np.uint8)
        np.asarray(self.asked)[order] = 1
        self.own = np.searchsorted(owner[: len(touch)], np.arange(volumes + 1))
        self.grid, self.spun = HiderGrid(box, near, order, limit), spun
        bare = len(touch) + len(frusta)
        self.own_faces = bare + np.searchsorted(owner[bare:], np.arange(volumes + 1))
        self._take(planes, begins, touch, frusta, own_least, faces)

    def _take(self, planes, begins, touch, frusta, own_least, faces):
        """Make what is worked with on the way; hiders are shared by twins."""
        self.curve = Curve(2 * len(planes) + 4 * len(faces[3]) + 4 * MOST_SAMPLES)
        self.bodies = BehindBodies(planes, begins, touch, self.curve)
        box = np.ascontiguousarray(np.asarray(self.grid.box)[len(touch) : len(touch) + len(frusta)])
        self.frusta = BehindFrusta(frusta, own_least, box, self.curve)
        self.faces = BehindFaces(*faces, self.curve)
        self.stamp = np.full(len(self.owner), -1, dtype=np.intp)

    def twin(self):
        """Return another that sees the same, for a second thread."""
        other: Sight = Sight.__new__(Sight)
        other.owner, other.others, other.own, other.asked = self.owner, self.others, self.own, self.asked
        other.grid, other.own_faces, other.spun = self.grid, self.own_faces, self.spun
        bodies, frusta, faces = self.bodies, self.frusta, self.faces
        other._take(
            bodies.planes, bodies.begins, bodies.touch, frusta.frusta, frusta.own_least,
            (faces.frames, faces.eyes, faces.near, faces.sides, faces.bows, faces.first, faces.boxes),
        )  # fmt: skip
        return other

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
        lenient: cython.Py_ssize_t[::1],
        only_hides: cython.uchar[::1],
        hull: cython.double[:, :, ::1],
    ) -> tuple:
        """Return the hidden stretches (curve, t0, t1) of N curves, sorted and disjoint, t from 0 to 1 along each.

        bounds, depths : their bounds on paper (N, 4) and greatest depths (N,), see `shadow_loops.set_bounds`; what lies
        behind the eye is told as seen. Curves are in the world, and so is the eye. at, span, owner, is_mark, lenient, hull :
        see `hiding.Curves`; only_hides : volumes whose curves are told as seen.
        """
        k: cython.Py_ssize_t
        i: cython.Py_ssize_t
        j: cython.Py_ssize_t
        self.total, most = 0, at.shape[0] + 64
        self.out_row, self.out_low, self.out_high = np.empty(most, dtype=np.intp), np.empty(most), np.empty(most)
        self.curve.ring, self.curve.begin, self.curve.sweep = ring, 0.0, 1.0
        self.curve.places, self.curve.here = np.empty((max(hull.shape[1], 3), 3)), np.zeros(9)
        # Two threads may look at once, each with a sight of its own: see `twin`.
        self.frusta.work = max(_MOST_WORK / max(at.shape[0], 1), _LEAST_WORK)
        with cython.nogil:
            for k in range(self.stamp.shape[0]):
                self.stamp[k] = -1
            for k in range(at.shape[0]):
                self.curve.far = depths[k]
                if only_hides[owner[k]] or not self.curve.far > _NO_DEPTH:
                    continue
                self.curve.row = k
                self.curve.left, self.curve.lower = bounds[k, 0], bounds[k, 1]
                self.curve.right, self.curve.upper = bounds[k, 2], bounds[k, 3]
                for i in range(at.shape[1]):
                    self.curve.here[i] = at[k, i]
                for i in range(3):
                    self.curve.here[i] -= eye[i]
                if ring:
                    self.curve.begin, self.curve.sweep = span[k, 0], span[k, 1]
                    for i in range(hull.shape[1]):
                        for j in range(3):
                            self.curve.places[i, j] = hull[k, i, j] - eye[j]
                self.curve.begin_anew()
                self.frusta.maybe_count = self.frusta.latest = 0
                self.frusta.full = False
                self._meet(owner[k], is_mark[k], lenient[k])
                if self.frusta.maybe_count > 0 and not self.curve.whole():
                    self.frusta.hide_all()
                self.curve.close_joints()
                self._write()
        found = np.asarray(self.out_row), np.asarray(self.out_low), np.asarray(self.out_high)
        return found[0][: self.total], found[1][: self.total], found[2][: self.total]

    def make_room(self, size):
        """Make room to tell of so many stretches."""
        self.out_row = np.resize(np.asarray(self.out_row), size)
        self.out_low = np.resize(np.asarray(self.out_low), size)
        self.out_high = np.resize(np.asarray(self.out_high), size)

    def _write(self):
        """Add the stretches of the curve that was looked at to what is told."""
        i: cython.Py_ssize_t
        if self.total + self.curve.count > self.out_row.shape[0]:
            with cython.gil:
                self.make_room(2 * self.total + self.curve.count)
        for i in range(self.curve.count):
            self.out_row[self.total + i] = self.curve.row
            self.out_low[self.total + i], self.out_high[self.total + i] = self.curve.low[i], self.curve.high[i]
        self.total += self.curve.count

    def _meet(self, owner, is_mark, lenient):
        """Find the hiders in the curve's cells that lie before it: bodies are asked at once, frusta are listed."""
        k: cython.Py_ssize_t = self.curve.row
        h: cython.Py_ssize_t
        i: cython.Py_ssize_t
        c: cython.Py_ssize_t
        x: cython.Py_ssize_t
        y: cython.Py_ssize_t
        # Its own volume first: back edges, a quarter of all, are wholly hidden by it.
        for h in range(self.own[owner], self.own[owner + 1]):
            if self.asked[h]:
                self._ask(h, owner, is_mark, lenient)
                if self.curve.whole():
                    return
        for h in range(self.own_faces[owner], self.own_faces[owner + 1]):
            if self.asked[h]:
                self._ask(h, owner, is_mark, lenient)
                if self.curve.whole():
                    return
        for y in range(self.grid.row(self.curve.lower), self.grid.row(self.curve.upper) + 1):
            for x in range(self.grid.column(self.curve.left), self.grid.column(self.curve.right) + 1):
                c = y * self.grid.cells + x
                for i in range(self.grid.first[c], self.grid.first[c + 1]):
                    h = self.grid.listed[i]
                    # The nearest come first: all others of the cell begin behind the curve.
                    if self.grid.near[h] >= self.curve.far:
                        break
                    if self.stamp[h] != k:
                        self._ask(h, owner, is_mark, lenient)
                        if self.curve.whole() or self.frusta.full:
                            return

    def _ask(self, h, owner, is_mark, lenient):
        """Hide what hider h hides of the curve, or list it."""
        k: cython.Py_ssize_t = self.curve.row
        bodies: cython.Py_ssize_t = self.bodies.touch.shape[0]
        bare: cython.Py_ssize_t = bodies + self.frusta.frusta.shape[0]
        self.stamp[h] = k
        if (
            self.grid.near[h] >= self.curve.far
            or self.curve.left > self.grid.box[h, 2]
            or self.grid.box[h, 0] > self.curve.right
        ):
            return
        if self.curve.lower > self.grid.box[h, 3] or self.grid.box[h, 1] > self.curve.upper:
            return
        if not self.others[h] and (self.owner[h] != owner or (is_mark and not bodies <= h < bare)):
            return
        if h >= bare:
            if self.curve.ring:
                self.faces.ring_behind(h - bare)
            else:
                self.faces.line_behind(h - bare)
        elif h >= bodies:
            if lenient > 0 and self.spun[h - bodies] == lenient:
                return  # what a spun body hides of its own outline it tells by itself
            self.frusta.list_one(h - bodies, lenient != 0 and self.owner[h] == owner)
        elif self.curve.ring:
            self.bodies.ring_behind(h)
        else:
            self.bodies.line_behind(h)
