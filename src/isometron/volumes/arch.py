"""The arch: a wall with an arched opening, or an arched band, carried straight through its bounding volume."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from msgspec import Meta

from isometron.geometry.bodies import stacked
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.geometry.outlines import Outline, arch_wall, convex_pieces, flattened
from isometron.geometry.prisms import prisms
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.box import box_corners
from isometron.volumes.marks.face_marks import ArchForm
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids, hard
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["Arch", "arch_rounds", "arch_solids", "outline_of", "plane_axes"]

Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]


class Arch(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="arch", gc=False):
    """A wall with an arched opening at its foot, or an arched band.

    Args:
        through: the own direction that the opening goes through; the outline lies on the two others, in their order.
        pier: thickness on both sides of the opening, mm; crown: over its top.
        rise: of a segmental arch, as a part of half its width.
        band: whether the outside follows the opening.
        hangs_down: upside down, with the opening at its top.
    """

    through: Literal["long", "wide", "high"] = "wide"
    form: ArchForm = "half-round"
    pier: Size = 100.0
    crown: Size = 100.0
    rise: Annotated[float, Meta(gt=0.0, le=1.0)] = 0.4
    band: bool = False
    hangs_down: bool = False


def plane_axes(across: str) -> tuple[int, int, int]:
    """Return the two own directions of a plane square to a direction, in their order, and that direction."""
    k = DIRECTIONS.index(across)
    a, b = (n for n in range(3) if n != k)
    return a, b, k


def outline_of(volume: Arch) -> Outline:
    """Return an arch's outline in mm on its plane."""
    a, b, _ = plane_axes(volume.through)
    return _outline(
        volume.size[a],
        volume.size[b],
        volume.pier,
        volume.crown,
        volume.form,
        volume.rise,
        volume.band,
        volume.hangs_down,
    )


@lru_cache(maxsize=512)
def _outline(
    wide: float, high: float, pier: float, crown: float, form: str, rise: float, band: bool, hangs_down: bool
) -> Outline:
    outline = arch_wall(wide, high, pier, crown, form, rise, band=band)
    return outline.upside_down(high) if hangs_down else outline


@lru_cache(maxsize=512)
def _pieces(rest: Arch) -> tuple[Floats, ...]:
    return tuple(convex_pieces(flattened(outline_of(rest))))


def _at_rest(volume: Arch) -> Arch:
    """Return what the pieces depend on alone."""
    return Arch(
        id="arch", name="arch", corner=(0.0, 0.0, 0.0), size=volume.size, through=volume.through, form=volume.form,
        pier=volume.pier, crown=volume.crown, rise=volume.rise, band=volume.band, hangs_down=volume.hangs_down,
    )  # fmt: skip


def _placed(volume: Volume, across: str, corner: Floats, rotation: Floats) -> tuple[Floats, Floats, Floats]:
    """Return the origin of the plane, its two directions as rows (2, 3), and the whole way through the volume."""
    a, b, k = plane_axes(across)
    return corner, rotation[:, [a, b]].T, volume.size[k] * rotation[:, k]


def arch_solids(volumes: Sequence[Volume]) -> Solids:
    """Return one arch: its outline at both ends, the edges between, and its convex pieces."""
    (volume,) = volumes
    assert isinstance(volume, Arch)
    bounds, rotations = box_corners(volumes)
    origin, plane, way = _placed(volume, volume.through, bounds[0, 0], rotations[0])
    outline = outline_of(volume)
    near = origin + outline.corners @ plane
    count = len(near)
    edges, axes = _outline_edges(volume, outline)
    pieces = _pieces(_at_rest(volume))
    bodies = prisms([origin + piece @ plane for piece in pieces], way)
    return (
        Solids(
            vertices=np.concatenate([bounds[0], near, near + way])[None],
            edges=edges + 8,
            edge_axes=axes,
            soft=hard(edges),
            rotations=rotations,
            bodies=bodies,
            body_row=np.zeros(len(pieces), dtype=np.intp),
        )
        if count
        else _empty(bounds, rotations)
    )


def _empty(bounds: Floats, rotations: Floats) -> Solids:
    none = np.zeros((0, 2), dtype=np.intp)
    return Solids(bounds, none, none[:, 0], hard(none), rotations, stacked([]), none[:, 0])


def _outline_edges(volume: Arch, outline: Outline) -> tuple[Ints, Ints]:
    a, b, k = plane_axes(volume.through)
    count = len(outline.corners)
    edges, axes = [], []
    for n in range(count):
        if n in outline.bends:
            continue
        after = (n + 1) % count
        dx, dy = np.abs(outline.corners[after] - outline.corners[n])
        axis = a if dy <= CLOSE * dx else b if dx <= CLOSE * dy else -1
        edges += [(n, after), (n + count, after + count)]
        axes += [axis, axis]
    for n in map(int, np.flatnonzero(outline.sharp())):
        edges.append((n, n + count))
        axes.append(k)
    return np.array(edges, dtype=np.intp).reshape(-1, 2), np.array(axes, dtype=np.intp)


def arch_rounds(volume: Arch, row: int) -> RoundParts:
    """Return an arch's bent sides: their arcs at both ends, and the outline of those that bulge."""
    outline = outline_of(volume)
    if not outline.bends:
        return RoundParts()
    bounds, rotations = box_corners([volume])
    origin, plane, way = _placed(volume, volume.through, bounds[0, 0], rotations[0])
    bends = list(outline.bends.values())
    rings = [
        np.concatenate([origin + bend.centre @ plane + end * way, bend.first @ plane, bend.second @ plane])
        for bend in bends
        for end in (0.0, 1.0)
    ]
    spans = np.repeat([[bend.start, bend.sweep] for bend in bends], 2, axis=0) / (2 * np.pi)
    out = [bend for bend in bends if bend.sweep > 0.0]
    skins = Frusta(
        np.full(len(out), row),
        np.array([origin + bend.centre @ plane for bend in out]).reshape(-1, 3),
        np.tile(way, (len(out), 1)),
        np.array([bend.first @ plane for bend in out]).reshape(-1, 3),
        np.array([bend.second @ plane for bend in out]).reshape(-1, 3),
        np.ones(len(out)),
        np.ones(len(out)),
        np.zeros(len(out)),
    )
    drawn = RoundParts.drawn(row, rings, spans=spans)
    span = np.array([[bend.start, bend.sweep] for bend in out]).reshape(-1, 2)
    return RoundParts.joined([drawn, RoundParts(skins=skins, skin_span=span)])
