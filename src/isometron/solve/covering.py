"""What of a curve is hidden: the curve is sampled, and every change between seen and hidden is bisected.

A convex body hides one interval of a straight line, and few of a ring. Samples find the intervals, bisection their ends; a
stretch shorter than the step between two samples can be missed, so the candidates get samples of their own where the
sight plane through a round body's axle cuts a straight curve.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from isometron.geometry.bodies import Shadows
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta, covered
from isometron.geometry.tolerances import TOUCH

__all__ = ["Covers", "hidden_spans"]

_HALVINGS = 12
"""From a step of 12 mm on paper these lead to 0.003 mm."""
_LEAST_RUN = 1e-6
"""A sight line that runs inside a round body for less than this part of its length only touches it."""

PointsAt = Callable[[Ints, Floats], Floats]
"""Points (P, K, 3) of curves (P,) at parameters (P, K)."""


@dataclass(frozen=True)
class Covers:
    """All that hides: polyhedra as shadow regions about the eye, frusta, each with its volume and bounds.

    region_owner : (B,); region_box, frusta_box : (B, 4), (R, 4) least and greatest u, v on paper; region_near,
    frusta_near : least depths; own_least : (R,) mm that a sight line must run inside a frustum of the curve's own
    volume, so that the outline of a rounded side is not hidden by the pieces it is made of.
    """

    eye: Floats
    regions: Shadows
    region_owner: Ints
    region_box: Floats
    region_near: Floats
    frusta: Frusta
    frusta_box: Floats
    frusta_near: Floats
    solid: Bools
    own_least: Floats


def hidden_spans(
    covers: Covers, points_at: PointsAt, owner: Ints, box: Floats, far: Floats, samples: Floats, *, lenient: bool
) -> tuple[Ints, Floats, Floats]:
    """Return the hidden parts (curve, t0, t1), sorted and disjoint, of N curves with parameters from 0 to 1.

    owner : (N,); box : (N, 4) paper bounds; far : (N,) greatest depth; samples : (K,) parameters, 0 and 1 among them;
    lenient : whether a curve lies on its own volume's side (an outline), see `Covers.own_least`.
    """
    if len(owner) == 0:
        nothing = np.zeros(0, dtype=np.intp)
        return nothing, np.zeros(0), np.zeros(0)
    pairs = _Pairs(covers, owner, box, far, lenient)
    t = np.broadcast_to(samples, (len(owner), len(samples))).copy()
    hidden = pairs.hidden(points_at, np.arange(len(owner)), t)
    curve, place = np.nonzero(hidden[:, 1:] != hidden[:, :-1])
    low, high = t[curve, place], t[curve, place + 1]
    begins = ~hidden[curve, place]
    for _ in range(_HALVINGS):
        if len(curve) == 0:
            break
        middle = (low + high) / 2
        state = pairs.hidden(points_at, curve, middle[:, None])[:, 0]
        towards = state == begins
        low, high = np.where(towards, low, middle), np.where(towards, middle, high)
    return _spans(hidden, curve, (low + high) / 2, begins)


def _spans(hidden: Bools, curve: Ints, at: Floats, begins: Bools) -> tuple[Ints, Floats, Floats]:
    """Join the changes to intervals: a curve hidden at its start begins at 0, one hidden at its end ends at 1."""
    first, last = np.flatnonzero(hidden[:, 0]), np.flatnonzero(hidden[:, -1])
    start_curve = np.concatenate([first, curve[begins]])
    starts = np.concatenate([np.zeros(len(first)), at[begins]])
    end_curve = np.concatenate([last, curve[~begins]])
    ends = np.concatenate([np.ones(len(last)), at[~begins]])
    one, two = np.lexsort((starts, start_curve)), np.lexsort((ends, end_curve))
    return start_curve[one], starts[one], ends[two]


class _Pairs:
    """Curves paired with what may hide them, by paper bounds and depth."""

    def __init__(self, covers: Covers, owner: Ints, box: Floats, far: Floats, lenient: bool) -> None:
        self._covers = covers
        self._regions = self._found(box, far, covers.region_box, covers.region_near, covers.regions.active)
        own = owner[:, None] == covers.frusta.owner
        wanted = covers.solid[covers.frusta.owner] | own
        self._frusta = self._found(box, far, covers.frusta_box, covers.frusta_near, wanted)
        curve, frustum = self._frusta
        mine = owner[curve] == covers.frusta.owner[frustum]
        self._least = np.where(mine & lenient, covers.own_least[frustum], 0.0)

    @staticmethod
    def _found(box: Floats, far: Floats, other: Floats, near: Floats, wanted: Bools) -> tuple[Ints, Ints]:
        hits = (far[:, None] > near) & wanted
        for low, high in ((0, 2), (1, 3)):
            hits &= box[:, low, None] <= other[:, high]
            hits &= other[:, low] <= box[:, high, None]
        curve, cover = np.nonzero(hits)
        return curve, cover

    def hidden(self, points_at: PointsAt, curve: Ints, t: Floats) -> Bools:
        """Tell for each of the curves (P,), at its parameters (P, K), whether it is hidden there."""
        covers = self._covers
        points = points_at(curve, t)
        found = np.zeros(t.shape, dtype=bool)
        at, region = _join(self._regions, curve)
        if len(at):
            gap = points[at] - covers.eye
            heights = gap @ covers.regions.normals[region].transpose(0, 2, 1)
            heights -= covers.regions.offsets[region][:, None, :]
            behind = (heights < -TOUCH * covers.regions.scale[region][:, None, None]).all(axis=2)
            np.logical_or.at(found, at, behind)
        at, pair = _join((self._frusta[0], np.arange(len(self._frusta[0]))), curve)
        if len(at):
            frustum = self._frusta[1][pair]
            run = self._least[pair] / np.sqrt(((points[at, 0] - covers.eye) ** 2).sum(axis=1))
            over = covered(covers.frusta, frustum, covers.eye, points[at], np.maximum(run, _LEAST_RUN))
            np.logical_or.at(found, at, over)
        return found


def _join(pairs: tuple[Ints, Ints], curve: Ints) -> tuple[Ints, Ints]:
    """Return (row of ``curve``, cover) for every pair of a listed curve; the pairs are sorted by curve."""
    first = np.searchsorted(pairs[0], curve, side="left")
    count = np.searchsorted(pairs[0], curve, side="right") - first
    row = np.repeat(np.arange(len(curve)), count)
    cover = np.repeat(first - (np.cumsum(count) - count), count) + np.arange(len(row))
    return row, pairs[1][cover]
