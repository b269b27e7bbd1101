"""Paths drawn on a surface: straight runs, arcs and smooth curves, and what they come to in the world and on paper."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from math import atan, ceil, cos, pi, radians, sin

import numpy as np

from isometron.geometry import cubics
from isometron.geometry.along import summed_along
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Bend, all_held
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye
from isometron.volumes.lines.surfaces import RoundSurface, Surface
from isometron.volumes.marks.face_marks import CurvePoint

__all__ = ["Path", "path_through"]

_STEP = pi / 24
"""Radians about an axle that one cubic piece of a line on a round side covers at most: it is then true to a ten-millionth of the radius."""
_ASKED = 96
"""Places along a piece at which it is asked whether it lies on its face."""
_FINE = 12
"""Pieces at least of a curved run on a round side that is not a cylinder's."""


@dataclass(frozen=True)
class Path:
    """Pieces in order, in mm on the surface: lines (2, 2), arcs, and cubic pieces (4, 2)."""

    pieces: tuple[Floats | Bend, ...]

    def lines(self) -> Iterator[Floats]:
        """Yield the straight runs (2, 2)."""
        yield from (p for p in self.pieces if not isinstance(p, Bend) and len(p) == 2)

    def arcs(self) -> Iterator[Bend]:
        """Yield the arcs."""
        yield from (p for p in self.pieces if isinstance(p, Bend))

    def cubic(self) -> Floats:
        """Return the smooth pieces (C, 4, 2)."""
        return np.array([p for p in self.pieces if not isinstance(p, Bend) and len(p) == 4]).reshape(-1, 4, 2)

    def at(self, t: Floats) -> Floats:
        """Return places (N, M, 2) at parts (M,) of every piece."""
        return np.array([_at(piece, t) for piece in self.pieces])

    def within(self, loops: Sequence[Floats]) -> Path:
        """Return what of it lies inside an outline and beside its holes, polygons (K, 2) in mm on the surface."""
        return Path(tuple(part for piece in self.pieces for part in _within(piece, loops)))

    def on(self, surface: Surface) -> Floats:
        """Return cubic pieces (C, 4, 3) in the world for a surface that is not flat: each leaves and comes as the line does."""
        found = []
        for piece in self.pieces:
            count = _count(piece, surface)
            t = np.linspace(0.0, 1.0, count + 1)
            drawn, ways = _at(piece, t), _velocity(piece, t)
            places, carried = surface.world(drawn), surface.carried(drawn, ways) / (3.0 * count)
            found.append(
                np.stack([places[:-1], places[:-1] + carried[:-1], places[1:] - carried[1:], places[1:]], axis=1)
            )
        return np.concatenate(found) if found else np.zeros((0, 4, 3))

    def true_length(self, surface: Surface) -> float:
        """Return its length in the world, mm."""
        return sum(self._length(piece, surface, None) for piece in self.pieces)

    def drawn_length(self, surface: Surface, eye: Eye) -> float:
        """Return the length of its picture, mm of paper, whatever hides it; NaN where it reaches behind the eye."""
        return sum(self._length(piece, surface, eye) for piece in self.pieces)

    def _length(self, piece: Floats | Bend, surface: Surface, eye: Eye | None) -> float:
        def speed(t: Floats) -> Floats:
            drawn = _at(piece, t)
            step = surface.carried(drawn, _velocity(piece, t))
            if eye is not None:
                camera, way = eye.to_camera(surface.world(drawn)), step @ eye.axes.T
                depth = camera[:, 2:]
                # The derivative of f X / Z.
                step = eye.viewing_distance * (way[:, :2] - camera[:, :2] / depth * way[:, 2:]) / depth
                step = np.where(depth > 0.0, step, np.nan)
            found: Floats = np.sqrt((step * step).sum(axis=1))
            return found

        return summed_along(speed)


def _inside(loops: Sequence[Floats], places: Floats) -> Bools:
    inside = all_held(loops[0], places)
    for hole in loops[1:]:
        inside &= ~all_held(hole, places, 0.0)
    return inside


def _within(piece: Floats | Bend, loops: Sequence[Floats]) -> Iterator[Floats | Bend]:
    """Yield the parts of a piece inside some loops."""
    t = np.linspace(0.0, 1.0, _ASKED + 1)
    middles = (t[1:] + t[:-1]) / 2.0
    inside = _inside(loops, _at(piece, middles)).tolist()
    if all(inside):
        yield piece
        return
    start = 0.0 if inside[0] else None
    for k in range(_ASKED - 1):
        if inside[k] == inside[k + 1]:
            continue
        low, high = float(middles[k]), float(middles[k + 1])
        for _ in range(40):
            middle = (low + high) / 2.0
            if _inside(loops, _at(piece, np.array([middle])))[0] == inside[k]:
                low = middle
            else:
                high = middle
        if start is None:
            start = low
        else:
            yield _part(piece, start, low)
            start = None
    if start is not None:
        yield _part(piece, start, 1.0)


def _part(piece: Floats | Bend, low: float, high: float) -> Floats | Bend:
    if isinstance(piece, Bend):
        return Bend(
            piece.centre, piece.first, piece.second, piece.start + low * piece.sweep, (high - low) * piece.sweep
        )
    if len(piece) == 2:
        return _at(piece, np.array([low, high]))
    found: Floats = cubics.part(piece[None], np.array([low]), np.array([high]))[0]
    return found


def _at(piece: Floats | Bend, t: Floats) -> Floats:
    if isinstance(piece, Bend):
        return piece.at(piece.start + piece.sweep * t)
    if len(piece) == 2:
        line: Floats = piece[0] + t[:, None] * (piece[1] - piece[0])
        return line
    found: Floats = cubics.at(piece[None], t)[0]
    return found


def _velocity(piece: Floats | Bend, t: Floats) -> Floats:
    if isinstance(piece, Bend):
        angle = (piece.start + piece.sweep * t)[:, None]
        arc: Floats = piece.sweep * (-np.sin(angle) * piece.first + np.cos(angle) * piece.second)
        return arc
    if len(piece) == 2:
        return np.broadcast_to(piece[1] - piece[0], (len(t), 2))
    found: Floats = cubics.velocity(piece[None], t)[0]
    return found


def _count(piece: Floats | Bend, surface: Surface) -> int:
    if not isinstance(surface, RoundSurface):
        return 1
    drawn = _at(piece, np.linspace(0.0, 1.0, 33))
    turn = float(np.abs(np.diff(drawn[:, 1])).sum()) / surface.around
    return max(ceil(turn / _STEP), _FINE if not isinstance(piece, Bend) and len(piece) == 2 else 2 * _FINE)


def path_through(points: tuple[CurvePoint, ...], places: Floats, *, closed: bool = False) -> Path:
    """Return the path through places (N, 2) as its points say how it goes on from each.

    Runs of smooth pieces are one smooth curve; where a straight run or an arc meets one it runs on as it comes, unless the point is
    a corner.
    """
    count = len(points)
    legs = [(k, (k + 1) % count) for k in range(count if closed else count - 1)]
    if closed and all(points[k].then == "smooth" for k, _ in legs):
        return Path(tuple(_smooth(points, places, list(range(count)), closed=True)))
    pieces: list[Floats | Bend] = []
    for then, run in groupby(legs, key=lambda leg: points[leg[0]].then):
        own = list(run)
        if then == "smooth":
            pieces += _smooth(points, places, [own[0][0], *(k for _, k in own)], closed=False)
            continue
        for one, two in own:
            bow = points[one].bow if then == "arc" else 0.0
            pieces.append(
                np.array([places[one], places[two]]) if abs(bow) <= CLOSE else _arc(places[one], places[two], bow)
            )
    return Path(tuple(pieces))


def _smooth(points: tuple[CurvePoint, ...], places: Floats, rows: list[int], *, closed: bool) -> list[Floats]:
    ways = [
        None if (angle := points[k].way_deg) is None else np.array([cos(radians(angle)), sin(radians(angle))]) for k in rows
    ]  # fmt: skip
    sharp = np.array([points[k].sharp for k in rows])
    return list(cubics.smooth_through(places[rows], closed=closed, sharp=sharp, ways=ways))


def _arc(one: Floats, two: Floats, bow: float) -> Bend:
    """Return the arc over a chord that bows out to its right by a part of half its length, see `corners.Corner`."""
    way = two - one
    chord, angle = float(np.hypot(*way)), 4.0 * atan(bow)
    radius = chord / 2.0 / abs(sin(angle / 2.0))
    off = radius * cos(angle / 2.0) * (1.0 if angle > 0.0 else -1.0)
    centre = (one + two) / 2.0 + np.array([-way[1], way[0]]) / chord * off
    start = float(np.arctan2(*(one - centre)[::-1]))
    return Bend(centre, np.array([radius, 0.0]), np.array([0.0, radius]), start, angle)
