"""Courses on faces: the lines of bricks, tiles, planks, squares and slats, with how near each lies to its neighbours."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats, Ints, after_each_other
from isometron.geometry.outlines import convex_parts, inside_parts
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.copies import copies_of
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.keeping import Kept
from isometron.volumes.marks.face_marks import CourseMark
from isometron.volumes.marks.places import face_plane, has_face
from isometron.volumes.openings.solids import openings_on
from isometron.volumes.volume import Volume

__all__ = ["MOST_STROKES", "Courses", "courses_of"]

MOST_STROKES = 12_000
"""Of one face: courses too fine for that are made coarser, a whole number of them drawn as one."""


@dataclass(frozen=True)
class Courses:
    """Strokes in the world. ends : (N, 2, 3); step : (N, 3) the way to the next line of its kind; rank : (N,) how many such steps
    lie between it and the next that is left when they are thinned; gap : (N,) mm of paper to which they may come near each other; soft,
    owner : (N,)."""

    ends: Floats
    step: Floats
    rank: Floats
    gap: Floats
    soft: Ints
    owner: Ints

    def __len__(self) -> int:
        return len(self.ends)


def _nothing() -> Courses:
    return Courses(
        np.zeros((0, 2, 3)),
        np.zeros((0, 3)),
        np.zeros(0),
        np.zeros(0),
        np.zeros(0, dtype=np.intp),
        np.zeros(0, dtype=np.intp),
    )


_KEPT: Kept[Courses] = Kept(200)
_ALL: Kept[Courses] = Kept(4)


def courses_of(volumes: tuple[Volume, ...]) -> Courses:
    """Return the courses of all volumes, their copies and mirror images; owners are places in the order."""
    return _ALL.of((volumes,), lambda: _all(volumes))


def _all(volumes: tuple[Volume, ...]) -> Courses:
    named = {volume.id: volume for volume in volumes}
    parts = []
    for row, volume in enumerate(volumes):
        if volume.put_away or not any(isinstance(mark, CourseMark) for mark in volume.marks):
            continue
        about = named.get(volume.mirror.about) if volume.mirror is not None else None
        own = _KEPT.of((volume, about), lambda volume=volume: _of(volume, named))  # type: ignore[misc]
        parts.append(Courses(own.ends, own.step, own.rank, own.gap, own.soft, np.full(len(own), row)))
    return _joined(parts)


def _joined(parts: Sequence[Courses]) -> Courses:
    if not parts:
        return _nothing()
    return Courses(
        *(after_each_other([getattr(p, n) for p in parts]) for n in ("ends", "step", "rank", "gap", "soft", "owner"))
    )


def _of(volume: Volume, named: dict[str, Volume]) -> Courses:
    parts = []
    for copy in copies_of(volume, lambda: named):
        for mark in copy.marks:
            if isinstance(mark, CourseMark) and has_face(copy, mark):
                parts.append(_of_mark(copy, mark))
    return _joined(parts)


def _of_mark(volume: Volume, mark: CourseMark) -> Courses:
    plane = face_plane(volume, mark.face)
    if not plane.has_area:
        return _nothing()
    x, y = plane.x / plane.wide, plane.y / plane.high
    corner = plane.middle - plane.x / 2.0 - plane.y / 2.0
    loops = _loops(plane)
    low, high = loops[0].min(axis=0), loops[0].max(axis=0)
    holes = [*loops[1:], *openings_on(volume, plane)]
    # One that leaves nothing is made narrower: what was laid stays to be seen.
    rings = _inside(loops[0], min(mark.border, *(0.49 * (high - low)).tolist()))
    flat, step, rank = _patterned(mark, low, high)
    row, parts = _within(rings, flat)
    borders = (
        np.concatenate([np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in rings])
        if mark.border > 0.0
        else flat[:0]
    )
    flat = np.concatenate([flat[row], borders])
    step = np.concatenate([step[row], np.zeros((len(borders), 2))])
    rank = np.concatenate([rank[row], np.full(len(borders), _BORDER)])
    parts = np.concatenate([parts, np.tile([0.0, 1.0], (len(borders), 1))])
    if holes:
        row, parts = _beside(plane, holes, corner + flat @ np.stack([x, y]), parts)
        flat, step, rank = flat[row], step[row], rank[row]
    starts, ways = flat[:, 0], flat[:, 1] - flat[:, 0]
    ends = np.stack([starts + parts[:, k, None] * ways for k in (0, 1)], axis=1)
    count = len(ends)
    return Courses(
        corner + ends @ np.stack([x, y]), step @ np.stack([x, y]), rank, np.full(count, mark.gap),
        np.full(count, int(mark.soft)), np.zeros(count, dtype=np.intp),
    )  # fmt: skip


def _patterned(mark: CourseMark, low: Floats, high: Floats) -> tuple[Floats, Floats, Floats]:
    """Return the lines (N, 2, 2) of a pattern between two corners of a face, mm, with the step to the next (N, 2) and the rank of each."""
    lines = list(_lines(mark, float(high[0] - low[0]), float(high[1] - low[1])))
    flat = low + np.array([line for line, _, _ in lines]).reshape(-1, 2, 2)
    step = np.array([way for _, way, _ in lines]).reshape(-1, 2)
    for column, turned in enumerate(mark.turned):
        if turned:
            flat[..., column], step[:, column] = (low + high)[column] - flat[..., column], -step[:, column]
    return flat, step, np.array([rank for *_, rank in lines], dtype=float)


def _within(rings: Sequence[Floats], lines: Floats) -> tuple[Ints, Floats]:
    """Return the parts (M, 2) of lines (N, 2, 2) that lie inside rings, and their lines (M,), in order."""
    rows, parts = [], []
    for ring in rings:
        clipped = convex_parts(ring, lines)
        if clipped is not None:
            low, high = clipped
            own = np.flatnonzero(high - low > CLOSE)
            rows.append(own)
            parts.append(np.column_stack([low, high])[own])
            continue
        found = [inside_parts(ring, *line) for line in lines]
        rows.append(np.repeat(np.arange(len(lines)), [len(part) for part in found]))
        parts.append(np.array([part for own in found for part in own]).reshape(-1, 2))
    row = np.concatenate([np.zeros(0, dtype=np.intp), *rows])
    order = np.argsort(row, kind="stable")
    return row[order], np.concatenate([np.zeros((0, 2)), *parts])[order]


def _beside(plane: FacePlane, holes: Sequence[Floats], ends: Floats, parts: Floats) -> tuple[Ints, Floats]:
    """Return the parts (M, 2) of lines between ``ends`` (N, 2, 3) that lie in parts (N, 2) of them and beside holes, and their lines (M,)."""
    found = [
        [(a, b) for a, b in plane.beside(holes, line[0], line[1], [(low, high)]) if b - a > CLOSE]
        for line, (low, high) in zip(ends, parts.tolist(), strict=True)
    ]
    row = np.repeat(np.arange(len(ends)), [len(own) for own in found])
    return row, np.array([part for own in found for part in own]).reshape(-1, 2)


def _loops(plane: FacePlane) -> list[Floats]:
    """Return a face's outline and its holes (K, 2), mm from the lower left of its middle lines."""
    size = np.array([plane.wide, plane.high])
    if plane.loops:
        return [loop * size for loop in plane.loops]
    quad = plane.quad[[0, 1, 1, 0], [0, 0, 1, 1]]
    return [np.array([plane.parts_of(place) for place in quad]) * size]


def _inside(outline: Floats, border: float) -> list[Floats]:
    """Return the rings (K, 2) that lie a border, mm, inside an outline (K, 2); none where nothing is left."""
    if border <= 0.0:
        return [outline]
    import shapely

    left = shapely.Polygon(outline).buffer(-border, join_style="mitre", mitre_limit=20.0)
    parts = [part for part in shapely.get_parts(left).tolist() if not part.is_empty]
    return [np.array(part.exterior.coords)[:-1] for part in parts]


Flat = tuple[float, float]
Line = tuple[tuple[Flat, Flat], Flat, float]
_BORDER = 2.0**31
"""The rank of a border's sides: they stay longest."""


def _rank(k: int) -> float:
    """Return the greatest power of two that parts a number: of every second, fourth, eighth line the one that stays."""
    return float(k & -k) if k else 2.0**30


def _lines(mark: CourseMark, wide: float, high: float) -> Iterator[Line]:
    """Yield the lines of a pattern on a face, mm from its lower left, with the step to the next and how long each stays."""
    border = min(mark.border, 0.49 * wide, 0.49 * high)
    low, top = (border, border), (wide - border, high - border)
    if mark.pattern in ("planks", "slats"):
        for (one, two), step, rank in _parallel(mark, top[1] - low[1] if mark.up else top[0] - low[0],
                                                top[0] - low[0] if mark.up else top[1] - low[1]):  # fmt: skip
            places = [(low[0] + b, low[1] + a) if mark.up else (low[0] + a, low[1] + b) for a, b in (one, two)]
            yield (places[0], places[1]), (step[1], step[0]) if mark.up else step, rank
        return
    for (one, two), step, rank in _courses(mark, top[0] - low[0], top[1] - low[1]):
        yield ((low[0] + one[0], low[1] + one[1]), (low[0] + two[0], low[1] + two[1])), step, rank


def _count(length: float, pitch: float, most: int) -> tuple[int, float]:
    """Return how many lines a length is parted by at a pitch, made coarser by a whole number where they are too many."""
    coarse = 1
    while length / (pitch * coarse) > most:
        coarse += 1
    pitch *= coarse
    return int(np.ceil(length / pitch - 1e-9)), pitch


def _parallel(mark: CourseMark, along: float, across: float) -> Iterator[Line]:
    """Yield planks or slats that run along the first direction."""
    count, pitch = _count(across, mark.high + mark.joint, MOST_STROKES // 2)
    for k in range(count + 1):
        at = k * pitch
        if 0.0 < at < across - CLOSE:
            yield ((0.0, at), (along, at)), (0.0, pitch), _rank(k)
        if mark.pattern == "slats" and mark.joint > 0.0 and at + mark.high < across - CLOSE:
            # The gap is thinner than the slat: its second line goes before the first.
            yield ((0.0, at + mark.high), (along, at + mark.high)), (0.0, min(mark.joint, mark.high)), 1.0


def _courses(mark: CourseMark, wide: float, high: float) -> Iterator[Line]:
    """Yield courses and the joints between their bricks; squares are bricks that are not shifted."""
    square = mark.pattern == "squares"
    bond = 0.0 if square else mark.bond
    tall = mark.long if square and mark.high <= 0.0 else mark.high
    rows, pitch = _count(high, tall + mark.joint, 1000)
    columns, length = _count(wide, mark.long + mark.joint, max(MOST_STROKES // max(rows, 1) - 1, 1))
    for k in range(rows):
        foot, head = k * pitch, min((k + 1) * pitch, high)
        if k:
            yield ((0.0, foot), (wide, foot)), (0.0, pitch), _rank(k)
        shift = k * bond % 1.0
        for n in range(columns + 1):
            at = (n + shift) * length
            if CLOSE < at < wide - CLOSE:
                yield ((at, foot), (at, head)), (length, 0.0), min(_rank(n), 64.0)
