"""Outlines moved inwards so far that some of their sides end on the way: a wall thicker than a round, a chamfer or a bow.

Which sides are left, and in which order, is told by the outline in fine chords moved inwards by a well-kept library; where they meet, by
the sides themselves, so that nothing of the result leans on the chords.
"""

from __future__ import annotations

from itertools import groupby

import numpy as np

from isometron.geometry.faces.inset_sides import (
    line_inside,
    no_room,
    offset_polygons,
    on_line_and_circle,
    on_two_circles,
    radius_inside,
)
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Bend, Outline, signed_area
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["inset_of_what_is_left"]

_CHORD = 1e-3
"""mm that chords may lie off arcs."""
_SLACK = 4.0 * _CHORD
_MOST = 400
_ASIDE = 0.05


def inset_of_what_is_left(outline: Outline, by: float) -> Outline:
    """Return an outline moved inwards by ``by`` mm, of the sides that are left there; raises `OutlineError` where nothing is, or it falls apart."""
    import shapely

    parts = [ring for ring in offset_polygons(_chorded(outline), by) if abs(signed_area(ring)) > _SLACK * by]
    if len(parts) != 1 or signed_area(parts[0]) <= 0.0:
        raise no_room(by)
    ring = parts[0]
    middles = (ring + np.roll(ring, -1, axis=0)) / 2.0
    off = np.array([_off(outline, k, by, middles) for k in range(len(outline.corners))])
    own = off.argmin(axis=0)
    long = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    # Beyond an inner corner chords go straight on where the side itself is bent.
    if (off.min(axis=0)[long > 10.0 * _SLACK] > _SLACK + _ASIDE * by).any():
        raise no_room(by)
    found = _met(outline, by, _runs(own.tolist(), ring, long))
    inner, outer = shapely.Polygon(_chorded(found)), shapely.Polygon(_chorded(outline))
    if not (
        inner.is_valid and outer.contains(inner) and inner.exterior.distance(outer.exterior) > by * (1.0 - _ASIDE)
    ):
        raise no_room(by)
    return found


def _chorded(outline: Outline) -> Floats:
    """Return the outline in chords (P, 2)."""
    parts = []
    for k, corner in enumerate(outline.corners):
        bend = outline.bends.get(k)
        parts.append(corner[None])
        if bend is not None:
            radius = max(float(np.hypot(*bend.first)), float(np.hypot(*bend.second)), _CHORD)
            count = int(np.clip(np.ceil(abs(bend.sweep) / (2.0 * np.arccos(1.0 - _CHORD / radius))), 2, _MOST))
            parts.append(bend.at(bend.start + bend.sweep * np.arange(1, count) / count))
    return np.concatenate(parts)


def _off(outline: Outline, k: int, by: float, places: Floats) -> Floats:
    """Return how far places (P, 2) lie off a side moved inwards, those beside its extent told as farther by that."""
    bend = outline.bends.get(k)
    if bend is None:
        place, way = line_inside(outline, k, by)
        off = places - place
        found: Floats = np.abs(off[:, 1] * way[0] - off[:, 0] * way[1])
        return found
    size = float(np.hypot(*bend.first))
    radius = size - by if bend.sweep > 0.0 else size + by
    if radius <= CLOSE:
        return np.full(len(places), np.inf)
    off = places - bend.centre
    turn = (np.sign(bend.sweep) * (np.arctan2(off[:, 1], off[:, 0]) - bend.start)) % (2.0 * np.pi)
    beside = np.minimum(turn - abs(bend.sweep), 2.0 * np.pi - turn)
    away: Floats = np.abs(np.hypot(*off.T) - radius) + np.where(
        turn > abs(bend.sweep), _SLACK * np.minimum(beside, 1.0), 0.0
    )
    return away


def _runs(own: list[int], ring: Floats, long: Floats) -> list[tuple[int, Floats]]:
    """Return the sides in their order, each with the place (2,) at which it begins; what is shorter than chords tell goes with its neighbour."""
    count = len(own)
    for k in range(count):
        if long[k] < _SLACK:
            own[k] = own[k - 1]
    start = next((k for k in range(count) if own[k] != own[k - 1]), 0)
    found = []
    for side, steps in groupby(range(count), key=lambda n: own[(start + n) % count]):
        found.append((side, ring[(start + next(steps)) % count]))
    return found


def _met(outline: Outline, by: float, runs: list[tuple[int, Floats]]) -> Outline:
    """Return the outline of sides that follow each other, ended where they meet."""
    count = len(runs)
    if count < 2:
        raise no_room(by)
    corners = np.array([_between(outline, by, runs[k - 1][0], runs[k][0], runs[k][1]) for k in range(count)])
    bends: dict[int, Bend] = {}
    for k, (side, _) in enumerate(runs):
        bend = outline.bends.get(side)
        if bend is None:
            continue
        radius = radius_inside(bend, by)
        begin, end = (float(np.arctan2(*(corners[n % count] - bend.centre)[::-1])) for n in (k, k + 1))
        sense = 1.0 if bend.sweep > 0.0 else -1.0
        sweep = sense * ((sense * (end - begin)) % (2.0 * np.pi))
        bends[k] = Bend(bend.centre, np.array([radius, 0.0]), np.array([0.0, radius]), begin, sweep)
    return Outline(corners, bends)


def _between(outline: Outline, by: float, one: int, two: int, near: Floats) -> Floats:
    """Return where two sides moved inwards meet (2,), nearest to a place that is told by chords."""
    first, second = outline.bends.get(one), outline.bends.get(two)
    if first is None and second is None:
        (p, d), (q, e) = line_inside(outline, one, by), line_inside(outline, two, by)
        cross = float(d[0] * e[1] - d[1] * e[0])
        if abs(cross) < CLOSE:
            return near
        met: Floats = p + float((q - p)[0] * e[1] - (q - p)[1] * e[0]) / cross * d
        found = met[None]
    elif first is not None and second is not None:
        found = on_two_circles(first.centre, radius_inside(first, by), second.centre, radius_inside(second, by))
    else:
        bend, side = (first, two) if first is not None else (second, one)
        assert bend is not None
        place, way = line_inside(outline, side, by)
        radius = radius_inside(bend, by)
        foot = place + float((bend.centre - place) @ way) * way
        # Where they only touch, a root would lose half of the digits.
        touch = abs(float(np.hypot(*(foot - bend.centre))) - radius) <= HAIR * (1.0 + radius)
        found = foot[None] if touch else on_line_and_circle(place, way, bend.centre, radius)
    if not len(found):
        raise no_room(by)
    best: Floats = found[int(np.argmin(np.hypot(*(found - near).T)))]
    if float(np.hypot(*(best - near))) > 1.0 + 0.1 * by:
        raise no_room(by)
    return best
