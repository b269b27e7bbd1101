"""The parts of single volumes, with their copies and marks: built once for every shape, and placed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache
from math import cos, radians, sin
from typing import Generic, Protocol, TypeVar

import msgspec
import numpy as np

from isometron.geometry.frames import Floats
from isometron.volumes.copies import copies_of, is_many
from isometron.volumes.keeping import Kept
from isometron.volumes.kinds import kind_of
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from isometron.volumes.openings.solids import is_carved, opened_rounds, opened_solids
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids
from isometron.volumes.volume import Volume

__all__ = ["ROUNDS", "SOLIDS", "Named", "by_id"]

Named = Callable[[], dict[str, Volume]]
"""Gives the volumes of a document by their ids, where somebody asks."""


def by_id(volumes: Sequence[Volume]) -> Named:
    """Return what gives volumes by their ids."""
    return lambda: {volume.id: volume for volume in volumes}


class _Placeable(Protocol):
    def placed(self: P, rotation: Floats, corner: Floats) -> P: ...


P = TypeVar("P", bound=_Placeable)


class _Parts(Generic[P]):
    """Parts of one sort.

    A volume that is moved or turned about the upright keeps its shape, which may have taken long to build; so shapes are
    built at rest, the latest of them kept, and placed. A mirror image depends on where the volume stands.
    """

    def __init__(self, build: Callable[[Volume, Named], P]) -> None:
        self._build = build
        self._kept: Kept[P] = Kept(500)
        self._at_rest = lru_cache(maxsize=512)(lambda volume: build(volume, dict))

    def make_room(self, count: int) -> None:
        """Keep the parts of so many volumes."""
        self._kept.make_room(count)

    def of(self, volume: Volume, named: Named) -> P:
        """Return the parts of one volume as those of the volume in row 0."""
        if volume.mirror is None:
            return self._kept.of((volume,), lambda: self._at_rest(_at_rest(volume)).placed(*_stand(volume)))
        about = volume.mirror.about
        made_of = (volume, named().get(about) if about else None)
        return self._kept.of(made_of, lambda: self._build(volume, named))


def _at_rest(volume: Volume) -> Volume:
    """Return what a volume has the shape of: one of no name at the origin that is not turned about the upright."""
    return msgspec.structs.replace(
        volume, id="", name="", corner=(0.0, 0.0, 0.0), yaw_deg=0.0, see_through=False, put_away=False, locked=False,
        hangs=False, quiet=(), joined=None, says=(), keep=None, group="",
    )  # fmt: skip


def _stand(volume: Volume) -> tuple[Floats, Floats]:
    """Return the rotation (3, 3) and the corner (3,) that bring a volume at rest to where it stands."""
    s, c = sin(radians(volume.yaw_deg)), cos(radians(volume.yaw_deg))
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.array(volume.corner, dtype=np.float64)


def _solids_of(volume: Volume, named: Named) -> Solids:
    if not (volume.marks or is_carved(volume) or is_many(volume)):
        return kind_of(type(volume)).solids([volume])
    return Solids.as_one([_with_marks(_body_of(copy), copy) for copy in copies_of(volume, named)])


def _body_of(volume: Volume) -> Solids:
    return opened_solids(volume) if is_carved(volume) else kind_of(type(volume)).solids([volume])


def _rounds_of(volume: Volume, named: Named) -> RoundParts:
    own = kind_of(type(volume)).rounds
    parts = []
    for copy in copies_of(volume, named):
        if is_carved(copy):
            parts.append(opened_rounds(copy, 0))
        elif own is not None:
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
    return replace(
        solids,
        vertices=np.concatenate([solids.vertices, marks.ends.reshape(1, -1, 3)], axis=1),
        edges=np.concatenate([solids.edges, count + np.arange(2 * len(marks.ends)).reshape(-1, 2)]),
        edge_axes=np.concatenate([solids.edge_axes, marks.axes]),
        soft=np.concatenate([solids.soft, marks.soft]),
        is_mark=np.concatenate([np.zeros(len(solids.edges), dtype=bool), np.ones(len(marks.ends), dtype=bool)]),
    )


SOLIDS = _Parts(_solids_of)
ROUNDS = _Parts(_rounds_of)
