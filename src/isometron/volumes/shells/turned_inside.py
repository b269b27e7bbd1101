"""The insides of hollow turned bodies, as lines that are turned about their axles."""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise

import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.insets import polygon_inset
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import signed_area
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.faces.turned import round_side
from isometron.volumes.profile import Profile, profile_sides
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["inner_stretches"]

_TRUE = 120
"""Chords along a rounded stretch of a profile where its true line is asked for."""
_WITHIN = 1.0 / 10000.0
"""Of a body's size: so near to it the inside is told by chords."""
Points = tuple[tuple[float, float], ...]
_CORNER = np.radians(3.0)
"""An inside that turns by less at a ring runs on there, as the outside does."""


def inner_stretches(volume: Turned) -> list[Floats]:
    """Return the profile of a hollow body's inside as lines of places (M, 2), mm along the axle and from it, from corner to corner; raises
    `OutlineError` where there is no room."""
    line = _inner(volume, _TRUE)
    within = _WITHIN * float(np.sqrt(sum(s * s for s in volume.size)))
    cuts = [
        0,
        *(k for k in np.flatnonzero(np.abs(_turns(line)) > _CORNER).tolist() if 0 < k < len(line) - 1),
        len(line) - 1,
    ]
    return [_thinned(line[low : high + 1], within) for low, high in pairwise(cuts)]


def _turns(line: Floats) -> Floats:
    """Return by how much (M,) a profile turns at its places, between flat ends; radians."""
    way = np.diff(line, axis=0, prepend=line[:1] - (0.0, line[:1, 1].max() + 1.0), append=line[-1:] - (0.0, 1.0))
    found: Floats = np.arctan2(way[:-1, 0] * way[1:, 1] - way[:-1, 1] * way[1:, 0], (way[:-1] * way[1:]).sum(axis=1))
    return found


def _thinned(line: Floats, within: float) -> Floats:
    """Return those of places (M, 2) whose chords lie so near to all of them (Douglas and Peucker 1973)."""
    kept, waiting = {0, len(line) - 1}, [(0, len(line) - 1)]
    while waiting:
        low, high = waiting.pop()
        way, off = line[high] - line[low], line[low + 1 : high] - line[low]
        size = float(np.hypot(*way))
        if high - low < 2 or size <= 0.0:
            continue
        far = np.abs(way[0] * off[:, 1] - way[1] * off[:, 0]) / size
        if far.max() > within:
            middle = low + 1 + int(far.argmax())
            kept.add(middle)
            waiting += [(low, middle), (middle, high)]
    return line[sorted(kept)]


def _meridian(volume: Turned, chords: int) -> Floats:
    """Return the profile as points (M, 2): mm along the axle, mm of its wider half axis from it."""
    side = round_side(volume)
    points: list[Floats] = []
    for part in profile_sides(volume.profile):
        t = np.array([0.0, 1.0]) if part.kind == "straight" else np.linspace(0.0, 1.0, chords + 1)
        points.append(part.at(t)[:, :2])
    line = np.concatenate(points) * (volume.size[DIRECTIONS.index(volume.axle)], side.around)
    kept = np.ones(len(line), dtype=bool)
    kept[1:] = np.hypot(*np.diff(line, axis=0).T) > HAIR
    return line[kept]


@lru_cache(maxsize=64)
def _inner_of(size: tuple[float, float, float], axle: str, profile: Profile, wall: float, chords: int) -> Points:
    line = _meridian(_bare(size, axle, profile), chords)
    other = line[::-1] * (1.0, -1.0)
    loop = np.concatenate([other[other[:, 1] < -CLOSE], line]) if len(other) else line
    loop = loop[:: 1 if signed_area(loop) > 0.0 else -1]
    inner = polygon_inset(loop, wall)
    above = inner[:, 1] >= -CLOSE
    # Counter-clockwise the half beyond the axle comes in one run, from the axle's end to its start.
    first = next((k for k in range(len(inner)) if above[k] and not above[k - 1]), 0)
    half = np.roll(inner, -first, axis=0)[: int(above.sum())][::-1]
    if len(half) < 2 or not half[:, 1].max() > CLOSE:
        raise OutlineError(tr("A wall of {wall:.4g} mm leaves no room inside: take less.", wall=wall))
    return tuple((float(at), max(float(wide), 0.0)) for at, wide in half)


def _inner(volume: Turned, chords: int) -> Floats:
    return np.array(_inner_of(volume.size, volume.axle, volume.profile, volume.wall, chords))


def _bare(size: tuple[float, float, float], axle: str, profile: Profile) -> Turned:
    return Turned(id="turned", name="turned", corner=(0.0, 0.0, 0.0), size=size, axle=axle, profile=profile)  # type: ignore[arg-type]
