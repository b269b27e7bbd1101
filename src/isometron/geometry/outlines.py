"""Plane outlines of straight and bent sides: rectangles with cut corners, arches, and their convex pieces.

Lengths in mm, x right and y up on the plane of the outline, corners counter-clockwise.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil, pi

import numpy as np

from isometron.geometry.frames import Bools, Floats
from isometron.geometry.tolerances import CLOSE, EXACT, HAIR

__all__ = [
    "Bend",
    "Outline",
    "all_held",
    "arch_opening",
    "arch_wall",
    "convex_parts",
    "convex_pieces",
    "counted",
    "cut_rectangle",
    "flattened",
    "holds",
    "inside_parts",
    "signed_area",
]

_QUARTER = 24
"""Chords to a quarter turn where a bent side hides what is behind it: 0.05 % of its radius from the true one."""
_SAME = CLOSE


@dataclass(frozen=True)
class Bend:
    """A bent side: centre + cos t first + sin t second, from t = start over ``sweep`` radians; convex when sweep > 0."""

    centre: Floats
    first: Floats
    second: Floats
    start: float
    sweep: float

    def at(self, t: Floats) -> Floats:
        """Return the points (K, 2) at parameters (K,)."""
        points: Floats = self.centre + np.cos(t)[:, None] * self.first + np.sin(t)[:, None] * self.second
        return points

    def tangent(self, t: float) -> Floats:
        """Return the direction of travel at a parameter."""
        way: Floats = np.sign(self.sweep) * (-np.sin(t) * self.first + np.cos(t) * self.second)
        return way


@dataclass(frozen=True)
class Outline:
    """Corners (M, 2); the side from corner k to the next is straight, or bent as ``bends[k]`` says. Open without ``closed``."""

    corners: Floats
    bends: dict[int, Bend]
    closed: bool = True

    def sharp(self) -> Bools:
        """Tell for each corner (M,) whether the outline turns there; where sides run on smoothly it does not."""
        count = len(self.corners)
        found = np.ones(count, dtype=bool)
        for k in range(count):
            before, after = self._way(k - 1 if k else count - 1, end=True), self._way(k, end=False)
            size = float(np.sqrt((before @ before) * (after @ after)))
            turn = before[0] * after[1] - before[1] * after[0]
            found[k] = size < _SAME or abs(turn) > HAIR * size or before @ after < 0.0
        return found

    def upside_down(self, high: float) -> Outline:
        """Return the outline turned by half a turn within its height: still counter-clockwise."""
        wide = float(self.corners[:, 0].max() + self.corners[:, 0].min())
        bends = {
            k: Bend((wide, high) - b.centre, -b.first, -b.second, b.start, b.sweep) for k, b in self.bends.items()
        }
        return Outline((wide, high) - self.corners, bends, self.closed)

    def _way(self, k: int, *, end: bool) -> Floats:
        bend = self.bends.get(k)
        if bend is not None:
            return bend.tangent(bend.start + bend.sweep if end else bend.start)
        way: Floats = self.corners[(k + 1) % len(self.corners)] - self.corners[k]
        return way


def _made(points: list[tuple[float, float]], bends: dict[int, Bend], *, closed: bool = True) -> Outline:
    """Return an outline without corners that lie on the one before."""
    kept: list[int] = []
    for k in range(len(points)):
        if not kept or k - 1 in bends or np.hypot(*np.subtract(points[k], points[kept[-1]])) > _SAME:
            kept.append(k)
        elif k in bends:
            kept[-1] = k
    if closed and len(kept) > 1 and len(points) - 1 not in bends:
        first, last = points[kept[0]], points[kept[-1]]
        if np.hypot(first[0] - last[0], first[1] - last[1]) <= _SAME:
            kept.pop()
    place = {k: n for n, k in enumerate(kept)}
    return Outline(
        np.array([points[k] for k in kept], dtype=np.float64), {place[k]: b for k, b in bends.items()}, closed
    )


def _ellipse(x: float, y: float, a: float, b: float, start: float, sweep: float) -> Bend:
    return Bend(np.array([x, y]), np.array([a, 0.0]), np.array([0.0, b]), start, sweep)


def cut_rectangle(wide: float, high: float, lengths: tuple[float, float, float, float], *, round_: bool) -> Outline:
    """Return a rectangle with its corners rounded or chamfered by so many mm.

    The corners count counter-clockwise from the lower left one; two that would pass each other share the side.
    """
    sides = (wide, high, wide, high)
    r = list(lengths)
    for k in range(4):
        total = lengths[k] + lengths[(k + 1) % 4]
        if total > sides[k]:
            for n in (k, (k + 1) % 4):
                r[n] = min(r[n], lengths[n] * sides[k] / total)
    points: list[tuple[float, float]] = []
    bends: dict[int, Bend] = {}
    places = ((0.0, 0.0, 1, 1), (wide, 0.0, -1, 1), (wide, high, -1, -1), (0.0, high, 1, -1))
    for k, (x, y, sx, sy) in enumerate(places):
        level, upright = (x + sx * r[k], y), (x, y + sy * r[k])
        pair = (upright, level) if k % 2 == 0 else (level, upright)
        if r[k] <= _SAME:
            points.append((x, y))
            continue
        if round_:
            bends[len(points)] = _ellipse(x + sx * r[k], y + sy * r[k], r[k], r[k], pi + k * pi / 2, pi / 2)
        points += pair
    return _made(points, bends)


def arch_opening(
    left: float, wide: float, high: float, form: str, rise: float
) -> tuple[float, list[tuple[float, float]], list[Bend]]:
    """Return an arched opening that stands on y = 0: its springing height, its points from the left springing over the
    top to the right one, and the bends between them (clockwise, so concave in what stands round it).

    half-round: a half circle, flattened where the height is less than the radius; segmental: one circular arc that rises
    by ``rise`` of half the width; pointed: two arcs about the springing points, flattened alike.
    """
    half, middle = wide / 2, left + wide / 2
    if form == "pointed":
        tall = min(np.sqrt(3.0) * half, high)
        spring, flat = high - tall, tall / (np.sqrt(3.0) / 2)
        points = [(left, spring), (middle, high), (left + wide, spring)]
        return spring, points, [
            _ellipse(left + wide, spring, wide, flat, pi, -pi / 3),
            _ellipse(left, spring, wide, flat, pi / 3, -pi / 3),
        ]  # fmt: skip
    tall = min(half if form == "half-round" else rise * half, high)
    spring = high - tall
    points = [(left, spring), (left + wide, spring)]
    if form == "half-round":
        return spring, points, [_ellipse(middle, spring, half, tall, pi, -pi)]
    radius = (half * half + tall * tall) / (2 * tall)
    angle = float(np.arcsin(min(half / radius, 1.0)))
    return spring, points, [_ellipse(middle, high - radius, radius, radius, pi / 2 + angle, -2 * angle)]


def arch_wall(wide: float, high: float, pier: float, crown: float, form: str, rise: float, *, band: bool) -> Outline:
    """Return a wall with an arched opening at its foot, or with ``band`` an arch that is equally thick all round."""
    pier = min(pier, 0.49 * wide)
    crown = min(crown, 0.98 * high)
    opening = wide - 2 * pier
    spring, over, bends = arch_opening(pier, opening, high - crown, form, rise)
    points = [(0.0, 0.0), (pier, 0.0), *over, (wide - pier, 0.0), (wide, 0.0)]
    found = {2 + k: bend for k, bend in enumerate(bends)}
    if not band:
        return _made([*points, (wide, high), (0.0, high)], found)
    outer_spring, outer, backs = _outer(wide, high, pier, crown, form, bends, spring)
    if outer_spring > _SAME:
        points.append((wide, outer_spring))
    found |= {len(points) - 1 + k: bend for k, bend in enumerate(backs)}
    return _made([*points, *outer, (0.0, outer_spring)], found)


def _outer(
    wide: float, high: float, pier: float, crown: float, form: str, bends: list[Bend], spring: float
) -> tuple[float, list[tuple[float, float]], list[Bend]]:
    """Return the outside of an arched band: its springing height, inner points, and its bends from right to left."""
    if form == "segmental":
        radius = float(bends[0].first[0]) + crown
        centre = float(bends[0].centre[1])
        if radius > wide / 2:
            outer_spring = centre + float(np.sqrt(radius * radius - wide * wide / 4))
            angle = float(np.arcsin(wide / 2 / radius))
            if outer_spring >= 0.0:
                return outer_spring, [], [_ellipse(wide / 2, centre, radius, radius, pi / 2 - angle, 2 * angle)]
    if form == "pointed":
        # The same two centres as inside; the outer arcs meet over the middle at the whole height.
        reach = float(bends[1].first[0]) + pier
        top = float(np.arccos((wide / 2 - pier) / reach))
        flat = (high - spring) / float(np.sin(top))
        return spring, [(wide / 2, high)], [
            _ellipse(pier, spring, reach, flat, 0.0, top),
            _ellipse(wide - pier, spring, reach, flat, pi - top, top),
        ]  # fmt: skip
    return spring, [], [_ellipse(wide / 2, spring, wide / 2, high - spring, 0.0, pi)]


def counted(points: tuple[tuple[float, float], ...], wide: float, high: float) -> Outline:
    """Return the outline through points given as parts of the width and the height."""
    corners = np.array(points, dtype=np.float64) * (wide, high)
    x, y = corners.T
    area = float(x @ np.roll(y, -1) - y @ np.roll(x, -1))
    return Outline(corners if area >= 0.0 else corners[::-1].copy(), {})


def flattened(outline: Outline, chords: int = _QUARTER) -> Floats:
    """Return the outline as a polygon (P, 2) that lies inside it: chords of convex sides, tangents of hollow ones.

    chords : of each quarter turn.
    """
    parts: list[Floats] = []
    for k, corner in enumerate(outline.corners):
        parts.append(corner[None])
        bend = outline.bends.get(k)
        if bend is None:
            continue
        count = max(ceil(abs(bend.sweep) / (pi / 2) * chords), 2)
        step = bend.sweep / count
        if bend.sweep > 0.0:
            parts.append(bend.at(bend.start + step * np.arange(1.0, count)))
        else:
            out = bend.at(bend.start + step * (np.arange(float(count)) + 0.5)) - bend.centre
            parts.append(bend.centre + out / np.cos(step / 2))
    return np.concatenate(parts)


def convex_pieces(polygon: Floats, holes: Sequence[Floats] = ()) -> list[Floats]:
    """Part a polygon (P, 2), without holes in it, into convex pieces of up to `_MOST_CORNERS` corners (K, 2), counter-clockwise.

    Triangles by constrained Delaunay triangulation (the library's), joined over every side where that stays convex (Hertel
    and Mehlhorn 1983); a polygon that crosses itself is parted into what it encloses.
    """
    import shapely  # here, because most documents have no prism to be parted

    area = shapely.Polygon(polygon, list(holes))
    if not area.is_valid:
        area = shapely.make_valid(area)
    found = shapely.constrained_delaunay_triangles(area)
    triangles = [np.asarray(t.exterior.coords)[:3] for t in found.geoms if t.area > CLOSE]
    return _joined_up([t if _turn(*t) > 0.0 else t[::-1] for t in triangles])


_MOST_CORNERS = 28
"""What is asked of pairs of bodies grows with the square of their corners."""


def _turn(a: Floats, b: Floats, c: Floats) -> float:
    """Return twice the area of a triangle, positive when its corners go round to the left."""
    return float((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))


def _joined_up(triangles: list[Floats]) -> list[Floats]:
    """Join triangles, and what they became, over the sides they share."""
    places: list[Floats] = []
    known: dict[tuple[float, ...], int] = {}
    pieces: dict[int, list[int]] = {}
    at: dict[tuple[int, int], int] = {}  # which piece lies to the left of a side
    for n, triangle in enumerate(triangles):
        pieces[n] = []
        for place in triangle:
            pieces[n].append(known.setdefault(tuple(place), len(known)))
            if len(known) > len(places):
                places.append(place)
        at |= dict.fromkeys(_sides(pieces[n]), n)
    for a, b in list(at):
        one, other = at[a, b], at.get((b, a))
        if other is None or one == other or a > b:
            continue
        ring = _over(pieces[one], pieces[other], a, b)
        if len(ring) <= _MOST_CORNERS and _bulges(ring, places, a) and _bulges(ring, places, b):
            pieces[one] = ring
            at |= dict.fromkeys(_sides(pieces.pop(other)), one)
    return [np.array([places[k] for k in ring]) for ring in pieces.values()]


def _sides(ring: list[int]) -> list[tuple[int, int]]:
    return list(zip(ring, [*ring[1:], ring[0]], strict=True))


def _over(one: list[int], other: list[int], a: int, b: int) -> list[int]:
    """Return the ring round two pieces that share the side a to b (of the first; b to a of the other)."""
    i, j = one.index(b), other.index(a)
    return [*one[i:], *one[:i], *(other[j:] + other[:j])[1:-1]]


def _bulges(ring: list[int], places: list[Floats], corner: int) -> bool:
    """Whether a ring does not turn to the right at a corner."""
    k = ring.index(corner)
    before, here, after = (places[ring[n % len(ring)]] for n in (k - 1, k, k + 1))
    size = max(float(np.abs(here - before).max()), float(np.abs(after - here).max()))
    return _turn(before, here, after) >= -EXACT * size * size


def signed_area(loop: Floats) -> float:
    """Return the area of a polygon (P, 2), less than nothing when it is gone clockwise (Gauss's formula)."""
    other = np.roll(loop, -1, axis=0)
    return float((loop[:, 0] * other[:, 1] - loop[:, 1] * other[:, 0]).sum()) / 2.0


def inside_parts(polygon: Floats, start: Floats, end: Floats) -> list[tuple[float, float]]:
    """Return the parts (t0, t1) of the segment ``start`` -> ``end`` (2,) that lie inside or on a polygon (P, 2)."""
    way, sides = end - start, np.roll(polygon, -1, axis=0) - polygon
    cross = way[0] * sides[:, 1] - way[1] * sides[:, 0]
    off = polygon - start
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (off[:, 0] * sides[:, 1] - off[:, 1] * sides[:, 0]) / cross
        s = (off[:, 0] * way[1] - off[:, 1] * way[0]) / cross
    met = (np.abs(cross) > EXACT) & (t > 0.0) & (t < 1.0) & (s >= -CLOSE) & (s <= 1.0 + CLOSE)
    cuts = [0.0, *np.unique(t[met]).tolist(), 1.0]
    found: list[tuple[float, float]] = []
    for low, high in pairwise(cuts):
        if high - low > CLOSE and holds(polygon, start + (low + high) / 2 * way):
            if found and found[-1][1] == low:
                found[-1] = (found[-1][0], high)
            else:
                found.append((low, high))
    return found


def convex_parts(polygon: Floats, lines: Floats) -> tuple[Floats, Floats] | None:
    """Return where segments (N, 2, 2) enter and leave a convex polygon (P, 2), as parts of them; None for one that is not convex.

    Clipped by the half plane of each side (Cyrus and Beck 1978); of segments outside it the second part is not the greater.
    """
    sides = np.roll(polygon, -1, axis=0) - polygon
    turns = np.roll(sides, 1, axis=0)[:, 0] * sides[:, 1] - np.roll(sides, 1, axis=0)[:, 1] * sides[:, 0]
    hair = EXACT * float((sides * sides).sum(axis=1).max())
    if (turns > hair).any() and (turns < -hair).any():
        return None
    inward = np.column_stack([-sides[:, 1], sides[:, 0]]) * (1.0 if (turns > hair).any() else -1.0)
    inward /= np.maximum(np.hypot(*inward.T), 1e-300)[:, None]
    height = ((lines[:, None, 0] - polygon) * inward).sum(axis=2)
    rise = (lines[:, 1] - lines[:, 0]) @ inward.T
    with np.errstate(divide="ignore", invalid="ignore"):
        met = -height / rise
    level, off = np.abs(rise) <= EXACT * np.abs(rise).max(initial=1.0), height < -HAIR
    low = np.where(~level & (rise > 0.0), met, 0.0).max(axis=1, initial=0.0)
    high = np.where(~level & (rise < 0.0), met, 1.0).min(axis=1, initial=1.0)
    return low, np.where((level & off).any(axis=1), low, high)


def holds(polygon: Floats, place: Floats, slack: float = HAIR) -> bool:
    """Tell whether a place (2,) lies inside a polygon (P, 2), or within ``slack`` of its rim."""
    return bool(all_held(polygon, place[None], slack)[0])


def all_held(polygon: Floats, places: Floats, slack: float = HAIR) -> Bools:
    """Tell which of some places (N, 2) lie inside a polygon (P, 2), or within ``slack`` of its rim."""
    other = np.concatenate([polygon[1:], polygon[:1]])
    sides = other - polygon
    length = np.maximum((sides * sides).sum(axis=1), 1e-300)
    away = places[:, None] - polygon
    part = np.clip((away * sides).sum(axis=2) / length, 0.0, 1.0)
    off = away - part[:, :, None] * sides
    near = np.hypot(off[..., 0], off[..., 1]).min(axis=1) <= slack
    above = places[:, None, 1]
    crosses = (polygon[:, 1] > above) != (other[:, 1] > above)
    with np.errstate(divide="ignore", invalid="ignore"):
        x = polygon[:, 0] + away[..., 1] / sides[:, 1] * sides[:, 0]
    found: Bools = near | (np.count_nonzero(crosses & (places[:, None, 0] < x), axis=1) % 2 == 1)
    return found
