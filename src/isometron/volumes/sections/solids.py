"""Volumes as solids that a plane cuts: what regions of the plane have in common, see `sections.regions`."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import msgspec
import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.faces.carving import Carved
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.insets import inset
from isometron.geometry.frames import Floats
from isometron.geometry.frusta import Frusta
from isometron.geometry.outlines import Outline
from isometron.geometry.sections.pieces import straight
from isometron.geometry.sections.planes import (
    Cutting,
    conic_region,
    convex_region,
    faces_region,
    half_plane,
    prism_region,
)
from isometron.geometry.sections.regions import Region, Solid
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.copies import copies_of
from isometron.volumes.kinds import kind_of
from isometron.volumes.openings.shells import OUTLINE_AXES, outlines_of
from isometron.volumes.openings.solids import carved_of
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.openings.turned_shells import inner_frusta
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["Standing", "cutting_of", "solids_of", "standing"]

_SAMPLES = 48
"""Rings of a round piece by whose chords a section is told that is no ellipse: to a few thousandths of the radius."""


def cutting_of(place: Floats, normal: Floats, volumes: Sequence[Volume]) -> Cutting:
    """Return the plane through a place square to a direction, its own place brought near what stands there."""
    corners = np.concatenate([box_corners([volume])[0][0] for volume in volumes]) if volumes else np.zeros((1, 3))
    middle = (corners.min(axis=0) + corners.max(axis=0)) / 2.0
    normal = np.asarray(normal, dtype=float) / np.sqrt(np.dot(normal, normal))
    near = middle - float((middle - place) @ normal) * normal
    copies = (
        max(1.0, *(1.0 + sum(abs(r.pitch) * r.count for r in v.copies) / 1000.0 for v in volumes)) if volumes else 1.0
    )
    reach = 4.0 * (float(np.sqrt(((corners - near) ** 2).sum(axis=1)).max()) + 1.0) * copies
    return Cutting.through(near, normal, reach)


@dataclass(frozen=True)
class Standing:
    """A volume, or a copy or mirror image of it, that planes are to cut: what does not go by the plane is worked out once.

    owner : the place of its volume in the order.
    """

    volume: Volume
    owner: int

    def solids(self, cutting: Cutting) -> Iterator[Solid]:
        """Yield what a plane cuts out of it."""
        if isinstance(self.volume, Turned):
            without = tuple(self._taken(cutting))
            for piece in _frusta(self._frusta, cutting):
                yield Solid(piece, without, self.owner)
        elif self.volume.rounded:
            # By its chords, which lie a tenth of a mm within it at most.
            region = faces_region(cutting, self._faces) if self._faces is not None else None
            if region is not None:
                yield Solid((region,), (), self.owner)
        elif self._outlines is None:
            for row in range(len(self._bodies)):
                region = convex_region(cutting, self._bodies, row)
                if region is not None:
                    yield Solid((region,), (), self.owner)
        else:
            inside = _prisms(self._frame, self._outlines, cutting)
            if inside is not None:
                yield Solid(inside, tuple(self._taken(cutting)), self.owner)

    def _taken(self, cutting: Cutting) -> Iterator[tuple[Region, ...]]:
        """Yield what its inside, when it is hollow, and its openings take from it."""
        if isinstance(self._inside, Frusta):
            yield from _frusta(self._inside, cutting)
        elif self._inside:
            regions = _prisms(self._frame, self._inside, cutting)
            if regions is not None:
                yield regions
        if self._carved is not None:
            yield from _openings(self.volume, self._carved, cutting)

    @cached_property
    def _frame(self) -> tuple[Floats, Floats]:
        corners, rotations = box_corners([self.volume])
        return corners[0, 0], rotations[0]

    @cached_property
    def _outlines(self) -> Sequence[Outline] | None:
        return outlines_of(self.volume)

    @cached_property
    def _bodies(self) -> ConvexBodies:
        plain = msgspec.structs.replace(self.volume, marks=(), wall=0.0)
        return kind_of(type(self.volume)).solids([plain]).bodies

    @cached_property
    def _carved(self) -> Carved | None:
        return carved_of(self.volume)

    @cached_property
    def _faces(self) -> FlatFaces | None:
        corner, rotation = stand_of(self.volume)
        return self._carved.faces.placed(rotation, corner) if self._carved is not None else None

    @cached_property
    def _frusta(self) -> Frusta:
        rounds = kind_of(Turned).rounds
        assert rounds is not None
        return rounds(self.volume, 0).frusta

    @cached_property
    def _inside(self) -> Frusta | Sequence[Outline]:
        """The hollow of it; nothing where there is none, or no room for one."""
        if self.volume.wall <= 0.0:
            return ()
        try:
            if isinstance(self.volume, Turned):
                return inner_frusta(self.volume)
            return [inset(outline, self.volume.wall) for outline in self._outlines or ()]
        except OutlineError:
            return ()


def standing(volumes: Sequence[Volume], named: Mapping[str, Volume]) -> list[Standing]:
    """Return volumes, their copies and mirror images, as what planes are to cut."""
    return [Standing(copy, row) for row, v in enumerate(volumes) for copy in copies_of(v, lambda: named)]


def solids_of(bodies: Sequence[Standing], cutting: Cutting) -> list[Solid]:
    """Return what a plane cuts out of bodies; owners are theirs."""
    return [solid for body in bodies for solid in body.solids(cutting)]


def _prisms(frame: tuple[Floats, Floats], outlines: Sequence[Outline], cutting: Cutting) -> tuple[Region, ...] | None:
    """Return the regions that the three prisms of a body's outlines cut out of a plane; None where one of them none."""
    corner, rotation = frame
    found = []
    for (a, b), outline in zip(OUTLINE_AXES, outlines, strict=True):
        region = prism_region(cutting, outline, corner, rotation[:, a], rotation[:, b])
        if region is None:
            return None
        found.append(region)
    return tuple(found)


def _frusta(frusta: Frusta, cutting: Cutting) -> Iterator[tuple[Region, ...]]:
    for row in _reached(frusta, cutting):
        inside = _frustum(frusta, row, cutting)
        if inside is not None:
            yield inside


def _reached(frusta: Frusta, cutting: Cutting) -> list[int]:
    """Return the rows of round pieces that reach a plane."""
    one = (frusta.base - cutting.origin) @ cutting.normal
    two = one + frusta.axle @ cutting.normal
    wide = np.sqrt(np.maximum(np.maximum(frusta.low, frusta.high) ** 2, 0.0) + np.maximum(frusta.bulge, 0.0))
    reach = wide * np.hypot(frusta.first @ cutting.normal, frusta.second @ cutting.normal)
    reach = reach + HAIR * (1.0 + np.abs(one))
    rows: list[int] = np.flatnonzero((np.minimum(one, two) <= reach) & (np.maximum(one, two) >= -reach)).tolist()
    return rows


def _openings(volume: Volume, carved: Carved, cutting: Cutting) -> Iterator[tuple[Region, ...]]:
    corner, rotation = stand_of(volume)
    for hollowed in carved.cut.values():
        shaft = hollowed.shaft
        origin, x, y = rotation @ shaft.frame[:3] + corner, rotation @ shaft.frame[3:6], rotation @ shaft.frame[6:9]
        prism = prism_region(cutting, shaft.outline, origin, x, y)
        if prism is None:
            continue
        inward = -shaft.frame[9:]
        for one, two in hollowed.between:
            normals, offsets = [], []
            for frame, sign in ((one, -1.0), (two, 1.0)):
                normal = frame[9:] * (sign if float(frame[9:] @ inward) > 0.0 else -sign)
                normals.append(rotation @ normal)
                offsets.append(float(normals[-1] @ (rotation @ frame[:3] + corner)))
            between = half_plane(cutting, np.array(normals), np.array(offsets))
            if between is not None:
                yield prism, between


def _frustum(frusta: Frusta, row: int, cutting: Cutting) -> tuple[Region, ...] | None:
    """Return the regions that the side and the ends of a round piece leave of a plane."""
    base, axle, first, second = (getattr(frusta, name)[row] for name in ("base", "axle", "first", "second"))
    low, high, bulge = float(frusta.low[row]), float(frusta.high[row]), float(frusta.bulge[row])
    forms = []
    for way in (first, second, axle):
        way = way / float(way @ way)
        forms.append(np.append(way, -float(way @ base)))
    x, y, z = forms
    one = np.array([0.0, 0.0, 0.0, 1.0])
    # The square of the radius: (low + (high - low) z)^2 + bulge z (1 - z).
    radius = low * one + (high - low) * z
    quadric = np.outer(x, x) + np.outer(y, y) - np.outer(radius, radius)
    quadric -= bulge * (np.outer(z, one) + np.outer(one, z)) / 2.0 - bulge * np.outer(z, z)
    ends = np.array([-z[:3], z[:3]])
    between = half_plane(cutting, ends, np.array([z[3], 1.0 - z[3]]))
    if between is None:
        return None
    if low == high and bulge == 0.0 and abs(float(cutting.normal @ axle)) < 1e-9 * float(np.sqrt(axle @ axle)):
        side = _strip(base, axle, first, second, low, cutting)
        return None if side is None else (side, between)
    try:
        side = conic_region(cutting, quadric)
    except ValueError:
        side = _sampled(base, axle, first, second, low, high, bulge, cutting)
    return None if side is None else (side, between)


def _strip(
    base: Floats, axle: Floats, first: Floats, second: Floats, radius: float, cutting: Cutting
) -> Region | None:
    """Return what a plane along its axle cuts out of an endless cylinder: a strip."""
    along = np.array([axle @ cutting.x, axle @ cutting.y])
    along = along / np.hypot(*along)
    across = np.array([-along[1], along[0]])
    way, gap = cutting.way(across), cutting.origin - base
    p = np.array([gap @ first / (first @ first), gap @ second / (second @ second)])
    q = np.array([way @ first / (first @ first), way @ second / (second @ second)])
    a, b, c = float(q @ q), float(p @ q), float(p @ p) - radius * radius
    root = b * b - a * c
    if root <= 0.0:
        return None
    one, two = (((-b + sign * root**0.5) / a) * across for sign in (-1.0, 1.0))
    far = cutting.reach * along
    corners = [one - far, one + far, two + far, two - far]
    return Region(tuple(straight(s, e) for s, e in zip(corners, [*corners[1:], corners[0]], strict=True)))


def _sampled(
    base: Floats, axle: Floats, first: Floats, second: Floats, low: float, high: float, bulge: float, cutting: Cutting
) -> Region | None:
    """Return what a plane cuts out of a round piece whose section is no ellipse, by the chords of many of its rings."""
    steps = (1.0 - np.cos(np.linspace(0.0, np.pi, _SAMPLES))) / 2.0
    radius = np.sqrt(np.maximum((low + (high - low) * steps) ** 2 + bulge * steps * (1.0 - steps), 0.0))
    normal = cutting.normal
    c = np.array([normal @ first, normal @ second])
    size = float(np.hypot(*c))
    if size <= 1e-12:
        return None
    level = ((cutting.origin - base) @ normal - steps * float(axle @ normal)) / size
    rows = np.flatnonzero(np.abs(level) <= radius)
    if len(rows) < 2:
        return None
    middle = float(np.arctan2(c[1], c[0]))
    half = np.arccos(np.clip(level[rows] / np.maximum(radius[rows], 1e-300), -1.0, 1.0))
    sides = []
    for sign in (-1.0, 1.0):
        angle = middle + sign * half
        places = (
            base + steps[rows, None] * axle + radius[rows, None] * (np.cos(angle)[:, None] * first + np.sin(angle)[:, None] * second)
        )  # fmt: skip
        off = places - cutting.origin
        sides.append(np.column_stack([off @ cutting.x, off @ cutting.y]))
    loop = np.concatenate([sides[0], sides[1][::-1]])
    gaps = np.hypot(*(np.roll(loop, -1, axis=0) - loop).T)
    loop = loop[gaps > 1e-9]
    if len(loop) < 3:
        return None
    return Region(tuple(straight(a, b) for a, b in zip(loop, np.roll(loop, -1, axis=0), strict=True)))
