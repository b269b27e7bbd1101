"""Do two convex bodies share space? Separating axes (Gottschalk, Lin, Manocha 1996), for bodies of any faces."""

from __future__ import annotations

import numpy as np

from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import SAME_DIRECTION, SAME_PLACE

__all__ = ["bounds", "contact_spans", "overlap_depths", "pairs_within_reach"]


_NUMBERS = 4_000_000
"""So many places along axes are worked out at a time, whatever the bodies have of corners and edges."""
_MOST_DIRECTIONS = 40
"""Directions of a body's edges by which it is told from others: of a round that is cut into more chords these stand for all."""
_SWEPT = 200_000
"""Pairs looked at by their bounds at a time."""


def bounds(bodies: ConvexBodies) -> tuple[Floats, Floats]:
    """Return the least and greatest corners (N, 3) of the upright boxes round the bodies."""
    return bodies.vertices.min(axis=1), bodies.vertices.max(axis=1)


def pairs_within_reach(low: Floats, high: Floats, group: Ints | None = None, most: int = 1_000_000) -> Ints:
    """Return the pairs (M, 2), i < j, whose upright bounds (N, 3) share space by more than `SAME_PLACE`.

    group : (N,) bodies of one group are no pairs. No more than ``most`` pairs are returned, and never much more memory is
    used: bodies are swept along x, a few thousand pairs at a time.
    """
    order = np.argsort(low[:, 0], kind="stable")
    low, high = low[order], high[order]
    own = np.arange(len(low)) if group is None else group[order]
    until = np.searchsorted(low[:, 0], high[:, 0] - SAME_PLACE)
    first = np.arange(len(low))
    counts = np.maximum(until - first - 1, 0)
    found, total = [np.zeros((0, 2), dtype=np.intp)], 0
    begin = 0
    ends = np.cumsum(counts)
    while begin < len(low) and total < most:
        stop = max(int(np.searchsorted(ends, (ends[begin - 1] if begin else 0) + _SWEPT)), begin + 1)
        one = np.repeat(first[begin:stop], counts[begin:stop])
        other = (
            one
            + 1
            + np.arange(len(one))
            - np.repeat(ends[begin:stop] - counts[begin:stop] - (ends[begin] - counts[begin]), counts[begin:stop])
        )
        meet = own[one] != own[other]
        for axis in range(3):
            meet &= (low[one, axis] < high[other, axis] - SAME_PLACE) & (
                low[other, axis] < high[one, axis] - SAME_PLACE
            )
        pairs = order[np.column_stack([one[meet], other[meet]])]
        found.append(np.sort(pairs, axis=1))
        total += len(pairs)
        begin = stop
    pairs = np.concatenate(found)
    return pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))][:most]


def overlap_depths(bodies: ConvexBodies, pairs: Ints) -> Floats:
    """Return for each of ``pairs`` (M, 2) the least push in mm that parts the two bodies; 0 when they only touch.

    The axes that can part two convex bodies are the normals of their faces and the cross products of their edges.
    """
    used, rows = np.unique(pairs, return_inverse=True)
    bodies, pairs = bodies.select(used), rows.reshape(pairs.shape)
    along = _edge_directions(bodies)
    chunk = _at_a_time(bodies, along)
    chunks = [_depths(bodies, along, pairs[k : k + chunk]) for k in range(0, len(pairs), chunk)]
    return np.concatenate(chunks) if chunks else np.zeros(0)


def contact_spans(bodies: ConvexBodies, pairs: Ints, way: Floats) -> Floats:
    """Return from how far to how far (M, 2), mm, the first of each of ``pairs`` (M, 2) shares space with the second while it is moved along
    a direction (3,) of length one; from infinity to minus infinity where it never does.

    Along every axis that can part them (see `overlap_depths`) their shadows meet for a span of the way; they meet where all do.
    """
    used, rows = np.unique(pairs, return_inverse=True)
    bodies, pairs = bodies.select(used), rows.reshape(pairs.shape)
    along = _edge_directions(bodies)
    found = [np.zeros((0, 2))]
    chunk = _at_a_time(bodies, along)
    for begin in range(0, len(pairs), chunk):
        one, other = pairs[begin : begin + chunk].T
        axes, good, a, b = _shadows(bodies, along, one, other)
        speed = axes @ way
        gaps = np.stack([b.min(axis=1) - a.max(axis=1), b.max(axis=1) - a.min(axis=1)])
        moves = good & (np.abs(speed) > SAME_DIRECTION)
        with np.errstate(divide="ignore", invalid="ignore"):
            spans = np.sort(gaps / speed, axis=0)
        apart = (good & ~moves & ((gaps[0] > -SAME_PLACE) | (gaps[1] < SAME_PLACE))).any(axis=1)
        low = np.where(moves, spans[0], -np.inf).max(axis=1)
        high = np.where(moves, spans[1], np.inf).min(axis=1)
        never = apart | (high - low <= SAME_PLACE)
        found.append(np.column_stack([np.where(never, np.inf, low), np.where(never, -np.inf, high)]))
    return np.concatenate(found)


def _at_a_time(bodies: ConvexBodies, along: Floats) -> int:
    """Return how many pairs are worked on at a time."""
    axes = 2 * bodies.normals.shape[1] + along.shape[1] ** 2
    return max(int(_NUMBERS // max(axes * bodies.vertices.shape[1], 1)), 1)


def _shadows(bodies: ConvexBodies, along: Floats, one: Ints, other: Ints) -> tuple[Floats, Bools, Floats, Floats]:
    """Return the axes (M, A, 3) that can part pairs, which of them are any (M, A), and where the corners of both lie along them."""
    crosses = np.cross(along[one][:, :, None], along[other][:, None]).reshape(len(one), -1, 3)
    axes = np.concatenate((bodies.normals[one], bodies.normals[other], crosses), axis=1)
    length = np.sqrt(np.einsum("mak,mak->ma", axes, axes))
    good = length > SAME_DIRECTION
    axes = axes / np.where(good, length, 1.0)[..., None]
    ways = axes.transpose(0, 2, 1)
    return axes, good, bodies.vertices[one] @ ways, bodies.vertices[other] @ ways


def _depths(bodies: ConvexBodies, along: Floats, pairs: Ints) -> Floats:
    one, other = pairs.T
    _, good, a, b = _shadows(bodies, along, one, other)
    push = np.minimum(a.max(axis=1) - b.min(axis=1), b.max(axis=1) - a.min(axis=1))
    depth = np.where(good, push, np.inf).min(axis=1)
    return np.where(depth > SAME_PLACE, depth, 0.0)


def _edge_directions(bodies: ConvexBodies) -> Floats:
    """Return the unit directions (N, D, 3) of each body's edges without repeats, padded with zeros (a box has three)."""
    rows = np.arange(len(bodies))[:, None]
    unit = bodies.vertices[rows, bodies.ridges[..., 1]] - bodies.vertices[rows, bodies.ridges[..., 0]]
    length = np.sqrt(np.einsum("nrk,nrk->nr", unit, unit))
    fresh = length > 0.0
    unit = unit / np.where(fresh, length, 1.0)[..., None]
    for later in range(1, unit.shape[1]):
        sines = np.sqrt((np.cross(unit[:, :later], unit[:, later, None]) ** 2).sum(axis=2))
        fresh[:, later] &= ~((sines <= SAME_DIRECTION) & fresh[:, :later]).any(axis=1)
    order = np.argsort(~fresh, axis=1, kind="stable")[:, : int(fresh.sum(axis=1).max(initial=1))]
    directions: Floats = np.where(fresh[rows, order][..., None], unit[rows, order], 0.0)
    if directions.shape[1] > _MOST_DIRECTIONS:
        directions = directions[:, np.linspace(0, directions.shape[1] - 1, _MOST_DIRECTIONS).astype(np.intp)]
    return directions
