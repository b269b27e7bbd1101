"""The lines along which kept planes cut volumes, in the world, worked out once for as long as nothing of it changes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.sections.planes import Cutting
from isometron.geometry.sections.regions import Outlined, Room, TooManySides, outline_of
from isometron.volumes.box import box_corners
from isometron.volumes.keeping import Kept
from isometron.volumes.sections.plane import KeptPlane, offsets_of, plane_at
from isometron.volumes.sections.solids import cutting_of, solids_of, standing
from isometron.volumes.volume import Volume

__all__ = ["SectionLines", "cut_by", "left_out", "sections_of"]

MOST_PAIRS = 24_000
"""Pairs of sides that all planes of a document may look at together: a few seconds' work."""
_A_PLANE, _A_SOLID = 120, 14
"""What a plane and a solid cost beside their sides, in such pairs."""


@dataclass(frozen=True)
class _Cuts:
    made: tuple[tuple[Outlined, Cutting], ...]
    left_out: int


_KEPT: Kept[tuple[int, _Cuts]] = Kept(64)


@dataclass(frozen=True)
class SectionLines:
    """straight : (S, 2, 3), owner : (S,) the rows of the volumes cut; rings : (G, 9), spans : (G, 2) in turns, ring_owner : (G,)."""

    straight: Floats
    owner: Ints
    rings: Floats
    spans: Floats
    ring_owner: Ints


_LINES: Kept[tuple[int, SectionLines]] = Kept(8)


def _cut(plane: KeptPlane, volumes: Sequence[Volume]) -> list[int]:
    wanted = set(plane.only)
    return [row for row, v in enumerate(volumes) if not v.put_away and (not wanted or v.id in wanted)]


def sections_of(
    plane: KeptPlane, volumes: tuple[Volume, ...], among: int = 1
) -> tuple[tuple[Outlined, Cutting], ...]:
    """Return the outlines that a plane and its family cut out of volumes; owners are rows of ``volumes``.

    among : how many planes cut in the document: they share what can be looked at, see `left_out`.
    """
    return _cuts(plane, volumes, among).made


def left_out(plane: KeptPlane, volumes: tuple[Volume, ...], among: int = 1) -> int:
    """Return how many sections of a plane's family are not drawn, because too many sides would meet."""
    return _cuts(plane, volumes, among).left_out


def _cuts(plane: KeptPlane, volumes: tuple[Volume, ...], among: int) -> _Cuts:
    share = MOST_PAIRS // max(among, 1)
    found = _KEPT.of((plane, volumes), lambda: (share, _sections(plane, volumes, share)))
    return found[1] if found[0] == share else _sections(plane, volumes, share)


def _sections(plane: KeptPlane, volumes: tuple[Volume, ...], share: int) -> _Cuts:
    named = {volume.id: volume for volume in volumes}
    found = plane_at(plane, named)
    rows = _cut(plane, volumes)
    if found is None or not rows:
        return _Cuts((), 0)
    place, normal = found
    some = [volumes[row] for row in rows]
    # Mirror images and rows may reach farther than the volumes themselves: of those the planes of a family are begun there too.
    bodies = standing(some, named)
    corners = np.concatenate([box_corners([body.volume])[0][0] for body in bodies])
    along = (corners - place) @ normal
    made: list[tuple[Outlined, Cutting]] = []
    room, offsets = Room(share), offsets_of(plane, float(along.min()), float(along.max()))
    for number, off in enumerate(offsets):
        cutting = cutting_of(place + off * normal, normal, some)
        try:
            solids = solids_of(bodies, cutting)
            room.take(_A_PLANE + _A_SOLID * len(solids))
            outlined = outline_of(solids, room=room)
        except TooManySides:
            return _Cuts(tuple(made), len(offsets) - number)
        if outlined.pieces:
            made.append((Outlined(outlined.pieces, tuple(rows[k] for k in outlined.owner), outlined.size), cutting))
    return _Cuts(tuple(made), 0)


def cut_by(planes: Sequence[KeptPlane], volumes: tuple[Volume, ...], among: int) -> SectionLines:
    """Return the lines of some planes, each as the arcs and straight pieces that it is; among : see `sections_of`."""
    found = _LINES.of((*planes, volumes), lambda: (among, _cut_by(planes, volumes, among)))
    return found[1] if found[0] == among else _cut_by(planes, volumes, among)


def _cut_by(planes: Sequence[KeptPlane], volumes: tuple[Volume, ...], among: int) -> SectionLines:
    straight, owner, rings, spans, ring_owner = [], [], [], [], []
    for plane in planes:
        for outlined, cutting in sections_of(plane, volumes, among):
            for piece, row in zip(outlined.pieces, outlined.owner, strict=True):
                if piece.sweep == 0.0:
                    straight.append(cutting.world(piece.at(np.array([0.0, 1.0]))))
                    owner.append(row)
                    continue
                centre = cutting.world(piece.centre[None])[0]
                rings.append(np.concatenate([centre, cutting.way(piece.first), cutting.way(piece.second)]))
                spans.append((0.0, piece.sweep / (2 * np.pi)))
                ring_owner.append(row)
    return SectionLines(
        np.array(straight).reshape(-1, 2, 3), np.array(owner, dtype=np.intp), np.array(rings).reshape(-1, 9),
        np.array(spans).reshape(-1, 2), np.array(ring_owner, dtype=np.intp),
    )  # fmt: skip
