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

from isometron.geometry import cubics
from isometron.geometry.faces.flat import FlatFaces, faces_round
from isometron.geometry.faces.meshes import Mesh, mesh_of
from isometron.geometry.faces.rolled_edges import EdgeError, RolledEdge, RolledEdges, Rounding, no_room
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import signed_area
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["Rounded", "round_edges"]

_OFF, _LEAST, _MOST = 0.1, 6, 16
"""mm that chords may lie within a round, and how few and how many an edge has."""
_FINE = np.radians(1.5)
"""Between two lines along a round for its outline."""


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
        except EdgeError as error:
            refused[error.number] = str(error)
            continue
        found.refused = refused
        return found


class _Work(RolledEdges):
    """The body's faces, strips and balls, and what is drawn of them."""

    def __init__(self, mesh: Mesh, wishes: dict[int, Rounding]) -> None:
        super().__init__(mesh, wishes)
        widest = max((max(edge.ra, edge.rb) for edge in self.edges.values()), default=1.0)
        most = max((edge.angle for edge in self.edges.values()), default=1.0)
        step = 2.0 * acos(max(1.0 - _OFF / widest, -1.0))
        self.count = min(max(ceil(most / step), _LEAST), _MOST)

    def done(self, body: FlatFaces) -> Rounded:
        """Return the body with its rounds; raises `EdgeError` where one of them finds no room."""
        found = Rounded(body)
        for edge in self.edges.values():
            self.audit(edge, self._turns(edge, self.count))
        parts = [self._flat_faces(found)]
        for edge in self.edges.values():
            parts.append(self._strips(edge))
            self._draw(edge, found)
        for corner, edges in self.at.items():
            if len(edges) == 3:
                parts.append(self._ball(corner, edges, found))
        found.faces = FlatFaces.joined(parts)
        return found

    def _turns(self, edge: RolledEdge, count: int) -> Floats:
        return np.linspace(0.0, edge.angle, count + 1)

    def _chain(self, face: int, before: int, corner: int) -> list[Floats]:
        """Return what stands in a face's loop in place of a corner that it comes to from the one before."""
        edges = self.at.get(corner, [])
        mine = [edge for edge in edges if face in (edge.f, edge.g)]
        if not edges:
            return [self.mesh.places[corner]]
        if mine:
            if len(mine) == 2:  # where both rounds meet the ball touches the face
                return [self.touched(corner, face)]
            return [self.side(mine[0], corner, face)]
        (edge,) = edges
        places = edge.ended(self._turns(edge, self.count), corner)[0]
        first = self.mesh.left[corner, before]
        return list(places if first == edge.f else places[::-1])

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
                    raise no_room(touched)
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
        self, loop: Sequence[int], chains: list[list[Floats]], touched: list[RolledEdge], found: Rounded
    ) -> None:
        """See that the sides of a face keep their way, and tell those that are shorter now."""
        for k, corner in enumerate(loop):
            after = (k + 1) % len(loop)
            if corner not in self.at and loop[after] not in self.at:
                continue
            old = self.mesh.places[loop[after]] - self.mesh.places[corner]
            new = chains[after][0] - chains[k][-1]
            if float(new @ old) <= HAIR * float(old @ old):
                raise no_room(touched)
            found.gone.append(self.mesh.places[[corner, loop[after]]])

    def _strips(self, edge: RolledEdge) -> FlatFaces:
        turns = self._turns(edge, self.count)
        one, two = (edge.ended(turns, corner)[0] for corner in (edge.a, edge.b))
        corners = np.stack([one[:-1], one[1:], two[1:], two[:-1]], axis=1)
        # Of a round that comes to a point there is a triangle left.
        if edge.ra <= CLOSE or edge.rb <= CLOSE:
            corners = corners[:, [0, 1, 2]] if edge.rb <= CLOSE else corners[:, [0, 2, 3]]
        return faces_round(corners, 0.0, 1.0)

    def _draw(self, edge: RolledEdge, found: Rounded) -> None:
        """Add the lines at which a round begins and ends, and what shows its outline."""
        for face in (edge.f, edge.g):
            found.tangents.append(np.array([self.side(edge, corner, face) for corner in (edge.a, edge.b)]))
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

    def _arc(self, edge: RolledEdge, corner: int, found: Rounded, *, soft: bool) -> None:
        """Add the line in which a round ends."""
        radius = edge.radius_at(corner)
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

    def _ball(self, corner: int, edges: list[RolledEdge], found: Rounded) -> FlatFaces:
        """Return the corner where three rounds meet: a piece of the ball."""
        middle, radius = self.middles[corner], edges[0].radius_at(corner)
        ways = []
        for edge in edges:
            way = -edge.along if edge.a == corner else edge.along
            ways.append(way / np.sqrt(way @ way))
        found.caps.append(np.concatenate([middle, [radius], *ways]))
        faces = self.mesh.faces_at[corner]
        tips = [self.normal(face) for face in faces]
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
