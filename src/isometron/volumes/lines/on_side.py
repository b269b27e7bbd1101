"""Rings, holes, buttons and dials on the round sides of turned bodies."""

from __future__ import annotations

from collections.abc import Iterator
from math import radians

import msgspec
import numpy as np

from isometron.geometry import cubics
from isometron.geometry.frames import Floats, square_to
from isometron.geometry.frusta import Frusta
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import RingMark
from isometron.volumes.marks.holds import Measured, held_at, step_mm
from isometron.volumes.rounds import RoundParts
from isometron.volumes.turned import PROFILES, Turned
from isometron.volumes.volume import Volume

__all__ = ["is_ball", "on_side", "ring_on_side", "side_frame"]

_ROUND = 48
"""Places round a ring at which it is put on the surface exactly."""
_DIAL = 0.86


def is_ball(volume: Volume) -> bool:
    """Whether a volume is a ball."""
    return (
        isinstance(volume, Turned)
        and volume.profile == PROFILES["ball"]
        and max(volume.size) - min(volume.size) <= HAIR
    )


def on_side(mark: RingMark, side: RoundSurface) -> Iterator[RingMark]:
    """Yield the rings of a row on a round side one by one, as long as they lie on it."""
    long, whole = side.reach
    reach = mark.diameter / 2.0, mark.diameter / 2.0
    at = [held_at(held, length, reach) for held, length in zip(mark.at, (long, whole), strict=True)]
    step = [step_mm(own, length, reach) for own, length in zip(mark.step, (long, whole), strict=True)]
    for k in range(mark.count):
        along, about = at[0] + k * step[0], at[1] + k * step[1]
        if -CLOSE <= along <= long + CLOSE:
            yield msgspec.structs.replace(mark, at=(Measured(mm=along), Measured(mm=about)), count=1)


def side_frame(side: RoundSurface, along: float, about: float) -> tuple[Floats, Floats, Floats, Floats]:
    """Return a place (3,) on a round side, the ways along it and about the axle there, and outward, of length one."""
    drawn = np.array([[along, about]])
    place = side.world(drawn)[0]
    ways = [side.carried(drawn, np.array([way]))[0] for way in ((1.0, 0.0), (0.0, 1.0))]
    first, second = (way / max(float(np.sqrt(way @ way)), 1e-300) for way in ways)
    outward = square_to(second, first)
    middle = side.origin + along * side.axle
    size = float(np.sqrt(outward @ outward))
    outward = (
        outward / size if size > CLOSE else (place - middle) / max(float(np.linalg.norm(place - middle)), 1e-300)
    )
    off = place - middle
    return place, first, second, outward if (float(outward @ off) >= 0.0) is not side.hollow else -outward


def ring_on_side(mark: RingMark, side: RoundSurface, row: int, *, ball: bool) -> RoundParts:
    """Return a ring on a round side: where a tube of its diameter, square to the surface, meets it; a hole in it, or what stands
    out of it."""
    along, about = (held.mm if isinstance(held, Measured) else 0.0 for held in mark.at)
    place, first, second, outward = side_frame(side, along, about)
    radius = mark.diameter / 2.0
    if radius <= HAIR:
        return RoundParts()
    parts, deepest = [], 0.0
    raised = max(-mark.depth, 0.0)
    widths = [radius] if raised > 0.0 else [radius, *(part * radius for part in mark.inner if CLOSE < part < 1.0)]
    for wide in widths:
        rim, drop = _rim(side, place, first, second, outward, wide, ball=ball)
        deepest = max(deepest, drop)
        parts.append(rim.owned(lambda owner: np.full(len(owner), row)))
    one = np.ones(1)
    if raised > 0.0:
        base, way = place - deepest * outward, (deepest + raised) * outward
        body = Frusta(
            np.array([row]), base[None], way[None], radius * first[None], radius * second[None], one, one, np.zeros(1)
        )
        parts.append(
            RoundParts(
                frusta=body,
                rounded=np.zeros(1, dtype=bool),
                spun=np.zeros(1, dtype=np.intp),
            )
        )
        upper = place + raised * outward
        rings = [
            np.concatenate([upper, part * radius * first, part * radius * second]) for part in (1.0, *mark.inner)
        ]
        parts.append(RoundParts.drawn(row, rings, is_mark=True))
        parts.append(RoundParts.stroked(row, _strokes(mark, upper, radius * first, radius * second)))
    elif mark.depth > 0.0:
        rim_plane = place - deepest * outward
        hole = np.concatenate([rim_plane, radius * first, radius * second, -mark.depth * outward])
        parts.append(RoundParts(holes=hole[None], hole_owner=np.array([row])))
    return RoundParts.joined(parts)


def _strokes(mark: RingMark, upper: Floats, first: Floats, second: Floats) -> list[Floats]:
    found = []
    for angle in np.arange(mark.divisions) * (2 * np.pi / max(mark.divisions, 1)) + radians(mark.start_deg):
        out = np.cos(angle) * first + np.sin(angle) * second
        found.append(np.stack([upper + _DIAL * out, upper + out]))
    return found


def _rim(
    side: RoundSurface, place: Floats, first: Floats, second: Floats, outward: Floats, radius: float, *, ball: bool
) -> tuple[RoundParts, float]:
    """Return where a tube meets the side, and how deep below the place on it that lies at most, mm: on a ball a true ring."""
    if ball and radius < side.around:
        drop = side.around - float(np.sqrt(side.around**2 - radius**2))
        ring = np.concatenate([place - drop * outward, radius * first, radius * second])
        return RoundParts.drawn(0, [ring], is_mark=True), drop
    angle = np.arange(_ROUND) * (2 * np.pi / _ROUND)
    flat = place + radius * (np.cos(angle)[:, None] * first + np.sin(angle)[:, None] * second)
    drops = _drops(side, flat, outward)
    cubes = cubics.smooth_through(flat - drops[:, None] * outward, closed=True).reshape(-1, 12)
    return RoundParts.curved(0, cubes, on_round=True), float(drops.max())


def _drops(side: RoundSurface, places: Floats, outward: Floats) -> Floats:
    """Return how far (N,) below places (N, 3) the surface lies."""
    found: Floats = np.clip(side.met(places, -outward), 0.0, 2.0 * side.around)
    return found
