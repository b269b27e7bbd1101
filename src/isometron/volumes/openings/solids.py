"""Bodies with openings, and hollow ones, as what is drawn and what hides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import msgspec
import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.bodies import stacked
from isometron.geometry.faces.carving import Carved, Hollowed, carve
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.gaps import rings_beside
from isometron.geometry.faces.insets import inset
from isometron.geometry.faces.rounding import Rounded
from isometron.geometry.faces.shaft import chorded, on_plane
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.geometry.outlines import Outline
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import kind_of, own_sides
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.openings.edges import rounded_shell
from isometron.volumes.openings.fittings import Fittings, fittings_of
from isometron.volumes.openings.rims import Rims, rims_of
from isometron.volumes.openings.shafts import shafts_of
from isometron.volumes.openings.shells import inside_of, shell_of
from isometron.volumes.openings.standing import stand_of, upright
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = [
    "carved_of",
    "is_carved",
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
    """A body with its openings, in its own axes. carved : what is left of it, None where nothing could be cut; marks : of
    each of its shafts; solids : what is drawn and hides; rounds : its arcs; refused : words, by the number of a mark; -1 for
    its wall; unrounded : words, by the number of a rounded edge."""

    carved: Carved | None
    marks: tuple[OpeningMark, ...]
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


def carved_of(volume: Volume) -> Carved | None:
    """Return a volume with its openings in its own axes; None where none can be cut, or there is none."""
    return _opened(_at_rest(volume)).carved if is_carved(volume) else None


def openings_on(volume: Volume, plane: FacePlane) -> list[Floats]:
    """Return the outlines (K, 2) of openings that come out on a face, with the bands round them, mm from the lower left of its middle lines."""
    opened = _opened(_at_rest(volume)) if is_carved(volume) else None
    if opened is None or opened.carved is None:
        return []
    corner, rotation = stand_of(volume)
    found = []
    for number, hollowed in opened.carved.cut.items():
        flat = chorded(_with_band(hollowed.shaft.outline, opened.marks[number].frame))
        for frame in (frame for stretch in hollowed.stretches for frame in stretch):
            end = on_plane(hollowed.shaft, frame)
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
    kind = kind_of(type(volume))
    base = kind.solids([msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=())])
    refused: dict[int, str] = {}
    shell = shell_of(volume)
    if shell is None:
        words = tr("This kind of body cannot have openings: cut them into a block, or a cut body.")
        uncut, unrounded = (
            dict.fromkeys(r, words) for r in (range(-1, len(volume.marks)), range(len(volume.rounded)))
        )
        return _Opened(None, (), base, RoundParts(), uncut, unrounded)
    inside = None
    try:
        inside = inside_of(volume)
    except OutlineError as error:
        refused[-1] = str(error)
    edges, unrounded = rounded_shell(volume, shell)
    body = edges.faces if inside is None else FlatFaces.joined([edges.faces, inside.faces])
    numbers, marks, shafts = [], [], []
    for number, mark, shaft in shafts_of(volume):
        if isinstance(shaft, IsometronError):
            refused[number] = str(shaft)
            continue
        numbers.append(number)
        marks.append(mark)
        shafts.append(shaft)
    carved = carve(body, shafts, edges.gone)
    refused |= {numbers[k]: words for k, words in carved.refused.items()}
    fittings = Fittings.joined([fittings_of(marks[k], hollowed) for k, hollowed in carved.cut.items()])
    sides = [*own_sides(volume).values(), *(() if inside is None else inside.sides)]
    rims = Rims.joined([_rims(marks[k], hollowed, sides) for k, hollowed in carved.cut.items() if hollowed.surfaces])
    own = base.vertices[0][base.edges]
    parts = [(own, base.edge_axes, base.soft)]
    if inside is not None:
        parts.append((inside.edges, np.full(len(inside.edges), -1), inside.soft))
    parts.append((carved.edges, np.full(len(carved.edges), -1), np.zeros(len(carved.edges), dtype=bool)))
    parts.append((fittings.edges, np.full(len(fittings.edges), -1), fittings.soft))
    parts.append((rims.edges, np.full(len(rims.edges), -1), np.zeros(len(rims.edges), dtype=bool)))
    tangents = np.array(edges.tangents).reshape(-1, 2, 3)
    parts.append((tangents, np.full(len(tangents), -1), np.ones(len(tangents), dtype=bool)))
    solids = _drawn(base, carved, parts, FlatFaces.joined([carved.faces, fittings.faces]))
    rounds = [
        _own_rounds(volume, rims),
        _of_edges(edges),
        RoundParts.curved(0, rims.curves),
        RoundParts(gaps=rims.gaps, gap_owner=np.zeros(len(rims.gaps), dtype=np.intp)),
        RoundParts.drawn(0, list(carved.rings), spans=carved.spans),
        RoundParts.drawn(0, list(fittings.rings), spans=fittings.spans),
        RoundParts(sheets=carved.sheets, sheet_owner=np.zeros(len(carved.sheets), dtype=np.intp)),
    ]
    if inside is not None:
        rounds.append(RoundParts.drawn(0, list(inside.rings), spans=inside.spans))
    return _Opened(carved, tuple(marks), solids, RoundParts.joined(rounds), refused, unrounded)


def _of_edges(edges: Rounded) -> RoundParts:
    """Return the round parts of rounded edges."""
    rings = RoundParts.drawn(0, edges.rings, edges.soft, np.array(edges.spans).reshape(-1, 2))
    panels, caps = np.array(edges.panels).reshape(-1, 18), np.array(edges.caps).reshape(-1, 13)
    sides = RoundParts(
        frusta=_balls(caps), rounded=np.ones(2 * len(caps), dtype=bool), opened=np.zeros(2 * len(caps), dtype=bool),
        spun=np.zeros(2 * len(caps), dtype=np.intp),
        panels=panels, panel_owner=np.zeros(len(panels), dtype=np.intp), caps=caps, cap_owner=np.zeros(len(caps), dtype=np.intp)
    )  # fmt: skip
    return RoundParts.joined([rings, sides, RoundParts.curved(0, np.concatenate([np.zeros((0, 12)), *edges.curves]))])


def _balls(caps: Floats) -> Frusta:
    """Return the balls of rounded corners, each as two halves: they hide, and lie within the body."""
    x, y, z = (np.tile(caps[:, 3:4] * way, (2, 1)) for way in np.eye(3))
    one = np.ones(len(x))
    z[len(caps) :] *= -1.0
    owner = np.zeros(len(x), dtype=np.intp)
    return Frusta(owner, np.tile(caps[:, :3], (2, 1)), z, x, y, one, 0.0 * one, 2.0 * one)


def _rims(mark: OpeningMark, hollowed: Hollowed, sides: Sequence[RoundSurface]) -> Rims:
    band = _with_band(hollowed.shaft.outline, mark.frame) if mark.frame > 0.0 else None
    return rims_of(hollowed, sides, band)


def _own_rounds(volume: Volume, rims: Rims) -> RoundParts:
    """Return the round parts that a body has anyway: its rings stop at openings, and faces hide in place of its pieces."""
    build = kind_of(type(volume)).rounds
    if build is None:
        return RoundParts()
    whole = build(msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=()), 0)
    return replace(whole, opened=np.ones(len(whole.frusta), dtype=bool), **whole.not_spun()).with_rings(
        *rings_beside(whole.rings, whole.ring_span, rims.gaps)
    )


def _drawn(base: Solids, carved: Carved, parts: Sequence[tuple[Floats, Ints, Bools]], faces: FlatFaces) -> Solids:
    """Return solids of edges (E, 2, 3) with their directions and softness, without what openings took of them.

    The first are those of ``base``, which keep their corners where nothing is taken; of an edge of which more than one stretch
    is left the first keeps its place in the order, the others come last.
    """
    ends, axes, soft = (np.concatenate(columns) for columns in zip(*parts, strict=True))
    places, own = [base.vertices[0]], np.full((len(ends), 2), -1, dtype=np.intp)
    own[: len(base.edges)] = base.edges
    count = len(base.vertices[0])
    rest: list[tuple[Floats, int, bool]] = []
    for k, left in enumerate(carved.left_of(ends)):
        one, two = ends[k]
        pieces = [np.array([one + low * (two - one), one + high * (two - one)]) for low, high in left]
        rest += [(piece, int(axes[k]), bool(soft[k])) for piece in pieces[1:]]
        if own[k, 0] < 0 or left != [(0.0, 1.0)]:
            ends[k] = pieces[0] if pieces else one
            own[k] = count, count + 1
            count += 2
            places.append(ends[k])
    for piece, _, _ in rest:
        places.append(piece)
    ends = np.concatenate([ends, np.array([piece for piece, _, _ in rest]).reshape(-1, 2, 3)])
    axes = np.concatenate([axes, np.array([axis for _, axis, _ in rest], dtype=np.intp)])
    own = np.concatenate([own, count + np.arange(2 * len(rest)).reshape(-1, 2)])
    return Solids(
        vertices=np.concatenate(places)[None],
        edges=own,
        edge_axes=_axes(ends, axes.astype(np.intp)),
        soft=np.concatenate([soft, np.array([is_soft for _, _, is_soft in rest], dtype=bool)]),
        rotations=base.rotations,
        bodies=stacked([]),
        body_row=np.zeros(0, dtype=np.intp),
        faces=faces,
        face_row=np.zeros(len(faces), dtype=np.intp),
    )


def _axes(ends: Floats, axes: Ints) -> Ints:
    """Return the own direction (E,) that edges run in, those of new ones found."""
    way = np.abs(ends[:, 1] - ends[:, 0])
    along = way.argmax(axis=1)
    straight = way.sum(axis=1) - way.max(axis=1) <= 1e-9 * (1.0 + way.sum(axis=1))
    found: Ints = np.where((axes < 0) & straight, along, axes)
    return found
