"""Openings as shafts: an outline on a face, carried straight into a body, and what it comes to on the planes that it meets."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from math import ceil, inf, pi

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.faces.cutting import CHORDS
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Bend, Outline, holds
from isometron.geometry.tolerances import CLOSE
from isometron.wording import tr

__all__ = [
    "ONE_FACE",
    "CarveError",
    "OnPlane",
    "Shaft",
    "arced_sides",
    "chorded",
    "on_plane",
    "place_within",
    "round_outside",
    "sheet_of",
    "touching",
]

_WALLS = 6
"""Walls to a quarter turn of an opening's round."""
ONE_FACE = tr("The opening does not come out on one flat face: make it smaller, move it, or give it a bottom.")


class CarveError(IsometronError, ValueError):
    """An opening that cannot be cut; the message says why, and the remedy."""


@dataclass(frozen=True)
class Shaft:
    """An opening. frame : (12,) a place on the face, the outline's two directions and the way outward, of length one; outline
    : counter-clockwise in these directions, mm. depth : mm to its bottom, infinite where it goes out on the other side; walls :
    how many walls it then goes through, 0 for all; grain : radians, an outline that turns by less at a corner runs on smoothly there:
    that of one made of chords; bent : whether the face is a bent one, whose chords are many faces."""

    frame: Floats
    outline: Outline
    depth: float = inf
    walls: int = 1
    grain: float = 0.0
    bent: bool = False

    @cached_property
    def creases(self) -> Bools:
        """The corners (M,) of the outline at which its walls meet in an edge."""
        sharp = self.outline.sharp()
        if self.grain > 0.0:
            corners = self.outline.corners
            before, after = corners - np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0) - corners
            turn = np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1))
            sharp &= np.abs(turn) > self.grain
        return sharp

    def at(self, flat: Floats, depth: float = 0.0) -> Floats:
        """Return the places (K, 3) of points (K, 2) of the outline's plane, so deep."""
        frame = self.frame
        found: Floats = frame[:3] + flat[:, :1] * frame[3:6] + flat[:, 1:] * frame[6:9] - depth * frame[9:]
        return found


@dataclass(frozen=True)
class OnPlane:
    """A shaft's outline carried along it on to a plane: frame : (12,) of the plane; origin : (3,), ways : (2, 3) what the outline's
    origin and its two directions come to; deepest : mm from the face to the farthest of it."""

    shaft: Shaft
    frame: Floats
    origin: Floats
    ways: Floats
    deepest: float

    def place(self, flat: Floats) -> Floats:
        """Return the place (3,) that a point (2,) of the outline comes to."""
        found: Floats = self.origin + flat @ self.ways
        return found

    def way(self, flat: Floats) -> Floats:
        """Return what a direction (2,) of the outline comes to (3,)."""
        found: Floats = flat @ self.ways
        return found

    def points(self, flat: Floats) -> Floats:
        """Return points (K, 2) of the outline in the plane's own directions (K, 2)."""
        return self._own(self.origin + flat @ self.ways)

    def _own(self, places: Floats) -> Floats:
        off = places - self.frame[:3]
        return np.stack([off @ self.frame[3:6], off @ self.frame[6:9]], axis=-1)

    def sides(self) -> tuple[Floats, Floats]:
        """Return the sides (S, 4) and arcs (S, 7) of the outline in the plane's own directions."""
        turn = np.stack([self.ways @ self.frame[3:6], self.ways @ self.frame[6:9]], axis=1)
        start = self._own(self.origin[None])[0]
        sides, bows = [], []
        for one, two, bow in arced_sides(self.shaft.outline):
            sides.append(np.concatenate([start + one @ turn, start + two @ turn]))
            if bow is None:
                bows.append(np.zeros(7))
            else:
                centre, first, second, sweep = bow
                bows.append(np.concatenate([start + centre @ turn, first @ turn, second @ turn, [sweep]]))
        return np.array(sides).reshape(-1, 4), np.array(bows).reshape(-1, 7)


def on_plane(shaft: Shaft, frame: Floats) -> OnPlane:
    """Return a shaft's outline carried straight on to a plane that it meets."""
    normal, way = frame[9:], shaft.frame[9:]
    slope = float(normal @ way)
    if abs(slope) < 1e-6:
        raise CarveError(ONE_FACE)

    def carried(direction: Floats) -> Floats:
        found: Floats = direction - float(direction @ normal) / slope * way
        return found

    origin = shaft.frame[:3] - float((shaft.frame[:3] - frame[:3]) @ normal) / slope * way
    ways = np.array([carried(shaft.frame[3:6]), carried(shaft.frame[6:9])])
    flat = chorded(shaft.outline, 4)
    places = origin + flat @ ways
    deepest = float((-(places - shaft.frame[:3]) @ way).max())
    return OnPlane(shaft, frame, origin, ways, deepest)


Bow = tuple[Floats, Floats, Floats, float]


def arced_sides(outline: Outline) -> Iterator[tuple[Floats, Floats, Bow | None]]:
    """Yield the sides of an outline with their ends, bent ones in arcs of up to a quarter turn."""
    count = len(outline.corners)
    for k in range(count):
        one, two = outline.corners[k], outline.corners[(k + 1) % count]
        bend = outline.bends.get(k)
        if bend is None:
            yield one, two, None
            continue
        number = max(ceil(abs(bend.sweep) / (pi / 2) - CLOSE), 1)
        angles = bend.start + bend.sweep * np.arange(number + 1) / number
        points = bend.at(angles)
        points[0], points[-1] = one, two
        for n in range(number):
            first = points[n] - bend.centre
            yield (
                points[n],
                points[n + 1],
                (bend.centre, first, bend.tangent(float(angles[n])), abs(bend.sweep) / number),
            )


def chorded(outline: Outline, chords: int = CHORDS) -> Floats:
    """Return an outline as a polygon (P, 2) of points on it, so many chords to a quarter turn."""
    parts: list[Floats] = []
    for k, corner in enumerate(outline.corners):
        parts.append(corner[None])
        bend = outline.bends.get(k)
        if bend is not None:
            count = max(ceil(abs(bend.sweep) / (pi / 2) * chords), 2)
            parts.append(bend.at(bend.start + bend.sweep * np.arange(1.0, count) / count))
    return np.concatenate(parts)


def round_outside(outline: Outline) -> Floats:
    """Return the polygon (P, 2) that an opening's walls stand on."""
    parts = []
    for k, corner in enumerate(outline.corners):
        after = outline.corners[(k + 1) % len(outline.corners)]
        bend = outline.bends.get(k)
        parts.append(corner[None] if bend is None else touching(np.array([corner, after]), bend)[:-1])
    return np.concatenate(parts)


def touching(ends: Floats, bend: Bend) -> Floats:
    """Return points (K, 2) from end to end round the outside of an opening's bent side: tangents of one that bulges out of
    the opening, chords of one that bulges into it, so that the walls through them lie behind the true one.

    Few will do where they lie behind: what is seen through the opening is told by the faces at both its ends, which are true.
    """
    count = max(ceil(abs(bend.sweep) / (pi / 2) * (CHORDS if bend.sweep < 0.0 else _WALLS)), 2)
    step = bend.sweep / count
    if bend.sweep < 0.0:
        inner = bend.at(bend.start + step * np.arange(1.0, count))
    else:
        inner = bend.centre + (bend.at(bend.start + step * (np.arange(float(count)) + 0.5)) - bend.centre) / np.cos(
            step / 2
        )
    return np.concatenate([ends[:1], inner, ends[1:]])


def sheet_of(shaft: Shaft, bend: Bend, one: OnPlane, two: OnPlane) -> Floats:
    """Return the sheet (18,) of a wall that bulges into an opening, see `RoundParts`."""
    way = -shaft.frame[9:]
    ends = [bend.start, bend.start + bend.sweep]
    reach = []
    for angle in ends:
        point = bend.at(np.array([angle]))[0]
        near = [float((plane.place(point) - shaft.frame[:3]) @ way) for plane in (one, two)]
        reach.append((angle, *near))
    frame = [
        shaft.at(bend.centre[None])[0], *(half[0] * shaft.frame[3:6] + half[1] * shaft.frame[6:9] for half in (bend.first, bend.second)), way
    ]  # fmt: skip
    return np.concatenate([*frame, np.array(reach).reshape(-1)])


def place_within(flat: Floats) -> Floats:
    """Return a place (2,) well inside a polygon (P, 2)."""
    way = np.roll(flat, -1, axis=0) - flat
    size = np.hypot(way[:, 0], way[:, 1])
    for k in np.argsort(-size, kind="stable"):
        place: Floats = flat[k] + 0.4781 * way[k] + 0.0137 * np.array([-way[k, 1], way[k, 0]])
        if holds(flat, place, 0.0):
            return place
    middle: Floats = flat.mean(axis=0)
    return middle
