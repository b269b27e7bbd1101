# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Where rounded sides turn away from the eye, cell by cell. Compiled, see `sight`."""

import cython
import numpy as np

__all__ = ["TurningCells"]


@cython.final
@cython.cclass
class TurningCells:
    """Marching squares (Lorensen and Cline 1987, in two dimensions) between the two rings of each piece and its meridians.

    way : (K + 1, 2) cosines and sines of the meridians' angles, the last one the first again. After `cross`: a line in each
    cell whose corners face both ways, between its first two crossed sides.
    """

    way: cython.double[:, ::1]
    facing: cython.double[:, ::1]  # of one piece: by how much its rings face the eye at the meridians
    rows: cython.Py_ssize_t[::1]
    places: cython.double[:, :, ::1]
    count: cython.Py_ssize_t

    def __init__(self, way: cython.double[:, ::1]):
        self.way, self.facing = way, np.empty((2, way.shape[0]))
        self.rows, self.places, self.count = np.empty(256, dtype=np.intp), np.empty((256, 2, 2)), 0

    def cross(
        self,
        eye: cython.double[:, ::1],
        radii: cython.double[:, ::1],
        slopes: cython.double[:, ::1],
    ) -> tuple:
        """Return pieces (N,) and the ends of lines on them (N, 2, 2): meridians, counted on between two, and heights 0 to 1.

        eye : (P, 3) in each piece's own coordinates; radii, slopes : (P, 2) at its lower and its upper ring.
        """
        p: cython.Py_ssize_t
        k: cython.Py_ssize_t
        end: cython.Py_ssize_t
        x: cython.double
        y: cython.double
        level: cython.double
        way: cython.double[:, ::1] = self.way
        facing: cython.double[:, ::1] = self.facing
        for p in range(eye.shape[0]):
            x, y = eye[p, 0], eye[p, 1]
            for end in range(2):
                level = radii[p, end] + slopes[p, end] * (eye[p, 2] - end)
                for k in range(way.shape[0]):
                    facing[end, k] = x * way[k, 0] + y * way[k, 1] - level
            for k in range(way.shape[0] - 1):
                if (
                    (facing[0, k] > 0.0) != (facing[1, k + 1] > 0.0)
                    or (facing[0, k + 1] > 0.0) != (facing[1, k] > 0.0)
                    or (facing[0, k] > 0.0) != (facing[0, k + 1] > 0.0)
                ):
                    self._cell(p, k)
        return np.asarray(self.rows)[: self.count].copy(), np.asarray(self.places)[: self.count].copy()

    @cython.cfunc
    @cython.exceptval(check=False)
    def _cell(self, p: cython.Py_ssize_t, k: cython.Py_ssize_t) -> cython.void:
        a: cython.double = self.facing[0, k]
        b: cython.double = self.facing[0, k + 1]
        c: cython.double = self.facing[1, k + 1]
        d: cython.double = self.facing[1, k]
        if self.count == self.rows.shape[0]:
            self.rows = np.resize(np.asarray(self.rows), 2 * self.count)
            self.places = np.resize(np.asarray(self.places), (2 * self.count, 2, 2))
        n: cython.int = 0
        n = self._side(n, a, b, k, 0.0, 1.0, 0.0)
        n = self._side(n, b, c, k + 1.0, 0.0, 0.0, 1.0)
        n = self._side(n, c, d, k + 1.0, 1.0, -1.0, 0.0)
        n = self._side(n, d, a, k, 1.0, 0.0, -1.0)
        self.rows[self.count] = p
        self.count += 1

    @cython.cfunc
    @cython.exceptval(check=False)
    def _side(
        self,
        n: cython.int,
        start: cython.double,
        end: cython.double,
        x: cython.double,
        z: cython.double,
        dx: cython.double,
        dz: cython.double,
    ) -> cython.int:
        """Note where a side of a cell from (x, z) on by (dx, dz) is crossed, as end n of the line; return the next n."""
        if n > 1 or (start > 0.0) == (end > 0.0):
            return n
        part: cython.double = start / (start - end)
        self.places[self.count, n, 0], self.places[self.count, n, 1] = x + part * dx, z + part * dz
        return n + 1
