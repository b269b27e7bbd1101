"""Turned bodies as closed shells of chords, from which openings are cut; hollow ones with the faces of their inside."""

from __future__ import annotations

from functools import lru_cache
from math import acos, ceil, pi

import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.flat import FlatFaces, faces_round, no_faces
from isometron.geometry.faces.insets import polygon_inset
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import signed_area
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.faces.turned import round_side
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.profile import Profile, profile_sides
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["inner_line", "inner_rings", "sides_of", "turned_inside", "turned_shell"]

_OFF, _LEAST, _MOST = 0.1, 48, 96
"""mm that chords about the axle may lie within the round, and how few and how many there are."""
_BENT, _SECTION, _TRUE = 12, 32, 120
"""Chords along a rounded stretch of a profile where it hides, where it is cut by a plane, and where its true line is asked for."""
Points = tuple[tuple[float, float], ...]
_CORNER = np.radians(3.0)
"""An inside that turns by less at a ring runs on there, as the outside does."""


def turned_shell(volume: Turned) -> FlatFaces:
    """Return the closed shell of a turned body in its own axes; it is neither steered nor leant."""
    return _shell(volume, _meridian(volume, _BENT), 1.0)


def turned_inside(volume: Turned) -> FlatFaces:
    """Return the faces of a hollow turned body's inside, which look inwards; raises `OutlineError` where the wall leaves no room."""
    return _shell(volume, _inner(volume, _BENT), -1.0)


def inner_line(volume: Turned) -> Floats:
    """Return the profile of a hollow body's inside as places (M, 2), mm along the axle and from it; raises `OutlineError` where there is no room."""
    return _inner(volume, _SECTION)


def inner_rings(volume: Turned) -> list[Floats]:
    """Return the rings (9,) at which the inside of a hollow body has a corner."""
    line = _inner(volume, _TRUE)
    side = round_side(volume)
    way = np.diff(line, axis=0, prepend=line[:1] - (0.0, line[:1, 1].max() + 1.0), append=line[-1:] - (0.0, 1.0))
    turn = np.arctan2(way[:-1, 0] * way[1:, 1] - way[:-1, 1] * way[1:, 0], (way[:-1] * way[1:]).sum(axis=1))
    found = []
    for (at, wide), angle in zip(line, turn, strict=True):
        if abs(angle) > _CORNER and wide > CLOSE:
            found.append(
                np.concatenate([
                    side.origin + at * side.axle, wide * side.flattened[0] * side.first, wide * side.flattened[1] * side.second
                ])
            )  # fmt: skip
    return found


def sides_of(volume: Turned) -> list[RoundSurface]:
    """Return the round side of a body, and that of its inside where it is hollow, in its own axes."""
    outer = round_side(volume)
    if volume.wall <= 0.0:
        return [outer]
    line = _inner(volume, _TRUE)

    def radius(along: Floats) -> tuple[Floats, Floats]:
        here, step = np.interp(along, line[:, 0], line[:, 1]), 1e-4 * volume.size[DIRECTIONS.index(volume.axle)]
        after, before = (np.interp(along + off, line[:, 0], line[:, 1]) for off in (step, -step))
        return here, (after - before) / (2.0 * step)

    inner = RoundSurface(
        outer.origin, outer.axle, outer.first, outer.second, outer.around, radius, outer.flattened, outer.long
    )
    return [outer, inner]


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


def _shell(volume: Turned, line: Floats, sign: float) -> FlatFaces:
    """Return the faces between the rings of a meridian, and its ends; those of an inside (``sign`` -1) look inwards."""
    side = round_side(volume)
    widest = float(line[:, 1].max())
    count = (
        4 * (min(max(ceil(pi / acos(max(1.0 - _OFF / widest, 0.0))), _LEAST), _MOST) // 4)
        if widest > _OFF
        else _LEAST
    )
    angle = np.arange(count) * (2 * np.pi / count)
    about = (
        side.flattened[0] * np.cos(angle)[:, None] * side.first
        + side.flattened[1] * np.sin(angle)[:, None] * side.second
    )
    rings = side.origin + line[:, :1, None] * side.axle + line[:, 1:, None] * about
    # Chords stand before what lies on a side that is hollow: the inside about the axle, a waist along it.
    off = 1.1 * widest * (1.0 - np.cos(np.pi / count))
    if any(part.kind != "straight" for part in profile_sides(volume.profile)):
        off += 1.1 * widest * (1.0 - np.cos(np.pi / 4.0 / _BENT))
    near = np.full(len(line), off) if sign < 0.0 else 1.1 * _waist(volume, line)
    parts = [no_faces()]
    for k in range(len(line) - 1):
        lower, upper = rings[k], rings[k + 1]
        corners = np.stack([lower, np.roll(lower, -1, axis=0), np.roll(upper, -1, axis=0), upper], axis=1)
        kept = np.ones(4, dtype=bool)
        if line[k, 1] <= CLOSE:
            kept[1] = False
        if line[k + 1, 1] <= CLOSE:
            kept[3] = False
        if kept.sum() >= 3 and (kept.all() or line[k : k + 2, 1].max() > CLOSE):
            parts.append(faces_round(corners[:, kept], float(near[k]), sign))
    for row, way in ((0, -1.0), (len(line) - 1, 1.0)):
        if line[row, 1] > CLOSE:
            loop = rings[row] if way > 0.0 else rings[row][::-1]
            parts.append(faces_round(loop[None], 0.0, sign))
    return FlatFaces.joined(parts)


def _waist(volume: Turned, line: Floats) -> Floats:
    """Return how far (M,) the chords of a meridian stand beyond the profile, half way from each point to the next."""
    middle = (line + np.roll(line, -1, axis=0)) / 2.0
    true, _ = round_side(volume).radius(middle[:, 0])
    runs = np.diff(line[:, 0], append=line[-1, 0]) > HAIR
    found: Floats = np.where(runs, np.maximum(middle[:, 1] - true, 0.0), 0.0)
    return found
