"""All volumes of a document as flat arrays: independent of the eye, so built once while the eye moves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import chain

import msgspec
import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.coincident import owned_spans
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.geometry.tolerances import EXACT, SAME_PLACE
from isometron.volumes.copies import copies_of, is_many
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import CORNERS
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["Outlines", "Scene"]

_OFF_GRID = 0.31830988618  # keeps round millimetres away from the rounding boundaries


@dataclass(frozen=True)
class Outlines:
    """Vertices and edges of volumes, and whose they are.

    vertices : (V, 3) mm; vertex_owner : (V,); edges : (E, 2) rows of ``vertices``; edge_owner, edge_axis, edge_soft,
    edge_is_mark : (E,), soft ones are drawn as construction, is_mark ones are marks on a volume.
    """

    vertices: Floats
    vertex_owner: Ints
    edges: Ints
    edge_owner: Ints
    edge_axis: Ints
    edge_soft: Bools
    edge_is_mark: Bools

    def of_edges(self, rows: Ints | Bools) -> Outlines:
        """Return the given edges, with all vertices."""
        return Outlines(
            self.vertices, self.vertex_owner, self.edges[rows], self.edge_owner[rows], self.edge_axis[rows],
            self.edge_soft[rows], self.edge_is_mark[rows],
        )  # fmt: skip

    def in_order(self) -> Outlines:
        """Return the same with owners ascending, each one's own vertices and edges in the order they have."""
        by_owner = np.argsort(self.vertex_owner, kind="stable")
        place = np.empty(len(by_owner), dtype=np.intp)
        place[by_owner] = np.arange(len(by_owner))
        sorted_ = self.of_edges(np.argsort(self.edge_owner, kind="stable"))
        return Outlines(
            self.vertices[by_owner], self.vertex_owner[by_owner], place[sorted_.edges], sorted_.edge_owner,
            sorted_.edge_axis, sorted_.edge_soft, sorted_.edge_is_mark,
        )  # fmt: skip

    def taken(self, place: Ints) -> Outlines:
        """Return what belongs to owners with a ``place`` (N,) that is not negative, as those of the owners there."""
        vertex = np.flatnonzero(place[self.vertex_owner] >= 0)
        own = self.of_edges(np.flatnonzero(place[self.edge_owner] >= 0))
        return Outlines(
            self.vertices[vertex], place[self.vertex_owner[vertex]], np.searchsorted(vertex, own.edges),
            place[own.edge_owner], own.edge_axis, own.edge_soft, own.edge_is_mark,
        )  # fmt: skip

    @staticmethod
    def joined(parts: Sequence[Outlines], bases: Ints) -> Outlines:
        """Return all parts one after the other; the owners of each are counted from its base."""
        first = np.cumsum([0] + [len(part.vertices) for part in parts])
        return Outlines(
            np.concatenate([part.vertices for part in parts]),
            np.concatenate([part.vertex_owner + base for part, base in zip(parts, bases, strict=False)]),
            np.concatenate([part.edges + base for part, base in zip(parts, first, strict=False)]),
            np.concatenate([part.edge_owner + base for part, base in zip(parts, bases, strict=False)]),
            *(
                np.concatenate([getattr(p, name) for p in parts])
                for name in ("edge_axis", "edge_soft", "edge_is_mark")
            ),
        )


def _shape(volume: Volume) -> Volume:
    """Return what a volume looks like, whatever it is called and whatever it follows."""
    return msgspec.structs.replace(
        volume, id="", name="", locked=False, hangs=False, quiet=(), joined=None, says=(), keep=None, group=""
    )


@dataclass(frozen=True)
class Scene(Outlines):
    """Flat arrays over all volumes; owners are positions in ``volumes``, ascending along every array but the rounds'.

    Of each volume the corners of its bounding box are the first vertices. rotations : (N, 3, 3); bodies : the convex
    pieces; body_owner, body_copy : (B,); faces, face_owner, face_copy : (F,) flat faces of the others; rounds : the round parts of volumes that are not put away; turns : (N,) whose turn comes
    first keeps what it shares with its likes; only_hides : (N,) volumes whose marks nobody asks for: they only hide, and share.
    """

    volumes: tuple[Volume, ...]
    rotations: Floats
    bodies: ConvexBodies
    body_owner: Ints
    rounds: RoundParts
    faces: FlatFaces
    face_owner: Ints
    body_copy: Ints
    face_copy: Ints
    turns: Ints
    only_hides: Bools

    @staticmethod
    def of(
        volumes: tuple[Volume, ...],
        outlines: Outlines,
        rotations: Floats,
        bodies: ConvexBodies,
        body_owner: Ints,
        rounds: RoundParts,
        faces: FlatFaces,
        face_owner: Ints,
        body_copy: Ints,
        face_copy: Ints,
    ) -> Scene:
        """Return a scene of parts in any order."""
        if len(volumes) > 1:
            turn = np.argsort(body_owner, kind="stable")
            outlines, bodies, body_owner = outlines.in_order(), bodies.select(turn), body_owner[turn]
            body_copy = body_copy[turn]
            if len(faces):
                turn = np.argsort(face_owner, kind="stable")
                faces, face_owner, face_copy = faces.select(turn), face_owner[turn], face_copy[turn]
        return Scene(
            **vars(outlines), volumes=volumes, rotations=rotations, bodies=bodies,
            body_owner=body_owner, rounds=rounds, faces=faces, face_owner=face_owner, body_copy=body_copy, face_copy=face_copy, turns=np.arange(len(volumes)), only_hides=np.zeros(len(volumes), dtype=bool),
        )  # fmt: skip

    @staticmethod
    def put_together(scenes: Sequence[Scene], turns: Ints, only_hides: Bools) -> Scene:
        """Return the volumes of some scenes, those of one after those of the other, with the turns of all and the only_hides ones."""
        volumes = [scene.volumes for scene in scenes]
        bases = np.cumsum([0, *map(len, volumes)])
        return Scene(
            **vars(Outlines.joined(scenes, bases)), volumes=tuple(chain(*volumes)),
            rotations=np.concatenate([scene.rotations for scene in scenes]),
            bodies=stacked([scene.bodies for scene in scenes]),
            body_owner=np.concatenate([s.body_owner + base for s, base in zip(scenes, bases, strict=False)]),
            rounds=RoundParts.joined([scene.rounds for scene in scenes], bases),
            faces=FlatFaces.joined([scene.faces for scene in scenes]),
            face_owner=np.concatenate([s.face_owner + base for s, base in zip(scenes, bases, strict=False)]),
            body_copy=np.concatenate([scene.body_copy for scene in scenes]), face_copy=np.concatenate([scene.face_copy for scene in scenes]), turns=turns, only_hides=only_hides,
        )  # fmt: skip

    def sorted(self, rows: Ints) -> Scene:
        """Return the same volumes in the order of ``rows`` (N,)."""
        place = np.argsort(rows)
        volumes = tuple(self.volumes[row] for row in rows)
        return Scene.of(volumes, self.taken(place), self.rotations[rows], self.bodies, place[self.body_owner],
                        self.rounds.taken(place), self.faces, place[self.face_owner], self.body_copy, self.face_copy)  # fmt: skip

    def select(self, rows: Ints) -> Scene:
        """Return the scene of the volumes ``rows``, ascending, alone."""
        place = np.full(len(self.volumes), -1, dtype=np.intp)
        place[rows] = np.arange(len(rows))
        body, face = np.flatnonzero(place[self.body_owner] >= 0), np.flatnonzero(place[self.face_owner] >= 0)
        return Scene(
            **vars(self.taken(place)), volumes=tuple(self.volumes[row] for row in rows), rotations=self.rotations[rows],
            bodies=self.bodies.select(body), body_owner=place[self.body_owner[body]], rounds=self.rounds.taken(place),
            faces=self.faces.select(face), face_owner=place[self.face_owner[face]],
            body_copy=self.body_copy[body], face_copy=self.face_copy[face], turns=self.turns[rows], only_hides=self.only_hides[rows],
        )  # fmt: skip

    @cached_property
    def drawn_rounds(self) -> RoundParts:
        """The round parts but for those of volumes that are the same as one whose turn comes before."""
        if not self.rounds:
            return self.rounds
        if len({(volume.corner, volume.size) for volume in self.volumes}) == len(self.volumes):
            return self.rounds
        first: dict[Volume, int] = {}
        for row in np.argsort(self.turns, kind="stable"):
            first.setdefault(_shape(self.volumes[row]), int(row))
        if len(first) == len(self.volumes):
            return self.rounds
        place = np.full(len(self.volumes), -1, dtype=np.intp)
        rows = np.array(list(first.values()))
        place[rows] = rows
        return self.rounds.taken(place)

    @cached_property
    def see_through(self) -> Bools:
        """Volumes (N,) that hide only their own back edges."""
        return np.array([volume.see_through for volume in self.volumes], dtype=bool)

    @cached_property
    def put_away(self) -> Bools:
        """Volumes (N,) that are not drawn."""
        return np.array([volume.put_away for volume in self.volumes], dtype=bool)

    @cached_property
    def turned(self) -> Bools:
        """Volumes (N,) that are turned bodies: their faces are round, and their box hides nothing."""
        return np.array([isinstance(volume, Turned) for volume in self.volumes], dtype=bool)

    @property
    def solid(self) -> Bools:
        """Volumes (N,) that hide what is behind them."""
        solid: Bools = ~self.see_through & ~self.put_away
        return solid

    @cached_property
    def _ruled(self) -> tuple[tuple[Ints, Floats, Floats], tuple[Ints, Floats, Floats]]:
        """Spans of edges, and of the rounds' strokes: who rules what of the lines that they share."""
        rounds = self.drawn_rounds
        count = len(self.edges)
        start = np.concatenate([self.vertices[self.edges[:, 0]], rounds.strokes[:, 0]])
        end = np.concatenate([self.vertices[self.edges[:, 1]], rounds.strokes[:, 1]])
        owner = np.concatenate([self.edge_owner, rounds.stroke_owner])
        soft = np.concatenate([self.edge_soft, np.zeros(len(rounds.strokes), dtype=bool)])
        edge, low, high = owned_spans(start, end, self._rank(owner, soft))
        drawn = ~(self.put_away | self.only_hides)[owner[edge]]
        edge, low, high = edge[drawn], low[drawn], high[drawn]
        first = int(np.searchsorted(edge, count))
        return (edge[:first], low[:first], high[:first]), (edge[first:] - count, low[first:], high[first:])

    def _rank(self, owner: Ints, soft: Bools) -> Ints:
        """Return who goes before whom where lines coincide: solid volumes before see-through ones, object lines before
        construction, what is put away last; among alike the volume whose turn comes first."""
        kind = (self.see_through + 4 * self.put_away)[owner] + 2 * soft
        rank: Ints = kind * len(self.turns) + np.argsort(np.argsort(self.turns))[owner]
        return rank

    @property
    def spans(self) -> tuple[Ints, Floats, Floats]:
        """Spans (edge, t0, t1) so that no stretch of a line is ruled twice; what is put away or only_hides has none."""
        return self._ruled[0]

    @property
    def stroke_spans(self) -> tuple[Ints, Floats, Floats]:
        """The same of the strokes of `drawn_rounds`."""
        return self._ruled[1]

    @cached_property
    def rings_once(self) -> Bools:
        """Rings (G,) of `drawn_rounds` that are drawn: of those that lie on one another the first by `_rank`."""
        rounds = self.drawn_rounds
        kept = np.ones(len(rounds.rings), dtype=bool)
        if len(kept) < 2:
            return kept
        first, second = rounds.rings[:, 3:6], rounds.rings[:, 6:9]
        whole = np.abs(rounds.ring_span[:, 1]) >= 1.0 - EXACT
        # The sum of the squares of its half axes tells an ellipse, wherever its angles are counted from.
        shape = np.einsum("gi,gj->gij", first, first) + np.einsum("gi,gj->gij", second, second)
        size = np.sqrt(np.maximum(np.trace(shape, axis1=1, axis2=2), 1e-300))
        part = np.where(whole[:, None], 0.0, np.hstack([first, second, rounds.ring_span * size[:, None]]))
        numbers = np.hstack([rounds.rings[:, :3], shape.reshape(-1, 9) / size[:, None], part])
        keys = np.round(numbers / SAME_PLACE + _OFF_GRID).astype(np.int64)
        order = np.argsort(self._rank(rounds.ring_owner, rounds.ring_soft), kind="stable")
        _, found = np.unique(keys[order], axis=0, return_index=True)
        kept[:] = False
        kept[order[found]] = True
        return kept

    # --- units: what hides only itself --------------------------------------------------------------------------------

    @cached_property
    def unit_counts(self) -> Ints:
        """How many things (N,) each volume is to what it hides: every copy of a see-through one hides only itself."""
        named = {volume.id: volume for volume in self.volumes}
        counts = [len(copies_of(v, lambda: named)) if v.see_through and is_many(v) else 1 for v in self.volumes]
        return np.array(counts, dtype=np.intp)

    @cached_property
    def unit_owner(self) -> Ints:
        """The volumes (U,) that units belong to."""
        return np.repeat(np.arange(len(self.volumes)), self.unit_counts)

    def units_of(self, owner: Ints) -> Ints:
        """Return the units (K,) of parts by their volumes: those of one volume come copy by copy, alike many of each."""
        if len(self.unit_owner) == len(self.volumes) or len(owner) == 0:
            return owner
        order = np.argsort(owner, kind="stable")
        total = np.bincount(owner, minlength=len(self.volumes))
        place = np.empty(len(owner), dtype=np.intp)
        place[order] = np.arange(len(owner)) - np.repeat(np.cumsum(total) - total, total)
        first = np.cumsum(self.unit_counts) - self.unit_counts
        units: Ints = first[owner] + place * self.unit_counts[owner] // np.maximum(total[owner], 1)
        return units

    @cached_property
    def body_units(self) -> Ints:
        """The units (B,) that pieces belong to."""
        return self._unit_of(self.body_owner, self.body_copy)

    @cached_property
    def face_units(self) -> Ints:
        """The units (F,) that faces belong to."""
        return self._unit_of(self.face_owner, self.face_copy)

    def _unit_of(self, owner: Ints, copy: Ints) -> Ints:
        first = np.cumsum(self.unit_counts) - self.unit_counts
        units: Ints = first[owner] + np.minimum(copy, self.unit_counts[owner] - 1)
        return units

    @cached_property
    def unit_rounds(self) -> RoundParts:
        """The round parts that are drawn, by units."""
        rounds = self.drawn_rounds
        if len(self.unit_owner) == len(self.volumes):
            return rounds
        return rounds.owned(self.units_of)

    @cached_property
    def edge_curves(self) -> Curves:
        """The edges as what may be hidden."""
        return Curves.lines(self.vertices[self.edges], self.units_of(self.edge_owner), self.edge_is_mark)

    @cached_property
    def edge_light(self) -> Bools:
        """Edges (E,) drawn lightly: construction, and those of see-through volumes but for what is laid on them."""
        light: Bools = (self.see_through[self.edge_owner] & ~self.edge_is_mark) | self.edge_soft
        return light

    @cached_property
    def first_vertex(self) -> Ints:
        """Row (N,) of each volume's first vertex."""
        return np.searchsorted(self.vertex_owner, np.arange(len(self.volumes)))

    @cached_property
    def first_edge(self) -> Ints:
        """Row (N,) where each volume's edges begin."""
        return np.searchsorted(self.edge_owner, np.arange(len(self.volumes)))

    @property
    def edge_counts(self) -> Ints:
        """Number (N,) of each volume's edges."""
        return np.bincount(self.edge_owner, minlength=len(self.volumes))

    @cached_property
    def corner_rows(self) -> Ints:
        """Rows (N, 8) of each volume's bounding corners."""
        return self.first_vertex[:, None] + np.arange(CORNERS)

    @cached_property
    def outer_vertices(self) -> Bools:
        """Vertices (V,) that show how far a volume reaches: those an edge ends in, and a round's bounding corners."""
        outer = self.turned[self.vertex_owner].copy()
        outer[self.edges.reshape(-1)] = True
        return outer

    def corners_of(self, owner: int) -> Floats:
        """Return the corners (8, 3) of one volume's bounding box, in the box's order."""
        corners: Floats = self.vertices[self.corner_rows[owner]]
        return corners

    def edges_of(self, owner: int) -> slice:
        """Return the rows of ``edges`` that belong to one volume."""
        lo, hi = np.searchsorted(self.edge_owner, [owner, owner + 1])
        return slice(int(lo), int(hi))
