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
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import CORNERS
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["Outlines", "Scene"]


@dataclass(frozen=True)
class Outlines:
    """Vertices and edges of volumes, and whose they are.

    vertices : (V, 3) mm; vertex_owner : (V,); edges : (E, 2) rows of ``vertices``; edge_owner, edge_axis, edge_soft,
    edge_laid : (E,), soft ones are drawn as construction, laid ones are marks on a volume.
    """

    vertices: Floats
    vertex_owner: Ints
    edges: Ints
    edge_owner: Ints
    edge_axis: Ints
    edge_soft: Bools
    edge_laid: Bools

    def of_edges(self, rows: Ints | Bools) -> Outlines:
        """Return the given edges, with all vertices."""
        return Outlines(
            self.vertices, self.vertex_owner, self.edges[rows], self.edge_owner[rows], self.edge_axis[rows],
            self.edge_soft[rows], self.edge_laid[rows],
        )  # fmt: skip

    def in_order(self) -> Outlines:
        """Return the same with owners ascending, each one's own vertices and edges in the order they have."""
        by_owner = np.argsort(self.vertex_owner, kind="stable")
        place = np.empty(len(by_owner), dtype=np.intp)
        place[by_owner] = np.arange(len(by_owner))
        sorted_ = self.of_edges(np.argsort(self.edge_owner, kind="stable"))
        return Outlines(
            self.vertices[by_owner], self.vertex_owner[by_owner], place[sorted_.edges], sorted_.edge_owner,
            sorted_.edge_axis, sorted_.edge_soft, sorted_.edge_laid,
        )  # fmt: skip

    def taken(self, place: Ints) -> Outlines:
        """Return what belongs to owners with a ``place`` (N,) that is not negative, as those of the owners there."""
        vertex = np.flatnonzero(place[self.vertex_owner] >= 0)
        own = self.of_edges(np.flatnonzero(place[self.edge_owner] >= 0))
        return Outlines(
            self.vertices[vertex], place[self.vertex_owner[vertex]], np.searchsorted(vertex, own.edges),
            place[own.edge_owner], own.edge_axis, own.edge_soft, own.edge_laid,
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
            *(np.concatenate([getattr(p, name) for p in parts]) for name in ("edge_axis", "edge_soft", "edge_laid")),
        )


def _shape(volume: Volume) -> Volume:
    """Return what a volume looks like, whatever it is called and whatever it follows."""
    return msgspec.structs.replace(
        volume, id="", name="", locked=False, hangs=False, joined=None, says=(), keep=None, group=""
    )


@dataclass(frozen=True)
class Scene(Outlines):
    """Flat arrays over all volumes; owners are positions in ``volumes``, ascending along every array but the rounds'.

    Of each volume the corners of its bounding box are the first vertices. rotations : (N, 3, 3); bodies : the convex
    pieces; body_owner : (B,); rounds : the round parts of volumes that are not put away; turns : (N,) whose turn comes
    first keeps what it shares with its likes; quiet : (N,) volumes whose marks nobody asks for: they only hide, and share.
    """

    volumes: tuple[Volume, ...]
    rotations: Floats
    bodies: ConvexBodies
    body_owner: Ints
    rounds: RoundParts
    turns: Ints
    quiet: Bools

    @staticmethod
    def of(
        volumes: tuple[Volume, ...],
        outlines: Outlines,
        rotations: Floats,
        bodies: ConvexBodies,
        body_owner: Ints,
        rounds: RoundParts,
    ) -> Scene:
        """Return a scene of parts in any order."""
        if len(volumes) > 1:
            turn = np.argsort(body_owner, kind="stable")
            outlines, bodies, body_owner = outlines.in_order(), bodies.select(turn), body_owner[turn]
        return Scene(
            **vars(outlines), volumes=volumes, rotations=rotations, bodies=bodies,
            body_owner=body_owner, rounds=rounds, turns=np.arange(len(volumes)), quiet=np.zeros(len(volumes), dtype=bool),
        )  # fmt: skip

    @staticmethod
    def put_together(scenes: Sequence[Scene], turns: Ints, quiet: Bools) -> Scene:
        """Return the volumes of some scenes, those of one after those of the other, with the turns of all and the quiet ones."""
        volumes = [scene.volumes for scene in scenes]
        bases = np.cumsum([0, *map(len, volumes)])
        return Scene(
            **vars(Outlines.joined(scenes, bases)), volumes=tuple(chain(*volumes)),
            rotations=np.concatenate([scene.rotations for scene in scenes]),
            bodies=stacked([scene.bodies for scene in scenes]),
            body_owner=np.concatenate([s.body_owner + base for s, base in zip(scenes, bases, strict=False)]),
            rounds=RoundParts.joined([scene.rounds for scene in scenes], bases), turns=turns, quiet=quiet,
        )  # fmt: skip

    def sorted(self, rows: Ints) -> Scene:
        """Return the same volumes in the order of ``rows`` (N,)."""
        place = np.argsort(rows)
        volumes = tuple(self.volumes[row] for row in rows)
        return Scene.of(volumes, self.taken(place), self.rotations[rows], self.bodies, place[self.body_owner],
                        self.rounds.taken(place))  # fmt: skip

    def select(self, rows: Ints) -> Scene:
        """Return the scene of the volumes ``rows``, ascending, alone."""
        place = np.full(len(self.volumes), -1, dtype=np.intp)
        place[rows] = np.arange(len(rows))
        body = np.flatnonzero(place[self.body_owner] >= 0)
        return Scene(
            **vars(self.taken(place)), volumes=tuple(self.volumes[row] for row in rows), rotations=self.rotations[rows],
            bodies=self.bodies.select(body), body_owner=place[self.body_owner[body]], rounds=self.rounds.taken(place), turns=self.turns[rows], quiet=self.quiet[rows],
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
    def spans(self) -> tuple[Ints, Floats, Floats]:
        """Spans (edge, t0, t1) so that no stretch of a line is ruled twice; solid volumes keep shared
        stretches, object lines keep what construction shares with them, and what is put away or quiet has none."""
        kind = (2 * self.see_through + 4 * self.put_away)[self.edge_owner] + self.edge_soft
        rank = kind * len(self.turns) + np.argsort(np.argsort(self.turns))[self.edge_owner]
        edge, start, end = owned_spans(self.vertices[self.edges[:, 0]], self.vertices[self.edges[:, 1]], rank)
        drawn = ~(self.put_away | self.quiet)[self.edge_owner[edge]]
        return edge[drawn], start[drawn], end[drawn]

    @cached_property
    def edge_curves(self) -> Curves:
        """The edges as what may be hidden."""
        return Curves.lines(self.vertices[self.edges], self.edge_owner, self.edge_laid)

    @cached_property
    def edge_light(self) -> Bools:
        """Edges (E,) drawn lightly: construction, and those of see-through volumes but for what is laid on them."""
        light: Bools = (self.see_through[self.edge_owner] & ~self.edge_laid) | self.edge_soft
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
