"""Building the scene of a document's volumes, or of a few of them."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from functools import lru_cache
from math import cos, radians, sin
from typing import Any

import msgspec
import numpy as np

from isometron.geometry.bodies import stacked
from isometron.geometry.frames import Floats, Ints, after_each_other
from isometron.volumes.copies import copies_of, is_many
from isometron.volumes.keeping import Kept
from isometron.volumes.kinds import kind_of
from isometron.volumes.mark_parts import mark_edges, mark_rounds
from isometron.volumes.rounds import RoundParts
from isometron.volumes.scene import Outlines, Scene
from isometron.volumes.solids import Solids
from isometron.volumes.volume import Volume

__all__ = ["build_scene", "scene_of"]

_SCENES: Kept[Scene] = Kept(4)
_SOLIDS: Kept[Solids] = Kept(500)
_ROUNDS: Kept[RoundParts] = Kept(500)


def scene_of(volumes: tuple[Volume, ...]) -> Scene:
    """Return the scene of a document's volumes, built once for as long as the same tuple is asked about.

    While an eye is dragged the volumes stay the same object.
    """
    return _SCENES.of((volumes,), lambda: build_scene(volumes))


def build_scene(volumes: Sequence[Volume], among: Sequence[Volume] | None = None) -> Scene:
    """Build the arrays of ``volumes``; no volume at all works. The volumes they are mirrored about may be others of ``among``.

    Volumes with a shape of their own are built once for as long as they stay as they are.
    """
    volumes = tuple(volumes)
    named = _by_id(volumes if among is None else among)
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
    rotations = np.zeros((len(volumes), 3, 3))
    for own, solids in parts:
        rotations[own] = solids.rotations
    return Scene.of(
        volumes,
        _outlines(parts),
        rotations,
        stacked([solids.bodies for _, solids in parts]),
        np.concatenate([np.zeros(0, dtype=np.intp), *(own[solids.body_row] for own, solids in parts)]),
        _rounds(volumes, named),
    )


def _rounds(volumes: tuple[Volume, ...], named: _Named) -> RoundParts:
    rows = [
        row
        for row, volume in enumerate(volumes)
        if not volume.put_away and (volume.marks or kind_of(type(volume)).rounds is not None)
    ]
    return RoundParts.joined([_rounds_alone(volumes[row], named) for row in rows], rows)


_Named = Callable[[], dict[str, Volume]]


def _by_id(volumes: Sequence[Volume]) -> _Named:
    return lambda: {volume.id: volume for volume in volumes}


def _made_of(volume: Volume, named: _Named) -> tuple[object, ...]:
    """Return all that a volume's parts depend on: itself, and the volume that it is mirrored about."""
    about = volume.mirror.about if volume.mirror is not None else ""
    return (volume, named().get(about) if about else None)


def _alone(volume: Volume, named: _Named) -> Solids:
    """Return one volume with its copies and marks."""

    def make() -> Solids:
        if volume.mirror is not None:
            return _solids_of(volume, named)
        return _solids_at_rest(_at_rest(volume)).placed(*_stand(volume))

    return _SOLIDS.of(_made_of(volume, named), make)


def _rounds_alone(volume: Volume, named: _Named) -> RoundParts:
    """Return the round parts of one volume, its copies and marks, as those of the volume in row 0."""

    def make() -> RoundParts:
        if volume.mirror is not None:
            return _rounds_of(volume, named)
        return _rounds_at_rest(_at_rest(volume)).placed(*_stand(volume))

    return _ROUNDS.of(_made_of(volume, named), make)


def _at_rest(volume: Volume) -> Volume:
    """Return what a volume has the shape of: one of no name at the origin that is not turned about the upright."""
    return msgspec.structs.replace(
        volume, id="", name="", corner=(0.0, 0.0, 0.0), yaw_deg=0.0, see_through=False, put_away=False, locked=False,
        hangs=False, joined=None, says=(), keep=None, group="",
    )  # fmt: skip


def _stand(volume: Volume) -> tuple[Floats, Floats]:
    """Return the rotation (3, 3) and the corner (3,) that bring a volume at rest to where it stands."""
    s, c = sin(radians(volume.yaw_deg)), cos(radians(volume.yaw_deg))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.array(volume.corner, dtype=np.float64)


# A volume that is moved or turned about the upright keeps its shape, which may have taken long to build.
@lru_cache(maxsize=512)
def _solids_at_rest(volume: Volume) -> Solids:
    return _solids_of(volume, dict)


@lru_cache(maxsize=512)
def _rounds_at_rest(volume: Volume) -> RoundParts:
    return _rounds_of(volume, dict)


def _solids_of(volume: Volume, named: _Named) -> Solids:
    kind = kind_of(type(volume))
    if not (volume.marks or is_many(volume)):
        return kind.solids([volume])
    return Solids.as_one([_with_marks(kind.solids([copy]), copy) for copy in copies_of(volume, named)])


def _rounds_of(volume: Volume, named: _Named) -> RoundParts:
    own = kind_of(type(volume)).rounds
    parts = []
    for copy in copies_of(volume, named):
        if own is not None:
            parts.append(own(copy, 0))
        if copy.marks:
            parts.append(mark_rounds(copy, 0))
    return RoundParts.joined(parts)


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


def _outlines(parts: list[tuple[Ints, Solids]]) -> Outlines:
    nobody, never = np.zeros(0, dtype=np.intp), np.zeros(0, dtype=bool)
    if not parts:
        return Outlines(np.zeros((0, 3)), nobody, np.zeros((0, 2), dtype=np.intp), nobody, nobody, never, never)
    made: tuple[list[Any], ...] = ([], [], [], [], [])
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
    everyone = after_each_other([rows for rows, _ in parts])
    vertex_owner, edge_owner = (np.repeat(everyone, np.repeat(count, alike)) for count in counts)
    vertices, edges, axes, soft, laid = map(after_each_other, made)
    outlines = Outlines(vertices, vertex_owner, edges, edge_owner, axes, soft, laid)
    # Sides drawn together to a line, as on a ridge, leave edges without length: they are none.
    return outlines.of_edges(np.abs(vertices[edges[:, 1]] - vertices[edges[:, 0]]).max(axis=1, initial=0.0) > 1e-9)
