"""Which part of an edge a convex body hides: exact intervals, many pairs at once.

The hidden part of a segment behind one convex body is one interval, because the region the body hides is
convex (see `bodies.shadows`). Non-convex things are unions of convex bodies, so unions of intervals.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.bodies import ConvexBodies, Shadows, shadows
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.intervals import union
from isometron.geometry.tolerances import MERGE_PARAMETER, TOUCH

__all__ = ["Segments", "hidden_interval", "hidden_intervals", "pair_intervals"]

_FIRST_ROUND = 8
"""How many of the nearest bodies are tried first; edges they hide wholly need no further look."""

_CHUNK = 4096
"""How many pairs of volume and body are worked on at a time: their heights then stay in the processor's cache."""

Parts = tuple[Ints, Floats, Floats]
"""Hidden parts as (edge, t0, t1)."""


@dataclass(frozen=True)
class Segments:
    """The edges of N volumes, for hiding.

    vertices : (N, V, 3) relative to the eye, world axes, short rows padded by repeating a vertex; ends : (E, 2)
    numbers of an edge's vertices within its volume; owner : (E,), ascending; box : (N, 4) least and greatest
    u, v on paper, infinite where a volume reaches behind the eye plane; far : (N,) greatest depth.
    """

    vertices: Floats
    ends: Ints
    owner: Ints
    box: Floats
    far: Floats


def hidden_interval(
    bodies: ConvexBodies, eye: ArrayLike, start: ArrayLike, end: ArrayLike
) -> tuple[float, float] | None:
    """Return the part [t0, t1] of the segment ``start`` -> ``end`` that the single body hides, or None."""
    eye = np.asarray(eye, dtype=np.float64)
    ends = np.array([start, end], dtype=np.float64) - eye
    one = np.zeros(1, dtype=np.intp)
    segment = Segments(ends[None], np.array([[0, 1]]), one, np.zeros((1, 4)), np.zeros(1))
    _, lo, hi = pair_intervals(shadows(bodies, eye), segment, one, one)
    return (float(lo[0]), float(hi[0])) if len(lo) else None


def pair_intervals(region: Shadows, segments: Segments, owner: Ints, body: Ints, whole: Bools | None = None) -> Parts:
    """Clip the edges of volume owner[i] against the region of body[i]; returns the hidden parts.

    Edges marked in ``whole`` (E,) are left out. Heights within `TOUCH` of a plane are zero, so an edge that
    lies on a face or on the outline is not hidden.
    """
    alive = region.active[body]
    owner, body = owner[alive], body[alive]
    found = [
        _clip(region, segments, owner[k : k + _CHUNK], body[k : k + _CHUNK], whole)
        for k in range(0, max(len(owner), 1), _CHUNK)
    ]
    return _joined(found)


def _joined(parts: list[Parts]) -> Parts:
    edges, starts, ends = zip(*parts, strict=True)
    return np.concatenate(edges), np.concatenate(starts), np.concatenate(ends)


def _clip(region: Shadows, segments: Segments, owner: Ints, body: Ints, whole: Bools | None) -> Parts:
    heights, parted = _heights(region, segments, owner, body)
    pair, edge = _edges_of(segments, owner[~parted])
    if whole is not None:
        open_ = ~whole[edge]
        pair, edge = pair[open_], edge[open_]
    pair = np.flatnonzero(~parted)[pair]
    a, b = (heights[:, segments.ends[edge, k], pair] for k in (0, 1))
    # Most edges are wholly on the far side of one plane or another: they leave before anything is divided.
    some = (np.minimum(a, b) < 0.0).all(axis=0)
    a, b, edge = a[:, some], b[:, some], edge[some]
    with np.errstate(divide="ignore", invalid="ignore"):
        cross = a / (a - b)
    lo = np.where((a > 0.0) & (b < 0.0), cross, 0.0).max(axis=0, initial=0.0)
    hi = np.where((a < 0.0) & (b > 0.0), cross, 1.0).min(axis=0, initial=1.0)
    keep = hi - lo > MERGE_PARAMETER
    return edge[keep], lo[keep], hi[keep]


def _heights(region: Shadows, segments: Segments, owner: Ints, body: Ints) -> tuple[Floats, Bools]:
    """Return heights (K, V, P) of each volume's vertices over its body's planes, and which pairs (P,) are parted.

    A plane with the whole volume on its far side parts the volume from the region: nothing of it is hidden.
    Pairs run along the last axis, where NumPy is quick; the short axes come first.
    """
    x, y, z = segments.vertices[owner].transpose(2, 1, 0)
    touch = TOUCH * region.scale[body]
    planes = region.normals.shape[1]
    heights = np.empty((planes, x.shape[0], len(owner)))
    parted = np.zeros(len(owner), dtype=bool)
    for k in range(planes):
        normal, above = region.normals[body, k].T, heights[k]
        np.multiply(normal[0], x, out=above)
        above += normal[1] * y
        above += normal[2] * z
        above -= region.offsets[body, k]
        above[np.abs(above) <= touch] = 0.0
        parted |= above.min(axis=0) >= 0.0
    return heights, parted


def _edges_of(segments: Segments, owner: Ints) -> tuple[Ints, Ints]:
    """Return (row of ``owner``, edge) for every edge of every listed volume."""
    first = np.searchsorted(segments.owner, owner, side="left")
    count = np.searchsorted(segments.owner, owner, side="right") - first
    row = np.repeat(np.arange(len(owner)), count)
    edge = np.repeat(first - (np.cumsum(count) - count), count) + np.arange(len(row))
    return row, edge


def hidden_intervals(region: Shadows, segments: Segments, body_box: Floats, body_near: Floats) -> Parts:
    """Return the union of hidden parts of every edge behind every body: (edge, t0, t1), sorted, disjoint.

    body_box : (B, 4) paper bounds as in `Segments.box`; body_near : (B,) least depth. The bodies nearest to
    the eye are tried first, and edges already wholly hidden are dropped: that decides heaps.
    """
    order = np.argsort(body_near, kind="stable")
    whole = np.zeros(len(segments.owner), dtype=bool)
    found: list[Parts] = [(np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros(0))]
    begin, width = 0, _FIRST_ROUND
    while begin < len(order):
        rows = order[begin : begin + width]
        owner, body = _candidates(segments, body_box[rows], body_near[rows], whole)
        edge, lo, hi = pair_intervals(region, segments, owner, rows[body], whole)
        whole[edge[(lo <= 0.0) & (hi >= 1.0)]] = True
        found.append((edge, lo, hi))
        begin, width = begin + width, width * 4
    return union(*_joined(found))


def _candidates(segments: Segments, body_box: Floats, body_near: Floats, whole: Bools) -> tuple[Ints, Ints]:
    """Pair the volumes that still show something with the bodies whose paper bounds they enter."""
    # Counted rather than made unique: np.unique loads a large part of NumPy that nothing else here needs.
    open_ = np.flatnonzero(np.bincount(segments.owner[~whole]))
    box, far = segments.box[open_], segments.far[open_]
    hits = far[:, None] > body_near
    for low, high in ((0, 2), (1, 3)):
        hits &= box[:, low, None] < body_box[:, high]
        hits &= body_box[:, low] < box[:, high, None]
    owner, body = np.nonzero(hits)
    return open_[owner], body
