"""Where openings come in and out on round sides: the true lines there, and where the sides have gaps."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from math import ceil, pi

import numpy as np

from isometron.geometry import cubics
from isometron.geometry.faces.boring import Crossed
from isometron.geometry.faces.carving import Hollowed
from isometron.geometry.faces.gaps import CORNERS, gap_of
from isometron.geometry.faces.shaft import Shaft
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.intervals import turning_point
from isometron.geometry.outlines import Bend, Outline
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.lines.surfaces import RoundSurface

__all__ = ["Rims", "rims_of"]

_STEPS, _QUARTER = 16, 16
"""Cubic pieces of the line that a straight side of an outline draws on a surface, and a quarter turn of a bent one."""
_CHORD = 0.02
"""Of a radius: what lies so near to a round side on its chords lies on it."""
_STRAIGHT = 1e-7
_MOST_SIDES = 1000


@dataclass(frozen=True)
class Rims:
    """Straight edges (E, 2, 3), curves (C, 12) and gaps (K, 14 + 2 `CORNERS`), see `RoundParts`."""

    edges: Floats = field(default_factory=lambda: np.zeros((0, 2, 3)))
    curves: Floats = field(default_factory=lambda: np.zeros((0, 12)))
    gaps: Floats = field(default_factory=lambda: np.zeros((0, 14 + 2 * CORNERS)))

    @staticmethod
    def joined(parts: Sequence[Rims]) -> Rims:
        """Return all of them."""
        whole = [Rims(), *parts]
        return Rims(*(np.concatenate([getattr(part, own) for part in whole]) for own in ("edges", "curves", "gaps")))


def rims_of(hollowed: Hollowed, sides: Sequence[RoundSurface], band: Outline | None) -> Rims:
    """Return what is drawn of an opening that was cut into a round side: its rims, the edges of its walls, the band round it."""
    shaft, surfaces = hollowed.shaft, hollowed.surfaces
    parts = [_rim(shaft, shaft.outline, surface, sides) for surface in surfaces]
    if band is not None:
        parts.append(_rim(shaft, band, surfaces[0], sides))
    corners = shaft.outline.corners[shaft.creases]
    if len(corners):
        ends = [_met(shaft, corners, surface, sides)[0] for surface in surfaces]
        if np.isfinite(shaft.depth):
            ends.append(shaft.at(corners, shaft.depth))
        edges = [np.stack([one, two], axis=1) for one, two in zip(ends[::2], ends[1::2], strict=True)]
        parts.append(Rims(edges=np.concatenate(edges)))
    gaps = [gap_of(shaft, *surface.reach) for surface in surfaces]
    return Rims.joined([*parts, Rims(gaps=np.array(gaps))])


def _rim(shaft: Shaft, outline: Outline, surface: Crossed, sides: Sequence[RoundSurface]) -> Rims:
    edges, curves = [], []
    for k, corner in enumerate(outline.corners):
        after = outline.corners[(k + 1) % len(outline.corners)]
        bend = outline.bends.get(k)
        if bend is None and float(np.abs(after - corner).max()) <= CLOSE:
            continue
        count = _STEPS if bend is None else max(ceil(abs(bend.sweep) / (pi / 2.0) * _QUARTER), 4)

        def along(t: Floats, one: Floats = corner, two: Floats = after, bend: Bend | None = bend) -> Floats:
            return one + t[:, None] * (two - one) if bend is None else bend.at(bend.start + bend.sweep * t)

        for low, high in pairwise(_seams(shaft, along, surface, sides, count)):
            places, _ = _met(shaft, along(np.linspace(low, high, count + 1)), surface, sides)
            way, off = places[-1] - places[0], places - places[0]
            size = float(np.sqrt(way @ way))
            if size > CLOSE and float(np.abs(np.cross(off, way)).max()) <= _STRAIGHT * size * size:
                edges.append(places[[0, -1]])
            else:
                curves.append(cubics.spline_through(places).reshape(-1, 12))
    return Rims(np.array(edges).reshape(-1, 2, 3), np.concatenate([np.zeros((0, 12)), *curves]))


def _seams(
    shaft: Shaft, along: Callable[[Floats], Floats], surface: Crossed, sides: Sequence[RoundSurface], count: int
) -> list[float]:
    """Return where a side of an outline begins and ends, and where in between it goes over from one side of the body to another: its bend
    begins there all at once."""

    def told(part: float) -> object:
        return _met(shaft, along(np.array([part])), surface, sides)[1][0]

    t = np.linspace(0.0, 1.0, count + 1)
    _, on = _met(shaft, along(t), surface, sides)
    cuts = [0.0]
    for k in np.flatnonzero(on[1:] != on[:-1]):
        seam = turning_point(told, t[k], t[k + 1])
        if seam - cuts[-1] > CLOSE:
            cuts.append(seam)
    return [*cuts, 1.0]


def _met(shaft: Shaft, flat: Floats, surface: Crossed, sides: Sequence[RoundSurface]) -> tuple[Floats, Ints]:
    """Return the places (K, 3) at which points (K, 2) of an outline come on a surface, on its chords, and so on the round beside
    them where there is one; and what (K,) each lies on: a round and a stretch of it as one number, -1 on
    a flat face."""
    places = shaft.at(flat) - surface.depth(flat)[:, None] * shaft.frame[9:]
    nearest, on = np.full(len(places), np.inf), np.full(len(places), -1, dtype=np.intp)
    found = places.copy()
    for number, side in enumerate(sides):
        off = np.abs(side.off(places))
        rows = np.flatnonzero((off < nearest) & (off <= _CHORD * side.around) & side.holds(places))
        if len(rows):
            found[rows] = places[rows] - side.met(places[rows], -shaft.frame[9:])[:, None] * shaft.frame[9:]
            nearest[rows], on[rows] = off[rows], _MOST_SIDES * side.stretch(places[rows]) + number
    return found, on
