"""Where the marks on a volume's faces lie in the world: straight ones as edges, round ones as rings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import singledispatch
from itertools import pairwise
from math import pi, radians

import msgspec
import numpy as np

from isometron.geometry import cubics
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.geometry.outlines import arch_opening, flattened, inside_parts
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.arch import Arch, outline_of, plane_axes
from isometron.volumes.box import BOX_EDGES, BOX_FACES, box_corners
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.faces.turned import round_side
from isometron.volumes.kinds import own_corners
from isometron.volumes.lines.carried_round import carried_onto_round
from isometron.volumes.lines.on_side import is_ball, on_side, ring_on_side
from isometron.volumes.lines.on_volume import line_on
from isometron.volumes.lines.surfaces import FlatSurface
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CurveMark,
    DivideMark,
    FaceMark,
    FaceRef,
    PathMark,
    RingMark,
    TickMark,
)
from isometron.volumes.marks.holds import Measured, held_at
from isometron.volumes.marks.mirroring import mirror_of
from isometron.volumes.marks.places import face_plane, has_face, lies_on, mark_place, places_of, side_under
from isometron.volumes.openings.solids import openings_on
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.rounds import RoundParts
from isometron.volumes.sections.carried import carried_onto
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["MarkEdges", "mark_edges", "mark_rounds", "ring_place"]

_TICK, _CROSS = 0.06, 0.02
"""Half a tick, as a part of the neighbouring edge; half a small cross, as a part of the volume."""
_CARRIED = 8
"""Straight runs that a piece of a smooth line is carried on to a body by."""
_DIAL = 0.86
"""Strokes of a dial begin at this part of its radius."""


@dataclass(frozen=True)
class MarkEdges:
    """Straight marks: ends (E, 2, 3), own direction (E,) or -1, and whether each is drawn as construction (E,)."""

    ends: Floats
    axes: Ints
    soft: Bools


Stroke = tuple[Floats, Floats, int, bool]


def _each(volume: Volume) -> Iterator[FaceMark]:
    """Yield a volume's marks, those that stand in a row one by one as long as they lie on their face."""
    for mark in volume.marks:
        if not has_face(volume, mark):
            continue
        if not isinstance(mark, RingMark | ArchMark):
            yield mark
            continue
        side = side_under(volume, mark)
        if side is not None:
            if isinstance(mark, RingMark):
                yield from on_side(mark, side)
            continue
        plane = face_plane(volume, mark.face)
        if not plane.has_area:
            continue  # a ridge: there is no room for anything round
        for x, y in places_of(mark, plane):
            if lies_on((x, y), plane):
                yield msgspec.structs.replace(mark, at=(Measured(mm=x), Measured(mm=y)), count=1)


def mark_edges(volume: Volume) -> MarkEdges:
    """Return the straight parts of a volume's marks."""
    strokes = [stroke for mark in _each(volume) for stroke in _both(mark, volume)]
    strokes = [s for s in strokes if float(np.abs(s[1] - s[0]).max()) > HAIR]
    return MarkEdges(
        np.array([[a, b] for a, b, _, _ in strokes]).reshape(-1, 2, 3),
        np.array([axis for _, _, axis, _ in strokes], dtype=np.intp),
        np.array([soft for _, _, _, soft in strokes], dtype=bool),
    )


def _both(mark: FaceMark, volume: Volume) -> Iterator[Stroke]:
    """Yield the straight strokes of a mark, and those of its mirror image where it has one."""
    ways, moved = mirror_of(volume)
    for start, end, axis, soft in _strokes(mark, volume):
        yield start, end, axis, soft
        if getattr(mark, "mirrored", False):
            yield ways @ start + moved, ways @ end + moved, axis, soft


@singledispatch
def _strokes(mark: FaceMark, volume: Volume) -> Iterator[Stroke]:
    """Yield the straight strokes of a mark; each kind of mark registers its own."""
    yield from ()


@_strokes.register
def _(mark: DivideMark, volume: Volume) -> Iterator[Stroke]:
    """Its lines stop at openings."""
    wall = _wall(volume, mark.face)
    plane = face_plane(volume, mark.face)
    openings = openings_on(volume, plane)
    for start, end, axis, soft in _divisions(mark, plane):
        parts = plane.on_face(start, end) if wall is None else _parts_on(wall, volume, start, end)
        for low, high in plane.beside(openings, start, end, parts):
            yield start + low * (end - start), start + high * (end - start), axis, soft


def _wall(volume: Volume, face: FaceRef) -> Floats | None:
    """Return the outline (P, 2) of a wall with an arched opening, mm on its plane; None for any other face."""
    if not isinstance(volume, Arch):
        return None
    if isinstance(face, str) or DIRECTIONS[BOX_FACES[face][0]] != volume.through:
        return None
    return flattened(outline_of(volume))


def _parts_on(wall: Floats, volume: Volume, start: Floats, end: Floats) -> list[tuple[float, float]]:
    """Return the parts of a stroke that lie on a wall."""
    corners, rotations = box_corners([volume])
    assert isinstance(volume, Arch)
    a, b, _ = plane_axes(volume.through)
    p, q = (((place - corners[0, 0]) @ rotations[0])[[a, b]] for place in (start, end))
    return inside_parts(wall, p, q)


def _divisions(mark: DivideMark, plane: FacePlane) -> Iterator[Stroke]:
    bx = min(mark.border / plane.wide, 0.49) if plane.wide else 0.0
    by = min(mark.border / plane.high, 0.49) if plane.high else 0.0

    def at(x: float, y: float) -> Floats:
        return plane.at(bx + x * (1.0 - 2 * bx), by + y * (1.0 - 2 * by))

    a, b = plane.axes
    if mark.border > 0.0:
        ring = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)]
        for k in range(4):
            yield ring[k], ring[(k + 1) % 4], a if k % 2 == 0 else b, mark.soft
    for held in mark.across:
        if 0.0 <= (part := _part(held, plane.wide, bx)) <= 1.0:
            yield at(part, 0.0), at(part, 1.0), b, mark.soft
    for held in mark.up:
        if 0.0 <= (part := _part(held, plane.high, by)) <= 1.0:
            yield at(0.0, part), at(1.0, part), a, mark.soft
    if mark.diagonals:
        yield at(0.0, 0.0), at(1.0, 1.0), -1, True
        yield at(0.0, 1.0), at(1.0, 0.0), -1, True


def _part(held: float | Measured, length: float, border: float = 0.0) -> float:
    """Return the place of a line as a part of a way of ``length`` mm, from which both ends lose ``border``, a part of it."""
    inside = length * (1.0 - 2.0 * border)
    return held_at(held, inside) / inside if inside > 0.0 else 0.5


@_strokes.register
def _(mark: TickMark, volume: Volume) -> Iterator[Stroke]:
    corners = own_corners(volume)
    start, end = (int(v) for v in BOX_EDGES[mark.edge])
    axis = (start ^ end).bit_length() - 1
    others = [k for k in range(3) if k != axis]
    way = corners[end] - corners[start]
    for held in mark.parts:
        if not 0.0 <= (part := _part(held, float(np.sqrt(way @ way)))) <= 1.0:
            continue
        place = corners[start] + part * way
        for k in others:
            inward = [corners[v ^ 1 << k] for v in (start, end)]
            other = inward[0] + part * (inward[1] - inward[0])
            yield place, place + _TICK * (other - place), k, False


@_strokes.register
def _(mark: PathMark, volume: Volume) -> Iterator[Stroke]:
    _, rotations = box_corners([volume])
    a, b, _ = plane_axes(mark.across)
    if len(mark.points) == 1:
        (x, y), reach = mark.points[0], _CROSS * float(max(volume.size[a], volume.size[b]))
        dx, dy = reach / float(volume.size[a]), reach / float(volume.size[b])
        yield _in_view(mark, volume, x - dx, y), _in_view(mark, volume, x + dx, y), a, mark.soft
        yield _in_view(mark, volume, x, y - dy), _in_view(mark, volume, x, y + dy), b, mark.soft
        return
    if mark.carried:
        for start, end in _carried(mark, volume, 0)[0]:
            yield start, end, -1, mark.soft
        return
    if mark.smooth:
        return
    for start, end in pairwise(_view_places(mark, volume)):
        own = np.abs((end - start) @ rotations[0])
        axis = int(np.argmax(own)) if float(np.sort(own)[1]) < CLOSE * float(own.max()) else -1
        yield start, end, axis, mark.soft


def _in_view(mark: PathMark, volume: Volume, x: float, y: float) -> Floats:
    """Return the place (3,) of parts of a volume on the plane of a mark drawn in a plain view."""
    corners, rotations = box_corners([volume])
    a, b, k = plane_axes(mark.across)
    size, own = np.array(volume.size), np.zeros(3)
    own[[a, b, k]] = x * size[a], y * size[b], mark.at * size[k]
    place: Floats = corners[0, 0] + rotations[0] @ own
    return place


def _view_places(mark: PathMark, volume: Volume) -> Floats:
    places = [_in_view(mark, volume, x, y) for x, y in mark.points]
    return np.array([*places, places[0]] if mark.closed else places)


def _view_curve(mark: PathMark, volume: Volume) -> Floats:
    """Return the cubic pieces (C, 4, 3) of a smooth line drawn in a plain view."""
    places = _view_places(mark, volume)
    return cubics.smooth_through(places[:-1] if mark.closed else places, closed=mark.closed)


def _carried(mark: PathMark, volume: Volume, row: int) -> tuple[Floats, RoundParts]:
    """Return where a line of a plain view meets the body: straight runs (E, 2, 3), and what is bent."""
    places = _view_places(mark, volume)
    if isinstance(volume, Turned):
        thirds = np.linspace(0.0, 1.0, 4)[:, None]
        straight = np.array([one + thirds * (two - one) for one, two in pairwise(places)])
        across = stand_of(volume)[1][:, plane_axes(mark.across)[2]]
        pieces = carried_onto_round(
            _view_curve(mark, volume) if mark.smooth else straight, round_side(volume), across
        )
        return np.zeros((0, 2, 3)), RoundParts.curved(row, pieces, soft=mark.soft, on_round=True)
    if mark.smooth:
        curve = cubics.at(_view_curve(mark, volume), np.linspace(0.0, 1.0, _CARRIED + 1))
        places = np.concatenate([curve[:1, 0], curve[:, 1:].reshape(-1, 3)])
    across = box_corners([volume])[1][0][:, plane_axes(mark.across)[2]]
    lines = carried_onto(volume, [np.array(pair) for pair in pairwise(places)], across, around=mark.around)
    return lines.straight, RoundParts.drawn(row, list(lines.rings), soft=mark.soft, spans=lines.spans, is_mark=True)


@_strokes.register
def _(mark: ArchMark, volume: Volume) -> Iterator[Stroke]:
    plane, paths = _arch(mark, volume)
    for points, _ in paths:
        foot = mark_place(mark, plane)[1]
        for x, y in (points[0], points[-1]):
            if y > foot:
                yield _on_plane(plane, x, foot), _on_plane(plane, x, y), plane.axes[1], False


def _on_plane(plane: FacePlane, x: float, y: float) -> Floats:
    """Return the world place of mm on a face, from the lower left of its middle lines."""
    wide, high = plane.wide, plane.high
    across, up = x / wide - 0.5 if wide > 0.0 else 0.0, y / high - 0.5 if high > 0.0 else 0.0
    place: Floats = plane.middle + across * plane.x + up * plane.y
    return place


def _arch(mark: ArchMark, volume: Volume) -> tuple[FacePlane, list[tuple[list[tuple[float, float]], list]]]:  # type: ignore[type-arg]
    plane = face_plane(volume, mark.face)
    middle, foot = mark_place(mark, plane)
    found = []
    for extra in (0.0, mark.band) if mark.band > 0.0 else (0.0,):
        wide = min(mark.wide + 2 * extra, 2 * min(middle, plane.wide - middle))
        high = min(mark.high + extra, plane.high - foot)
        if wide <= HAIR or high <= HAIR:
            continue
        _, points, bends = arch_opening(middle - wide / 2, wide, high, mark.form, mark.rise)
        found.append(([(x, y + foot) for x, y in points], bends))
    return plane, found


def mark_rounds(volume: Volume, row: int) -> RoundParts:
    """Return the round parts of a volume's marks."""
    parts = []
    for mark in _each(volume):
        parts.append(_round(mark, volume, row))
        if getattr(mark, "mirrored", False):
            parts.append(parts[-1].placed(*mirror_of(volume)))
    return RoundParts.joined(parts)


@singledispatch
def _round(mark: FaceMark, volume: Volume, row: int) -> RoundParts:
    """Return the round parts of a mark; each kind that has any registers its own."""
    return RoundParts()


@_round.register
def _(mark: PathMark, volume: Volume, row: int) -> RoundParts:
    if len(mark.points) < 2 or not (mark.smooth or mark.carried):
        return RoundParts()
    if mark.carried:
        return _carried(mark, volume, row)[1]
    return RoundParts.curved(row, _view_curve(mark, volume).reshape(-1, 12), soft=mark.soft)


@_round.register
def _(mark: ArchMark, volume: Volume, row: int) -> RoundParts:
    plane, paths = _arch(mark, volume)
    x, y = plane.x / plane.wide, plane.y / plane.high
    foot = mark_place(mark, plane)[1]
    rings, spans = [], []
    for _, bends in paths:
        for bend in bends:
            centre = _on_plane(plane, float(bend.centre[0]), float(bend.centre[1]) + foot)
            halves = [half[0] * x + half[1] * y for half in (bend.first, bend.second)]
            rings.append(np.concatenate([centre, *halves]))
            spans.append((bend.start / (2 * pi), bend.sweep / (2 * pi)))
    return RoundParts.drawn(row, rings, spans=np.array(spans).reshape(-1, 2), is_mark=True)


def ring_place(mark: RingMark, volume: Volume) -> tuple[FacePlane, Floats, float]:
    """Return the face of a ring, its centre (3,), and its radius in mm: the largest that fits when it has no own."""
    plane = face_plane(volume, mark.face)
    x, y = mark_place(mark, plane)
    radius = mark.diameter / 2
    if radius <= 0.0:
        radius = min(x, plane.wide - x, y, plane.high - y)
    return plane, _on_plane(plane, x, y), radius


@_round.register
def _(mark: RingMark, volume: Volume, row: int) -> RoundParts:
    side = side_under(volume, mark)
    if side is not None:
        return ring_on_side(mark, side, row, ball=is_ball(volume))
    plane, centre, radius = ring_place(mark, volume)
    if radius <= HAIR:
        return RoundParts()
    x, y = plane.x / plane.wide, plane.y / plane.high
    span = np.array([[mark.start_deg / 360.0, mark.sweep_deg / 360.0]])

    def ring(place: Floats, part: float) -> Floats:
        return np.concatenate([place, part * radius * x, part * radius * y])

    raised = max(-mark.depth, 0.0) * plane.outward
    parts = [RoundParts.drawn(row, [ring(centre, 1.0)], spans=span, is_mark=True)]
    upper = centre + raised
    if mark.depth < 0.0:
        axle = raised[None]
        one = np.ones(1)
        body = Frusta(np.array([row]), centre[None], axle, radius * x[None], radius * y[None], one, one, np.zeros(1))
        parts.append(
            RoundParts(
                frusta=body,
                rounded=np.zeros(1, dtype=bool),
                spun=np.zeros(1, dtype=np.intp),
            )
        )
        parts.append(RoundParts.drawn(row, [ring(upper, 1.0)], is_mark=True))
    elif mark.depth > 0.0:
        hole = np.concatenate([ring(centre, 1.0), -mark.depth * plane.outward])
        parts.append(RoundParts(holes=hole[None], hole_owner=np.array([row])))
    inner = [ring(upper, part) for part in mark.inner if CLOSE < part < 1.0]
    parts.append(RoundParts.drawn(row, inner, spans=np.repeat(span, len(inner), axis=0), is_mark=True))
    strokes = []
    # A whole ring of n divisions has n strokes; a part of one has a stroke at both of its ends.
    count = mark.divisions + int(mark.divisions > 0 and mark.sweep_deg < 360.0)
    for angle in radians(mark.start_deg) + np.arange(count) * radians(mark.sweep_deg) / max(mark.divisions, 1):
        out = radius * (np.cos(angle) * x + np.sin(angle) * y)
        strokes.append(np.stack([upper + _DIAL * out, upper + out]))
    parts.append(RoundParts.stroked(row, strokes))
    return RoundParts.joined(parts)


@_strokes.register
def _(mark: CurveMark, volume: Volume) -> Iterator[Stroke]:
    surface, path = line_on(mark, volume)
    if isinstance(surface, FlatSurface):
        for run in path.lines():
            start, end = surface.world(run)
            yield start, end, _own_axis(end - start, volume), mark.soft


def _own_axis(way: Floats, volume: Volume) -> int:
    """Return the own direction that a line runs in, -1 for none."""
    own = np.abs(way @ box_corners([volume])[1][0])
    return int(np.argmax(own)) if float(np.sort(own)[1]) < CLOSE * float(own.max()) else -1


@_round.register
def _(mark: CurveMark, volume: Volume, row: int) -> RoundParts:
    surface, path = line_on(mark, volume)
    if not isinstance(surface, FlatSurface):
        return RoundParts.curved(row, path.on(surface).reshape(-1, 12), soft=mark.soft, on_round=True)
    smooth = surface.world(path.cubic().reshape(-1, 2)).reshape(-1, 12)
    rings, spans = [], []
    for bend in path.arcs():
        centre = surface.world(bend.centre[None])[0]
        halves = [half[0] * surface.x + half[1] * surface.y for half in (bend.first, bend.second)]
        rings.append(np.concatenate([centre, *halves]))
        spans.append((bend.start / (2 * pi), bend.sweep / (2 * pi)))
    arcs = RoundParts.drawn(row, rings, soft=mark.soft, spans=np.array(spans).reshape(-1, 2), is_mark=True)
    return RoundParts.joined([RoundParts.curved(row, smooth, soft=mark.soft), arcs])
