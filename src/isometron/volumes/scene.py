"""All volumes of a document as flat arrays: independent of the eye, so built once while the eye moves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.coincident import owned_spans
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.volumes.kinds import solids_of
from isometron.volumes.solids import Solids
from isometron.volumes.turned import RoundParts, Turned, round_parts
from isometron.volumes.volume import Volume

__all__ = ["Scene", "build_scene", "scene_of"]


@dataclass(frozen=True)
class Scene:
    """Flat arrays over all volumes; owners are positions in ``volumes``, ascending along every array.

    vertices : (V, 3) mm; vertex_owner : (V,); edges : (E, 2) rows of ``vertices``; edge_owner, edge_axis :
    (E,); rotations : (N, 3, 3); bodies : the convex pieces; body_owner : (B,); see_through, put_away : (N,).
    """

    volumes: tuple[Volume, ...]
    vertices: Floats
    vertex_owner: Ints
    edges: Ints
    edge_owner: Ints
    edge_axis: Ints
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
        """The round parts of the turned bodies that are not put away."""
        rows = np.flatnonzero(self.turned & ~self.put_away)
        return round_parts([v for v in (self.volumes[row] for row in rows) if isinstance(v, Turned)], rows)

    @property
    def solid(self) -> Bools:
        """Volumes (N,) that hide what is behind them."""
        solid: Bools = ~self.see_through & ~self.put_away
        return solid

    @cached_property
    def spans(self) -> tuple[Ints, Floats, Floats]:
        """Spans (edge, t0, t1) so that no stretch of a line is ruled twice; solid volumes keep shared
        stretches, and what is put away has none."""
        rank = (self.see_through + 2 * self.put_away)[self.edge_owner]
        edge, start, end = owned_spans(self.vertices[self.edges[:, 0]], self.vertices[self.edges[:, 1]], rank)
        drawn = ~self.put_away[self.edge_owner[edge]]
        return edge[drawn], start[drawn], end[drawn]

    @cached_property
    def first_vertex(self) -> Ints:
        """Row (N,) of each volume's first vertex."""
        return np.searchsorted(self.vertex_owner, np.arange(len(self.volumes)))

    @cached_property
    def local_ends(self) -> Ints:
        """The edges' vertices (E, 2), numbered within their volume."""
        return self.edges - self.first_vertex[self.edge_owner][:, None]

    @cached_property
    def padded_vertices(self) -> Ints:
        """Rows (N, V) of each volume's vertices; volumes with fewer than the most repeat their first."""
        count = np.bincount(self.vertex_owner, minlength=len(self.volumes))
        number = np.arange(int(count.max(initial=0)))
        return self.first_vertex[:, None] + np.where(number < count[:, None], number, 0)

    def vertices_of(self, owner: int) -> Floats:
        """Return the corners (V, 3) of one volume, in its kind's own order."""
        lo, hi = np.searchsorted(self.vertex_owner, [owner, owner + 1])
        return self.vertices[lo:hi]

    def edges_of(self, owner: int) -> slice:
        """Return the rows of ``edges`` that belong to one volume."""
        lo, hi = np.searchsorted(self.edge_owner, [owner, owner + 1])
        return slice(int(lo), int(hi))


_RECENT: dict[int, Scene] = {}
_MOST_RECENT = 4


def scene_of(volumes: tuple[Volume, ...]) -> Scene:
    """Return the scene of a document's volumes, built once for as long as the same tuple is asked about.

    While an eye is dragged the volumes stay the same object; a scene holds on to its tuple, so an identity that
    is still in the cache cannot have passed to another tuple.
    """
    found = _RECENT.get(id(volumes))
    if found is None or found.volumes is not volumes:
        found = build_scene(volumes)
        _RECENT[id(volumes)] = found
        while len(_RECENT) > _MOST_RECENT:
            del _RECENT[next(iter(_RECENT))]
    return found


def build_scene(volumes: Sequence[Volume]) -> Scene:
    """Build the arrays of ``volumes``; no volume at all works."""
    volumes = tuple(volumes)
    kinds: dict[type[Volume], list[int]] = {}
    for row, volume in enumerate(volumes):
        kinds.setdefault(type(volume), []).append(row)
    parts = [
        (np.array(rows, dtype=np.intp), solids_of(kind)([volumes[row] for row in rows]))
        for kind, rows in kinds.items()
    ]
    see_through = np.array([volume.see_through for volume in volumes], dtype=bool)
    put_away = np.array([volume.put_away for volume in volumes], dtype=bool)
    return _join(volumes, parts, see_through, put_away)


def _join(
    volumes: tuple[Volume, ...], parts: list[tuple[Ints, Solids]], see_through: Bools, put_away: Bools
) -> Scene:
    vertices, vertex_owner, edges, edge_owner, edge_axis = _outlines(parts)
    rotations = np.zeros((len(volumes), 3, 3))
    for rows, solids in parts:
        rotations[rows] = solids.rotations
    bodies, body_owner = _bodies(parts)
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
        rotations=rotations,
        bodies=bodies.select(turn),
        body_owner=body_owner[turn],
        see_through=see_through,
        put_away=put_away,
    )


def _outlines(parts: list[tuple[Ints, Solids]]) -> tuple[Floats, Ints, Ints, Ints, Ints]:
    vertices: list[Floats] = [np.zeros((0, 3))]
    owners: list[Ints] = [np.zeros(0, dtype=np.intp)]
    edges: list[Ints] = [np.zeros((0, 2), dtype=np.intp)]
    edge_owners: list[Ints] = [np.zeros(0, dtype=np.intp)]
    axes: list[Ints] = [np.zeros(0, dtype=np.intp)]
    base = 0
    for rows, solids in parts:
        n, v, _ = solids.vertices.shape
        vertices.append(solids.vertices.reshape(-1, 3))
        owners.append(np.repeat(rows, v))
        first = base + v * np.arange(n)
        edges.append((first[:, None, None] + solids.edges[None]).reshape(-1, 2))
        edge_owners.append(np.repeat(rows, len(solids.edges)))
        axes.append(np.tile(solids.edge_axes, n))
        base += n * v
    return tuple(np.concatenate(part) for part in (vertices, owners, edges, edge_owners, axes))  # type: ignore[return-value]


def _bodies(parts: list[tuple[Ints, Solids]]) -> tuple[ConvexBodies, Ints]:
    """Stack the convex pieces of all kinds, padding the short ones (see `ConvexBodies`)."""
    v = max((s.vertices.shape[1] for _, s in parts), default=1)
    f = max((s.normals.shape[1] for _, s in parts), default=1)
    r = max((len(s.ridges) for _, s in parts), default=1)
    count = sum(len(rows) for rows, _ in parts)
    bodies = ConvexBodies(
        vertices=np.zeros((count, v, 3)),
        normals=np.zeros((count, f, 3)),
        offsets=np.ones((count, f)),
        ridges=np.zeros((count, r, 2), dtype=np.intp),
        ridge_faces=np.zeros((count, r, 2), dtype=np.intp),
    )
    owners = np.zeros(count, dtype=np.intp)
    base = 0
    for rows, s in parts:
        at = slice(base, base + len(rows))
        owners[at] = rows
        own = s.vertices.shape[1]
        bodies.vertices[at, :own] = s.vertices
        bodies.vertices[at, own:] = s.vertices[:, :1]
        bodies.normals[at, : s.normals.shape[1]] = s.normals
        bodies.offsets[at, : s.offsets.shape[1]] = s.offsets
        bodies.ridges[at, : len(s.ridges)] = s.ridges
        bodies.ridge_faces[at, : len(s.ridges)] = s.ridge_faces
        base += len(rows)
    return bodies, owners
