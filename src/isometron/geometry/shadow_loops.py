# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Loops over bodies seen from an eye: their bounds on paper, and the planes of what they hide. Compiled, see `sight`."""

import cython
import numpy as np
from cython.cimports.libc.math import cos, fabs, sin, sqrt

from isometron.geometry.tolerances import CLOSE, NO_DEPTH, SHORT_ARC

__all__ = [
    "arc_hulls",
    "boxes_meeting",
    "joined_bounds",
    "packed",
    "paper_bounds",
    "ring_hulls",
    "set_bounds",
    "shadow_planes",
]

_CLOSE = cython.declare(cython.double, CLOSE)

_INFINITY = cython.declare(cython.double, float("inf"))
_IN_LINE = cython.declare(cython.double, CLOSE)  # sine of the angle under which a ridge is seen as a point
_SHORT = cython.declare(cython.double, SHORT_ARC)
_TURN = cython.declare(cython.double, 6.283185307179586)
_MOST_POINTS = cython.declare(cython.Py_ssize_t, 100)
_ASIDE = cython.declare(
    cython.double, _CLOSE
)  # of how far two points lie aside, within which a place lies on neither side
_NO_DEPTH = cython.declare(cython.double, NO_DEPTH)


def paper_bounds(
    points: cython.double[:, :, ::1],
    eye: cython.double[::1],
    axes: cython.double[:, ::1],
    distance: cython.double,
) -> tuple:
    """Return paper bounds (N, 4), mm, and least and greatest depths (N,) of point sets (N, K, 3).

    axes : (3, 3) rows right, up, look; distance : of the picture plane. The bounds are those of the set's hull in front of
    the eye; where that reaches the eye plane they are infinite to the side on which it does. A set behind the eye has none:
    its least bounds are infinity, its greatest minus infinity.
    """
    count, size = points.shape[0], points.shape[1]
    flat = np.asarray(points).reshape(count * size, 3)
    return set_bounds(flat, np.arange(count + 1) * size, eye, axes, distance)


def set_bounds(
    points: cython.double[:, ::1],
    begins: cython.Py_ssize_t[::1],
    eye: cython.double[::1],
    axes: cython.double[:, ::1],
    distance: cython.double,
) -> tuple:
    """Return the same of sets of any sizes: points (P, 3), and where those of each set begin (N + 1,)."""
    n: cython.Py_ssize_t
    k: cython.Py_ssize_t
    x: cython.double
    y: cython.double
    z: cython.double
    u: cython.double
    v: cython.double
    depth: cython.double
    least: cython.double
    most: cython.double
    left: cython.double
    lower: cython.double
    right: cython.double
    upper: cython.double
    count: cython.Py_ssize_t = begins.shape[0] - 1
    boxes, nearest, farthest = np.empty((count, 4)), np.empty(count), np.empty(count)
    sides: cython.int
    box: cython.double[:, ::1] = boxes
    near: cython.double[::1] = nearest
    far: cython.double[::1] = farthest
    for n in range(count):
        least = left = lower = _INFINITY
        most = right = upper = -_INFINITY
        for k in range(begins[n], begins[n + 1]):
            x, y, z = points[k, 0] - eye[0], points[k, 1] - eye[1], points[k, 2] - eye[2]
            depth = axes[2, 0] * x + axes[2, 1] * y + axes[2, 2] * z
            least, most = min(least, depth), max(most, depth)
            if depth > _NO_DEPTH:
                u = (axes[0, 0] * x + axes[0, 1] * y + axes[0, 2] * z) * (distance / depth)
                v = (axes[1, 0] * x + axes[1, 1] * y + axes[1, 2] * z) * (distance / depth)
                left, lower = min(left, u), min(lower, v)
                right, upper = max(right, u), max(upper, v)
        if not least > _NO_DEPTH and most > _NO_DEPTH:
            sides = _sides_left_at(points, begins[n], begins[n + 1], eye, axes)
            left, right = -_INFINITY if sides & 1 else left, _INFINITY if sides & 2 else right
            lower, upper = -_INFINITY if sides & 4 else lower, _INFINITY if sides & 8 else upper
        box[n, 0], box[n, 1], box[n, 2], box[n, 3] = left, lower, right, upper
        near[n], far[n] = least, most
    return boxes, nearest, farthest


@cython.cfunc
@cython.exceptval(check=False)
def _sides_left_at(
    points: cython.double[:, ::1],
    begin: cython.Py_ssize_t,
    end: cython.Py_ssize_t,
    eye: cython.double[::1],
    axes: cython.double[:, ::1],
) -> cython.int:
    """Return on which sides (1 left, 2 right, 4 below, 8 above) the hull of a set meets the eye plane.

    Every edge of the hull that passes the plane is a line between one point before it and one behind it; there the picture
    runs away to the side on which it passes. A large set may run away anywhere.
    """
    i: cython.Py_ssize_t
    j: cython.Py_ssize_t
    k: cython.int
    found: cython.int = 0
    part: cython.double
    side: cython.double
    slack: cython.double
    one: cython.double[:, ::1]
    if end - begin > _MOST_POINTS:
        return 15
    one = np.asarray(points)[begin:end] - np.asarray(eye)
    one = np.ascontiguousarray(np.asarray(one) @ np.asarray(axes).T)
    for i in range(end - begin):
        if not one[i, 2] > _NO_DEPTH:
            continue
        for j in range(end - begin):
            if one[j, 2] > _NO_DEPTH:
                continue
            part = one[i, 2] / (one[i, 2] - one[j, 2])
            for k in range(2):
                side = one[i, k] + part * (one[j, k] - one[i, k])
                slack = _ASIDE * (fabs(one[i, k]) + fabs(one[j, k]))
                if not side > slack:
                    found |= 1 << 2 * k
                if not side < -slack:
                    found |= 2 << 2 * k
    return found


def joined_bounds(
    boxes: cython.double[:, ::1],
    near: cython.double[::1],
    far: cython.double[::1],
    begins: cython.Py_ssize_t[::1],
) -> tuple:
    """Return the bounds (N, 4) and depths (N,), (N,) of runs of sets that have bounds, see `set_bounds`; begins : (N + 1,)."""
    n: cython.Py_ssize_t
    k: cython.Py_ssize_t
    count: cython.Py_ssize_t = begins.shape[0] - 1
    joined, nearest, farthest = np.empty((count, 4)), np.empty(count), np.empty(count)
    box: cython.double[:, ::1] = joined
    least: cython.double[::1] = nearest
    most: cython.double[::1] = farthest
    for n in range(count):
        box[n, 0] = box[n, 1] = least[n] = _INFINITY
        box[n, 2] = box[n, 3] = most[n] = -_INFINITY
        for k in range(begins[n], begins[n + 1]):
            box[n, 0], box[n, 1] = min(box[n, 0], boxes[k, 0]), min(box[n, 1], boxes[k, 1])
            box[n, 2], box[n, 3] = max(box[n, 2], boxes[k, 2]), max(box[n, 3], boxes[k, 3])
            least[n], most[n] = min(least[n], near[k]), max(most[n], far[k])
    return joined, nearest, farthest


def boxes_meeting(boxes: cython.double[:, ::1], others: cython.double[:, ::1], aside: cython.double) -> np.ndarray:
    """Tell which of ``boxes`` (N, 4) of least and greatest coordinates come within ``aside`` of any of ``others`` (M, 4)."""
    n: cython.Py_ssize_t
    m: cython.Py_ssize_t
    found = np.zeros(boxes.shape[0], dtype=bool)
    meet: cython.uchar[::1] = found.view(np.uint8)
    for n in range(boxes.shape[0]):
        for m in range(others.shape[0]):
            if (
                boxes[n, 0] - aside <= others[m, 2]
                and boxes[n, 1] - aside <= others[m, 3]
                and others[m, 0] <= boxes[n, 2] + aside
                and others[m, 1] <= boxes[n, 3] + aside
            ):
                meet[n] = True
                break
    return found


def ring_hulls(rings: cython.double[:, ::1], corners: cython.double[:, ::1]) -> np.ndarray:
    """Return points (N, K, 3) whose hull encloses each ring (N, 9) of centre and half axes: ``corners`` (K, 2) of a polygon
    round the unit circle, in the ring's own measure."""
    n: cython.Py_ssize_t
    k: cython.Py_ssize_t
    i: cython.Py_ssize_t
    found = np.empty((rings.shape[0], corners.shape[0], 3))
    points: cython.double[:, :, ::1] = found
    for n in range(rings.shape[0]):
        for k in range(corners.shape[0]):
            for i in range(3):
                points[n, k, i] = rings[n, i] + corners[k, 0] * rings[n, 3 + i] + corners[k, 1] * rings[n, 6 + i]
    return found


def arc_hulls(
    rings: cython.double[:, ::1], span: cython.double[:, ::1], corners: cython.double[:, ::1]
) -> np.ndarray:
    """Return the same for the parts of rings that ``span`` (N, 2) says, start and sweep in turns.

    An arc of less than half a turn lies in the triangle of its ends and of where the tangents there meet.
    """
    n: cython.Py_ssize_t
    k: cython.Py_ssize_t
    i: cython.Py_ssize_t
    angle: cython.double
    out: cython.double
    found = ring_hulls(rings, corners)
    points: cython.double[:, :, ::1] = found
    for n in range(rings.shape[0]):
        if fabs(span[n, 1]) > _SHORT:
            continue
        for k in range(corners.shape[0]):
            angle = _TURN * (span[n, 0] + span[n, 1] * min(k, 2) / 2.0)
            out = 1.0 / cos(_TURN * span[n, 1] / 2.0) if k == 1 else 1.0
            for i in range(3):
                points[n, k, i] = rings[n, i] + out * (cos(angle) * rings[n, 3 + i] + sin(angle) * rings[n, 6 + i])
    return found


def packed(
    vertices: cython.double[:, :, ::1],
    normals: cython.double[:, :, ::1],
    offsets: cython.double[:, ::1],
    ridges: cython.short[:, :, ::1],
    ridge_faces: cython.short[:, :, ::1],
) -> tuple:
    """Return bodies without their padding, see `bodies.Packed`: a box among prisms would be mostly that."""
    n: cython.Py_ssize_t
    i: cython.Py_ssize_t
    k: cython.Py_ssize_t
    count: cython.Py_ssize_t = vertices.shape[0]
    firsts = np.zeros((3, count + 1), dtype=np.intp)
    first: cython.Py_ssize_t[:, ::1] = firsts
    for n in range(count):
        first[0, n + 1] = first[0, n] + _corners(vertices, n)
        first[1, n + 1] = first[1, n] + _faces(normals, offsets, n)
        first[2, n + 1] = first[2, n] + _ridges(ridges, n)
    places, planes = np.empty((first[0, count], 3)), np.empty((first[1, count], 4))
    edges = np.empty((first[2, count], 4), dtype=np.int16)
    place: cython.double[:, ::1] = places
    plane: cython.double[:, ::1] = planes
    edge: cython.short[:, ::1] = edges
    for n in range(count):
        for i in range(first[0, n + 1] - first[0, n]):
            for k in range(3):
                place[first[0, n] + i, k] = vertices[n, i, k]
        for i in range(first[1, n + 1] - first[1, n]):
            for k in range(3):
                plane[first[1, n] + i, k] = normals[n, i, k]
            plane[first[1, n] + i, 3] = offsets[n, i]
        for i in range(first[2, n + 1] - first[2, n]):
            for k in range(2):
                edge[first[2, n] + i, k], edge[first[2, n] + i, 2 + k] = ridges[n, i, k], ridge_faces[n, i, k]
    return places, planes, edges, firsts


@cython.cfunc
@cython.exceptval(check=False)
def _corners(vertices: cython.double[:, :, ::1], n: cython.Py_ssize_t) -> cython.Py_ssize_t:
    """Return how many vertices body n has before those that only repeat its first."""
    i: cython.Py_ssize_t = vertices.shape[1] - 1
    while (
        i > 0
        and vertices[n, i, 0] == vertices[n, 0, 0]
        and vertices[n, i, 1] == vertices[n, 0, 1]
        and vertices[n, i, 2] == vertices[n, 0, 2]
    ):
        i -= 1
    return i + 1


@cython.cfunc
@cython.exceptval(check=False)
def _faces(
    normals: cython.double[:, :, ::1], offsets: cython.double[:, ::1], n: cython.Py_ssize_t
) -> cython.Py_ssize_t:
    """Return how many faces body n has before those that are always true."""
    i: cython.Py_ssize_t = normals.shape[1]
    while (
        i > 0
        and offsets[n, i - 1] == 1.0
        and normals[n, i - 1, 0] == 0.0
        and normals[n, i - 1, 1] == 0.0
        and normals[n, i - 1, 2] == 0.0
    ):
        i -= 1
    return i


@cython.cfunc
@cython.exceptval(check=False)
def _ridges(ridges: cython.short[:, :, ::1], n: cython.Py_ssize_t) -> cython.Py_ssize_t:
    """Return how many ridges body n has before those from a vertex to itself."""
    i: cython.Py_ssize_t = ridges.shape[1]
    while i > 0 and ridges[n, i - 1, 0] == ridges[n, i - 1, 1]:
        i -= 1
    return i


def shadow_planes(
    vertices: cython.double[:, ::1],
    faces: cython.double[:, ::1],
    ridges: cython.short[:, ::1],
    first: cython.Py_ssize_t[:, ::1],
    eye: cython.double[::1],
    touch: cython.double,
) -> tuple:
    """Return planes (P, 4) of all bodies, where each one's begin (N + 1,), and within how many mm a point is on one (N,).

    vertices, faces, ridges, first : see `bodies.Packed`. `bodies.shadows` tells what the planes are; ``touch`` is relative
    to the farthest coordinate.
    """
    n: cython.Py_ssize_t
    f: cython.Py_ssize_t
    m: cython.Py_ssize_t
    x: cython.double
    y: cython.double
    z: cython.double
    offset: cython.double
    count: cython.Py_ssize_t = first.shape[1] - 1
    found = np.empty((faces.shape[0] + ridges.shape[0], 4))
    begins, nearness = np.zeros(count + 1, dtype=np.intp), np.empty(count)
    planes: cython.double[:, ::1] = found
    begin: cython.Py_ssize_t[::1] = begins
    within: cython.double[::1] = nearness
    front: cython.uchar[::1] = np.empty(faces.shape[0], dtype=np.uint8)
    for n in range(count):
        within[n] = touch * _reach(vertices, first[0, n], first[0, n + 1], eye)
        m = begin[n]
        for f in range(first[1, n], first[1, n + 1]):
            x, y, z = faces[f, 0], faces[f, 1], faces[f, 2]
            offset = faces[f, 3] - (x * eye[0] + y * eye[1] + z * eye[2])
            front[f] = offset < -within[n]
            if front[f]:
                planes[m, 0], planes[m, 1], planes[m, 2], planes[m, 3] = x, y, z, offset
                m += 1
        # Seen from inside, a body hides nothing.
        if m > begin[n]:
            m = _with_silhouette(planes, vertices, ridges, first, eye, front, n, m)
        begin[n + 1] = m
    return found[: begins[count]], begins, nearness


@cython.cfunc
@cython.exceptval(check=False)
def _reach(
    vertices: cython.double[:, ::1], begin: cython.Py_ssize_t, end: cython.Py_ssize_t, eye: cython.double[::1]
) -> cython.double:
    """Return the largest coordinate of any vertex about the eye, at least 1 mm."""
    scale: cython.double = 1.0
    i: cython.Py_ssize_t
    k: cython.Py_ssize_t
    for i in range(begin, end):
        for k in range(3):
            scale = max(scale, fabs(vertices[i, k] - eye[k]))
    return scale


@cython.cfunc
@cython.exceptval(check=False)
def _with_silhouette(
    planes: cython.double[:, ::1],
    vertices: cython.double[:, ::1],
    ridges: cython.short[:, ::1],
    first: cython.Py_ssize_t[:, ::1],
    eye: cython.double[::1],
    front: cython.uchar[::1],
    n: cython.Py_ssize_t,
    m: cython.Py_ssize_t,
) -> cython.Py_ssize_t:
    """Add the planes through the eye and each ridge between a face that looks at it and one that does not; return m."""
    i: cython.Py_ssize_t
    j: cython.Py_ssize_t
    r: cython.Py_ssize_t
    p0: cython.double
    p1: cython.double
    p2: cython.double
    q0: cython.double
    q1: cython.double
    q2: cython.double
    x: cython.double
    y: cython.double
    z: cython.double
    length: cython.double
    mid0: cython.double = 0.0
    mid1: cython.double = 0.0
    mid2: cython.double = 0.0
    for i in range(first[0, n], first[0, n + 1]):
        mid0 += vertices[i, 0] - eye[0]
        mid1 += vertices[i, 1] - eye[1]
        mid2 += vertices[i, 2] - eye[2]
    for r in range(first[2, n], first[2, n + 1]):
        if front[first[1, n] + ridges[r, 2]] == front[first[1, n] + ridges[r, 3]]:
            continue
        i, j = first[0, n] + ridges[r, 0], first[0, n] + ridges[r, 1]
        p0, p1, p2 = vertices[i, 0] - eye[0], vertices[i, 1] - eye[1], vertices[i, 2] - eye[2]
        q0, q1, q2 = vertices[j, 0] - eye[0], vertices[j, 1] - eye[1], vertices[j, 2] - eye[2]
        x, y, z = p1 * q2 - p2 * q1, p2 * q0 - p0 * q2, p0 * q1 - p1 * q0
        length = sqrt(x * x + y * y + z * z)
        # A ridge in line with the eye spans no plane; its neighbours on the silhouette bound the region there.
        if length > _IN_LINE * sqrt((p0 * p0 + p1 * p1 + p2 * p2) * (q0 * q0 + q1 * q1 + q2 * q2)):
            # The planes look away from the body.
            length = -length if x * mid0 + y * mid1 + z * mid2 > 0.0 else length
            planes[m, 0], planes[m, 1], planes[m, 2], planes[m, 3] = x / length, y / length, z / length, 0.0
            m += 1
    return m
