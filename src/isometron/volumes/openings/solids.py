"""Bodies with openings, and hollow ones, as what is drawn and what hides."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import cast

import msgspec
import numpy as np

from isometron.geometry.bodies import stacked
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.insets import inset
from isometron.geometry.faces.shaft import chorded, on_plane
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.outlines import Outline
from isometron.geometry.shell.shell import Shell
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import kind_of
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.places import side_under
from isometron.volumes.openings.fittings import Fittings, fittings_of
from isometron.volumes.openings.from_shell import drawn_of, ends_of, rim_depth
from isometron.volumes.openings.rims import Rims, rim_on
from isometron.volumes.openings.standing import stand_of, upright
from isometron.volumes.rounds import RoundParts
from isometron.volumes.shells.openings import Opening
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.solids import Solids
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = [
    "is_carved",
    "opened_body",
    "opened_rounds",
    "opened_solids",
    "openings_on",
    "uncut_openings",
    "unrounded_edges",
]

_ON_PLANE = 1e-6


def is_carved(volume: Volume) -> bool:
    """Whether a volume is hollow, or has openings or rounded edges."""
    return volume.wall > 0.0 or bool(volume.rounded) or any(isinstance(mark, OpeningMark) for mark in volume.marks)


@dataclass(frozen=True)
class _Opened:
    """A body with its openings, in its own axes. shell : None where there is none; cut : its openings; faces : what hides of it; solids : what is drawn and hides; rounds
    : its arcs; refused : words, by the number of a mark; -1 for its wall; unrounded : words, by the number of a rounded edge."""

    shell: Shell | None
    cut: tuple[Opening, ...]
    faces: FlatFaces
    solids: Solids
    rounds: RoundParts
    refused: dict[int, str]
    unrounded: dict[int, str]


def uncut_openings(volume: Volume) -> dict[int, str]:
    """Return why openings of a volume are not cut, by the number of their mark; -1 for why it is not hollow."""
    if not is_carved(volume):
        return {}
    places = [number for number, mark in enumerate(volume.marks) if isinstance(mark, OpeningMark)]
    return {places[k] if k >= 0 else k: why for k, why in _opened(_at_rest(volume)).refused.items()}


def unrounded_edges(volume: Volume) -> dict[int, str]:
    """Return why edges of a volume are not rounded, by their number."""
    return _opened(_at_rest(volume)).unrounded if volume.rounded else {}


def opened_solids(volume: Volume) -> Solids:
    """Return a volume with its openings as what is drawn and what hides."""
    corner, rotation = stand_of(volume)
    found = _opened(_at_rest(volume)).solids.placed(rotation, corner)
    if not isinstance(volume, Turned):
        return found
    # The bounding box of a turned body is neither steered nor leant with it.
    base = kind_of(Turned).solids([msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=())])
    vertices = np.concatenate([base.vertices, found.vertices[:, base.vertices.shape[1] :]], axis=1)
    return replace(found, vertices=vertices, rotations=base.rotations, bodies=base.bodies, body_row=base.body_row)


def opened_rounds(volume: Volume, row: int) -> RoundParts:
    """Return the round parts of a volume with its openings and its inside."""
    corner, rotation = stand_of(volume)
    found = _opened(_at_rest(volume)).rounds.placed(rotation, corner)
    return found.owned(lambda owner: np.full(len(owner), row)) if row else found


def opened_body(volume: Volume) -> tuple[FlatFaces, tuple[Opening, ...]]:
    """Return the faces of a volume with openings, or a hollow one, in its own axes, and its openings."""
    opened = _opened(_at_rest(volume))
    return opened.faces, opened.cut


def openings_on(volume: Volume, plane: FacePlane) -> list[Floats]:
    """Return the outlines (K, 2) of openings that come out on a face, with the bands round them, mm from the lower left of its middle lines."""
    opened = _opened(_at_rest(volume)) if is_carved(volume) else None
    if opened is None or opened.shell is None:
        return []
    corner, rotation = stand_of(volume)
    found = []
    for cut in opened.cut:
        flat = chorded(_with_band(cut.shaft.outline, cut.mark.frame))
        for frame in ends_of(opened.shell, cut.number, cut.shaft):
            end = on_plane(cut.shaft, frame)
            places = (end.origin + flat @ end.ways) @ rotation.T + corner
            off = places - plane.middle
            if float(np.abs(off @ plane.outward).max()) <= _ON_PLANE * (1.0 + float(np.abs(off).max())):
                found.append(
                    np.stack(
                        [
                            off @ plane.x / plane.wide + plane.wide / 2.0,
                            off @ plane.y / plane.high + plane.high / 2.0,
                        ],
                        axis=1,
                    )
                )
    return found


def _with_band(outline: Outline, band: float) -> Outline:
    try:
        return inset(outline, -band)
    except OutlineError:
        return outline


def _at_rest(volume: Volume) -> Volume:
    """Return what the openings and the inside depend on alone."""
    return msgspec.structs.replace(
        upright(volume), id="opened", name="opened", see_through=False,
        put_away=False, locked=False, hangs=False, quiet=(), copies=(), mirror=None, joined=None, says=(), keep=None, group="",
        marks=tuple(mark for mark in volume.marks if isinstance(mark, OpeningMark)),
    )  # fmt: skip


@lru_cache(maxsize=512)
def _opened(volume: Volume) -> _Opened:
    kind, plain = kind_of(type(volume)), msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=())
    base = kind.solids([plain])
    shelled = shell_of(volume)
    shell = shelled.shell
    if shell is None:  # drawn as if it were not carved
        words = shelled.refused[-3]
        uncut = dict.fromkeys(range(-1 if volume.wall > 0.0 else 0, len(volume.marks)), words)
        rounds = RoundParts() if kind.rounds is None else kind.rounds(plain, 0)
        return _Opened(None, (), base.faces, base, rounds, uncut, shelled.unrounded)
    cut = tuple(_with_fittings(volume, one) for one in shelled.cut)
    drawn = drawn_of(volume, shell, {one.number for one in cut if one.shaft.grain > 0.0})
    fittings = Fittings.joined([fittings_of(one.mark, one.shaft, _rim(shell, one)) for one in cut])
    bands = Rims.joined([_band(volume, one) for one in cut if one.shaft.bent and one.mark.frame > 0.0])
    edges = np.concatenate([drawn.edges, fittings.edges, bands.edges])
    soft = np.concatenate([drawn.soft, fittings.soft, np.zeros(len(bands.edges), dtype=bool)])
    outer = np.concatenate([drawn.outer, np.zeros(len(edges) - len(drawn.outer), dtype=bool)])
    solids = _solids(base, edges, soft, outer, FlatFaces.joined([drawn.faces, fittings.faces]))
    parts = [
        drawn.rounds,
        RoundParts.curved(0, bands.curves),
        RoundParts.drawn(0, list(fittings.rings), spans=fittings.spans),
    ]
    return _Opened(shell, cut, drawn.faces, solids, RoundParts.joined(parts), shelled.refused, shelled.unrounded)


def _with_fittings(volume: Volume, cut: Opening) -> Opening:
    """Return an opening with what stands in it, which does not shape its body and so its shell does not know."""
    mark = msgspec.structs.replace(cast("OpeningMark", volume.marks[cut.number]), at=cut.mark.at, count=1)
    return replace(cut, mark=mark)


def _rim(shell: Shell, cut: Opening) -> float:
    """Return how far back the rim of an opening in a round side lies at most, mm."""
    return rim_depth(shell, cut.number, cut.shaft) if cut.shaft.bent else 0.0


def _band(volume: Volume, cut: Opening) -> Rims:
    """Return the outer line of a band round an opening in a round side."""
    side = side_under(volume, cut.mark)
    return Rims() if side is None else rim_on(cut.shaft, _with_band(cut.shaft.outline, cut.mark.frame), side)


def _solids(base: Solids, ends: Floats, soft: Bools, outer: Bools, faces: FlatFaces) -> Solids:
    """Return solids of edges (E, 2, 3); the first corners are those of ``base``."""
    axes = _axes(ends)
    # Listed by direction, as a block's are, those of the body itself before those of its openings.
    order = np.lexsort((~outer, np.where(axes < 0, len(DIRECTIONS), axes)))
    ends, axes, soft = ends[order], axes[order], soft[order]
    count = base.vertices.shape[1]
    return Solids(
        vertices=np.concatenate([base.vertices[0], ends.reshape(-1, 3)])[None],
        edges=count + np.arange(2 * len(ends)).reshape(-1, 2),
        edge_axes=axes,
        soft=soft,
        rotations=base.rotations,
        bodies=stacked([]),
        body_row=np.zeros(0, dtype=np.intp),
        faces=faces,
        face_row=np.zeros(len(faces), dtype=np.intp),
    )


def _axes(ends: Floats) -> Ints:
    """Return the own direction (E,) that edges run in, -1 for none."""
    way = np.abs(ends[:, 1] - ends[:, 0])
    along = way.argmax(axis=1) if len(way) else np.zeros(0, dtype=np.intp)
    straight = way.sum(axis=1) - way.max(axis=1, initial=0.0) <= 1e-9 * (1.0 + way.sum(axis=1))
    found: Ints = np.where(straight, along, -1)
    return found
