"""Outlines moved inwards by the same length all round, and outlines read from polygons of chords."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.inset_sides import (
    line_inside,
    no_room,
    offset_polygons,
    on_line_and_circle,
    on_two_circles,
    radius_inside,
)
from isometron.geometry.faces.sides_left import inset_of_what_is_left
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Bend, Outline, flattened, holds, signed_area
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["between_levels", "inset", "polygon_inset", "with_arcs"]

_COARSE = 8
_LEAST_CHORDS, _MOST_TURN = 4, 0.2
"""A round is read from so many chords at least, each of which turns by less than so many radians."""


def inset(outline: Outline, by: float) -> Outline:
    """Return an outline whose sides lie ``by`` mm further in, or further out below nothing; circular arcs keep their centres, and sides that end on
    the way, as a round that is smaller does, are left out.

    Raises `OutlineError` where there is no room for it.
    """
    if by == 0.0:
        return outline
    try:
        return _of_all_sides(outline, by)
    except OutlineError:
        if by < 0.0:
            raise
        return inset_of_what_is_left(outline, by)


def _of_all_sides(outline: Outline, by: float) -> Outline:
    count = len(outline.corners)
    smooth = ~outline.sharp()
    corners = np.array([_corner(outline, k, by, smooth=bool(smooth[k])) for k in range(count)])
    bends = {k: _bend(bend, corners[k], corners[(k + 1) % count], by) for k, bend in outline.bends.items()}
    found = Outline(corners, bends)
    if by > 0.0:
        _audit(outline, found, by)
    return found


def polygon_inset(loop: Floats, by: float) -> Floats:
    """Return a counter-clockwise polygon (P, 2) moved inwards, whatever becomes of its sides; the largest piece of what is left.

    Raises `OutlineError` where nothing is.
    """
    parts = offset_polygons(loop, by)
    if not parts:
        raise no_room(by)
    ring: Floats = max(parts, key=lambda part: float(signed_area(part)))
    return ring


def _bend(bend: Bend, one: Floats, two: Floats, by: float) -> Bend:
    radius = radius_inside(bend, by)
    angles = [float(np.arctan2(*(point - bend.centre)[::-1])) for point in (one, two)]
    sweep = (angles[1] - angles[0]) % (2 * np.pi)
    if bend.sweep < 0.0:
        sweep -= 2 * np.pi
    if abs(sweep) <= CLOSE or abs(abs(sweep) - 2 * np.pi) <= CLOSE or abs(sweep - bend.sweep) > np.pi:
        raise no_room(by)
    return Bend(bend.centre, np.array([radius, 0.0]), np.array([0.0, radius]), angles[0], sweep)


def _corner(outline: Outline, k: int, by: float, *, smooth: bool) -> Floats:
    """Return where the sides before and after a corner meet further in."""
    before = (k - 1) % len(outline.corners)
    one, two = outline.bends.get(before), outline.bends.get(k)
    corner = outline.corners[k]
    if smooth:
        way = outline.bends[k].tangent(outline.bends[k].start) if two is not None else line_inside(outline, k, by)[1]
        way = way / np.hypot(*way)
        moved: Floats = corner + by * np.array([-way[1], way[0]])
        return moved
    if one is None and two is None:
        (p, d), (q, e) = line_inside(outline, before, by), line_inside(outline, k, by)
        cross = d[0] * e[1] - d[1] * e[0]
        met: Floats = p + ((q - p)[0] * e[1] - (q - p)[1] * e[0]) / cross * d
        return met
    if one is not None and two is not None:
        found = on_two_circles(one.centre, radius_inside(one, by), two.centre, radius_inside(two, by))
    else:
        bend = one if one is not None else two
        assert bend is not None
        found = on_line_and_circle(
            *line_inside(outline, k if one is not None else before, by), bend.centre, radius_inside(bend, by)
        )
    if not len(found):
        raise no_room(by)
    nearest: Floats = found[int(np.argmin(np.hypot(*(found - corner).T)))]
    return nearest


def _audit(outer: Outline, inner: Outline, by: float) -> None:
    """Refuse an outline that turned inside out somewhere, or that comes nearer to the outer one than it is meant to."""
    count = len(inner.corners)
    for k in range(count):
        if k not in inner.bends:
            own, new = (o.corners[(k + 1) % count] - o.corners[k] for o in (outer, inner))
            if float(own @ new) <= 0.0:
                raise no_room(by)
    one, two = flattened(outer, _COARSE), flattened(inner, _COARSE)
    for place in two:
        if not holds(one, place) or _gap(one, place) < by * (1.0 - 0.02) - HAIR:
            raise no_room(by)


def _gap(polygon: Floats, place: Floats) -> float:
    way = np.roll(polygon, -1, axis=0) - polygon
    square = np.maximum((way * way).sum(axis=1), 1e-300)
    part = np.clip(((place - polygon) * way).sum(axis=1) / square, 0.0, 1.0)
    return float(np.hypot(*(place - polygon - part[:, None] * way).T).min())


def with_arcs(loop: Floats) -> Outline:
    """Return a counter-clockwise polygon (P, 2) as an outline in which runs of chords of one circle are arcs again."""
    count = len(loop)
    if count <= _LEAST_CHORDS:
        return Outline(loop, {})
    circle = [_circle(loop[k - 1], loop[k], loop[(k + 1) % count]) for k in range(count)]
    same = [_alike(circle[k], circle[(k + 1) % count]) for k in range(count)]
    start = next((k for k in range(count) if not same[k - 1]), None)
    if start is None:
        return _whole(loop, circle[0])
    corners: list[Floats] = []
    bends: dict[int, Bend] = {}
    k = 0
    while k < count:
        at = (start + k) % count
        run = 0
        while k + run < count and same[(at + run) % count]:
            run += 1
        # Corners at to at + run lie inside one arc, which begins at the one before and ends at the one after.
        here = circle[at]
        if run + 2 >= _LEAST_CHORDS and here is not None:
            if not corners:
                corners.append(loop[at - 1])
            bends[len(corners) - 1] = _arc(loop[(at - 1) % count], loop[at], loop[(at + run + 1) % count], here)
            if k + run + 1 < count:
                corners.append(loop[(at + run + 1) % count])
            k += run + 2
        else:
            corners.append(loop[at])
            k += 1
    points = np.array(corners)
    if float(np.hypot(*(points[0] - points[-1]))) <= HAIR and len(points) - 1 not in bends:
        points = points[:-1]
    return Outline(points, bends)


Circle = tuple[float, float, float]


def _circle(a: Floats, b: Floats, c: Floats) -> Circle | None:
    """Return centre and radius of the circle through three places that turn a little; None where they do not."""
    one, two = b - a, c - b
    cross, dot = float(one[0] * two[1] - one[1] * two[0]), float(one @ two)
    turn = float(np.arctan2(cross, dot))
    if not 1e-4 < abs(turn) < _MOST_TURN:
        return None
    m, n = (a + b) / 2.0, (b + c) / 2.0
    p, q = np.array([-one[1], one[0]]), np.array([-two[1], two[0]])
    t = float((n - m)[0] * q[1] - (n - m)[1] * q[0]) / float(p[0] * q[1] - p[1] * q[0])
    centre = m + t * p
    return float(centre[0]), float(centre[1]), float(np.hypot(*(a - centre)))


def _alike(one: Circle | None, two: Circle | None) -> bool:
    if one is None or two is None:
        return False
    return max(abs(x - y) for x, y in zip(one, two, strict=True)) <= 1e-5 * (1.0 + one[2])


def _arc(one: Floats, second: Floats, two: Floats, circle: Circle) -> Bend:
    centre, radius = np.array(circle[:2]), circle[2]
    begin, after, end = (float(np.arctan2(*(p - centre)[::-1])) for p in (one, second, two))
    step = (after - begin + np.pi) % (2 * np.pi) - np.pi
    sweep = (end - begin) % (2 * np.pi)
    return Bend(
        centre, np.array([radius, 0.0]), np.array([0.0, radius]), begin, sweep if step > 0.0 else sweep - 2 * np.pi
    )


def _whole(loop: Floats, circle: Circle | None) -> Outline:
    assert circle is not None
    centre, radius = np.array(circle[:2]), circle[2]
    start = float(np.arctan2(*(loop[0] - centre)[::-1]))
    half = Bend(centre, np.array([radius, 0.0]), np.array([0.0, radius]), start, np.pi)
    other = Bend(centre, half.first, half.second, start + np.pi, np.pi)
    return Outline(np.array([loop[0], 2 * centre - loop[0]]), {0: half, 1: other})


def between_levels(loop: Floats, low: float, high: float) -> Floats:
    """Return the part of a polygon (P, 2) with y from ``low`` to ``high`` (Sutherland and Hodgman, 1974)."""
    for level, sign in ((low, 1.0), (high, -1.0)):
        kept = []
        for one, two in zip(loop, np.roll(loop, -1, axis=0), strict=True):
            a, b = sign * (one[1] - level), sign * (two[1] - level)
            if a >= 0.0:
                kept.append(one)
            if (a >= 0.0) != (b >= 0.0):
                kept.append(one + a / (a - b) * (two - one))
        loop = np.array(kept).reshape(-1, 2)
    return loop
