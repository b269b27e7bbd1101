"""Rounded edges of bodies of flat faces: a ball of the edge's radius is rolled along inside it, touching both faces.

Along an edge the radius is constant, or grows evenly: the circles in which the ball touches, square to the edge, are then those
of a cone. Where three rounded edges meet, the ball itself is the corner; where two meet, their rounds meet in the plane half way
between them (any text on solid modelling, e.g. Mortenson 1985, on blends).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import acos, ceil

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry import cubics
from isometron.geometry.faces.flat import FlatFaces, faces_round
from isometron.geometry.faces.meshes import RUNS_ON, Mesh, mesh_of
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import signed_area
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["Rounded", "Rounding", "round_edges"]

_OFF, _LEAST, _MOST = 0.1, 6, 16
"""mm that chords may lie within a round, and how few and how many an edge has."""
_FINE = np.radians(1.5)
"""Between two lines along a round for its outline."""
_EQUAL = 1e-6
_ALONG = 0.05


@dataclass(frozen=True)
class Rounding:
    """A wish: the edges between two faces, by their rows, with a radius at their start and at their end, mm; of an edge the end that
    comes first along x, y, z is its start."""

    one: int
    two: int
    start: float
    end: float


@dataclass
class Rounded:
    """A body with rounded edges. faces : what hides; tangents : (E, 2, 3) where rounds begin; rings : (G, 9), spans : (G, 2) in turns, soft : (G,) where
    a round runs on into another; curves : (C, 12) where a cone is cut off aslant; panels : (K, 18), caps : (K, 13) see `RoundParts`; gone : (K, 2, 3)
    edges that are shorter, or none, now; refused : words by the number of a wish."""

    faces: FlatFaces
    tangents: list[Floats] = field(default_factory=list)
    rings: list[Floats] = field(default_factory=list)
    spans: list[tuple[float, float]] = field(default_factory=list)
    soft: list[bool] = field(default_factory=list)
    curves: list[Floats] = field(default_factory=list)
    panels: list[Floats] = field(default_factory=list)
    caps: list[Floats] = field(default_factory=list)
    gone: list[Floats] = field(default_factory=list)
    refused: dict[int, str] = field(default_factory=dict)


def round_edges(body: FlatFaces, wishes: Sequence[Rounding]) -> Rounded:
    """Round edges of a closed body; wishes that cannot be met are passed over and told."""
    mesh = mesh_of(body)
    refused: dict[int, str] = {}
    while True:
        active = [number for number in range(len(wishes)) if number not in refused]
        if not active:
            return Rounded(body, refused=refused)
        try:
            found = _Work(mesh, {number: wishes[number] for number in active}).done(body)
        except _EdgeError as error:
            refused[error.number] = str(error)
            continue
        found.refused = refused
        return found


class _EdgeError(IsometronError, ValueError):
    """A wish that cannot be met; the message says why, and the remedy."""

    def __init__(self, number: int, words: str) -> None:
        super().__init__(words)
        self.number = number


@dataclass
class _Edge:
    """A rounded edge, gone from corner a to corner b. f, g : the faces to its left and right; ra, rb : the radii there; ends : planes,
    a place and a direction, where the round ends."""

    number: int
    a: int
    b: int
    f: int
    g: int
    start: Floats
    along: Floats
    normals: tuple[Floats, Floats]
    ra: float
    rb: float
    ends: dict[int, tuple[Floats, Floats]] = field(default_factory=dict)

    @property
    def grows(self) -> bool:
        return abs(self.ra - self.rb) > _EQUAL * max(self.ra, self.rb)

    @property
    def angle(self) -> float:
        return acos(min(max(float(self.normals[0] @ self.normals[1]), -1.0), 1.0))

    @property
    def back(self) -> Floats:
        """From the edge to where the ball's middle is, for a radius of 1."""
        one, two = self.normals
        found: Floats = -(one + two) / (1.0 + float(one @ two))
        return found

    @property
    def across(self) -> Floats:
        """The way from the first face's normal, square to it, towards the second's."""
        one, two = self.normals
        found: Floats = two - float(one @ two) * one
        return found / np.sqrt(found @ found)

    def looks(self, turn: Floats) -> Floats:
        """Return the ways (K, 3) from the middle at angles (K,) from the first face's normal."""
        found: Floats = np.cos(turn)[:, None] * self.normals[0] + np.sin(turn)[:, None] * self.across
        return found

    def lines(self, turn: Floats) -> tuple[Floats, Floats]:
        """Return the places (K, 3) at both corners of the straight lines along the round at angles (K,)."""
        looks = self.looks(turn)
        one = self.start + self.ra * (self.back + looks)
        two = self.start + self.along + self.rb * (self.back + looks)
        return one, two

    def ended(self, turn: Floats, corner: int) -> tuple[Floats, Floats]:
        """Return where the lines at angles (K,) end at a corner (K, 3), and as parts (K,) of the way along them."""
        one, two = self.lines(turn)
        place, normal = self.ends[corner]
        way = two - one
        part = ((place - one) @ normal) / (way @ normal)
        return one + part[:, None] * way, part


class _Work:
    def __init__(self, mesh: Mesh, wishes: dict[int, Rounding]) -> None:
        self.mesh = mesh
        self.edges: dict[tuple[int, int], _Edge] = {}
        for number, wish in wishes.items():
            self._take(number, wish)
        self.at: dict[int, list[_Edge]] = {}
        for edge in self.edges.values():
            for corner in (edge.a, edge.b):
                self.at.setdefault(corner, []).append(edge)
        self.middles: dict[int, Floats] = {}
        for corner, edges in self.at.items():
            self._end(corner, edges)
        widest = max((max(edge.ra, edge.rb) for edge in self.edges.values()), default=1.0)
        most = max((edge.angle for edge in self.edges.values()), default=1.0)
        step = 2.0 * acos(max(1.0 - _OFF / widest, -1.0))
        self.count = min(max(ceil(most / step), _LEAST), _MOST)

    def _normal(self, face: int) -> Floats:
        normal: Floats = self.mesh.frames[face, 9:]
        return normal

    def _take(self, number: int, wish: Rounding) -> None:
        between = self.mesh.edges_between(wish.one, wish.two)
        if not between:
            raise _EdgeError(number, tr("These two faces do not meet in an edge now."))
        if not (wish.start >= 0.0 and wish.end >= 0.0 and max(wish.start, wish.end) > CLOSE):
            raise _EdgeError(number, tr("A rounded edge needs a radius."))
        for a, b in between:
            forward = tuple(np.round(self.mesh.places[a], 6)) < tuple(np.round(self.mesh.places[b], 6))
            ra, rb = (wish.start, wish.end) if forward else (wish.end, wish.start)
            along = self.mesh.places[b] - self.mesh.places[a]
            normals = self._normal(wish.one), self._normal(wish.two)
            if not self.mesh.stands_out((a, b)):
                raise _EdgeError(number, tr("This edge is an inner one: only edges that stand out are rounded."))
            if float(normals[0] @ normals[1]) > RUNS_ON:
                raise _EdgeError(number, tr("The faces run on into one another here: there is no edge to round."))
            self.edges[a, b] = _Edge(number, a, b, wish.one, wish.two, self.mesh.places[a], along, normals, ra, rb)

    def _end(self, corner: int, edges: list[_Edge]) -> None:
        """Find the planes at which the rounds that meet at a corner end."""
        faces = self.mesh.faces_at[corner]
        last = max(edges, key=lambda edge: edge.number)
        if len(faces) != 3:
            raise _EdgeError(
                last.number, tr("More than three edges meet at an end of this one: it cannot be rounded there.")
            )
        radii = [edge.ra if edge.a == corner else edge.rb for edge in edges]
        if len(edges) == 1:
            self._end_alone(corner, edges[0], next(face for face in faces if face not in (edges[0].f, edges[0].g)))
            return
        if max(radii) - min(radii) > _EQUAL * max(radii):
            raise _EdgeError(
                last.number,
                tr("Edges that meet in a corner need the same radius there; here they are {one:.4g} and {two:.4g} mm.",
                   one=min(radii), two=max(radii)),
            )  # fmt: skip
        if any(edge.grows for edge in edges):
            raise _EdgeError(last.number, tr("An edge whose radius grows cannot meet another rounded one: keep its radius, or leave that one sharp."))  # fmt: skip
        normals = np.array([self._normal(face) for face in faces])
        middle = self.mesh.places[corner] - np.linalg.solve(normals, np.full(3, radii[0]))
        self.middles[corner] = middle
        if len(edges) == 3:
            for edge in edges:
                edge.ends[corner] = middle, edge.along
            return
        self._end_of_two(corner, edges, middle)

    def _end_alone(self, corner: int, edge: _Edge, face: int) -> None:
        normal = self._normal(face)
        if (
            abs(float(normal @ edge.along)) < _ALONG * float(np.sqrt(edge.along @ edge.along))
            or max(float(normal @ own) for own in edge.normals) > RUNS_ON
        ):
            raise _EdgeError(edge.number, tr("This edge runs on in a bent one: it cannot be rounded by itself."))
        edge.ends[corner] = self.mesh.places[corner], normal

    def _end_of_two(self, corner: int, edges: list[_Edge], middle: Floats) -> None:
        one, two = edges
        shared = next(face for face in (one.f, one.g) if face in (two.f, two.g))
        others = [edge.g if edge.f == shared else edge.f for edge in edges]
        ways = []
        for edge in edges:
            way = edge.along if edge.a == corner else -edge.along
            ways.append(way / np.sqrt(way @ way))
        meets = [float(self._normal(other) @ self._normal(shared)) for other in others]
        number = max(one.number, two.number)
        if abs(meets[0] - meets[1]) > 1e-6:
            raise _EdgeError(
                number,
                tr(
                    "The rounds of two edges that lean differently do not meet in a line: round the third edge of the corner too."
                ),
            )
        third = [edge for pair in (others, others[::-1]) for edge in self.mesh.edges_between(*pair) if corner in edge]
        if not any(map(self.mesh.stands_out, third)):
            raise _EdgeError(number, tr("At this corner the rounds turn inwards: round one of the two edges only."))
        for edge in edges:
            edge.ends[corner] = middle, ways[0] - ways[1]

    # --- what comes of it -------------------------------------------------------------------------------------------

    def done(self, body: FlatFaces) -> Rounded:
        """Return the body with its rounds; raises `_EdgeError` where one of them finds no room."""
        found = Rounded(body)
        for edge in self.edges.values():
            self._audit(edge)
        parts = [self._flat_faces(found)]
        for edge in self.edges.values():
            parts.append(self._strips(edge))
            self._draw(edge, found)
        for corner, edges in self.at.items():
            if len(edges) == 3:
                parts.append(self._ball(corner, edges, found))
        found.faces = FlatFaces.joined(parts)
        return found

    def _turns(self, edge: _Edge, count: int) -> Floats:
        return np.linspace(0.0, edge.angle, count + 1)

    def _audit(self, edge: _Edge) -> None:
        low, high = (edge.ended(self._turns(edge, self.count), corner)[1] for corner in (edge.a, edge.b))
        if float((high - low).min()) <= HAIR:
            raise _no_room([edge])

    def _side(self, edge: _Edge, corner: int, face: int) -> Floats:
        """Return where the line along a face at which a round begins ends at a corner (3,)."""
        turn = np.array([0.0 if face == edge.f else edge.angle])
        found: Floats = edge.ended(turn, corner)[0][0]
        return found

    def _chain(self, face: int, before: int, corner: int) -> list[Floats]:
        """Return what stands in a face's loop in place of a corner that it comes to from the one before."""
        edges = self.at.get(corner, [])
        mine = [edge for edge in edges if face in (edge.f, edge.g)]
        if not edges:
            return [self.mesh.places[corner]]
        if mine:
            if len(mine) == 2:  # where both rounds meet the ball touches the face
                return [self.middles[corner] + self._radius(edges, corner) * self._normal(face)]
            return [self._side(mine[0], corner, face)]
        (edge,) = edges
        places = edge.ended(self._turns(edge, self.count), corner)[0]
        first = self.mesh.left[corner, before]
        return list(places if first == edge.f else places[::-1])

    @staticmethod
    def _radius(edges: list[_Edge], corner: int) -> float:
        return edges[0].ra if edges[0].a == corner else edges[0].rb

    def _flat_faces(self, found: Rounded) -> FlatFaces:
        """Return the flat faces with what the rounds leave of them."""
        import shapely

        body, mesh = found.faces, self.mesh
        frames, counts, sides, places = [], [], [], []
        for face, loops in enumerate(mesh.loops):
            frame, rings = mesh.frames[face], []
            touched = [edge for loop in loops for corner in loop for edge in self.at.get(corner, [])]
            for loop in loops:
                chains = [self._chain(face, loop[k - 1], corner) for k, corner in enumerate(loop)]
                self._audit_loop(loop, chains, touched, found)
                rings.append(np.array([place for chain in chains for place in chain]))
            flat = [_on(frame, ring) for ring in rings]
            if touched:
                outer = max(range(len(flat)), key=lambda k: abs(signed_area(flat[k])))
                whole = shapely.Polygon(flat[outer], [ring for k, ring in enumerate(flat) if k != outer])
                if not whole.is_valid:
                    raise _no_room(touched)
            own = np.concatenate([np.hstack([ring, np.roll(ring, -1, axis=0)]) for ring in flat])
            frames.append(frame)
            counts.append(len(own))
            sides.append(own)
            places.append(np.concatenate(rings))
        return FlatFaces(
            np.array(frames), body.near.copy(), body.both.copy(), np.array(counts, dtype=np.intp), np.concatenate(sides),
            np.concatenate(places), np.zeros((sum(counts), 7)),
        )  # fmt: skip

    def _audit_loop(
        self, loop: Sequence[int], chains: list[list[Floats]], touched: list[_Edge], found: Rounded
    ) -> None:
        """See that the sides of a face keep their way, and tell those that are shorter now."""
        for k, corner in enumerate(loop):
            after = (k + 1) % len(loop)
            if corner not in self.at and loop[after] not in self.at:
                continue
            old = self.mesh.places[loop[after]] - self.mesh.places[corner]
            new = chains[after][0] - chains[k][-1]
            if float(new @ old) <= HAIR * float(old @ old):
                raise _no_room(touched)
            found.gone.append(self.mesh.places[[corner, loop[after]]])

    def _strips(self, edge: _Edge) -> FlatFaces:
        turns = self._turns(edge, self.count)
        one, two = (edge.ended(turns, corner)[0] for corner in (edge.a, edge.b))
        corners = np.stack([one[:-1], one[1:], two[1:], two[:-1]], axis=1)
        # Of a round that comes to a point there is a triangle left.
        if edge.ra <= CLOSE or edge.rb <= CLOSE:
            corners = corners[:, [0, 1, 2]] if edge.rb <= CLOSE else corners[:, [0, 2, 3]]
        return faces_round(corners, 0.0, 1.0)

    def _draw(self, edge: _Edge, found: Rounded) -> None:
        """Add the lines at which a round begins and ends, and what shows its outline."""
        for face in (edge.f, edge.g):
            found.tangents.append(np.array([self._side(edge, corner, face) for corner in (edge.a, edge.b)]))
        count = max(ceil(edge.angle / _FINE), self.count)
        turns = self._turns(edge, count)
        one, two = (edge.ended(turns, corner)[0] for corner in (edge.a, edge.b))
        low, high = edge.lines(turns)
        turned = -np.sin(turns)[:, None] * edge.normals[0] + np.cos(turns)[:, None] * edge.across
        normal = np.cross(high - low, turned)
        looks = edge.looks(turns)
        normal *= np.where((normal * looks).sum(axis=1) < 0.0, -1.0, 1.0)[:, None]
        normal /= np.sqrt((normal * normal).sum(axis=1))[:, None]
        found.panels.extend(np.hstack([one[:-1], one[1:], two[:-1], two[1:], normal[:-1], normal[1:]]))
        for corner in (edge.a, edge.b):
            edges = self.at[corner]
            if len(edges) == 2 and edge is not edges[0]:
                continue  # both end in the same line
            self._arc(edge, corner, found, soft=len(edges) == 3)

    def _arc(self, edge: _Edge, corner: int, found: Rounded, *, soft: bool) -> None:
        """Add the line in which a round ends."""
        radius = edge.ra if corner == edge.a else edge.rb
        if radius <= CLOSE:
            return
        place, normal = edge.ends[corner]
        slope = float(edge.along @ normal)
        square = abs(slope) >= (1.0 - HAIR) * float(np.sqrt((edge.along @ edge.along) * (normal @ normal)))
        if edge.grows and not square:
            turns = self._turns(edge, 2 * _MOST)
            found.curves.append(cubics.spline_through(edge.ended(turns, corner)[0]).reshape(-1, 12))
            return

        def carried(way: Floats) -> Floats:
            moved: Floats = way - float(way @ normal) / slope * edge.along
            return moved

        at = edge.start if corner == edge.a else edge.start + edge.along
        middle = at + radius * edge.back
        middle = middle + float((place - middle) @ normal) / slope * edge.along
        found.rings.append(np.concatenate([middle, radius * carried(edge.normals[0]), radius * carried(edge.across)]))
        found.spans.append((0.0, edge.angle / (2 * np.pi)))
        found.soft.append(soft)

    def _ball(self, corner: int, edges: list[_Edge], found: Rounded) -> FlatFaces:
        """Return the corner where three rounds meet: a piece of the ball."""
        middle, radius = self.middles[corner], self._radius(edges, corner)
        ways = []
        for edge in edges:
            way = -edge.along if edge.a == corner else edge.along
            ways.append(way / np.sqrt(way @ way))
        found.caps.append(np.concatenate([middle, [radius], *ways]))
        faces = self.mesh.faces_at[corner]
        tips = [self._normal(face) for face in faces]
        if float(np.cross(tips[1] - tips[0], tips[2] - tips[0]) @ (tips[0] + tips[1] + tips[2])) < 0.0:
            tips = tips[::-1]
        rim = [_turned(tips[k], tips[(k + 1) % 3], n / self.count) for k in range(3) for n in range(self.count)]
        # The ball itself hides; these faces close the body behind its side.
        top = tips[0] + tips[1] + tips[2]
        top = top / np.sqrt(top @ top)
        looks = np.array([(one, two, top) for one, two in zip(rim, [*rim[1:], rim[0]], strict=True)])
        return faces_round(middle + radius * looks, 0.0, 1.0)


def _turned(one: Floats, two: Floats, part: float) -> Floats:
    """Return the way a part of the turn from one way (3,) to another (Shoemake 1985)."""
    angle = acos(min(max(float(one @ two), -1.0), 1.0))
    if angle < 1e-12:
        return one
    found: Floats = (np.sin((1.0 - part) * angle) * one + np.sin(part * angle) * two) / np.sin(angle)
    return found


def _on(frame: Floats, places: Floats) -> Floats:
    off = places - frame[:3]
    return np.stack([off @ frame[3:6], off @ frame[6:9]], axis=1)


def _no_room(edges: Sequence[_Edge]) -> _EdgeError:
    """Return what refuses the widest of some edges."""
    edge = max(edges, key=lambda edge: max(edge.ra, edge.rb))
    radius = max(edge.ra, edge.rb)
    words = tr("A radius of {radius:.4g} mm finds no room on the faces beside the edge: take less.", radius=radius)
    return _EdgeError(edge.number, words)
