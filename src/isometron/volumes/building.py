"""Building the scene of a document's volumes, or of a few of them."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import Any

import numpy as np

from isometron.geometry.bodies import stacked
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Ints, after_each_other
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.alone import ROUNDS, SOLIDS, Named, by_id
from isometron.volumes.copies import is_many
from isometron.volumes.keeping import Kept
from isometron.volumes.kinds import kind_of
from isometron.volumes.openings.solids import is_carved
from isometron.volumes.rounds import RoundParts
from isometron.volumes.scene import Outlines, Scene
from isometron.volumes.solids import Solids
from isometron.volumes.volume import Volume

__all__ = ["build_scene", "scene_of"]

_SCENES: Kept[Scene] = Kept(4)


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
    named = by_id(volumes if among is None else among)
    for parts_of in (SOLIDS, ROUNDS):
        parts_of.make_room(2 * len(volumes))
    alike: dict[tuple[type[Volume], Hashable], list[int]] = {}
    for row, volume in enumerate(volumes):
        alone = is_carved(volume) or bool(volume.marks) or is_many(volume)
        topology = ("alone", row) if alone else kind_of(type(volume)).topology(volume)
        alike.setdefault((type(volume), topology), []).append(row)
    parts = []
    for (kind, _), rows in alike.items():
        solids = (
            SOLIDS.of(volumes[rows[0]], named) if len(rows) == 1 else kind_of(kind).solids([volumes[r] for r in rows])
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
        FlatFaces.joined([solids.faces for _, solids in parts]),
        np.concatenate([np.zeros(0, dtype=np.intp), *(own[solids.face_row] for own, solids in parts)]),
        np.concatenate([np.zeros(0, dtype=np.intp), *(solids.body_copy for _, solids in parts)]),
        np.concatenate([np.zeros(0, dtype=np.intp), *(solids.face_copy for _, solids in parts)]),
    )


def _rounds(volumes: tuple[Volume, ...], named: Named) -> RoundParts:
    rows = [
        row
        for row, volume in enumerate(volumes)
        if not volume.put_away and (volume.marks or is_carved(volume) or kind_of(type(volume)).rounds is not None)
    ]
    return RoundParts.joined([ROUNDS.of(volumes[row], named) for row in rows], rows)


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
    return outlines.of_edges(np.abs(vertices[edges[:, 1]] - vertices[edges[:, 0]]).max(axis=1, initial=0.0) > CLOSE)
