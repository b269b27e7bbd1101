"""Openings carved out of closed bodies of flat faces: an outline on a face, carried straight into the body.

A face with an opening is the face and the opening's outline, each side of which an odd number of loops goes round; what both have of a
side cancels, and so do the wall of an opening and a face of the body that lie on one another and look at each other: a door's
foot. Round outlines keep their arcs on flat faces, and their walls are planes that touch them from behind.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from math import ceil, inf, pi

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.faces.cutting import CHORDS
from isometron.geometry.faces.flat import FlatFaces, crossed
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Bend, Outline, holds
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["CarveError", "Carved", "Hollowed", "Shaft", "carve", "chorded", "on_plane"]

_FLUSH = 1e-9
"""One less the cosine of the angle between planes that are parallel."""
_WALLS = 6
"""Walls to a quarter turn of an opening's round."""
_SLACK = 1e-6
"""mm that places on one plane, or on one line, may lie off it."""


_ONE_FACE = tr("The opening does not come out on one flat face: make it smaller, move it, or give it a bottom.")


class CarveError(IsometronError, ValueError):
    """An opening that cannot be cut; the message says why, and the remedy."""


@dataclass(frozen=True)
class Shaft:
    """An opening. frame : (12,) a place on the face, the outline's two directions and the way outward, of length one; outline
    : counter-clockwise in these directions, mm. depth : mm to its bottom, infinite where it goes out on the other side; walls :
    how many walls it then goes through, 0 for all; grain : radians, an outline that turns by less at a corner runs on smoothly there:
    that of one made of chords."""

    frame: Floats
    outline: Outline
    depth: float = inf
    walls: int = 1
    grain: float = 0.0

    @cached_property
    def creases(self) -> Bools:
        """The corners (M,) of the outline at which its walls meet in an edge."""
        sharp = self.outline.sharp()
        if self.grain > 0.0:
            corners = self.outline.corners
            before, after = corners - np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0) - corners
            turn = np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1))
            sharp &= np.abs(turn) > self.grain
        return sharp

    def at(self, flat: Floats, depth: float = 0.0) -> Floats:
        """Return the places (K, 3) of points (K, 2) of the outline's plane, so deep."""
        frame = self.frame
        found: Floats = frame[:3] + flat[:, :1] * frame[3:6] + flat[:, 1:] * frame[6:9] - depth * frame[9:]
        return found


@dataclass
class _Face:
    """A face while it is worked on. frame : (12,); sides : (S, 4) and bows : (S, 7) as in `FlatFaces`."""

    frame: Floats
    sides: Floats
    bows: Floats
    near: float = 0.0
    both: bool = False

    def place(self, flat: Floats) -> Floats:
        """Return the places (K, 3) of points (K, 2) of the plane."""
        found: Floats = self.frame[:3] + flat[..., :1] * self.frame[3:6] + flat[..., 1:] * self.frame[6:9]
        return found

    def flat(self, places: Floats) -> Floats:
        """Return places (K, 3) in the two directions of the plane (K, 2)."""
        off = places - self.frame[:3]
        return np.stack([off @ self.frame[3:6], off @ self.frame[6:9]], axis=-1)


@dataclass(frozen=True)
class Hollowed:
    """What one opening came to: its shaft, and the frames of the planes between which each of its stretches runs through the body."""

    shaft: Shaft
    stretches: tuple[tuple[Floats, Floats], ...]


@dataclass
class Carved:
    """A body with openings. faces : what hides; edges : (E, 2, 3) new straight ones; rings : (G, 9) with spans : (G, 2) start and
    sweep in turns; sheets : (K, 18) see `RoundParts`; gone : (K, 2, 3) stretches of sides that are no edges any more."""

    faces: FlatFaces
    edges: Floats
    rings: Floats
    spans: Floats
    sheets: Floats
    gone: Floats
    cut: dict[int, Hollowed] = field(default_factory=dict)
    refused: dict[int, str] = field(default_factory=dict)

    def left_of(self, edges: Floats) -> list[list[tuple[float, float]]]:
        """Return of edges (E, 2, 3) the parts that are still sides of a face; all of an edge that nothing was taken from."""
        whole = [(0.0, 1.0)]
        if not len(self.gone):
            return [whole] * len(edges)
        sides = self.faces.hulls.reshape(-1, 3, 3)[self.faces.bows[:, 6] == 0.0][:, :2]
        return [_covered(edge, sides) if _touched(edge, self.gone) else whole for edge in edges]


def carve(body: FlatFaces, shafts: Sequence[Shaft]) -> Carved:
    """Cut openings out of a closed body, one after the other; one that cannot be cut is passed over and told (`refused`)."""
    work = _Work(body)
    waiting = list(enumerate(shafts))
    while waiting:
        left = []
        for number, shaft in waiting:
            try:
                work.cut(number, shaft)
                work.refused.pop(number, None)
            except CarveError as error:
                work.refused[number] = str(error)
                left.append((number, shaft))
        if len(left) == len(waiting):
            break
        waiting = left  # one may fit once another is cut: a door beside an open floor
    return work.done()


class _Work:
    """The faces of a body while openings are cut out of it, and what is drawn of these."""

    def __init__(self, body: FlatFaces) -> None:
        first = body.first
        self.faces = [
            _Face(body.frames[k], body.sides[first[k] : first[k + 1]], body.bows[first[k] : first[k + 1]],
                  float(body.near[k]), bool(body.both[k]))
            for k in range(len(body))
        ]  # fmt: skip
        self.edges: list[Floats] = []
        self.rings: list[Floats] = []
        self.spans: list[tuple[float, float]] = []
        self.sheets: list[Floats] = []
        self.gone: list[Floats] = []
        self.done_with: dict[int, Hollowed] = {}
        self.refused: dict[int, str] = {}

    def cut(self, number: int, shaft: Shaft) -> None:
        """Cut one opening; raises `CarveError` and changes nothing where that cannot be done."""
        flat = chorded(shaft.outline)
        entry = self._entry(shaft, flat)
        stops = self._stops(shaft, flat, entry)
        ends = [on_plane(shaft, self.faces[row].frame if isinstance(row, int) else row) for row in stops]
        self._audit_way(
            shaft, flat, [entry, *(row for row in stops if isinstance(row, int))], max(e.deepest for e in ends)
        )
        bent = bool(shaft.outline.bends)
        start = on_plane(shaft, self.faces[entry].frame)
        self._open(entry, start, bent)
        planes = [start]
        for row, end in zip(stops, ends, strict=True):
            if isinstance(row, int):
                self._open(row, end, bent)
            else:
                loop = end.points(_round_outside(shaft.outline))
                sides = np.hstack([loop, np.roll(loop, -1, axis=0)])
                self.faces.append(_Face(row, sides, np.zeros((len(sides), 7))))
            planes.append(end)
        pairs = list(zip(planes[::2], planes[1::2], strict=True))
        for one, two in pairs:
            self._line(shaft, one, two)
        for plane in planes:
            self._draw(shaft, plane)
        self.done_with[number] = Hollowed(shaft, tuple((one.frame, two.frame) for one, two in pairs))

    def done(self) -> Carved:
        """Return the body as it is now."""
        faces = [face for face in self.faces if len(face.sides)]
        places = [face.place(face.sides[:, :2]) for face in faces]
        return Carved(
            FlatFaces(
                np.array([face.frame for face in faces]).reshape(-1, 12), np.array([face.near for face in faces]),
                np.array([face.both for face in faces], dtype=bool),
                np.array([len(face.sides) for face in faces], dtype=np.intp),
                np.concatenate([np.zeros((0, 4)), *(face.sides for face in faces)]),
                np.concatenate([np.zeros((0, 3)), *places]), np.concatenate([np.zeros((0, 7)), *(face.bows for face in faces)]),
            ),
            np.array(self.edges).reshape(-1, 2, 3), np.array(self.rings).reshape(-1, 9), np.array(self.spans).reshape(-1, 2),
            np.array(self.sheets).reshape(-1, 18), np.array(self.gone).reshape(-1, 2, 3), self.done_with, self.refused,
        )  # fmt: skip

    def _on(self, frame: Floats, way: float) -> Iterator[int]:
        """Yield the faces on the plane of a frame, those that look the same way (1) or the other (-1)."""
        for row, face in enumerate(self.faces):
            if way * float(face.frame[9:] @ frame[9:]) > 1.0 - _FLUSH and abs(
                float((face.frame[:3] - frame[:3]) @ frame[9:])
            ) <= _SLACK * (1.0 + float(np.abs(frame[:3]).max())):
                yield row

    def _entry(self, shaft: Shaft, flat: Floats) -> int:
        beyond = None
        for row in self._on(shaft.frame, 1.0):
            beyond = _beyond(self.faces[row], self.faces[row].flat(shaft.at(flat)))
            if beyond is None:
                return row
        raise CarveError(beyond or tr("There is no face here: move the opening on to it."))

    def _stops(self, shaft: Shaft, flat: Floats, entry: int) -> list[int | Floats]:
        """Return where the opening ends, and before that begins again: faces by their row, or the frame of its bottom."""
        inside = _within(flat)
        place, way = shaft.at(inside[None])[0], -shaft.frame[9:]
        rows, far = self._crossed(place, way)
        if np.isfinite(shaft.depth):
            if len(far) and shaft.depth >= far[0] - HAIR:
                raise CarveError(
                    tr("The opening is {deep:.4g} mm deep, and the body only {there:.4g} mm there: let it go through, or make it less deep.",
                       deep=shaft.depth, there=far[0])
                )  # fmt: skip
            bottom = shaft.frame.copy()
            bottom[:3] += shaft.depth * way
            return [bottom]
        if len(rows) % 2 == 0 or not len(rows):
            raise CarveError(tr("The body is not closed behind the opening."))
        stops = rows[: 2 * shaft.walls - 1] if shaft.walls else rows
        for row in stops:
            end = on_plane(shaft, self.faces[row].frame)
            beyond = _reach(self.faces[row], end.points(flat))
            if beyond > 0.0:
                raise CarveError(
                    tr("Where it comes out the opening reaches {far:.4g} mm beyond that face: walls, or the floor, are in the way there, or another "
                       "opening is. Make it smaller, move it, or give it a bottom.", far=beyond)
                )  # fmt: skip
            if _beyond(self.faces[row], end.points(flat)) is not None:
                raise CarveError(_ONE_FACE)
        return list(stops)

    def _crossed(self, place: Floats, way: Floats) -> tuple[list[int], Floats]:
        """Return the faces that a ray crosses, the nearest first, and how far along it each is."""
        body = self.done().faces
        there = [row for row, face in enumerate(self.faces) if len(face.sides)]
        rows, far = crossed(body, place, way)
        order = np.argsort(far, kind="stable")
        order = order[far[order] > HAIR]
        return [there[row] for row in rows[order]], far[order]

    def _audit_way(self, shaft: Shaft, flat: Floats, passed: Sequence[int], deepest: float) -> None:
        """Refuse an opening in whose way there is something else of the body, such as another opening."""
        for row, face in enumerate(self.faces):
            if row in passed or not len(face.sides):
                continue
            ends = np.stack([face.place(face.sides[:, :2]), face.place(face.sides[:, 2:])], axis=1)
            off = ends - shaft.frame[:3]
            deep = -off @ shaft.frame[9:]
            own = np.stack([off @ shaft.frame[3:6], off @ shaft.frame[6:9]], axis=-1)
            for (a, b), (x, y) in zip(own, deep, strict=True):
                kept = _between(a, b, x, y, deepest)
                if kept is not None and _enters(flat, *kept):
                    raise CarveError(
                        tr(
                            "Something else of the body is in the way of the opening: another opening, or an edge. Move one of them."
                        )
                    )

    def _open(self, row: int, plane: OnPlane, bent: bool) -> None:
        """Take the outline out of a face."""
        face = self.faces[row]
        sides, bows = plane.sides()
        self._mix(face, sides, bows)
        face.both = face.both or bent

    def _mix(self, face: _Face, sides: Floats, bows: Floats) -> None:
        """Add sides to a face: what both have cancels."""
        kept, left, gone = _mixed(face.sides, face.bows, sides, bows)
        face.sides, face.bows = (np.concatenate([one, two]) for one, two in zip(kept, left, strict=True))
        for one, two in gone:
            self.gone.append(face.place(np.array([one, two])))

    def _line(self, shaft: Shaft, one: OnPlane, two: OnPlane) -> None:
        """Add the walls of an opening between two planes, and the edges between them."""
        outline = shaft.outline
        for corner, turns in zip(outline.corners, shaft.creases, strict=True):
            if turns:
                self.edges.append(np.array([one.place(corner), two.place(corner)]))
        for k, corner in enumerate(outline.corners):
            bend = outline.bends.get(k)
            points = np.array([corner, outline.corners[(k + 1) % len(outline.corners)]])
            if bend is not None:
                points = _touching(points, bend)
                if bend.sweep < 0.0:
                    self.sheets.append(_sheet(shaft, bend, one, two))
            for a, b in pairwise(points):
                self._wall(shaft, a, b, one, two, bend is None)

    def _wall(self, shaft: Shaft, a: Floats, b: Floats, one: OnPlane, two: OnPlane, flush: bool) -> None:
        way = b - a
        size = float(np.hypot(*way))
        if size <= CLOSE:
            return
        along = (way[0] * shaft.frame[3:6] + way[1] * shaft.frame[6:9]) / size
        inward = (-way[1] * shaft.frame[3:6] + way[0] * shaft.frame[6:9]) / size
        frame = np.concatenate([shaft.at(a[None])[0], along, -shaft.frame[9:], inward])
        loop = np.array([one.place(a), one.place(b), two.place(b), two.place(a)])
        face = _Face(frame, np.zeros((0, 4)), np.zeros((0, 7)))
        if flush:
            # What runs on flat is one face; a wall and a face that look at each other cancel where they meet.
            for sign in (1.0, -1.0):
                for row in self._on(frame, sign):
                    other = self.faces[row]
                    if len(other.sides) and (sign > 0.0 or _holds(other, other.flat(loop.mean(axis=0)[None])[0])):
                        face = other
        if not len(face.sides):
            self.faces.append(face)
        flat = face.flat(loop)
        sides = np.hstack([flat, np.roll(flat, -1, axis=0)])
        self._mix(face, sides[np.abs(sides[:, 2:] - sides[:, :2]).max(axis=1) > CLOSE], np.zeros((0, 7)))

    def _draw(self, shaft: Shaft, plane: OnPlane) -> None:
        """Add the edges of an outline on a plane."""
        outline = shaft.outline
        for k, corner in enumerate(outline.corners):
            bend = outline.bends.get(k)
            if bend is None:
                after = outline.corners[(k + 1) % len(outline.corners)]
                if float(np.abs(after - corner).max()) > CLOSE:
                    self.edges.append(np.array([plane.place(corner), plane.place(after)]))
                continue
            self.rings.append(
                np.concatenate([plane.place(bend.centre), plane.way(bend.first), plane.way(bend.second)])
            )
            self.spans.append((bend.start / (2 * pi), bend.sweep / (2 * pi)))


@dataclass(frozen=True)
class OnPlane:
    """A shaft's outline carried along it on to a plane: frame : (12,) of the plane; origin : (3,), ways : (2, 3) what the outline's
    origin and its two directions come to; deepest : mm from the face to the farthest of it."""

    shaft: Shaft
    frame: Floats
    origin: Floats
    ways: Floats
    deepest: float

    def place(self, flat: Floats) -> Floats:
        """Return the place (3,) that a point (2,) of the outline comes to."""
        found: Floats = self.origin + flat @ self.ways
        return found

    def way(self, flat: Floats) -> Floats:
        """Return what a direction (2,) of the outline comes to (3,)."""
        found: Floats = flat @ self.ways
        return found

    def points(self, flat: Floats) -> Floats:
        """Return points (K, 2) of the outline in the plane's own directions (K, 2)."""
        return self._own(self.origin + flat @ self.ways)

    def _own(self, places: Floats) -> Floats:
        off = places - self.frame[:3]
        return np.stack([off @ self.frame[3:6], off @ self.frame[6:9]], axis=-1)

    def sides(self) -> tuple[Floats, Floats]:
        """Return the sides (S, 4) and arcs (S, 7) of the outline in the plane's own directions."""
        turn = np.stack([self.ways @ self.frame[3:6], self.ways @ self.frame[6:9]], axis=1)
        start = self._own(self.origin[None])[0]
        sides, bows = [], []
        for one, two, bow in _pieces(self.shaft.outline):
            sides.append(np.concatenate([start + one @ turn, start + two @ turn]))
            if bow is None:
                bows.append(np.zeros(7))
            else:
                centre, first, second, sweep = bow
                bows.append(np.concatenate([start + centre @ turn, first @ turn, second @ turn, [sweep]]))
        return np.array(sides).reshape(-1, 4), np.array(bows).reshape(-1, 7)


def on_plane(shaft: Shaft, frame: Floats) -> OnPlane:
    """Return a shaft's outline carried straight on to a plane that it meets."""
    normal, way = frame[9:], shaft.frame[9:]
    slope = float(normal @ way)
    if abs(slope) < 1e-6:
        raise CarveError(_ONE_FACE)

    def carried(direction: Floats) -> Floats:
        found: Floats = direction - float(direction @ normal) / slope * way
        return found

    origin = shaft.frame[:3] - float((shaft.frame[:3] - frame[:3]) @ normal) / slope * way
    ways = np.array([carried(shaft.frame[3:6]), carried(shaft.frame[6:9])])
    flat = chorded(shaft.outline, 4)
    places = origin + flat @ ways
    deepest = float((-(places - shaft.frame[:3]) @ way).max())
    return OnPlane(shaft, frame, origin, ways, deepest)


Bow = tuple[Floats, Floats, Floats, float]


def _pieces(outline: Outline) -> Iterator[tuple[Floats, Floats, Bow | None]]:
    """Yield the sides of an outline with their ends, bent ones in arcs of up to a quarter turn."""
    count = len(outline.corners)
    for k in range(count):
        one, two = outline.corners[k], outline.corners[(k + 1) % count]
        bend = outline.bends.get(k)
        if bend is None:
            yield one, two, None
            continue
        number = max(ceil(abs(bend.sweep) / (pi / 2) - CLOSE), 1)
        angles = bend.start + bend.sweep * np.arange(number + 1) / number
        points = bend.at(angles)
        points[0], points[-1] = one, two
        for n in range(number):
            first = points[n] - bend.centre
            yield (
                points[n],
                points[n + 1],
                (bend.centre, first, bend.tangent(float(angles[n])), abs(bend.sweep) / number),
            )


def chorded(outline: Outline, chords: int = CHORDS) -> Floats:
    """Return an outline as a polygon (P, 2) of points on it, so many chords to a quarter turn."""
    parts: list[Floats] = []
    for k, corner in enumerate(outline.corners):
        parts.append(corner[None])
        bend = outline.bends.get(k)
        if bend is not None:
            count = max(ceil(abs(bend.sweep) / (pi / 2) * chords), 2)
            parts.append(bend.at(bend.start + bend.sweep * np.arange(1.0, count) / count))
    return np.concatenate(parts)


def _round_outside(outline: Outline) -> Floats:
    """Return the polygon (P, 2) that an opening's walls stand on."""
    parts = []
    for k, corner in enumerate(outline.corners):
        after = outline.corners[(k + 1) % len(outline.corners)]
        bend = outline.bends.get(k)
        parts.append(corner[None] if bend is None else _touching(np.array([corner, after]), bend)[:-1])
    return np.concatenate(parts)


def _touching(ends: Floats, bend: Bend) -> Floats:
    """Return points (K, 2) from end to end round the outside of an opening's bent side: tangents of one that bulges out of
    the opening, chords of one that bulges into it, so that the walls through them lie behind the true one.

    Few will do where they lie behind: what is seen through the opening is told by the faces at both its ends, which are true.
    """
    count = max(ceil(abs(bend.sweep) / (pi / 2) * (CHORDS if bend.sweep < 0.0 else _WALLS)), 2)
    step = bend.sweep / count
    if bend.sweep < 0.0:
        inner = bend.at(bend.start + step * np.arange(1.0, count))
    else:
        inner = bend.centre + (bend.at(bend.start + step * (np.arange(float(count)) + 0.5)) - bend.centre) / np.cos(
            step / 2
        )
    return np.concatenate([ends[:1], inner, ends[1:]])


def _sheet(shaft: Shaft, bend: Bend, one: OnPlane, two: OnPlane) -> Floats:
    """Return the sheet (18,) of a wall that bulges into an opening, see `RoundParts`."""
    way = -shaft.frame[9:]
    ends = [bend.start, bend.start + bend.sweep]
    reach = []
    for angle in ends:
        point = bend.at(np.array([angle]))[0]
        near = [float((plane.place(point) - shaft.frame[:3]) @ way) for plane in (one, two)]
        reach.append((angle, *near))
    frame = [
        shaft.at(bend.centre[None])[0], *(half[0] * shaft.frame[3:6] + half[1] * shaft.frame[6:9] for half in (bend.first, bend.second)), way
    ]  # fmt: skip
    return np.concatenate([*frame, np.array(reach).reshape(-1)])


def _within(flat: Floats) -> Floats:
    """Return a place (2,) well inside a polygon (P, 2)."""
    way = np.roll(flat, -1, axis=0) - flat
    size = np.hypot(way[:, 0], way[:, 1])
    for k in np.argsort(-size, kind="stable"):
        place: Floats = flat[k] + 0.4781 * way[k] + 0.0137 * np.array([-way[k, 1], way[k, 0]])
        if holds(flat, place, 0.0):
            return place
    middle: Floats = flat.mean(axis=0)
    return middle


def _sampled(face: _Face) -> Floats:
    """Return the sides (S, 2, 2) of a face as chords."""
    if not face.bows[:, 6].any():
        return face.sides.reshape(-1, 2, 2)
    one = FlatFaces(
        face.frame[None], np.zeros(1), np.zeros(1, dtype=bool), np.array([len(face.sides)]), face.sides,
        face.place(face.sides[:, :2]), face.bows,
    )  # fmt: skip
    return one.chorded(CHORDS).sides.reshape(-1, 2, 2)


def _holds(face: _Face, place: Floats) -> bool:
    return _odd(_sampled(face), place)


def _odd(sides: Floats, place: Floats) -> bool:
    """Tell whether an odd number of sides (S, 2, 2) lies to the right of a place (2,)."""
    one, two = sides[:, 0], sides[:, 1]
    crosses = (one[:, 1] > place[1]) != (two[:, 1] > place[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = one[:, 0] + (place[1] - one[:, 1]) / (two[:, 1] - one[:, 1]) * (two[:, 0] - one[:, 0])
    return bool(np.count_nonzero(crosses & (place[0] < x)) % 2)


def _off(sides: Floats, place: Floats) -> float:
    """Return how far a place (2,) lies from the nearest of some sides (S, 2, 2)."""
    way = sides[:, 1] - sides[:, 0]
    square = np.maximum((way * way).sum(axis=1), 1e-300)
    part = np.clip(((place - sides[:, 0]) * way).sum(axis=1) / square, 0.0, 1.0)
    return float(np.hypot(*(place - sides[:, 0] - part[:, None] * way).T).min())


def _reach(face: _Face, flat: Floats) -> float:
    """Return how far a polygon (P, 2) reaches beyond a face, mm; 0 where it lies within it, its rim included."""
    sides = _sampled(face)
    if not len(sides):
        return inf
    out = max((_off(sides, point) for point in flat if not _odd(sides, point)), default=0.0)
    return out if out > _SLACK * (1.0 + float(np.abs(sides).max(initial=0.0))) else 0.0


def _beyond(face: _Face, flat: Floats) -> str | None:
    """Return words where a polygon (P, 2) does not lie within a face, its rim included; None where it does."""
    sides, out = _sampled(face), _reach(face, flat)
    if out > 0.0:
        return tr("The opening reaches {far:.4g} mm beyond its face: make it smaller, or move it in.", far=out)
    if any(_enters(flat, one, two) for one, two in sides) or not _odd(sides, _within(flat)):
        return tr("The opening meets another one, or an edge of its face: move one of them.")
    return None


def _between(a: Floats, b: Floats, x: float, y: float, deepest: float) -> tuple[Floats, Floats] | None:
    """Return the part of a segment (2,) -> (2,), x and y deep at its ends, that lies deeper than nothing and less than so deep."""
    low, high = 0.0, 1.0
    for level, sign in ((_SLACK, 1.0), (deepest - _SLACK, -1.0)):
        p, q = sign * (x - level), sign * (y - level)
        if p <= 0.0 and q <= 0.0:
            return None
        if p < 0.0:
            low = max(low, p / (p - q))
        elif q < 0.0:
            high = min(high, p / (p - q))
    if high - low <= 0.0:
        return None
    return a + low * (b - a), a + high * (b - a)


def _enters(flat: Floats, a: Floats, b: Floats) -> bool:
    """Tell whether a segment comes to lie within a polygon (P, 2), and not only on its rim."""
    own, after = flat, np.roll(flat, -1, axis=0)
    slack = _SLACK * (1.0 + float(np.abs(flat).max()))
    way = b - a
    size = float(np.hypot(*way))
    cuts = [0.0, 1.0]
    if size > slack:
        side = after - own
        cross = way[0] * side[:, 1] - way[1] * side[:, 0]
        off = own - a
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (off[:, 0] * side[:, 1] - off[:, 1] * side[:, 0]) / cross
            s = (off[:, 0] * way[1] - off[:, 1] * way[0]) / cross
        met = (np.abs(cross) > 1e-12 * size) & (t > 0.0) & (t < 1.0) & (s >= -HAIR) & (s <= 1.0 + HAIR)
        cuts = [0.0, *np.sort(t[met]).tolist(), 1.0]
    pairs = np.stack([own, after], axis=1)
    for low, high in pairwise(cuts):
        middle = a + (low + high) / 2.0 * way
        if _odd(pairs, middle) and _off(pairs, middle) > slack:
            return True
    return False


Sides = tuple[Floats, Floats]


def _mixed(
    sides: Floats, bows: Floats, more: Floats, more_bows: Floats
) -> tuple[Sides, Sides, list[tuple[Floats, Floats]]]:
    """Return what is left of two sets of sides where stretches that both have cancel, and these stretches."""
    if not len(more_bows):
        more_bows = np.zeros((len(more), 7))
    kept = [(side, bow) for side, bow in zip(sides, bows, strict=True)]
    left: list[tuple[Floats, Floats]] = []
    gone: list[tuple[Floats, Floats]] = []
    waiting = list(zip(more, more_bows, strict=True))
    while waiting:
        side, bow = waiting.pop()
        if bow[6] > 0.0:
            left.append((side, bow))
            continue
        for n, (other, other_bow) in enumerate(kept):
            both = None if other_bow[6] > 0.0 else _common(side, other)
            if both is None:
                continue
            (one, two), (first, second) = both
            gone.append((side[:2] + one * (side[2:] - side[:2]), side[:2] + two * (side[2:] - side[:2])))
            del kept[n]
            kept += [(piece, np.zeros(7)) for piece in _rest(other, first, second)]
            waiting += [(piece, np.zeros(7)) for piece in _rest(side, one, two)]
            break
        else:
            left.append((side, bow))

    def arrays(pairs: list[tuple[Floats, Floats]]) -> Sides:
        return (
            np.array([side for side, _ in pairs]).reshape(-1, 4),
            np.array([bow for _, bow in pairs]).reshape(-1, 7),
        )

    return arrays(kept), arrays(left), gone


def _common(one: Floats, two: Floats) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return the parts of two sides (4,) that lie on one another; None where nothing does."""
    way = one[2:] - one[:2]
    square = float(way @ way)
    size = square**0.5
    if size <= CLOSE:
        return None
    slack = _SLACK * 1e-2 * (1.0 + float(np.abs(one).max()))
    off = np.array([two[:2] - one[:2], two[2:] - one[:2]])
    if float(np.abs(off @ np.array([-way[1], way[0]])).max()) > slack * size:
        return None
    t = off @ way / square
    low, high = max(0.0, float(t.min())), min(1.0, float(t.max()))
    if (high - low) * size <= slack:
        return None
    other = sorted(((low - t[0]) / (t[1] - t[0]), (high - t[0]) / (t[1] - t[0])))
    return (low, high), (float(other[0]), float(other[1]))


def _rest(side: Floats, low: float, high: float) -> list[Floats]:
    """Return what is left of a side (4,) without a part of it."""
    way = side[2:] - side[:2]
    size = float(np.hypot(*way))
    found = []
    if low * size > CLOSE:
        found.append(np.concatenate([side[:2], side[:2] + low * way]))
    if (1.0 - high) * size > CLOSE:
        found.append(np.concatenate([side[:2] + high * way, side[2:]]))
    return found


def _along(edge: Floats, others: Floats) -> tuple[Floats, Floats]:
    """Return where segments (N, 2, 3) that lie on the line of an edge (2, 3) begin and end along it, as parts of it."""
    way = edge[1] - edge[0]
    size = float(np.sqrt(way @ way))
    if size <= CLOSE:
        return np.zeros(0), np.zeros(0)
    off = others - edge[0]
    part = off @ way / size**2
    gap = off - part[..., None] * way
    on = np.flatnonzero((np.sqrt((gap * gap).sum(axis=2)) <= _SLACK * (1.0 + np.abs(edge).max())).all(axis=1))
    return part[on].min(axis=1), part[on].max(axis=1)


def _touched(edge: Floats, gone: Floats) -> bool:
    low, high = _along(edge, gone)
    return bool((np.minimum(high, 1.0) - np.maximum(low, 0.0) > HAIR).any())


def _covered(edge: Floats, sides: Floats) -> list[tuple[float, float]]:
    low, high = _along(edge, sides)
    found: list[tuple[float, float]] = []
    for n in np.argsort(low, kind="stable"):
        start, end = max(float(low[n]), 0.0), min(float(high[n]), 1.0)
        if end - start <= HAIR:
            continue
        if found and start <= found[-1][1] + HAIR:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found
