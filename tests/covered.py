"""Ink compared as it lies on the sheet: what stretches of one drawing's strokes another one's cover, however they are parted.

Lines, arcs and cubics become chords within 0.0001 mm; of each chord that part is covered that lies within a tolerance of a chord of the
other drawing and beside it. What is left over are stretches with a role, an owner, a place and a length.
"""

from dataclasses import dataclass

import numpy as np
import shapely

SAG = 1e-4
"""mm between a curve and its chords."""
WITHIN = 1e-3
_MOST = 4096
_STACK = 400_000


@dataclass(frozen=True)
class Stretch:
    """Ink that the other drawing has not. at : its middle, mm."""

    role: int
    owner: int
    at: tuple[float, float]
    length: float


def chords_of(lines, arcs, curves):
    """Return chords (N, 4), roles and owners (N,) of lines (N, 6), arcs (N, 9) and cubics (N, 10), the last two columns role and owner."""
    parts = [lines.reshape(-1, 6)]
    for rows, flat, shape in ((arcs, _flat_arc, 9), (curves, _flat_curve, 10)):
        for row in rows.reshape(-1, shape):
            path = flat(row[:-2])
            chords = np.hstack([path[:-1], path[1:]])
            parts.append(np.hstack([chords, np.broadcast_to(row[-2:], (len(chords), 2))]))
    whole = np.concatenate(parts)
    return whole[:, :4], whole[:, 4].astype(int), whole[:, 5].astype(int)


def _flat_arc(shape):
    u, v, a, b, angle, first, last = shape
    # The sagitta of an ellipse's chord over an angle of t is at most max(a, b) (1 - cos(t / 2)).
    step = 2.0 * np.arccos(max(1.0 - SAG / max(a, b, SAG), -1.0))
    t = np.linspace(first, last, 1 + min(max(int(np.ceil(abs(last - first) / step)), 1), _MOST))
    x, y, c, s = a * np.cos(t), b * np.sin(t), np.cos(angle), np.sin(angle)
    return np.column_stack([u + c * x - s * y, v + s * x + c * y])


def _flat_curve(shape):
    p = shape.reshape(4, 2)
    # A cubic strays from its chords by at most 1/8 of its second differences' bound over the square of their number.
    bend = 6.0 * max(np.hypot(*(p[0] - 2 * p[1] + p[2])), np.hypot(*(p[1] - 2 * p[2] + p[3])))
    t = np.linspace(0.0, 1.0, 1 + min(max(int(np.ceil(np.sqrt(bend / (8.0 * SAG)))), 1), _MOST))[:, None]
    s = 1.0 - t
    return s**3 * p[0] + 3 * s**2 * t * p[1] + 3 * s * t**2 * p[2] + t**3 * p[3]


def uncovered(one, other, within=WITHIN):
    """Yield the stretches of one drawing's chords that the other's of the same role and owner do not cover."""
    groups = {(role, owner) for role, owner in zip(one[1], one[2], strict=True)}
    for role, owner in sorted(groups):
        mine, theirs = (pen[0][(pen[1] == role) & (pen[2] == owner)] for pen in (one, other))
        for at, length in _left_over(mine, theirs, within):
            yield Stretch(role, owner, (float(at[0]), float(at[1])), float(length))


def _left_over(mine, theirs, within):
    long = np.hypot(*(mine[:, 2:] - mine[:, :2]).T)
    if len(theirs) == 0:
        return [(row[:2], far) for row, far in zip(mine, long, strict=True)]
    tree = shapely.STRtree(shapely.linestrings(theirs.reshape(-1, 2, 2)))
    found = []
    for start in range(0, len(mine), _STACK):
        part = mine[start : start + _STACK]
        pairs = tree.query(shapely.linestrings(part.reshape(-1, 2, 2)), predicate="dwithin", distance=1.5 * within)
        low, high = _beside(part[pairs[0]], theirs[pairs[1]], within)
        found += _gaps(part, pairs[0], low, high, within)
    return found


def _beside(a, b, within):
    """Return from where to where (N,) chords ``a`` run, by their own parameter, within a tolerance of the chords ``b``; low > high for nowhere."""
    way, along = a[:, 2:] - a[:, :2], b[:, 2:] - b[:, :2]
    long = np.hypot(*along.T)
    unit = along / np.maximum(long, 1e-15)[:, None]
    off = a[:, :2] - b[:, :2]
    low, high = np.zeros(len(a)), np.ones(len(a))
    across = np.column_stack([-unit[:, 1], unit[:, 0]])
    for axis, least, most in (
        (across, np.full(len(a), -within), np.full(len(a), within)),
        (unit, np.full(len(a), -within), long + within),
    ):
        start, slope = np.einsum("nk,nk->n", off, axis), np.einsum("nk,nk->n", way, axis)
        flat = np.abs(slope) < 1e-15
        with np.errstate(divide="ignore", invalid="ignore"):
            t = np.sort(np.column_stack([(least - start) / slope, (most - start) / slope]), axis=1)
        inside = (start >= least) & (start <= most)
        low = np.maximum(low, np.where(flat, np.where(inside, 0.0, 2.0), t[:, 0]))
        high = np.minimum(high, np.where(flat, np.where(inside, 1.0, -1.0), t[:, 1]))
    return low, high


def _gaps(chords, row, low, high, within):
    """Return the middles and lengths of what is left of chords once stretches of their rows are covered."""
    keep = low <= high
    row, low, high = row[keep], low[keep], high[keep]
    order = np.lexsort((low, row))
    row, low, high = row[order], low[order], high[order]
    starts = np.searchsorted(row, np.arange(len(chords) + 1))
    far = np.hypot(*(chords[:, 2:] - chords[:, :2]).T)
    found = []
    for k, chord in enumerate(chords):
        reached, slack = 0.0, 2.0 * within / max(far[k], 1e-12)
        ends = [(low[j], high[j]) for j in range(starts[k], starts[k + 1])]
        for first, last in (*ends, (1.0, 1.0)):
            if first > reached + slack:
                middle = 0.5 * (reached + first)
                found.append((chord[:2] + middle * (chord[2:] - chord[:2]), (first - reached) * far[k]))
            reached = max(reached, last)
    return found
