# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Loops over frusta: their own coordinates, and where sight lines touch their sides. Compiled, see `sight`."""

import cython
import numpy as np
from cython.cimports.libc.math import acos, atan2, cos, fabs, floor, sin, sqrt

__all__ = ["contour_lines", "end_points", "local_frames"]

_TURN = cython.declare(cython.double, 6.283185307179586)


def local_frames(
    base: cython.double[:, ::1],
    first: cython.double[:, ::1],
    second: cython.double[:, ::1],
    axle: cython.double[:, ::1],
    eye: cython.double[::1],
) -> np.ndarray:
    """Return rows (R, 12): the nine numbers that turn world directions into local ones, and the eye in local coordinates.

    first, second, axle : (R, 3) columns of each frame, whose inverse is found by cofactors; base : (R, 3) its origin.
    """
    r: cython.Py_ssize_t
    i: cython.Py_ssize_t
    j: cython.Py_ssize_t
    k: cython.Py_ssize_t
    size: cython.double
    found = np.empty((base.shape[0], 12))
    out: cython.double[:, ::1] = found
    for r in range(base.shape[0]):
        for k in range(3):
            i, j = (k + 1) % 3, (k + 2) % 3
            out[r, k] = second[r, i] * axle[r, j] - second[r, j] * axle[r, i]
            out[r, 3 + k] = axle[r, i] * first[r, j] - axle[r, j] * first[r, i]
            out[r, 6 + k] = first[r, i] * second[r, j] - first[r, j] * second[r, i]
        size = out[r, 0] * first[r, 0] + out[r, 1] * first[r, 1] + out[r, 2] * first[r, 2]
        for k in range(9):
            out[r, k] /= size
        for k in range(3):
            out[r, 9 + k] = (
                out[r, 3 * k] * (eye[0] - base[r, 0])
                + out[r, 3 * k + 1] * (eye[1] - base[r, 1])
                + out[r, 3 * k + 2] * (eye[2] - base[r, 2])
            )
    return found


def end_points(
    base: cython.double[:, ::1],
    first: cython.double[:, ::1],
    second: cython.double[:, ::1],
    axle: cython.double[:, ::1],
    radii: cython.double[:, ::1],
    places: cython.double[:, ::1],
) -> np.ndarray:
    """Return points (R, 2, K, 3) about both ends: ``places`` (K, 2) in the measure of rings there with ``radii`` (R, 2)."""
    r: cython.Py_ssize_t
    k: cython.Py_ssize_t
    i: cython.Py_ssize_t
    end: cython.Py_ssize_t
    one: cython.double
    two: cython.double
    found = np.empty((base.shape[0], 2, places.shape[0], 3))
    out: cython.double[:, :, :, ::1] = found
    for r in range(base.shape[0]):
        for end in range(2):
            for k in range(places.shape[0]):
                one, two = radii[r, end] * places[k, 0], radii[r, end] * places[k, 1]
                for i in range(3):
                    out[r, end, k, i] = base[r, i] + end * axle[r, i] + one * first[r, i] + two * second[r, i]
    return found


def contour_lines(
    base: cython.double[:, ::1],
    first: cython.double[:, ::1],
    second: cython.double[:, ::1],
    axle: cython.double[:, ::1],
    radii: cython.double[:, ::1],
    span: cython.double[:, ::1],
    asked: cython.uchar[::1],
    eye: cython.double[::1],
) -> tuple:
    """Return the lines (N, 2, 3) along which sight lines touch straight sides, and the rows (N,) of the frusta.

    radii : (R, 2) at the base and at the top, in units of first and second; span : (R, 2) radians, where the part of the
    side that is there starts and how far it goes; asked : (R,) which are wanted.

    The tangent plane at angle t holds the eye (x, y, z) when x cos t + y sin t is the radius carried on to its height;
    there is none where the eye is over the side on all sides, or inside it.
    """
    r: cython.Py_ssize_t
    k: cython.Py_ssize_t
    n: cython.Py_ssize_t = 0
    side: cython.int
    one: cython.double
    two: cython.double
    angle: cython.double
    away: cython.double
    radius: cython.double
    frames: cython.double[:, ::1] = local_frames(base, first, second, axle, eye)
    found, rows = np.empty((2 * base.shape[0], 2, 3)), np.empty(2 * base.shape[0], dtype=np.intp)
    ends: cython.double[:, :, ::1] = found
    row: cython.Py_ssize_t[::1] = rows
    for r in range(base.shape[0]):
        radius = radii[r, 0] + (radii[r, 1] - radii[r, 0]) * frames[r, 11]
        away = sqrt(frames[r, 9] * frames[r, 9] + frames[r, 10] * frames[r, 10])
        if not asked[r] or not away > 0.0 or fabs(radius) > away:
            continue
        for side in range(-1, 2, 2):
            angle = atan2(frames[r, 10], frames[r, 9]) + side * acos(radius / away)
            if span[r, 1] < _TURN and _past(angle, span[r, 0]) > span[r, 1]:
                continue
            one, two = cos(angle), sin(angle)
            for k in range(3):
                ends[n, 0, k] = base[r, k] + radii[r, 0] * (one * first[r, k] + two * second[r, k])
                ends[n, 1, k] = base[r, k] + axle[r, k] + radii[r, 1] * (one * first[r, k] + two * second[r, k])
            row[n] = r
            n += 1
    return found[:n], rows[:n]


@cython.cfunc
@cython.exceptval(check=False)
def _past(angle: cython.double, start: cython.double) -> cython.double:
    """Return by how much of a turn an angle lies past another."""
    return angle - start - _TURN * floor((angle - start) / _TURN)
