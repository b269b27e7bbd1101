"""All volumes of a document as flat arrays: independent of the eye, so built once while the eye moves."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.coincident import owned_spans
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.volumes.copies import copies_of, is_many
from isometron.volumes.keeping import Kept
from isometron.volumes.kinds import kind_of
from isometron.volumes.mark_parts import mark_edges, mark_rounds
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import CORNERS, Solids
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["Scene", "build_scene", "scene_of"]


@dataclass(frozen=True)
class Scene:
    """Flat arrays over all volumes; owners are positions in ``volumes``, ascending along every array.

    vertices : (V, 3) mm, of each volume the corners of its bounding box first; vertex_owner : (V,); edges : (E, 2) rows
    of ``vertices``; edge_owner, edge_axis, edge_soft, edge_laid : (E,), soft ones are drawn as construction, laid ones are marks on a volume; rotations : (N, 3, 3);
    bodies : the convex pieces; body_owner : (B,); see_through, put_away : (N,).
    """

    volumes: tuple[Volume, ...]
    vertices: Floats
    vertex_owner: Ints
    edges: Ints
    edge_owner: Ints
    edge_axis: Ints
    edge_soft: Bools
    edge_laid: Bools
    rotations: Floats
    bodies: ConvexBodies
    body_owner: Ints
    see_through: Bools
    put_away: Bools

    @cached_property
    def turned(self) -> Bools:
        """Volumes (N,) that are turned bodies: their faces are round, and their box hides nothing."""
        return np.array([isinstance(volume, Turned) for volume in self.volumes], dtype=bool)

    @cached_property
    def rounds(self) -> RoundParts:
        """The round parts of the volumes that are not put away."""
        named = _by_id(self.volumes)
        rows = [
            row
            for row, volume in enumerate(self.volumes)
            if not self.put_away[row] and (volume.marks or kind_of(type(volume)).rounds is not None)
        ]
        return RoundParts.joined([_rounds_alone(self.volumes[row], named) for row in rows], rows)

    @property
    def solid(self) -> Bools:
        """Volumes (N,) that hide what is behind them."""
        solid: Bools = ~self.see_through & ~self.put_away
        return solid

    @cached_property
    def spans(self) -> tuple[Ints, Floats, Floats]:
        """Spans (edge, t0, t1) so that no stretch of a line is ruled twice; solid volumes keep shared
        stretches, object lines keep what construction shares with them, and what is put away has none."""
        rank = (2 * self.see_through + 4 * self.put_away)[self.edge_owner] + self.edge_soft
        edge, start, end = owned_spans(self.vertices[self.edges[:, 0]], self.vertices[self.edges[:, 1]], rank)
        drawn = ~self.put_away[self.edge_owner[edge]]
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


_SCENES: Kept[Scene] = Kept(4)
_SOLIDS: Kept[Solids] = Kept(500)
_ROUNDS: Kept[RoundParts] = Kept(500)


def scene_of(volumes: tuple[Volume, ...]) -> Scene:
    """Return the scene of a document's volumes, built once for as long as the same tuple is asked about.

    While an eye is dragged the volumes stay the same object.
    """
    return _SCENES.of((volumes,), lambda: build_scene(volumes))


def build_scene(volumes: Sequence[Volume]) -> Scene:
    """Build the arrays of ``volumes``; no volume at all works.

    Volumes with a shape of their own are built once for as long as they stay as they are: while one of many is dragged
    the others are only put together.
    """
    volumes = tuple(volumes)
    named = _by_id(volumes)
    for kept in (_SOLIDS, _ROUNDS):
        kept.make_room(2 * len(volumes))
    alike: dict[tuple[type[Volume], Hashable], list[int]] = {}
    for row, volume in enumerate(volumes):
        alone = bool(volume.marks) or is_many(volume)
        topology = ("alone", row) if alone else kind_of(type(volume)).topology(volume)
        alike.setdefault((type(volume), topology), []).append(row)
    parts = []
    for (kind, _), rows in alike.items():
        solids = (
            _alone(volumes[rows[0]], named) if len(rows) == 1 else kind_of(kind).solids([volumes[r] for r in rows])
        )
        parts.append((np.array(rows, dtype=np.intp), solids))
    see_through = np.array([volume.see_through for volume in volumes], dtype=bool)
    put_away = np.array([volume.put_away for volume in volumes], dtype=bool)
    return _join(volumes, parts, see_through, put_away)


def _by_id(volumes: tuple[Volume, ...]) -> Callable[[], dict[str, Volume]]:
    return cache(lambda: {volume.id: volume for volume in volumes})


def _made_of(volume: Volume, named: Callable[[], dict[str, Volume]]) -> tuple[object, ...]:
    """Return all that a volume's parts depend on: itself, and the volume that it is mirrored about."""
    about = volume.mirror.about if volume.mirror is not None else ""
    return (volume, named().get(about) if about else None)


def _alone(volume: Volume, named: Callable[[], dict[str, Volume]]) -> Solids:
    """Return one volume with its copies and marks."""

    def make() -> Solids:
        kind = kind_of(type(volume))
        if not (volume.marks or is_many(volume)):
            return kind.solids([volume])
        return Solids.as_one([_with_marks(kind.solids([copy]), copy) for copy in copies_of(volume, named)])

    return _SOLIDS.of(_made_of(volume, named), make)


def _rounds_alone(volume: Volume, named: Callable[[], dict[str, Volume]]) -> RoundParts:
    """Return the round parts of one volume, its copies and marks, as those of the volume in row 0."""
    own = kind_of(type(volume)).rounds

    def make() -> RoundParts:
        parts = []
        for copy in copies_of(volume, named):
            if own is not None:
                parts.append(own(copy, 0))
            if copy.marks:
                parts.append(mark_rounds(copy, 0))
        return RoundParts.joined(parts)

    return _ROUNDS.of(_made_of(volume, named), make)


def _with_marks(solids: Solids, volume: Volume) -> Solids:
    """Add the straight marks of one volume to its edges."""
    if not volume.marks:
        return solids
    marks = mark_edges(volume)
    count = solids.vertices.shape[1]
    return Solids(
        vertices=np.concatenate([solids.vertices, marks.ends.reshape(1, -1, 3)], axis=1),
        edges=np.concatenate([solids.edges, count + np.arange(2 * len(marks.ends)).reshape(-1, 2)]),
        edge_axes=np.concatenate([solids.edge_axes, marks.axes]),
        soft=np.concatenate([solids.soft, marks.soft]),
        rotations=solids.rotations,
        bodies=solids.bodies,
        body_row=solids.body_row,
        laid=np.concatenate([np.zeros(len(solids.edges), dtype=bool), np.ones(len(marks.ends), dtype=bool)]),
    )


def _join(
    volumes: tuple[Volume, ...], parts: list[tuple[Ints, Solids]], see_through: Bools, put_away: Bools
) -> Scene:
    vertices, vertex_owner, edges, edge_owner, edge_axis, edge_soft, edge_laid = _outlines(parts)
    rotations = np.zeros((len(volumes), 3, 3))
    for rows, solids in parts:
        rotations[rows] = solids.rotations
    bodies = stacked([solids.bodies for _, solids in parts])
    body_owner = np.concatenate([np.zeros(0, dtype=np.intp), *(rows[solids.body_row] for rows, solids in parts)])
    # Sides drawn together to a line, as on a ridge, leave edges without length: they are none.
    long = np.abs(vertices[edges[:, 1]] - vertices[edges[:, 0]]).max(axis=1, initial=0.0) > 1e-9
    edges, edge_owner, edge_axis = edges[long], edge_owner[long], edge_axis[long]
    edge_soft, edge_laid = edge_soft[long], edge_laid[long]
    order = np.argsort(edge_owner, kind="stable")
    # Kinds come one after the other; the vertices too are put in the order of the document.
    by_owner = np.argsort(vertex_owner, kind="stable")
    place = np.empty(len(by_owner), dtype=np.intp)
    place[by_owner] = np.arange(len(by_owner))
    turn = np.argsort(body_owner, kind="stable")
    return Scene(
        volumes=volumes,
        vertices=vertices[by_owner],
        vertex_owner=vertex_owner[by_owner],
        edges=place[edges[order]],
        edge_owner=edge_owner[order],
        edge_axis=edge_axis[order],
        edge_soft=edge_soft[order],
        edge_laid=edge_laid[order],
        rotations=rotations,
        bodies=bodies.select(turn),
        body_owner=body_owner[turn],
        see_through=see_through,
        put_away=put_away,
    )


def _outlines(parts: list[tuple[Ints, Solids]]) -> tuple[Floats, Ints, Ints, Ints, Ints, Bools, Bools]:
    """Return vertices, their owners, edges as rows of them, and of each edge owner, axis, whether soft and laid."""
    nobody, never = np.zeros(0, dtype=np.intp), np.zeros(0, dtype=bool)
    made: tuple[list[Any], ...] = (
        [np.zeros((0, 3))],
        [np.zeros((0, 2), dtype=np.intp)],
        [nobody],
        [never],
        [never],
    )
    base, counts = 0, np.zeros((2, len(parts)), dtype=np.intp)
    for number, (_, solids) in enumerate(parts):
        n, v, _ = solids.vertices.shape
        counts[:, number] = v, len(solids.edges)
        own: list[Any] = [
            solids.vertices.reshape(-1, 3),
            solids.edges + base,
            solids.edge_axes,
            solids.soft,
            solids.marks,
        ]
        if n > 1:
            step = v * np.arange(n)
            own[1] = (step[:, None, None] + own[1]).reshape(-1, 2)
            own[2:] = [np.tile(part, n) for part in own[2:]]
        for part, values in zip(made, own, strict=True):
            part.append(values)
        base += n * v
    alike = [len(rows) for rows, _ in parts]
    everyone = np.concatenate([nobody, *(rows for rows, _ in parts)])
    vertex_owner, edge_owner = (np.repeat(everyone, np.repeat(count, alike)) for count in counts)
    vertices, edges, axes, soft, laid = map(np.concatenate, made)
    return vertices, vertex_owner, edges, edge_owner, axes, soft, laid
