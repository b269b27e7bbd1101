"""Sides of faces in any order, each (4,): what two sets have in common cancels; an odd number of them goes round what is inside."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = [
    "SLACK",
    "beside",
    "covered_parts",
    "enters",
    "goes_round",
    "is_touched",
    "mixed",
    "off_sides",
    "part_between",
]

SLACK = 1e-6
"""mm that places on one plane, or on one line, may lie off it."""


def goes_round(sides: Floats, place: Floats) -> bool:
    """Tell whether an odd number of sides (S, 2, 2) lies to the right of a place (2,)."""
    one, two = sides[:, 0], sides[:, 1]
    crosses = (one[:, 1] > place[1]) != (two[:, 1] > place[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = one[:, 0] + (place[1] - one[:, 1]) / (two[:, 1] - one[:, 1]) * (two[:, 0] - one[:, 0])
    return bool(np.count_nonzero(crosses & (place[0] < x)) % 2)


def off_sides(sides: Floats, place: Floats) -> float:
    """Return how far a place (2,) lies from the nearest of some sides (S, 2, 2)."""
    way = sides[:, 1] - sides[:, 0]
    square = np.maximum((way * way).sum(axis=1), 1e-300)
    part = np.clip(((place - sides[:, 0]) * way).sum(axis=1) / square, 0.0, 1.0)
    return float(np.hypot(*(place - sides[:, 0] - part[:, None] * way).T).min())


def part_between(a: Floats, b: Floats, x: float, y: float, deepest: float) -> tuple[Floats, Floats] | None:
    """Return the part of a segment (2,) -> (2,), x and y deep at its ends, that lies deeper than nothing and less than so deep."""
    low, high = 0.0, 1.0
    for level, sign in ((SLACK, 1.0), (deepest - SLACK, -1.0)):
        p, q = sign * (x - level), sign * (y - level)
        if p <= 0.0 and q <= 0.0:
            return None
        if p < 0.0:
            low = max(low, p / (p - q))
        elif q < 0.0:
            high = min(high, p / (p - q))
    if high - low <= 0.0:
        return None
    return a + low * (b - a), a + high * (b - a)


def beside(sides: Floats, flat: Floats) -> Floats:
    """Return those of some sides (S, 2, 2) whose bounds meet those of a polygon (P, 2): no other can enter it."""
    low, high = flat.min(axis=0) - SLACK, flat.max(axis=0) + SLACK
    found: Floats = sides[((sides.max(axis=1) >= low) & (sides.min(axis=1) <= high)).all(axis=1)]
    return found


def enters(flat: Floats, a: Floats, b: Floats) -> bool:
    """Tell whether a segment comes to lie within a polygon (P, 2), and not only on its rim."""
    own, after = flat, np.roll(flat, -1, axis=0)
    slack = SLACK * (1.0 + float(np.abs(flat).max()))
    way = b - a
    size = float(np.hypot(*way))
    cuts = [0.0, 1.0]
    if size > slack:
        side = after - own
        cross = way[0] * side[:, 1] - way[1] * side[:, 0]
        off = own - a
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (off[:, 0] * side[:, 1] - off[:, 1] * side[:, 0]) / cross
            s = (off[:, 0] * way[1] - off[:, 1] * way[0]) / cross
        met = (np.abs(cross) > 1e-12 * size) & (t > 0.0) & (t < 1.0) & (s >= -HAIR) & (s <= 1.0 + HAIR)
        cuts = [0.0, *np.sort(t[met]).tolist(), 1.0]
    pairs = np.stack([own, after], axis=1)
    for low, high in pairwise(cuts):
        middle = a + (low + high) / 2.0 * way
        if goes_round(pairs, middle) and off_sides(pairs, middle) > slack:
            return True
    return False


Sides = tuple[Floats, Floats]


def mixed(
    sides: Floats, bows: Floats, more: Floats, more_bows: Floats
) -> tuple[Sides, Sides, list[tuple[Floats, Floats]]]:
    """Return what is left of two sets of sides where stretches that both have cancel, and these stretches."""
    if not len(more_bows):
        more_bows = np.zeros((len(more), 7))
    kept = [(side, bow) for side, bow in zip(sides, bows, strict=True)]
    left: list[tuple[Floats, Floats]] = []
    gone: list[tuple[Floats, Floats]] = []
    waiting = list(zip(more, more_bows, strict=True))
    while waiting:
        side, bow = waiting.pop()
        if bow[6] > 0.0:
            left.append((side, bow))
            continue
        for n, (other, other_bow) in enumerate(kept):
            both = None if other_bow[6] > 0.0 else _common(side, other)
            if both is None:
                continue
            (one, two), (first, second) = both
            gone.append((side[:2] + one * (side[2:] - side[:2]), side[:2] + two * (side[2:] - side[:2])))
            del kept[n]
            kept += [(piece, np.zeros(7)) for piece in _rest(other, first, second)]
            waiting += [(piece, np.zeros(7)) for piece in _rest(side, one, two)]
            break
        else:
            left.append((side, bow))

    def arrays(pairs: list[tuple[Floats, Floats]]) -> Sides:
        return (
            np.array([side for side, _ in pairs]).reshape(-1, 4),
            np.array([bow for _, bow in pairs]).reshape(-1, 7),
        )

    return arrays(kept), arrays(left), gone


def _common(one: Floats, two: Floats) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return the parts of two sides (4,) that lie on one another; None where nothing does."""
    way = one[2:] - one[:2]
    square = float(way @ way)
    size = square**0.5
    if size <= CLOSE:
        return None
    slack = SLACK * 1e-2 * (1.0 + float(np.abs(one).max()))
    off = np.array([two[:2] - one[:2], two[2:] - one[:2]])
    if float(np.abs(off @ np.array([-way[1], way[0]])).max()) > slack * size:
        return None
    t = off @ way / square
    low, high = max(0.0, float(t.min())), min(1.0, float(t.max()))
    if (high - low) * size <= slack:
        return None
    other = sorted(((low - t[0]) / (t[1] - t[0]), (high - t[0]) / (t[1] - t[0])))
    return (low, high), (float(other[0]), float(other[1]))


def _rest(side: Floats, low: float, high: float) -> list[Floats]:
    """Return what is left of a side (4,) without a part of it."""
    way = side[2:] - side[:2]
    size = float(np.hypot(*way))
    found = []
    if low * size > CLOSE:
        found.append(np.concatenate([side[:2], side[:2] + low * way]))
    if (1.0 - high) * size > CLOSE:
        found.append(np.concatenate([side[:2] + high * way, side[2:]]))
    return found


def _along(edge: Floats, others: Floats) -> tuple[Floats, Floats]:
    """Return where segments (N, 2, 3) that lie on the line of an edge (2, 3) begin and end along it, as parts of it."""
    way = edge[1] - edge[0]
    size = float(np.sqrt(way @ way))
    if size <= CLOSE:
        return np.zeros(0), np.zeros(0)
    off = others - edge[0]
    part = off @ way / size**2
    gap = off - part[..., None] * way
    on = np.flatnonzero((np.sqrt((gap * gap).sum(axis=2)) <= SLACK * (1.0 + np.abs(edge).max())).all(axis=1))
    return part[on].min(axis=1), part[on].max(axis=1)


def is_touched(edge: Floats, gone: Floats) -> bool:
    """Tell whether segments (N, 2, 3) lie on an edge (2, 3)."""
    low, high = _along(edge, gone)
    return bool((np.minimum(high, 1.0) - np.maximum(low, 0.0) > HAIR).any())


def covered_parts(edge: Floats, sides: Floats) -> list[tuple[float, float]]:
    """Return the parts of an edge (2, 3) that some segments (N, 2, 3) lie on."""
    low, high = _along(edge, sides)
    found: list[tuple[float, float]] = []
    for n in np.argsort(low, kind="stable"):
        start, end = max(float(low[n]), 0.0), min(float(high[n]), 1.0)
        if end - start <= HAIR:
            continue
        if found and start <= found[-1][1] + HAIR:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found
