"""Openings that come in, or out, on several faces: on the chords of a round side.

Seen along the shaft every face is a polygon with a depth that is linear over it; what the outline has of each is taken out, and
the walls follow these depths.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from isometron.geometry.faces.loose_faces import LooseFace, chords_of
from isometron.geometry.faces.shaft import CarveError, Shaft
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["Crossed", "Piece", "crossings"]

_ALONG = 1e-6
"""Cosine under which a face is taken as one along the shaft."""
_SHARED = 1e-7
"""mm: ends of sides that are nearer than this are one place."""
_STEP = 1e-3
"""Of an opening's size: a surface that steps by more where two of its faces meet is not one."""
_THERE = 0.05
"""Of an opening's size: so near to its place its side lies, else another opening is there already."""
_CREASE = np.cos(np.radians(20.0))
"""Faces that meet at a greater angle than this are no chords of one side: an edge lies between them."""
_WHOLE = 1e-5
"""Of an opening's area: as much of it may be missing on a surface that it comes out on."""


@dataclass(frozen=True)
class Piece:
    """What an outline has of one face. row : the face; area : a polygon, mm in the outline's directions; deep : (3,) a, b, c of the
    depth a + b x + c y behind the outline's plane; outward : whether the face looks out of the shaft."""

    row: int
    area: Any
    deep: Floats
    outward: bool

    def depth(self, flat: Floats) -> Floats:
        """Return the depths (K,) at points (K, 2)."""
        found: Floats = self.deep[0] + flat @ self.deep[1:]
        return found

    @cached_property
    def inside(self) -> Floats:
        """A point (2,) well inside."""
        point = self.area.representative_point()
        return np.array([point.x, point.y])


@dataclass(frozen=True)
class Crossed:
    """All pieces of one surface that a shaft crosses."""

    pieces: tuple[Piece, ...]

    def depth(self, flat: Floats) -> Floats:
        """Return the depths (K,) of the surface at points (K, 2) within, or nearly within, the outline."""
        import shapely

        points = shapely.points(flat)
        with np.errstate(divide="ignore", invalid="ignore"):  # of sides without length
            off = np.array([shapely.distance(piece.area, points) for piece in self.pieces])
        deep = np.array([piece.depth(flat) for piece in self.pieces])
        found: Floats = deep[off.argmin(axis=0), np.arange(len(flat))]
        return found

    @property
    def reach(self) -> tuple[float, float]:
        """The least and the greatest depth, mm."""
        import shapely

        deep = np.concatenate([piece.depth(shapely.get_coordinates(piece.area)) for piece in self.pieces])
        return float(deep.min()), float(deep.max())

    @cached_property
    def sides(self) -> tuple[Floats, Floats, Ints]:
        """The sides of all pieces: ends (S, 2, 2), the depths there (S, 2), and whose each is (S,)."""
        import shapely

        ends, deep, own = [np.zeros((0, 2, 2))], [np.zeros((0, 2))], [np.zeros(0, dtype=np.intp)]
        for number, piece in enumerate(self.pieces):
            for ring in (piece.area.exterior, *piece.area.interiors):
                corners = shapely.get_coordinates(ring)
                at = piece.depth(corners)
                ends.append(np.stack([corners[:-1], corners[1:]], axis=1))
                deep.append(np.stack([at[:-1], at[1:]], axis=1))
                own.append(np.full(len(corners) - 1, number))
        return np.concatenate(ends), np.concatenate(deep), np.concatenate(own)

    def along(self, a: Floats, b: Floats) -> Floats:
        """Return the line (K, 2) that the surface draws on the wall through a side of the outline: mm from a, and the depth."""
        ends, deep, _ = self.sides
        way = b - a
        size = float(np.hypot(*way))
        off = ends - a
        t, beside = off @ way / size, np.abs(off @ np.array([-way[1], way[0]])) / size
        on = (beside <= 10 * _SHARED).all(axis=1) & (np.abs(t[:, 1] - t[:, 0]) > _SHARED)
        on &= (t.min(axis=1) >= -HAIR) & (t.max(axis=1) <= size + HAIR)
        turned = t[on, 0] > t[on, 1]
        t, deep = (np.where(turned[:, None], each[on][:, ::-1], each[on]) for each in (t, deep))
        order = np.argsort(t[:, 0], kind="stable")
        t, deep = t[order], deep[order]
        if not len(t) or t[0, 0] > 1e-3 * size or t[-1, 1] < (1.0 - 1e-3) * size:
            raise CarveError(tr("The opening meets another one, or an edge of its face: move one of them."))
        points = np.concatenate([[[t[0, 0], deep[0, 0]]], np.column_stack([t[:, 1], deep[:, 1]])])
        points[0, 0], points[-1, 0] = 0.0, size
        return points

    def runs_on(self, outline: Any, span: float) -> bool:
        """Whether the pieces are one surface: where one of them ends within the outline another one goes on, as deep."""
        import shapely

        ends, deep, own = self.sides
        inner = np.hypot(*(ends[:, 1] - ends[:, 0]).T) > 10 * _SHARED
        points = shapely.points(ends.mean(axis=1))
        with np.errstate(divide="ignore", invalid="ignore"):  # of sides without length
            inner &= shapely.distance(outline.exterior, points) > 10 * _SHARED
        rows = np.flatnonzero(inner)
        tree = shapely.STRtree([piece.area for piece in self.pieces])
        which, piece = tree.query(points[rows], predicate="dwithin", distance=10 * _SHARED)
        side = rows[which]
        other = piece != own[side]
        if len(np.unique(side[other])) < len(rows):
            return False
        planes = np.array([p.deep for p in self.pieces])
        here, there = deep[side].mean(axis=1), planes[piece]
        looks = np.column_stack([planes[:, 1:], np.ones(len(planes))])
        looks /= np.sqrt((looks * looks).sum(axis=1))[:, None]
        if other.any() and float((looks[own[side]] * looks[piece]).sum(axis=1)[other].min()) < _CREASE:
            return False
        middle = ends[side].mean(axis=1)
        return bool(np.abs(there[:, 0] + (there[:, 1:] * middle).sum(axis=1) - here).max(initial=0.0) <= _STEP * span)


def crossings(faces: Sequence[LooseFace], shaft: Shaft, flat: Floats) -> list[Crossed]:
    """Return the surfaces that a shaft with the outline ``flat`` (P, 2) crosses, the nearest first.

    Raises `CarveError` where the first is not there all over the outline; those behind it end with the last that is.
    """
    import shapely

    outline = shapely.Polygon(flat)
    shapely.prepare(outline)
    span = float(max(np.ptp(flat[:, 0]), np.ptp(flat[:, 1])))
    pieces: list[Piece] = []
    for row in _near(faces, shaft, flat):
        pieces += _of_face(row, faces[row], shaft, outline, -span / 2.0)
    if not pieces:
        raise CarveError(tr("There is no face here: move the opening on to it."))
    order = np.array([_before(pieces, piece) for piece in pieces])
    found: list[Crossed] = []
    for number in range(int(order.max()) + 1):
        own = [pieces[k] for k in np.flatnonzero(order == number)]
        missing = outline.area - sum(piece.area.area for piece in own)
        outward = number % 2 == 0
        if missing > _WHOLE * outline.area or any(piece.outward is not outward for piece in own):
            break
        surface = Crossed(tuple(own))
        if not surface.runs_on(outline, span):
            break
        found.append(surface)
    if not found or abs(float(found[0].depth(np.zeros((1, 2)))[0])) > _THERE * span:
        raise CarveError(
            tr(
                "The opening reaches beyond the side that it is in, over an edge of it, or meets another one: make it smaller, or move it."
            )
        )
    return found


def _before(pieces: Sequence[Piece], piece: Piece) -> int:
    """Return how many pieces lie before one."""
    import shapely

    point = piece.inside
    here = float(piece.depth(point[None])[0])
    within = [other for other in pieces if other is not piece and float(other.depth(point[None])[0]) < here - _SHARED]
    return int(sum(shapely.contains_xy(other.area, *point) for other in within))


def _near(faces: Sequence[LooseFace], shaft: Shaft, flat: Floats) -> list[int]:
    """Return the faces that a shaft may cross: those that do not stand along it, and lie about its outline."""
    rows = [row for row, face in enumerate(faces) if len(face.sides)]
    frames = np.array([faces[row].frame for row in rows])
    count = np.array([len(faces[row].sides) for row in rows])
    own = np.repeat(frames, count, axis=0)
    sides = np.concatenate([faces[row].sides for row in rows])
    places = own[:, :3] + sides[:, :1] * own[:, 3:6] + sides[:, 1:2] * own[:, 6:9] - shaft.frame[:3]
    corners = np.stack([places @ shaft.frame[3:6], places @ shaft.frame[6:9]], axis=1)
    first = np.cumsum(count) - count
    low, high = np.minimum.reduceat(corners, first), np.maximum.reduceat(corners, first)
    near = (high > flat.min(axis=0)).all(axis=1) & (low < flat.max(axis=0)).all(axis=1)
    near |= np.array([bool(faces[row].bows[:, 6].any()) for row in rows])
    near &= np.abs(frames[:, 9:] @ shaft.frame[9:]) >= _ALONG
    return [rows[k] for k in np.flatnonzero(near)]


def _of_face(row: int, face: LooseFace, shaft: Shaft, outline: Any, least: float) -> list[Piece]:
    import shapely

    slope = float(face.frame[9:] @ shaft.frame[9:])
    own = shapely.intersection(_polygon_of(face, shaft), outline)
    gap = shaft.frame[:3] - face.frame[:3]
    normal = face.frame[9:]
    deep = np.array([gap @ normal, shaft.frame[3:6] @ normal, shaft.frame[6:9] @ normal]) / slope
    found = [
        Piece(row, part, deep, slope > 0.0)
        for part in shapely.get_parts(own)
        if part.geom_type == "Polygon" and part.area > CLOSE * outline.area
    ]
    return [piece for piece in found if float(piece.depth(piece.inside[None])[0]) > least]


def _polygon_of(face: LooseFace, shaft: Shaft) -> Any:
    """Return a face as seen along a shaft."""
    import shapely

    sides = chords_of(face)
    off = face.place(sides) - shaft.frame[:3]
    ends = np.stack([off @ shaft.frame[3:6], off @ shaft.frame[6:9]], axis=2)
    if float(np.abs(ends[:, 1] - np.roll(ends[:, 0], -1, axis=0)).max()) <= _SHARED:
        whole = shapely.Polygon(ends[:, 0])
        if whole.is_valid:
            return whole
    keys = np.round(ends / _SHARED).astype(np.int64)
    _, first, inverse = np.unique(keys.reshape(-1, 2), axis=0, return_index=True, return_inverse=True)
    lines = ends.reshape(-1, 2)[first][inverse.reshape(-1, 2)]
    return shapely.build_area(shapely.geometrycollections(shapely.linestrings(lines)))
