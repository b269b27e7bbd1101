"""The prism: one outline carried straight through its bounding volume. Rounded and chamfered boxes, arches, notched blocks."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated, Literal

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.geometry.outlines import Outline, arch_wall, convex_pieces, counted, cut_rectangle, flattened
from isometron.volumes.box import BOX_EDGES, BOX_FACE_CORNERS, box_corners
from isometron.volumes.face_marks import ArchForm
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids, hard
from isometron.volumes.volume import AXIS_LETTERS, Volume

__all__ = ["Arched", "Counted", "Cut", "Prism", "Section", "outline_of", "plane_axes", "prism_rounds", "prism_solids"]

Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]


class Cut(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="section", tag="cut"):
    """A rectangle whose corners are cut: ``lengths`` in mm counter-clockwise from where both directions start."""

    how: Literal["round", "chamfer"] = "chamfer"
    lengths: tuple[Size, Size, Size, Size] = (50.0, 50.0, 50.0, 50.0)


class Arched(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="section", tag="arch"):
    """A wall with an arched opening at its foot, or an arched band.

    Args:
        pier: thickness on both sides of the opening, mm; crown: over its top.
        rise: of a segmental arch, as a part of half its width.
        band: whether the outside follows the opening.
        hangs: upside down, with the opening at its top.
    """

    form: ArchForm = "half-round"
    pier: Size = 100.0
    crown: Size = 100.0
    rise: Annotated[float, Meta(gt=0.0, le=1.0)] = 0.4
    band: bool = False
    hangs: bool = False


class Counted(
    msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="section", tag="counted"
):
    """An outline counted off in units on a squared card of ``columns`` x ``rows``."""

    columns: Annotated[int, Meta(ge=1, le=200)] = 4
    rows: Annotated[int, Meta(ge=1, le=200)] = 4
    points: Annotated[
        tuple[tuple[Annotated[float, Meta(ge=0.0, le=200.0)], Annotated[float, Meta(ge=0.0, le=200.0)]], ...],
        Meta(min_length=3, max_length=200),
    ]


Section = Cut | Arched | Counted


class Prism(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="prism", gc=False):
    """An outline carried along one own direction, from face to face of the bounding volume.

    Args:
        through: the direction it is carried along; the outline lies on the two others, in their order.
        section: the outline.
    """

    through: Literal["long", "wide", "high"] = "wide"
    section: Section


def plane_axes(across: str) -> tuple[int, int, int]:
    """Return the two own directions of a plane square to a direction, in their order, and that direction."""
    k = AXIS_LETTERS.index(across)
    a, b = (n for n in range(3) if n != k)
    return a, b, k


def outline_of(volume: Prism) -> Outline:
    """Return a prism's outline in mm on its plane."""
    a, b, _ = plane_axes(volume.through)
    return _outline(volume.section, volume.size[a], volume.size[b])


@lru_cache(maxsize=512)
def _outline(section: Section, wide: float, high: float) -> Outline:
    if isinstance(section, Cut):
        return cut_rectangle(wide, high, section.lengths, round_=section.how == "round")
    if isinstance(section, Arched):
        outline = arch_wall(wide, high, section.pier, section.crown, section.form, section.rise, band=section.band)
        return outline.upside_down(high) if section.hangs else outline
    points = tuple((min(x / section.columns, 1.0), min(y / section.rows, 1.0)) for x, y in section.points)
    return counted(points, wide, high)


@lru_cache(maxsize=512)
def _pieces(section: Section, wide: float, high: float) -> tuple[Floats, ...]:
    return tuple(convex_pieces(flattened(_outline(section, wide, high))))


def _placed(volume: Volume, across: str, corner: Floats, rotation: Floats) -> tuple[Floats, Floats, Floats]:
    """Return the origin of the plane, its two directions as rows (2, 3), and the whole way through the volume."""
    a, b, k = plane_axes(across)
    return corner, rotation[:, [a, b]].T, volume.size[k] * rotation[:, k]


def prism_solids(volumes: Sequence[Volume]) -> Solids:
    """Return one prism: its outline at both ends, the edges between, and its convex pieces."""
    (volume,) = volumes
    assert isinstance(volume, Prism)
    bounds, rotations = box_corners(volumes)
    origin, plane, way = _placed(volume, volume.through, bounds[0, 0], rotations[0])
    outline = outline_of(volume)
    near = origin + outline.corners @ plane
    count = len(near)
    edges, axes = _outline_edges(volume, outline)
    a, b, _ = plane_axes(volume.through)
    pieces = _pieces(volume.section, volume.size[a], volume.size[b])
    bodies = _slabs([origin + piece @ plane for piece in pieces], way)
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
    return Solids(bounds, none, none[:, 0], hard(none), rotations, _stacked([]), none[:, 0])


def _outline_edges(volume: Prism, outline: Outline) -> tuple[Ints, Ints]:
    a, b, k = plane_axes(volume.through)
    count = len(outline.corners)
    edges, axes = [], []
    for n in range(count):
        if n in outline.bends:
            continue
        after = (n + 1) % count
        dx, dy = np.abs(outline.corners[after] - outline.corners[n])
        axis = a if dy <= 1e-9 * dx else b if dx <= 1e-9 * dy else -1
        edges += [(n, after), (n + count, after + count)]
        axes += [axis, axis]
    for n in map(int, np.flatnonzero(outline.sharp())):
        edges.append((n, n + count))
        axes.append(k)
    return np.array(edges, dtype=np.intp).reshape(-1, 2), np.array(axes, dtype=np.intp)


def _slabs(pieces: Sequence[Floats], way: Floats) -> ConvexBodies:
    """Return the bodies between convex pieces (3 or 4, 3) and themselves carried by ``way``, with the box's topology.

    A triangle repeats its last corner: the side between the two has no width and takes part in nothing.
    """
    if not pieces:
        return _stacked([])
    rings = np.array([piece if len(piece) == 4 else np.concatenate([piece, piece[-1:]]) for piece in pieces])
    corners = np.empty((len(pieces), 8, 3))
    # The ring of the box's third face pair, so that corner numbers stay those of the box.
    order = BOX_FACE_CORNERS[4]
    corners[:, order] = rings
    corners[:, [number | 4 for number in order]] = rings + way
    faces = corners[:, BOX_FACE_CORNERS]
    normals = np.cross(faces[:, :, 2] - faces[:, :, 0], faces[:, :, 3] - faces[:, :, 1])
    size = np.sqrt((normals**2).sum(axis=2))
    flat = size < 1e-9
    normals = np.where(flat[:, :, None], 0.0, normals / np.where(flat, 1.0, size)[:, :, None])
    places = faces.mean(axis=2)
    inward = (normals * (places - corners.mean(axis=1)[:, None])).sum(axis=2) < 0.0
    normals[inward] *= -1.0
    offsets = np.where(flat, 1.0, (normals * places).sum(axis=2))
    sides = [_TRIANGLE if len(piece) == 3 else _QUAD for piece in pieces]
    return ConvexBodies(corners, normals, offsets, np.array([r for r, _ in sides]), np.array([f for _, f in sides]))


def _ridges(flat: int | None) -> tuple[Ints, Ints]:
    """Return the ridges and their faces; where face ``flat`` has no width its two neighbours meet at its ridge."""
    ridges, faces = [], []
    for start, end in BOX_EDGES:
        both = [n for n, face in enumerate(BOX_FACE_CORNERS) if start in face and end in face]
        ridges.append((start, end))
        faces.append(both)
    if flat is not None:
        sides = [n for n, both in enumerate(faces) if flat in both]
        upright = [n for n in sides if len({int(v) & 4 for v in ridges[n]}) == 2]
        keep, drop = upright
        faces[keep] = [*(f for f in faces[keep] if f != flat), *(f for f in faces[drop] if f != flat)]
        for n in sides:
            if n != keep:
                ridges[n], faces[n] = (0, 0), [0, 0]
    return np.array(ridges, dtype=np.intp), np.array(faces, dtype=np.intp)


def _flat_face() -> int:
    """Return the box's face between the last two corners of the ring and their upper copies."""
    last = {int(v) for v in BOX_FACE_CORNERS[4][2:]}
    pair = last | {v | 4 for v in last}
    return next(n for n, face in enumerate(BOX_FACE_CORNERS) if {int(v) for v in face} == pair)


_QUAD, _TRIANGLE = _ridges(None), _ridges(_flat_face())


def _stacked(bodies: list[ConvexBodies]) -> ConvexBodies:
    if not bodies:
        none = np.zeros((0, 12, 2), dtype=np.intp)
        return ConvexBodies(np.zeros((0, 8, 3)), np.zeros((0, 6, 3)), np.zeros((0, 6)), none, none)
    names = ("vertices", "normals", "offsets", "ridges", "ridge_faces")
    return ConvexBodies(*(np.concatenate([getattr(body, name) for body in bodies]) for name in names))


def prism_rounds(volume: Prism, row: int) -> RoundParts:
    """Return a prism's bent sides: their arcs at both ends, and the outline of those that bulge."""
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
