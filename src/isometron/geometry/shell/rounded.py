"""A shell with rounded edges, as a part: its patches with what the rounds leave of them, the rounds, and the balls in corners.

It is made of triangles directly and not by booleans: a cutter that only touches what it cuts leaves walls without thickness.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import ceil, pi

import numpy as np

from isometron.geometry.faces.rolled_edges import EdgeError, RolledEdge, RolledEdges, Rounding
from isometron.geometry.frames import Floats
from isometron.geometry.shell.parts import Angles, Meshed, Round, Seamed, round_frame, turns
from isometron.geometry.shell.rims import Rims, normals_at, rims_of
from isometron.geometry.shell.rounded_mesh import RoundedMesh
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import (
    BOWED,
    LINE,
    PLANE,
    Surfaces,
    cross,
    leaning_row,
    length,
    plane_row,
    turned_row,
)

__all__ = ["RoundedPart", "with_rounded_edges"]

_ALIKE = 1e-7
_WIDEST = 0.8
"""Radians: angles that are one, and the most between two."""
Key = tuple[int, int]


def with_rounded_edges(
    shell: Shell, wishes: Sequence[Rounding], chord: float
) -> tuple[RoundedPart | None, dict[int, str]]:
    """Return a shell with edges rounded, rows of ``wishes`` being those of its patches, and why some are not, by their numbers; None where none is."""
    rims = rims_of(shell)
    mesh = rims.mesh(shell)
    bent = {
        (face, corner): normals_at(shell, face, shell.places[[corner]])[0]
        for face in np.flatnonzero(shell.surfaces.kind[shell.patch_surface] != PLANE).tolist()
        for loop in mesh.loops[face]
        for corner in loop
    }
    refused: dict[int, str] = {}
    while True:
        active = {number: wish for number, wish in enumerate(wishes) if number not in refused}
        if not active:
            return None, refused
        try:
            part = RoundedPart(shell, rims, RolledEdges(mesh, active, bent), chord)
            part.meshed(part.evenly)
        except EdgeError as error:
            refused[error.number] = str(error)
            continue
        return part, refused


@dataclass(frozen=True)
class _Made:
    """Surfaces and names of a part, its seams, and the rows of the rounds by edge and of the balls by corner."""

    surfaces: Surfaces
    names: tuple[str, ...]
    seams: tuple[tuple[int, int, int], ...]
    rounds: dict[Key, int]
    balls: dict[int, int]


class RoundedPart(Seamed):
    """shell : the body whose edges are rounded; rims : round its patches; plan : which edges, and where they end; chord : mm."""

    def __init__(self, shell: Shell, rims: Rims, plan: RolledEdges, chord: float) -> None:
        self.shell, self.rims, self.plan, self.chord = shell, rims, plan, chord

    @property
    def own_names(self) -> tuple[str, ...]:
        """Of its patches, rounds and balls."""
        return self._table.names

    @cached_property
    def made(self) -> tuple[Surfaces, tuple[tuple[int, int, int], ...]]:
        """Its surfaces and seams."""
        return self._table.surfaces, self._table.seams

    @cached_property
    def rounds(self) -> tuple[Round, ...]:
        """Its own rounds, and those that the body has anyway: these stay parted as they are."""
        shell, found = self.shell, []
        for patch in np.flatnonzero(shell.surfaces.cylinders[shell.patch_surface]).tolist():
            places = shell.places[np.unique(shell.rows[shell.patch == patch])]
            _, first, second = round_frame(shell.surfaces, int(shell.patch_surface[patch]))
            found.append(Round(patch, places, float(max(length(first), length(second)))))
        for key, row in self._table.rounds.items():
            edge = self.plan.edges[key]
            found.append(Round(row, _corners(edge), max(edge.ra, edge.rb)))
        return tuple(found)

    def evenly(self, row: int) -> Floats:
        """Return angles of one of its rounds as they are parted where nothing else asks."""
        edge = next(self.plan.edges[key] for key, own in self._table.rounds.items() if own == row)
        count = turns(max(edge.ra, edge.rb), self.chord)
        found: Floats = np.arange(count, dtype=np.float64) * (2.0 * pi / count)
        return found

    @cached_property
    def _table(self) -> _Made:
        shell, plan = self.shell, self.plan
        rows = [(int(shell.surfaces.kind[s]), shell.surfaces.form[s]) for s in shell.patch_surface.tolist()]
        names = list(shell.patch_name)
        rounds: dict[Key, int] = {}
        balls: dict[int, int] = {}
        seams: list[tuple[int, int, int]] = []

        def added(row: tuple[int, Floats], name: str = "") -> int:
            rows.append(row)
            names.append(name)
            return len(rows) - 1

        for one, two, third in _own_seams(shell):
            seams.append((one, two, added((int(shell.surfaces.kind[third]), shell.surfaces.form[third]))))
        for key, edge in plan.edges.items():
            rounds[key] = added(_round_row(edge), _name(names, (edge.f, edge.g)))
            for face, turn in ((edge.f, 0.0), (edge.g, edge.angle)):
                low, high = (end[0] for end in edge.lines(np.array([turn])))
                across = cross(plan.normal(face), high - low)
                seams.append((rounds[key], face, added(plane_row(low, across / length(across)))))
        for corner, edges in plan.at.items():
            own = [rounds[edge.a, edge.b] for edge in edges]
            if len(edges) == 2:
                place, way = edges[0].ends[corner]
                seams.append((own[0], own[1], added(plane_row(place, way / length(way)))))
            elif len(edges) == 3:
                name = _name(names, plan.mesh.faces_at[corner])
                balls[corner] = added(_ball_row(plan.middles[corner], edges[0].radius_at(corner)), name)
                for edge, row in zip(edges, own, strict=True):
                    place, way = edge.ends[corner]
                    seams.append((row, balls[corner], added(plane_row(place, way / length(way)))))
        return _Made(Surfaces.of(rows), tuple(names), tuple(seams), rounds, balls)

    # --- triangles --------------------------------------------------------------------------------------------------

    def meshed(self, angles: Angles) -> Meshed:
        """Return its triangles; raises `EdgeError` where a round finds no room."""
        own = self._table
        return RoundedMesh(self.shell, self.rims, self.plan, own.rounds, own.balls, self._turns(angles)).done()

    def _turns(self, angles: Angles) -> dict[Key, Floats]:
        """Return the angles of each edge from its first face's normal; those of edges that meet in a line are alike."""
        found = {key: self._own_turns(edge, angles) for key, edge in self.plan.edges.items()}
        pairs = [edges for edges in self.plan.at.values() if len(edges) == 2]
        for _ in range(len(pairs) + 1):
            before = sum(map(len, found.values()))
            for one, two in pairs:
                flipped = (one.f in (two.f, two.g)) is not (two.f in (one.f, one.g))
                there = found[two.a, two.b]
                both = np.concatenate([found[one.a, one.b], two.angle - there if flipped else there])
                both = _apart(np.clip(both, 0.0, one.angle))
                found[one.a, one.b] = both
                found[two.a, two.b] = _apart(two.angle - both) if flipped else both
            if sum(map(len, found.values())) == before:
                break
        return found

    def _own_turns(self, edge: RolledEdge, angles: Angles) -> Floats:
        row = self._table.rounds[edge.a, edge.b]
        _, x, y = round_frame(self._table.surfaces, row)
        begin, quarter = (float(np.arctan2(way @ y, way @ x)) for way in (edge.normals[0], edge.across))
        sense = 1.0 if (quarter - begin) % (2.0 * pi) < pi else -1.0
        past = (sense * (angles(row) - begin)) % (2.0 * pi)
        even = np.linspace(0.0, edge.angle, ceil(edge.angle / _WIDEST) + 1)
        return _apart(np.concatenate([even, past[(past > _ALIKE) & (past < edge.angle - _ALIKE)]]))


def _apart(turn: Floats) -> Floats:
    """Return angles (K,) ascending, those that are alike once; the last stays."""
    turn = np.sort(turn)
    found: Floats = turn[np.append(np.diff(turn) > _ALIKE, True)]
    return found


def _name(names: Sequence[str], faces: Sequence[int]) -> str:
    return "+".join(sorted(names[face] for face in faces))


def _own_seams(shell: Shell) -> set[tuple[int, int, int]]:
    """Return where patches of a shell only touch, and the surface that the seam runs on."""
    found = set()
    for sides, on in zip(shell.curve_sides.tolist(), shell.curve_on.tolist(), strict=True):
        own = shell.patch_surface[sides].tolist()
        third = [row for row in on if row not in own]
        if third:
            found.add((min(sides), max(sides), third[0]))
    return found


def _corners(edge: RolledEdge) -> Floats:
    """Return the ends (K, 3) of the arcs of an edge; those of one whose radius grows lie on no common angles."""
    found: Floats = np.concatenate(edge.lines(np.array([0.0, edge.angle])))
    return found[:0] if edge.grows else found


def _round_row(edge: RolledEdge) -> tuple[int, Floats]:
    way = edge.along / length(edge.along)
    one, two = edge.normals[0], edge.across
    if not edge.grows:
        middle = edge.start + edge.ra * edge.back
        return turned_row(LINE, middle, way, edge.ra * one, edge.ra * two, (0.0, 1.0, 1.0))
    grows = (edge.rb - edge.ra) / float(length(edge.along))
    return leaning_row(edge.start - edge.ra / grows * way, way, (one, two), grows * edge.back, grows)


def _ball_row(middle: Floats, radius: float) -> tuple[int, Floats]:
    x, y, z = radius * np.eye(3)
    return turned_row(BOWED, middle, z, x, y, (0.0, 0.0, 1.0, 1.0))
