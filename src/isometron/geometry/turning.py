"""Where rounded sides of turned bodies turn away from the eye: exactly, for any profile curve.

A side is the curve (at(t), wide(t)) turned about the axle. The normal at the angle p is along (at' cos p, at' sin p, -wide'),
so the eye (ex, ey, ez) sees it edge on where

    at' r cos(p - pe) = wide at' - wide' (at - ez),    r = |(ex, ey)|, pe their angle

(any text on contours of surfaces of revolution, e.g. Cipolla and Giblin, *Visual Motion of Curves and Surfaces*, chapter 3).
Contours go over into contours when a body is stretched, so elliptical sections are done in the measure of their own halves.
"""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.turning_loops import Contours

__all__ = ["SAMPLES", "lifted_lines", "turning_lines"]

SAMPLES = 97
"""Places along each curve that are known, ends included: 96 steps, so that every second, fourth or eighth will do too."""
_STRIDES = (8, 4, 2, 1)
_ALONG = 1e-3
"""Sight lines that are off the axle by less are along it: a tyre of 200 mm then hides 0.2 mm of its far shoulder."""
_DEEP = 5e-4
"""Of its radius: what a line may run within a side that hides nothing of its outline by a thousandth (see `RoundParts.own_least`)."""
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
    steps = _STEPS_TO_MM * np.sqrt(size * distance / np.maximum(depth, 1e-3 * size))
    strides = np.array(_STRIDES)[np.searchsorted([(SAMPLES - 1) / s for s in _STRIDES[:-1]], steps)]
    e = _local(frames, eye)
    away, towards = np.hypot(e[:, 0], e[:, 1]), np.arctan2(e[:, 1], e[:, 0])
    side, places = Contours().find(  # type: ignore[no-untyped-call]
        np.ascontiguousarray(curves), strides, e[:, 2].copy(), away, np.maximum((np.pi / 2) / steps, 1e-3)
    )
    both = [
        _world(frames[side], places[..., :2], towards[side, None] + sign * places[..., 2]) for sign in (1.0, -1.0)
    ]
    return np.concatenate(both), np.concatenate([side, side])


def lifted_lines(lines: Floats, frames: Floats, eye: Floats) -> Floats:
    """Return lines of contours (N, 2, 3), those that would be hidden by their own side lifted off it until they touch it in the middle.

    A line from place to place round a side runs within it. Seen along the axle, as wheels in plain views, or where it turns far
    about the axle, as beside a rounded end that is seen square to it, the side would hide its own outline between the places,
    though by far less than can be drawn. frames : (N, 12) of the sides; eye : (3,).
    """
    sight = eye - frames[:, :3]
    length = np.sqrt((frames[:, 3:6] ** 2).sum(axis=1))
    along = np.abs((sight * frames[:, 3:6]).sum(axis=1)) / length
    beside = np.sqrt(np.maximum((sight**2).sum(axis=1) - along**2, 0.0))
    off = lines - frames[:, None, :3]
    axle = frames[:, None, 3:6]
    across = off - (off * axle).sum(axis=2, keepdims=True) / (axle * axle).sum(axis=2, keepdims=True) * axle
    x, y = (
        ((across * way).sum(axis=2) / (way * way).sum(axis=2)) for way in (frames[:, None, 6:9], frames[:, None, 9:])
    )
    turn = np.arctan2(x[:, 0] * y[:, 1] - y[:, 0] * x[:, 1], x[:, 0] * x[:, 1] + y[:, 0] * y[:, 1])
    rise = 1.0 / np.cos(turn / 2.0) - 1.0
    lift = np.where((beside < _ALONG * along) | (rise > _DEEP), rise, 0.0)
    lifted: Floats = lines + across * lift[:, None, None]
    return lifted


def _local(frames: Floats, eye: Floats) -> Floats:
    """Return the eye (K, 3) in units of the two halves and of the axle, from the middle of the lower end."""
    way = eye - frames[:, :3]
    ways = [frames[:, 6:9], frames[:, 9:], frames[:, 3:6]]
    return np.column_stack([(way * one).sum(axis=1) / (one * one).sum(axis=1) for one in ways])


def _world(frames: Floats, at: Floats, angle: Floats) -> Floats:
    """Return world places (N, 2, 3) of places (N, 2, 2) along curves at angles (N, 2)."""
    along, wide = at[..., :1], at[..., 1:]
    middle, axle, first, second = (frames[:, None, k : k + 3] for k in (0, 3, 6, 9))
    world: Floats = (
        middle + along * axle + wide * (np.cos(angle)[..., None] * first + np.sin(angle)[..., None] * second)
    )
    return world
