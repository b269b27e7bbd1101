"""Openings carved out of closed bodies of flat faces: an outline on a face, carried straight into the body.

A face with an opening is the face and the opening's outline, each side of which an odd number of loops goes round; what both have of a
side cancels, and so do the wall of an opening and a face of the body that lie on one another and look at each other: a door's
foot. Round outlines keep their arcs on flat faces, and their walls are planes that touch them from behind.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from math import inf, pi

import numpy as np

from isometron.geometry.faces.boring import Crossed, Piece, crossings
from isometron.geometry.faces.flat import FlatFaces, crossed
from isometron.geometry.faces.loose_faces import LooseFace, chords_of
from isometron.geometry.faces.loose_sides import (
    SLACK,
    beside,
    covered_parts,
    enters,
    goes_round,
    is_touched,
    mixed,
    off_sides,
    part_between,
)
from isometron.geometry.faces.shaft import (
    ONE_FACE,
    CarveError,
    OnPlane,
    Shaft,
    chorded,
    on_plane,
    place_within,
    round_outside,
    sheet_of,
    touching,
)
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["Carved", "Hollowed", "carve"]

_FLUSH = 1e-9
"""One less the cosine of the angle between planes that are parallel."""
_BULGE = 0.03
"""Of a chord's length: an arc bulges less beyond it."""


@dataclass(frozen=True)
class Hollowed:
    """What one opening came to: its shaft, and the frames of the planes between which each of its stretches runs through the body;
    of a bent face the surfaces that it comes in and out on, in their order, a bottom not among them."""

    shaft: Shaft
    stretches: tuple[tuple[Floats, Floats], ...]
    surfaces: tuple[Crossed, ...] = ()

    @property
    def between(self) -> tuple[tuple[Floats, Floats], ...]:
        """Frames of planes between which each stretch runs; of a bent face those round the whole of its surfaces."""
        if not self.surfaces:
            return self.stretches
        deep = [surface.reach for surface in self.surfaces]
        ends = [reach[k % 2] for k, reach in enumerate(deep)] + ([self.shaft.depth] if len(deep) % 2 else [])
        frames = [np.concatenate([self.shaft.at(np.zeros((1, 2)), depth)[0], self.shaft.frame[3:]]) for depth in ends]
        return tuple(zip(frames[::2], frames[1::2], strict=True))


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
        return [covered_parts(edge, sides) if is_touched(edge, self.gone) else whole for edge in edges]


def carve(body: FlatFaces, shafts: Sequence[Shaft], gone: Sequence[Floats] = ()) -> Carved:
    """Cut openings out of a closed body, one after the other; one that cannot be cut is passed over and told (`refused`).

    gone : (K, 2, 3) edges of the body that it has not, or not as a whole, any more.
    """
    work = _Work(body)
    work.gone += gone
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
            LooseFace(body.frames[k], body.sides[first[k] : first[k + 1]], body.bows[first[k] : first[k + 1]],
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
        if shaft.bent:
            self._bore(number, shaft)
            return
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
                loop = end.points(round_outside(shaft.outline))
                sides = np.hstack([loop, np.roll(loop, -1, axis=0)])
                self.faces.append(LooseFace(row, sides, np.zeros((len(sides), 7))))
            planes.append(end)
        pairs = list(zip(planes[::2], planes[1::2], strict=True))
        for one, two in pairs:
            self._line(shaft, one, two)
        for plane in planes:
            self._draw(shaft, plane)
        self.done_with[number] = Hollowed(shaft, tuple((one.frame, two.frame) for one, two in pairs))

    def _bore(self, number: int, shaft: Shaft) -> None:
        """Cut one opening of a bent face."""
        flat = chorded(shaft.outline)
        surfaces = crossings(self.faces, shaft, flat)
        bottom = None
        if np.isfinite(shaft.depth):
            deepest, far = surfaces[0].reach[1], surfaces[1].reach[0] if len(surfaces) > 1 else inf
            if shaft.depth >= far - HAIR:
                raise CarveError(_too_deep(shaft.depth, far))
            if shaft.depth <= deepest + HAIR:
                raise CarveError(
                    tr("At its rim the face itself lies {deep:.4g} mm back: make the opening deeper than that, or smaller.", deep=deepest)
                )  # fmt: skip
            surfaces = surfaces[:1]
            bottom = on_plane(shaft, np.concatenate([shaft.at(np.zeros((1, 2)), shaft.depth)[0], shaft.frame[3:]]))
        else:
            last = 2 * shaft.walls if shaft.walls else len(surfaces)
            if len(surfaces) < 2 or len(surfaces) < last or (len(surfaces) % 2 and not shaft.walls):
                raise CarveError(
                    tr("Where it comes out the opening reaches beyond the face there: make it smaller, move it, or give it a bottom.")
                )  # fmt: skip
            surfaces = surfaces[:last]
        lines = [
            [surface.along(a, b) for surface in surfaces]
            for a, b in zip(flat, np.roll(flat, -1, axis=0), strict=True)
        ]
        for surface in surfaces:
            for piece in surface.pieces:
                face = self.faces[piece.row]
                self._mix(face, _sides_of(face, shaft, piece), np.zeros((0, 7)))
        straight = _straight_sides(shaft.outline, flat)
        for k, (a, b) in enumerate(zip(flat, np.roll(flat, -1, axis=0), strict=True)):
            size = float(np.hypot(*(b - a)))
            whole = lines[k] if bottom is None else [*lines[k], np.array([[0.0, shaft.depth], [size, shaft.depth]])]
            for one, two in zip(whole[::2], whole[1::2], strict=True):
                loop = np.concatenate([one, two[::-1]])
                places = shaft.at(a + loop[:, :1] * (b - a) / size) - loop[:, 1:] * shaft.frame[9:]
                self._wall(shaft, a, b, places, bool(straight[k]), 0.0 if straight[k] else _BULGE * size)
        if bottom is not None:
            loop = bottom.points(flat)
            sides = np.hstack([loop, np.roll(loop, -1, axis=0)])
            self.faces.append(LooseFace(bottom.frame, sides, np.zeros((len(sides), 7))))
            self._draw(shaft, bottom)
        self.done_with[number] = Hollowed(shaft, (), tuple(surfaces))

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
            ) <= SLACK * (1.0 + float(np.abs(frame[:3]).max())):
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
        inside = place_within(flat)
        place, way = shaft.at(inside[None])[0], -shaft.frame[9:]
        rows, far = self._crossed(place, way)
        if np.isfinite(shaft.depth):
            if len(far) and shaft.depth >= far[0] - HAIR:
                raise CarveError(_too_deep(shaft.depth, far[0]))
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
                raise CarveError(ONE_FACE)
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
            low, high = flat.min(axis=0) - SLACK, flat.max(axis=0) + SLACK
            near = ((own.max(axis=1) >= low) & (own.min(axis=1) <= high)).all(axis=1)
            for (a, b), (x, y) in zip(own[near], deep[near], strict=True):
                kept = part_between(a, b, x, y, deepest)
                if kept is not None and enters(flat, *kept):
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

    def _mix(self, face: LooseFace, sides: Floats, bows: Floats) -> None:
        """Add sides to a face: what both have cancels."""
        kept, left, gone = mixed(face.sides, face.bows, sides, bows)
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
                points = touching(points, bend)
                if bend.sweep < 0.0:
                    self.sheets.append(sheet_of(shaft, bend, one, two))
            for a, b in pairwise(points):
                loop = np.array([one.place(a), one.place(b), two.place(b), two.place(a)])
                self._wall(shaft, a, b, loop, bend is None)

    def _wall(self, shaft: Shaft, a: Floats, b: Floats, loop: Floats, flush: bool, near: float = 0.0) -> None:
        """Add the wall round places (K, 3) through a side of the outline; one that runs on flat (``flush``) may go on in a face."""
        way = b - a
        size = float(np.hypot(*way))
        if size <= CLOSE:
            return
        along = (way[0] * shaft.frame[3:6] + way[1] * shaft.frame[6:9]) / size
        inward = (-way[1] * shaft.frame[3:6] + way[0] * shaft.frame[6:9]) / size
        frame = np.concatenate([shaft.at(a[None])[0], along, -shaft.frame[9:], inward])
        face = LooseFace(frame, np.zeros((0, 4)), np.zeros((0, 7)), near)
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


def _holds(face: LooseFace, place: Floats) -> bool:
    return goes_round(chords_of(face), place)


def _reach(face: LooseFace, flat: Floats) -> float:
    """Return how far a polygon (P, 2) reaches beyond a face, mm; 0 where it lies within it, its rim included."""
    sides = chords_of(face)
    if not len(sides):
        return inf
    out = max((off_sides(sides, point) for point in flat if not goes_round(sides, point)), default=0.0)
    return out if out > SLACK * (1.0 + float(np.abs(sides).max(initial=0.0))) else 0.0


def _beyond(face: LooseFace, flat: Floats) -> str | None:
    """Return words where a polygon (P, 2) does not lie within a face, its rim included; None where it does."""
    sides, out = chords_of(face), _reach(face, flat)
    if out > 0.0:
        return tr("The opening reaches {far:.4g} mm beyond its face: make it smaller, or move it in.", far=out)
    if any(enters(flat, one, two) for one, two in beside(sides, flat)) or not goes_round(sides, place_within(flat)):
        return tr("The opening meets another one, or an edge of its face: move one of them.")
    return None


def _sides_of(face: LooseFace, shaft: Shaft, piece: Piece) -> Floats:
    """Return the sides (S, 4) of a piece of a face in the face's own directions."""
    import shapely

    found = []
    for ring in (piece.area.exterior, *piece.area.interiors):
        corners = shapely.get_coordinates(ring)[:-1]
        own = face.flat(shaft.at(corners) - piece.depth(corners)[:, None] * shaft.frame[9:])
        found.append(np.hstack([own, np.roll(own, -1, axis=0)]))
    return np.concatenate(found)


def _straight_sides(outline: Outline, flat: Floats) -> Bools:
    """Return which chords (P,) of an outline are straight sides of it."""
    corners, count = outline.corners, len(outline.corners)
    found = np.zeros(len(flat), dtype=bool)
    for k, corner in enumerate(corners):
        if k not in outline.bends:
            row = int(np.abs(flat - corner).sum(axis=1).argmin())
            after = flat[(row + 1) % len(flat)]
            found[row] = float(np.abs(after - corners[(k + 1) % count]).max()) <= CLOSE * (
                1.0 + float(np.abs(after).max())
            )
    return found


def _too_deep(deep: float, there: float) -> str:
    """Return what is said of an opening that is as deep as its body."""
    return tr(
        "The opening is {deep:.4g} mm deep, and the body only {there:.4g} mm there: let it go through, or make it less deep.",
        deep=deep, there=there,
    )  # fmt: skip
