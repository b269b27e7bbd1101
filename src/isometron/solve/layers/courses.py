"""Courses on faces: lines that thin out by themselves where they come too near each other on paper, as a hand leaves them out."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.solve.layers.layer import Layer, Seen, own_bounds
from isometron.solve.marks import NOBODY, NOTHING, Lines, Marks, Role
from isometron.solve.picture import ruled
from isometron.view.eye import Eye
from isometron.volumes.courses import Courses, courses_of

__all__ = ["COURSES"]

_ALWAYS = 1e6
"""Lines of a rank beyond this are never left out."""
_SHORT = 1.0
"""A joint shorter on paper than this part of the gap is none: far away only the courses are left."""


def _marks(seen: Seen) -> Marks:
    """Return the lines of all courses."""
    scene = seen.picture.scene
    courses = courses_of(scene.volumes)
    if not len(courses):
        return NOTHING
    eye = seen.picture.eye
    spans = _left(eye, courses)
    row = spans[0]
    drawn = ~scene.only_hides[courses.owner[row]] & ~scene.put_away[courses.owner[row]]
    spans = (row[drawn], spans[1][drawn], spans[2][drawn])
    first = np.cumsum(scene.unit_counts) - scene.unit_counts
    curves = Curves.lines(courses.ends, first[courses.owner])
    parts = seen.picture.hiders.hidden(curves)
    points, line, _ = ruled(eye, courses.ends, seen.reach, parts, spans)
    role = np.where(courses.soft[line] == 1, np.int8(Role.CONSTRUCTION), np.int8(Role.SURFACE))
    return Marks(lines=Lines(points, role, courses.owner[line], np.full(len(line), NOBODY)))


def _left(eye: Eye, courses: Courses) -> tuple[Ints, Floats, Floats]:
    """Return the stretches (line, t0, t1) of lines that lie far enough on paper from the next that is left.

    With the line's start a, its way w and the step s to the next line, all seen from the eye and with z along the sight, the
    next line's distance on paper, square to the line, is f |det(a, s, w)| / (z |az wxy - axy wz|) wherever the line lies at
    depth z: only z differs along it. So what is left is all that lies nearer than one depth (differentiate f x / z, f y / z).
    """
    start, end = np.moveaxis(eye.to_camera(courses.ends.reshape(-1, 3)).reshape(-1, 2, 3), 1, 0)
    way, step = end - start, courses.step @ eye.axes.T
    slope = np.hypot(*(start[:, 2] * way[:, :2].T - start[:, :2].T * way[:, 2]))
    nearest = eye.viewing_distance * np.abs(np.einsum("nk,nk->n", start, np.cross(step, way)))
    with np.errstate(divide="ignore", invalid="ignore"):
        deepest = nearest * courses.rank / (courses.gap * slope)
    deepest[(courses.rank > _ALWAYS) | (courses.gap == 0.0)] = np.inf
    deepest[_short(eye, start, end) < _SHORT * courses.gap] = 0.0
    return _nearer(start[:, 2], end[:, 2], deepest)


def _short(eye: Eye, start: Floats, end: Floats) -> Floats:
    """Return how long lines (N,) are on paper, mm; those that reach behind the eye are longer than any."""
    with np.errstate(divide="ignore", invalid="ignore"):
        gap = eye.viewing_distance * (end[:, :2] / end[:, 2:] - start[:, :2] / start[:, 2:])
    before = (start[:, 2] > 0.0) & (end[:, 2] > 0.0)
    return np.where(before, np.hypot(*gap.T), np.inf)


def _nearer(one: Floats, two: Floats, deepest: Floats) -> tuple[Ints, Floats, Floats]:
    """Return where lines from depth ``one`` to depth ``two`` (N,) lie before the eye and no deeper than so far: line, t0, t1."""
    rate = two - one
    with np.errstate(divide="ignore", invalid="ignore"):
        limits = np.stack([-one / rate, (deepest - one) / rate])
    low, high = np.where(rate > 0.0, limits[0], limits[1]), np.where(rate > 0.0, limits[1], limits[0])
    level = rate == 0.0
    low[level], high[level] = 0.0, np.where((one > 0.0) & (one <= deepest), 1.0, 0.0)[level]
    low, high = np.clip(low, 0.0, 1.0), np.clip(high, 0.0, 1.0)
    left = np.flatnonzero(low < high)
    return left, low[left], high[left]


COURSES = Layer(_marks, own_bounds)
