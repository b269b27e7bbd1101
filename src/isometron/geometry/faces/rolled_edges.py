"""Which edges of a body are rounded, and where each round ends: a ball of the edge's radius is rolled along inside it, touching both faces.

Along an edge the radius is constant, or grows evenly: the circles in which the ball touches, square to the edge, are then those
of a cone. Where three rounded edges meet, the ball itself is the corner; where two meet, their rounds meet in the plane half way
between them (any text on solid modelling, e.g. Mortenson 1985, on blends).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import acos

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.faces.meshes import RUNS_ON, Mesh
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["EdgeError", "RolledEdge", "RolledEdges", "Rounding", "no_room"]

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


class EdgeError(IsometronError, ValueError):
    """A wish that cannot be met; the message says why, and the remedy."""

    def __init__(self, number: int, words: str) -> None:
        super().__init__(words)
        self.number = number


@dataclass
class RolledEdge:
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

    def radius_at(self, corner: int) -> float:
        """The radius at one of its corners, mm."""
        return self.ra if self.a == corner else self.rb

    @property
    def grows(self) -> bool:
        """Whether both radii differ."""
        return abs(self.ra - self.rb) > _EQUAL * max(self.ra, self.rb)

    @property
    def angle(self) -> float:
        """The angle by which the round turns, radians."""
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


class RolledEdges:
    """The edges of a mesh that are rounded, with their ends; raises `EdgeError` for one that cannot be.

    edges : by their corners; at : those that end at a corner; middles : of the balls where several meet; round_faces : of some faces that
    are not flat, by face and corner, the way out (3,) there.
    """

    def __init__(
        self, mesh: Mesh, wishes: dict[int, Rounding], round_faces: dict[tuple[int, int], Floats] | None = None
    ) -> None:
        self.mesh = mesh
        self._round_faces = round_faces or {}
        self.edges: dict[tuple[int, int], RolledEdge] = {}
        for number, wish in wishes.items():
            self._take(number, wish)
        self.at: dict[int, list[RolledEdge]] = {}
        for edge in self.edges.values():
            for corner in (edge.a, edge.b):
                self.at.setdefault(corner, []).append(edge)
        self.middles: dict[int, Floats] = {}
        for corner, edges in self.at.items():
            self._end(corner, edges)

    def normal(self, face: int, corner: int = -1) -> Floats:
        """Return the way out of a face (3,), at a corner of one that is not flat."""
        normal: Floats = self._round_faces.get((face, corner), self.mesh.frames[face, 9:])
        return normal

    def side(self, edge: RolledEdge, corner: int, face: int) -> Floats:
        """Return where the line along a face at which a round begins ends at a corner (3,)."""
        turn = np.array([0.0 if face == edge.f else edge.angle])
        found: Floats = edge.ended(turn, corner)[0][0]
        return found

    def touched(self, corner: int, face: int) -> Floats:
        """Return where the ball in a corner, in which several rounds meet, touches a face (3,)."""
        edge = self.at[corner][0]
        found: Floats = self.middles[corner] + edge.radius_at(corner) * self.normal(face, corner)
        return found

    @staticmethod
    def audit(edge: RolledEdge, turns: Floats) -> None:
        """See that a round ends no sooner than it begins, at angles (K,); raises `EdgeError`."""
        low, high = (edge.ended(turns, corner)[1] for corner in (edge.a, edge.b))
        if float((high - low).min()) <= HAIR:
            raise no_room([edge])

    def _take(self, number: int, wish: Rounding) -> None:
        between = self.mesh.edges_between(wish.one, wish.two)
        if not between:
            raise EdgeError(number, tr("These two faces do not meet in an edge now."))
        if not (wish.start >= 0.0 and wish.end >= 0.0 and max(wish.start, wish.end) > CLOSE):
            raise EdgeError(number, tr("A rounded edge needs a radius."))
        for a, b in between:
            forward = tuple(np.round(self.mesh.places[a], 6)) < tuple(np.round(self.mesh.places[b], 6))
            ra, rb = (wish.start, wish.end) if forward else (wish.end, wish.start)
            along = self.mesh.places[b] - self.mesh.places[a]
            normals = self.normal(wish.one), self.normal(wish.two)
            if not self.mesh.stands_out((a, b)):
                raise EdgeError(number, tr("This edge is an inner one: only edges that stand out are rounded."))
            if float(normals[0] @ normals[1]) > RUNS_ON:
                raise EdgeError(number, tr("The faces run on into one another here: there is no edge to round."))
            self.edges[a, b] = RolledEdge(
                number, a, b, wish.one, wish.two, self.mesh.places[a], along, normals, ra, rb
            )

    def _end(self, corner: int, edges: list[RolledEdge]) -> None:
        """Find the planes at which the rounds that meet at a corner end."""
        faces = self.mesh.faces_at[corner]
        last = max(edges, key=lambda edge: edge.number)
        if len(faces) != 3:
            raise EdgeError(
                last.number, tr("More than three edges meet at an end of this one: it cannot be rounded there.")
            )
        radii = [edge.radius_at(corner) for edge in edges]
        if len(edges) == 1:
            self._end_alone(corner, edges[0], next(face for face in faces if face not in (edges[0].f, edges[0].g)))
            return
        if max(radii) - min(radii) > _EQUAL * max(radii):
            raise EdgeError(
                last.number,
                tr("Edges that meet in a corner need the same radius there; here they are {one:.4g} and {two:.4g} mm.",
                   one=min(radii), two=max(radii)),
            )  # fmt: skip
        if any(edge.grows for edge in edges):
            raise EdgeError(last.number, tr("An edge whose radius grows cannot meet another rounded one: keep its radius, or leave that one sharp."))  # fmt: skip
        normals = np.array([self.normal(face, corner) for face in faces])
        middle = self.mesh.places[corner] - np.linalg.solve(normals, np.full(3, radii[0]))
        self.middles[corner] = middle
        if len(edges) == 3:
            for edge in edges:
                edge.ends[corner] = middle, edge.along
            return
        self._end_of_two(corner, edges, middle)

    def _end_alone(self, corner: int, edge: RolledEdge, face: int) -> None:
        normal = self.normal(face, corner)
        if (
            abs(float(normal @ edge.along)) < _ALONG * float(np.sqrt(edge.along @ edge.along))
            or max(float(normal @ own) for own in edge.normals) > RUNS_ON
        ):
            raise EdgeError(edge.number, tr("This edge runs on in a bent one: it cannot be rounded by itself."))
        edge.ends[corner] = self.mesh.places[corner], normal

    def _end_of_two(self, corner: int, edges: list[RolledEdge], middle: Floats) -> None:
        one, two = edges
        shared = next(face for face in (one.f, one.g) if face in (two.f, two.g))
        others = [edge.g if edge.f == shared else edge.f for edge in edges]
        ways = []
        for edge in edges:
            way = edge.along if edge.a == corner else -edge.along
            ways.append(way / np.sqrt(way @ way))
        meets = [float(self.normal(other) @ self.normal(shared)) for other in others]
        number = max(one.number, two.number)
        if abs(meets[0] - meets[1]) > 1e-6:
            raise EdgeError(
                number,
                tr(
                    "The rounds of two edges that lean differently do not meet in a line: round the third edge of the corner too."
                ),
            )
        third = [edge for pair in (others, others[::-1]) for edge in self.mesh.edges_between(*pair) if corner in edge]
        if not any(map(self.mesh.stands_out, third)):
            raise EdgeError(number, tr("At this corner the rounds turn inwards: round one of the two edges only."))
        for edge in edges:
            edge.ends[corner] = middle, ways[0] - ways[1]


def no_room(edges: Sequence[RolledEdge]) -> EdgeError:
    """Return what refuses the widest of some edges."""
    edge = max(edges, key=lambda edge: max(edge.ra, edge.rb))
    radius = max(edge.ra, edge.rb)
    words = tr("A radius of {radius:.4g} mm finds no room on the faces beside the edge: take less.", radius=radius)
    return EdgeError(edge.number, words)
