"""Courses on faces: lines that thin out by themselves where they come too near each other on paper, as a hand leaves them out."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.solve.layers.layer import Layer, Reach, Seen
from isometron.solve.marks import NOBODY, NOTHING, Lines, Marks, Role
from isometron.solve.picture import ruled
from isometron.view.eye import Eye
from isometron.volumes.courses import Courses, courses_of

__all__ = ["COURSES"]

_SAMPLES = 17
"""Places along each line at which it is asked how near the next one is."""
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
    """Return the stretches (line, t0, t1) of lines that lie far enough on paper from the next that is left."""
    t = np.linspace(0.0, 1.0, _SAMPLES)
    places = courses.ends[:, :1] + t[:, None] * (courses.ends[:, 1:] - courses.ends[:, :1])
    apart = _apart(eye, places, courses)
    enough = apart * courses.rank[:, None] - courses.gap[:, None]
    enough[courses.rank > 1e6] = 1.0
    enough[_short(eye, courses)] = -1.0
    return _spans(enough, t)


def _apart(eye: Eye, places: Floats, courses: Courses) -> Floats:
    """Return how far on paper (N, M) the next line lies from each place (N, M, 3), square to the line."""
    camera = eye.to_camera(places.reshape(-1, 3)).reshape(places.shape)
    step = (courses.step @ eye.axes.T)[:, None]
    way = ((courses.ends[:, 1] - courses.ends[:, 0]) @ eye.axes.T)[:, None]
    depth = np.where(camera[..., 2:] > 0.0, camera[..., 2:], np.nan)
    aside, along = (
        eye.viewing_distance * (d[..., :2] - camera[..., :2] / depth * d[..., 2:]) / depth for d in (step, way)
    )
    cross = np.abs(aside[..., 0] * along[..., 1] - aside[..., 1] * along[..., 0])
    found: Floats = np.nan_to_num(cross / np.maximum(np.hypot(along[..., 0], along[..., 1]), 1e-12))
    return found


def _short(eye: Eye, courses: Courses) -> Bools:
    """Tell which lines (N,) are joints too short on paper to be drawn; long lines never are."""
    paper, depth = eye.project(courses.ends.reshape(-1, 3))
    ends = paper.reshape(-1, 2, 2)
    long = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    before = (depth.reshape(-1, 2) > 0.0).all(axis=1)
    found: Bools = before & (long < _SHORT * courses.gap)
    return found


def _spans(enough: Floats, t: Floats) -> tuple[Ints, Floats, Floats]:
    """Return where values (N, M) at places t (M,) are not negative: line, from, to; between places they run straight."""
    on = enough >= 0.0
    whole = on.all(axis=1)
    rows = [np.flatnonzero(whole)]
    low, high = [np.zeros(len(rows[0]))], [np.ones(len(rows[0]))]
    for row in np.flatnonzero(on.any(axis=1) & ~whole).tolist():
        values = enough[row]
        start = t[0] if on[row, 0] else None
        for k in range(len(t) - 1):
            if on[row, k] == on[row, k + 1]:
                continue
            at = float(t[k] + values[k] / (values[k] - values[k + 1]) * (t[k + 1] - t[k]))
            if start is None:
                start = at
            else:
                rows.append(np.array([row]))
                low.append(np.array([start]))
                high.append(np.array([at]))
                start = None
        if start is not None:
            rows.append(np.array([row]))
            low.append(np.array([start]))
            high.append(np.array([1.0]))
    line = np.concatenate(rows)
    order = np.argsort(line, kind="stable")
    return line[order], np.concatenate(low)[order], np.concatenate(high)[order]


COURSES = Layer(_marks, Reach.NEAR)
