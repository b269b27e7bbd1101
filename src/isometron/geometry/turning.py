"""Where rounded sides of turned bodies turn away from the eye: exactly, for any profile curve.

A side is the curve (at(t), wide(t)) turned about the axle. The normal at the angle p is along (at' cos p, at' sin p, -wide'),
so the eye (ex, ey, ez) sees it edge on where

    at' r cos(p - pe) = wide at' - wide' (at - ez),    r = |(ex, ey)|, pe their angle

(any text on contours of surfaces of revolution, e.g. Cipolla and Giblin, *Visual Motion of Curves and Surfaces*, chapter 3).
Contours go over into contours when a body is stretched, so elliptical sections are done in the measure of their own halves.
"""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints

__all__ = ["SAMPLES", "turning_lines"]

SAMPLES = 97
"""Places along each curve that are known, ends included: 96 steps, so that every second, fourth or eighth will do too."""
_STRIDES = (8, 4, 2, 1)
_ENDS: Floats = (np.arange(7) / 6.0) ** 2
"""Where a contour turns back it does so like a square root: there are more places towards its end."""
_STEPS_TO_MM = 7.2
"""Times the root of a side's size on paper (mm): as many steps stray by less than 0.008 mm from a quarter round."""


def turning_lines(frames: Floats, curves: Floats, eye: Floats, look: Floats, distance: float) -> tuple[Floats, Ints]:
    """Return the lines (N, 2, 3) of all contours, and the sides (N,) they are on.

    frames : (K, 12) middle, axle, and the two half axes of the widest section; curves : (K, `SAMPLES`, 4) at, wide and their
    derivatives by the step, as parts of the axle and of the halves. eye, look : (3,), and the viewing distance, mm.
    """
    if len(frames) == 0:
        return np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp)
    size = np.sqrt(np.maximum((frames[:, 6:9] ** 2).sum(axis=1), (frames[:, 9:] ** 2).sum(axis=1)))
    depth = (frames[:, :3] - eye) @ look
    with np.errstate(divide="ignore", invalid="ignore"):
        steps = _STEPS_TO_MM * np.sqrt(size * distance / np.maximum(depth, 1e-3 * size))
    enough = np.searchsorted([(SAMPLES - 1) / s for s in _STRIDES[:-1]], steps)
    found, sides = [], []
    for k, stride in enumerate(_STRIDES):
        rows = np.flatnonzero(enough == k)
        if len(rows):
            own = curves[rows, ::stride].copy()
            own[..., 2:] *= stride
            lines, row = _contours(frames[rows], own, eye)
            found.append(lines)
            sides.append(rows[row])
    return np.concatenate(found), np.concatenate(sides)


def _contours(frames: Floats, curves: Floats, eye: Floats) -> tuple[Floats, Ints]:
    e = _local(frames, eye)
    away, towards = np.hypot(e[:, 0], e[:, 1]), np.arctan2(e[:, 1], e[:, 0])
    cosine = _cosine(curves, e[:, 2, None], away[:, None])
    there = np.abs(cosine) <= 1.0
    side, step = np.nonzero(there[:, :-1] & there[:, 1:])
    places = [np.stack([curves[side, step, :2], curves[side, step + 1, :2]], axis=1)]
    angles = [np.arccos(np.stack([cosine[side, step], cosine[side, step + 1]], axis=1))]
    sides = [side]
    row, step = np.nonzero(there[:, :-1] != there[:, 1:])
    if len(row):
        ends, turns = _turning_back(curves, cosine, there, row, step, e[row, 2], away[row])
        places.append(np.stack([ends[:, :-1], ends[:, 1:]], axis=2).reshape(-1, 2, 2))
        angles.append(np.stack([turns[:, :-1], turns[:, 1:]], axis=2).reshape(-1, 2))
        sides.append(np.repeat(row, len(_ENDS) - 1))
    at, angle, side = np.concatenate(places), np.concatenate(angles), np.concatenate(sides)
    both = [_world(frames[side], at, towards[side, None] + sign * angle) for sign in (1.0, -1.0)]
    return np.concatenate(both), np.concatenate([side, side])


def _local(frames: Floats, eye: Floats) -> Floats:
    """Return the eye (K, 3) in units of the two halves and of the axle, from the middle of the lower end."""
    way = eye - frames[:, :3]
    ways = [frames[:, 6:9], frames[:, 9:], frames[:, 3:6]]
    return np.column_stack([(way * one).sum(axis=1) / (one * one).sum(axis=1) for one in ways])


def _cosine(curve: Floats, height: Floats, away: Floats) -> Floats:
    """Return cos(p - pe) of the contour at places (..., 4) of a curve; beyond 1 there is none."""
    at, wide, rise, run = np.moveaxis(curve, -1, 0)
    over, under = wide * rise - run * (at - height), rise * away
    none = np.abs(under) <= 1e-12 * np.maximum(np.abs(over), 1e-300)
    cosine: Floats = np.where(none, 2.0, over / np.where(none, 1.0, under))
    return cosine


def _turning_back(
    curves: Floats, cosine: Floats, there: Bools, row: Ints, step: Ints, height: Floats, away: Floats
) -> tuple[Floats, Floats]:
    """Return places (E, P, 2) and angles (E, P) from where a contour turns back to the next place that is known."""
    low, high = curves[row, step], curves[row, step + 1]
    inside = there[row, step]  # the known place is the one before
    outer, inner = np.where(inside, 1.0, 0.0), np.where(inside, 0.0, 1.0)
    limit = np.sign(np.where(inside, cosine[row, step], cosine[row, step + 1]))
    for _ in range(40):
        middle = (outer + inner) / 2
        seen = limit * _cosine(_between(low, high, middle), height, away) <= 1.0
        inner, outer = np.where(seen, middle, inner), np.where(seen, outer, middle)
    known = np.where(inside, 0.0, 1.0)
    t = inner[:, None] + (known - inner)[:, None] * _ENDS
    curve = _between(low[:, None], high[:, None], t)
    turn = np.clip(_cosine(curve, height[:, None], away[:, None]), -1.0, 1.0)
    turn[:, 0] = limit
    turn[:, -1] = np.where(inside, cosine[row, step], cosine[row, step + 1])
    return curve[..., :2], np.arccos(turn)


def _between(low: Floats, high: Floats, t: Floats) -> Floats:
    """Return a curve's places and slopes at t between two known ones, by Hermite's cubic."""
    t = t[..., None]
    h00, h10, h01, h11 = 2 * t**3 - 3 * t**2 + 1, t**3 - 2 * t**2 + t, -2 * t**3 + 3 * t**2, t**3 - t**2
    place = h00 * low[..., :2] + h10 * low[..., 2:] + h01 * high[..., :2] + h11 * high[..., 2:]
    d00, d10, d11 = 6 * t**2 - 6 * t, 3 * t**2 - 4 * t + 1, 3 * t**2 - 2 * t
    slope = d00 * (low[..., :2] - high[..., :2]) + d10 * low[..., 2:] + d11 * high[..., 2:]
    return np.concatenate([place, slope], axis=-1)


def _world(frames: Floats, at: Floats, angle: Floats) -> Floats:
    """Return world places (N, 2, 3) of places (N, 2, 2) along curves at angles (N, 2)."""
    along, wide = at[..., :1], at[..., 1:]
    middle, axle, first, second = (frames[:, None, k : k + 3] for k in (0, 3, 6, 9))
    world: Floats = (
        middle + along * axle + wide * (np.cos(angle)[..., None] * first + np.sin(angle)[..., None] * second)
    )
    return world
