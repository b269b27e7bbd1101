"""Parts put together by a mesh boolean library: it says who borders on whom, the surfaces give the true places afterwards.

Three rules, each measured (a boolean is right in the last digit or leaves rubbish): everything is done in the body's own axes, with planes
square to an axis on a fine grid; the parts of a slanted face are united in that face's own frame first; all arcs on one surface are
parted at one set of angles, gathered before any part is made of triangles.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from importlib.util import find_spec
from math import pi
from typing import TYPE_CHECKING, Literal

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.shell.parts import Part, on_grain, round_frame, turns
from isometron.geometry.shell.surfaces import Surfaces, cross
from isometron.wording import tr

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = ["Joined", "NoShellError", "Put", "Table", "missing_library", "put_together", "united"]

_ALIKE = 2e-6
_LINE = np.sqrt(np.arange(2.0, 18.0))
_SLOT = 1 << 20
"""Face ids of a part are its place among the parts times this, and the row of its surface."""
_ROUNDS = 4
_SAME_ANGLE = 1e-9


class NoShellError(IsometronError, ValueError):
    """Parts that make no closed surface; the message says which, and the remedy."""


@dataclass(frozen=True)
class Put:
    """What is done with parts: the first one, with each of the others added, taken away, or kept in common.

    frame : (rotation (3, 3), place (3,)) of own axes in which the parts are made and put together before they are turned; None for the body's.
    """

    how: Literal["add", "take", "common"]
    of: Sequence[Part | Put]
    frame: tuple[Floats, Floats] | None = None

    def leaves(self) -> Iterator[Part]:
        """Yield the parts in the order in which they are numbered."""
        for each in self.of:
            yield from each.leaves() if isinstance(each, Put) else (each,)


@dataclass(frozen=True)
class Table:
    """The surfaces of all parts. surfaces : in the body's axes; base : (P,) where each part's begin; same : (S,) the first one that is the
    same in space; names : (S,); seams : by the pair of surfaces that touch, what their seam runs on."""

    surfaces: Surfaces
    base: Ints
    same: Ints
    names: tuple[str, ...]
    seams: dict[tuple[int, int], int]


@dataclass(frozen=True)
class Joined:
    """Triangles of a body: places (V, 3), rows (T, 3), surface (T,) rows of the table, before equal ones are taken for one; outward : (T,) 1.0 where f
    grows outward."""

    table: Table
    places: Floats
    rows: Ints
    surface: Ints
    outward: Floats


def missing_library() -> str:
    """Return why no shell can be made where the library is not there; nothing where it is. It is not loaded for that."""
    if find_spec("manifold3d") is not None:
        return ""
    return tr(
        "The library that puts bodies together (manifold3d) is not there: openings, walls and rounded edges are not drawn, sections and shared space cannot be told. Set the program up again with ./run demo."
    )


def united(*parts: Part | Put) -> Put:
    """Return parts added to each other."""
    return Put("add", parts)


def put_together(body: Put, chord: float, finer: dict[int, float] | None = None) -> Joined:
    """Carry out what is done with parts; chords lie within ``chord`` mm of rounds.

    finer : of some surfaces (rows of the table) the chord that they need. Raises `NoShellError`.
    """
    try:
        import manifold3d
    except ImportError as error:
        raise NoShellError(missing_library()) from error
    leaves = list(body.leaves())
    table = _table(body, leaves)
    parted = _parted(leaves, table, chord, finer or {})
    numbers = iter(range(len(leaves)))
    try:
        solid = _carried_out(body, leaves, table, parted, numbers)
    except (ValueError, RuntimeError) as error:
        if isinstance(error, NoShellError):
            raise
        raise NoShellError(tr("The body closes nowhere: {why}.", why=str(error))) from error
    if solid.status() != manifold3d.Error.NoError:
        raise NoShellError(tr("The body closes nowhere: an outline crosses itself. Move its corners apart."))
    return _read(solid, table)


def _frames(body: Put, frame: tuple[Floats, Floats] | None) -> Iterator[tuple[Floats, Floats] | None]:
    """Yield the frame of each leaf."""
    own = frame if body.frame is None else body.frame
    for each in body.of:
        if isinstance(each, Put):
            yield from _frames(each, own)
        else:
            yield own


def _table(body: Put, leaves: Sequence[Part]) -> Table:
    frames = list(_frames(body, None))
    own = [
        part.surfaces if frame is None else part.surfaces.placed(*frame)
        for part, frame in zip(leaves, frames, strict=True)
    ]
    surfaces = Surfaces.joined(own)
    base = np.concatenate([[0], np.cumsum([len(part) for part in own])]).astype(np.intp)
    same = _merged(surfaces.keys())
    names = tuple(name for part in leaves for name in part.names)
    seams: dict[tuple[int, int], int] = {}
    for part, start in zip(leaves, base.tolist(), strict=False):
        for a, b, c in part.seams:
            one, two = sorted((int(same[start + a]), int(same[start + b])))
            seams[one, two] = int(same[start + c])
    return Table(surfaces, base, same, names, seams)


def _merged(keys: Floats) -> Ints:
    """Return for each of some keys (S, 16) the first that is alike: neighbours are compared, for what is rounded can part two that are the same."""
    first = np.arange(len(keys), dtype=np.intp)
    # Alike keys lie near each other along any line: those that do are compared with one another.
    along = keys @ _LINE
    order = np.argsort(along, kind="stable")
    near = np.abs(np.diff(along[order])) <= _ALIKE * _LINE.sum()
    for run in np.split(order, np.flatnonzero(~near) + 1):
        run = np.sort(run)
        for k, row in enumerate(run[1:].tolist(), start=1):
            same = np.flatnonzero(np.abs(keys[run[:k]] - keys[row]).max(axis=1) <= _ALIKE)
            if len(same):
                first[row] = first[run[same[0]]]
    return first


def _parted(leaves: Sequence[Part], table: Table, chord: float, finer: dict[int, float]) -> dict[int, int]:
    """Return into how many chords a turn is parted on each surface: those of one part that goes all round are parted alike."""
    count: dict[int, int] = {}
    groups = []
    for part, start in zip(leaves, table.base.tolist(), strict=False):
        rows = [int(table.same[start + each.row]) for each in part.rounds]
        if part.rounds and all(each.whole for each in part.rounds):
            groups.append(rows)
        for row, each in zip(rows, part.rounds, strict=True):
            count[row] = max(count.get(row, 0), turns(each.radius, min(chord, finer.get(row, chord))))
    for _ in range(_ROUNDS):
        for rows in groups:
            most = max(count[row] for row in rows)
            count.update(dict.fromkeys(rows, most))
    return count


class _Parting:
    """The angles of one part: multiples of one step, and the ends of all arcs on the same surface."""

    def __init__(self, part: Part, start: int, table: Table, count: dict[int, int], ends: dict[int, list[Floats]],
                 frame: tuple[Floats, Floats] | None) -> None:  # fmt: skip
        self._part, self._start, self._table = part, start, table
        self._count, self._ends, self._frame = count, ends, frame

    def __call__(self, row: int) -> Floats:
        part, table, start = self._part, self._table, self._start
        whole = bool(part.rounds) and all(each.whole for each in part.rounds)
        rows = [each.row for each in part.rounds] if whole else [row]
        own = int(table.same[start + row])
        place, first, second = round_frame(table.surfaces, own)
        found = [np.arange(self._count[own]) * (2.0 * pi / self._count[own])]
        for each in rows:
            for ends in self._ends.get(int(table.same[start + each]), ()):
                found.append(_angle(ends - place, first, second) % (2.0 * pi))
        angles = np.sort(np.concatenate(found))
        angles = angles[np.diff(angles, prepend=angles[-1] - 2.0 * pi) >= _SAME_ANGLE]
        return self._in_own(row, angles, first, second)

    def _in_own(self, row: int, angles: Floats, first: Floats, second: Floats) -> Floats:
        """Return angles told in the body's axes as the part tells them, ascending."""
        if self._frame is not None:
            first, second = first @ self._frame[0], second @ self._frame[0]
        _, x, y = round_frame(self._part.surfaces, row)
        begin, quarter = (float(_angle(way[None], x, y)[0]) for way in (first, second))
        sense = 1.0 if (quarter - begin) % (2.0 * pi) < pi else -1.0
        found: Floats = np.sort((begin + sense * angles) % (2.0 * pi))
        return found


def _angle(off: Floats, first: Floats, second: Floats) -> Floats:
    found: Floats = np.arctan2(off @ second / (second @ second), off @ first / (first @ first))
    return found


def _carried_out(
    body: Put, leaves: Sequence[Part], table: Table, count: dict[int, int], numbers: Iterator[int]
) -> Manifold:
    frames = list(_frames(body, None))
    ends: dict[int, list[Floats]] = {}
    for number, (part, start) in enumerate(zip(leaves, table.base.tolist(), strict=False)):
        for each in part.rounds:
            if len(each.ends):
                frame = frames[number]
                places = each.ends if frame is None else each.ends @ frame[0].T + frame[1]
                ends.setdefault(int(table.same[start + each.row]), []).append(places)

    def solid_of(put: Put, within: tuple[Floats, Floats] | None) -> Manifold:
        own = within if put.frame is None else put.frame
        made = [
            solid_of(each, own) if isinstance(each, Put)
            else _solid(each, number := next(numbers), _Parting(each, int(table.base[number]), table, count, ends, frames[number]))
            for each in put.of
        ]  # fmt: skip
        found = _combined(put.how, made)
        if put.frame is not None and within is None:
            found = found.transform(np.column_stack([put.frame[0], put.frame[1]]))
        return found

    return solid_of(body, None)


def _combined(how: str, made: Sequence[Manifold]) -> Manifold:
    import manifold3d

    if len(made) == 1:
        return made[0]
    if how == "common":
        found = made[0]
        for each in made[1:]:
            found = found ^ each
        return found
    if how == "add":
        return manifold3d.Manifold.batch_boolean(list(made), manifold3d.OpType.Add)
    return made[0] - manifold3d.Manifold.batch_boolean(list(made[1:]), manifold3d.OpType.Add)


def _solid(part: Part, number: int, angles: _Parting) -> Manifold:
    import manifold3d

    mesh = part.meshed(angles)
    places = on_grain(mesh, part.surfaces)
    ids = (mesh.patch + number * _SLOT).astype(np.uint64)
    solid = manifold3d.Manifold(
        manifold3d.Mesh64(np.ascontiguousarray(places), np.ascontiguousarray(mesh.rows, dtype=np.uint64), face_id=ids)
    )
    if solid.status() != manifold3d.Error.NoError or solid.is_empty():
        raise NoShellError(
            tr(
                "A part of the body is no closed solid ({why}): its outline crosses itself, or it has no thickness.",
                why=solid.status(),
            )
        )
    return solid


def _read(solid: Manifold, table: Table) -> Joined:
    mesh = solid.to_mesh64()
    places = np.array(mesh.vert_properties[:, :3], dtype=np.float64)
    rows = np.asarray(mesh.tri_verts).astype(np.intp)
    ids = np.asarray(mesh.face_id).astype(np.intp)
    surface = table.base[ids // _SLOT] + ids % _SLOT
    return Joined(table, places, rows, surface, _outward(table.surfaces, places, rows, surface))


def _outward(surfaces: Surfaces, places: Floats, rows: Ints, surface: Ints) -> Floats:
    """Return 1.0 of each triangle (T,) whose surface's f grows outward there, else -1.0."""
    a, b, c = (places[rows[:, k]] for k in range(3))
    _, slope = surfaces.at(surface, (a + b + c) / 3.0)
    flux = np.einsum("nk,nk->n", cross(b - a, c - a), slope)
    found: Floats = np.where(flux < 0.0, -1.0, 1.0)
    return found
