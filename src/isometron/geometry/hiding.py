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


@dataclass(frozen=True)
class Segments:
    """Edges for the broad phase. All (E,) unless said otherwise.

    start, end : (E, 3) relative to the eye, world axes; box : (E, 4) least and greatest u, v on paper, infinite
    where an edge crosses the eye plane; far : greatest depth; owner : row of ``owner_box`` and ``owner_far``,
    which bound all edges of one volume (edges of one owner stand together).
    """

    start: Floats
    end: Floats
    box: Floats
    far: Floats
    owner: Ints
    owner_box: Floats
    owner_far: Floats


def hidden_interval(
    bodies: ConvexBodies, eye: ArrayLike, start: ArrayLike, end: ArrayLike
) -> tuple[float, float] | None:
    """Return the part [t0, t1] of the segment ``start`` -> ``end`` that the single body hides, or None."""
    eye = np.asarray(eye, dtype=np.float64)
    a, b = (np.asarray(p, dtype=np.float64).reshape(1, 3) - eye for p in (start, end))
    one = np.zeros(1, dtype=np.intp)
    _, lo, hi = pair_intervals(shadows(bodies, eye), a, b, one, one)
    return (float(lo[0]), float(hi[0])) if len(lo) else None


def pair_intervals(
    region: Shadows, start: Floats, end: Floats, edge: Ints, body: Ints
) -> tuple[Ints, Floats, Floats]:
    """Clip edge[i] against the region of body[i]; returns (edge, t0, t1) of the pairs where something is hidden.

    Heights within `TOUCH` of a plane are zero, so an edge that lies on a face or on the outline is not hidden.
    Pairs that turn out empty leave the race after the plane that emptied them.
    """
    alive = region.active[body]
    edge, body = edge[alive], body[alive]
    lo, hi = np.zeros(len(edge)), np.ones(len(edge))
    for column in range(region.normals.shape[1]):
        normal = region.normals[body, column]
        offset = region.offsets[body, column]
        touch = TOUCH * region.scale[body]
        a = np.einsum("ij,ij->i", normal, start[edge]) - offset
        b = np.einsum("ij,ij->i", normal, end[edge]) - offset
        a[np.abs(a) <= touch] = 0.0
        b[np.abs(b) <= touch] = 0.0
        with np.errstate(divide="ignore", invalid="ignore"):
            cross = a / (a - b)
        lo = np.where((a > 0) & (b < 0), np.maximum(lo, cross), lo)
        hi = np.where((a < 0) & (b > 0), np.minimum(hi, cross), hi)
        keep = ((a < 0) | (b < 0)) & (hi - lo > MERGE_PARAMETER)
        if not keep.all():
            edge, body, lo, hi = edge[keep], body[keep], lo[keep], hi[keep]
    return edge, lo, hi


def hidden_intervals(
    region: Shadows, segments: Segments, body_box: Floats, body_near: Floats
) -> tuple[Ints, Floats, Floats]:
    """Return the union of hidden intervals of every edge behind every body: (edge, t0, t1), sorted, disjoint.

    body_box : (B, 4) paper bounds as in `Segments.box`; body_near : (B,) least depth. The bodies nearest to
    the eye are tried first, and edges already wholly hidden are dropped: that decides heaps.
    """
    order = np.argsort(body_near, kind="stable")
    whole = np.zeros(len(segments.start), dtype=bool)
    found: list[tuple[Ints, Floats, Floats]] = []
    begin, width = 0, _FIRST_ROUND
    while begin < len(order):
        rows = order[begin : begin + width]
        edge, body = _candidates(segments, body_box[rows], body_near[rows], whole)
        edge, lo, hi = pair_intervals(region, segments.start, segments.end, edge, rows[body])
        whole[edge[(lo <= 0.0) & (hi >= 1.0)]] = True
        found.append((edge, lo, hi))
        begin, width = begin + width, width * 4
    if not found:
        empty = np.zeros(0)
        return np.zeros(0, dtype=np.intp), empty, empty
    edges, los, his = (np.concatenate(parts) for parts in zip(*found, strict=True))
    return union(edges, los, his)


def _candidates(segments: Segments, body_box: Floats, body_near: Floats, whole: Bools) -> tuple[Ints, Ints]:
    """Pair edges with the bodies whose paper bounds they enter: first by volume, then edge by edge."""
    owner_hits = _overlaps(segments.owner_box[:, None], body_box[None]) & (
        segments.owner_far[:, None] > body_near[None]
    )
    owner, body = np.nonzero(owner_hits)
    first = np.searchsorted(segments.owner, owner, side="left")
    count = np.searchsorted(segments.owner, owner, side="right") - first
    body = np.repeat(body, count)
    edge = np.repeat(first - np.concatenate(([0], np.cumsum(count)[:-1])), count) + np.arange(count.sum())
    live = ~whole[edge]
    edge, body = edge[live], body[live]
    hits = _overlaps(segments.box[edge], body_box[body]) & (segments.far[edge] > body_near[body])
    return edge[hits], body[hits]


def _overlaps(a: Floats, b: Floats) -> Bools:
    hits: Bools = (
        (a[..., 0] < b[..., 2]) & (b[..., 0] < a[..., 2]) & (a[..., 1] < b[..., 3]) & (b[..., 1] < a[..., 3])
    )
    return hits
