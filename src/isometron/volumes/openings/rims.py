"""The outer line of a band round an opening in a round side: an outline carried straight on to it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from math import ceil, pi

import numpy as np

from isometron.geometry import cubics
from isometron.geometry.faces.shaft import Shaft
from isometron.geometry.frames import Floats
from isometron.geometry.intervals import turning_point
from isometron.geometry.outlines import Bend, Outline
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.lines.surfaces import RoundSurface

__all__ = ["Rims", "rim_on"]

_STEPS, _QUARTER = 16, 16
"""Cubic pieces of the line that a straight side of an outline draws on a surface, and a quarter turn of a bent one."""
_STRAIGHT = 1e-7


@dataclass(frozen=True)
class Rims:
    """Straight edges (E, 2, 3) and curves (C, 12)."""

    edges: Floats = field(default_factory=lambda: np.zeros((0, 2, 3)))
    curves: Floats = field(default_factory=lambda: np.zeros((0, 12)))

    @staticmethod
    def joined(parts: Sequence[Rims]) -> Rims:
        """Return all of them."""
        whole = [Rims(), *parts]
        return Rims(*(np.concatenate([getattr(part, own) for part in whole]) for own in ("edges", "curves")))


def rim_on(shaft: Shaft, outline: Outline, side: RoundSurface) -> Rims:
    """Return the line that an outline in a shaft's directions draws on a round side."""
    edges, curves = [], []
    for k, corner in enumerate(outline.corners):
        after = outline.corners[(k + 1) % len(outline.corners)]
        bend = outline.bends.get(k)
        if bend is None and float(np.abs(after - corner).max()) <= CLOSE:
            continue
        count = _STEPS if bend is None else max(ceil(abs(bend.sweep) / (pi / 2.0) * _QUARTER), 4)

        def along(t: Floats, one: Floats = corner, two: Floats = after, bend: Bend | None = bend) -> Floats:
            return one + t[:, None] * (two - one) if bend is None else bend.at(bend.start + bend.sweep * t)

        for low, high in pairwise(_seams(shaft, along, side, count)):
            places = _met(shaft, along(np.linspace(low, high, count + 1)), side)
            way, off = places[-1] - places[0], places - places[0]
            size = float(np.sqrt(way @ way))
            if size > CLOSE and float(np.abs(np.cross(off, way)).max()) <= _STRAIGHT * size * size:
                edges.append(places[[0, -1]])
            else:
                curves.append(cubics.spline_through(places).reshape(-1, 12))
    return Rims(np.array(edges).reshape(-1, 2, 3), np.concatenate([np.zeros((0, 12)), *curves]))


def _seams(shaft: Shaft, along: Callable[[Floats], Floats], side: RoundSurface, count: int) -> list[float]:
    """Return where a side of an outline begins and ends, and where in between it goes over from one stretch of the round side to
    another: its bend begins there all at once."""

    def told(part: float) -> object:
        return side.stretch(_met(shaft, along(np.array([part])), side))[0]

    t = np.linspace(0.0, 1.0, count + 1)
    on = side.stretch(_met(shaft, along(t), side))
    cuts = [0.0]
    for k in np.flatnonzero(on[1:] != on[:-1]):
        seam = turning_point(told, t[k], t[k + 1])
        if seam - cuts[-1] > CLOSE:
            cuts.append(seam)
    return [*cuts, 1.0]


def _met(shaft: Shaft, flat: Floats, side: RoundSurface) -> Floats:
    """Return the places (K, 3) at which points (K, 2) of an outline come on a round side."""
    places = shaft.at(flat)
    found: Floats = places - side.met(places, -shaft.frame[9:])[:, None] * shaft.frame[9:]
    return found
