"""Catching marks by a picture's own edges, finer than a pixel: the steps of light across a line, or across a ring.

Across the mark the light is read along short probes; where its slope is steepest is the edge (the peak of the slope, placed by a
parabola through three readings, see Canny, "A computational approach to edge detection", 1986); a pencil stroke has two, and lies
in their middle. A robust straight line, or an ellipse, through what the probes tell is what catches.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.conics import ellipse_of, ellipse_through
from isometron.geometry.frames import Floats
from isometron.volumes.keeping import Kept

__all__ = ["REACH", "Caught", "bowed", "caught_line", "caught_point", "caught_ring"]

REACH = 7.0
"""Units on either side of a mark in which an edge catches it. A unit is a pixel, or several where hands point at many at once."""
_STEP = 0.5
_LEAST_SLOPE = 2.0
"""Levels of light a unit: what is flatter is no edge."""
_MOST_PROBES, _LEAST_PROBES = 160, 8
_SMOOTH = 1.2
_AGREE = 0.8
"""Units by which probes may be beside the line that they tell of."""
_BOW = 0.7
"""Pixels by which an edge bows at least to be called bent."""
_SHARE = 0.35
"""Of all probes: so many must tell of the same line."""
_STROKE, _ALIKE = 9.0, 0.5
"""Units across of a dark stroke at most, and how steep its flatter side is at least against the other."""
_RING_PROBES, _LEAST_ARC = 120, np.radians(200.0)
"""Round a ring, and the part of it that its points must reach over for one ellipse to be caught."""

Grey = NDArray[np.uint8]


@dataclass(frozen=True)
class Caught:
    """points : (N, 2) px as they were caught; sure : which share of the probes told of the same edge."""

    points: Floats
    sure: float


def _read(grey: Grey, places: Floats) -> Floats:
    """Return the light (...) at pixel places (..., 2), between pixels linearly; NaN beyond the picture."""
    height, width = grey.shape
    x, y = places[..., 0], places[..., 1]
    inside = (x >= 0.0) & (y >= 0.0) & (x <= width - 1.0) & (y <= height - 1.0)
    x, y = np.clip(x, 0.0, width - 1.001), np.clip(y, 0.0, height - 1.001)
    i, j = x.astype(np.intp), y.astype(np.intp)
    a, b = x - i, y - j
    flat, row = grey.reshape(-1), j * width + i
    top = flat[row] * (1.0 - a) + flat[row + 1] * a
    low = flat[row + width] * (1.0 - a) + flat[row + width + 1] * a
    found: Floats = np.where(inside, top * (1.0 - b) + low * b, np.nan)
    return found


def _slopes(grey: Grey, middles: Floats, normals: Floats, along: float, reach: float) -> tuple[Floats, Floats]:
    """Return offsets (K,) and the slope of light (N, K) across probes, each the mean of five beside each other ``along`` px apart."""
    off = np.arange(-reach - 2.0, reach + 2.0 + _STEP / 2.0, _STEP)
    ways = np.column_stack([-normals[:, 1], normals[:, 0]])
    beside = np.linspace(-along, along, 5)
    places = (
        middles[:, None, None, :]
        + off[None, None, :, None] * normals[:, None, None, :]
        + beside[None, :, None, None] * ways[:, None, None, :]
    )
    light = _read(grey, places).mean(axis=1)
    # The derivative of a Gauss curve, as readings half a pixel apart.
    width = int(np.ceil(3.0 * _SMOOTH / _STEP))
    t = np.arange(-width, width + 1) * _STEP
    kernel = t * np.exp(-(t**2) / (2.0 * _SMOOTH**2))
    kernel /= (kernel * t).sum()
    padded = np.pad(light, ((0, 0), (width, width)), mode="edge")
    windows = np.lib.stride_tricks.sliding_window_view(padded, 2 * width + 1, axis=1)
    slope: Floats = windows @ kernel
    inner = np.abs(off) <= reach + _STEP / 2.0
    return off[inner], slope[:, inner]


def _peaks(off: Floats, slope: Floats, most: int = 3, *, drawn: bool) -> tuple[Floats, Floats]:
    """Return offsets and steepness (N, most) of the steepest places of each probe; NaN and 0 where there are fewer. On a ``drawn`` sheet
    the two sides of a stroke are one place."""
    steep = np.nan_to_num(np.abs(slope))
    middle = steep[:, 1:-1]
    peak = (middle >= steep[:, :-2]) & (middle > steep[:, 2:]) & (middle >= _LEAST_SLOPE)
    ranked = np.where(peak, middle, 0.0)
    order = np.argsort(-ranked, axis=1)[:, :most]
    rows = np.arange(len(steep))[:, None]
    before, here, after = steep[rows, order], steep[rows, order + 1], steep[rows, order + 2]
    bow = before - 2.0 * here + after
    shift = np.where(bow < -1e-12, 0.5 * (before - after) / np.where(bow < -1e-12, bow, -1.0), 0.0)
    there = ranked[rows, order] > 0.0
    places, high = np.where(there, off[order + 1] + _STEP * shift, np.nan), np.where(there, here, 0.0)
    return _strokes(places, high, np.sign(slope[rows, order + 1])) if drawn else (places, high)


def _strokes(places: Floats, steep: Floats, sense: Floats) -> tuple[Floats, Floats]:
    """Return places and steepness (N, M) with the two sides of a dark stroke as one place in its middle."""
    places, steep = places.copy(), steep.copy()
    for one in range(places.shape[1]):
        for two in range(places.shape[1]):
            wide = places[:, two] - places[:, one]
            flat, sharp = np.minimum(steep[:, one], steep[:, two]), np.maximum(steep[:, one], steep[:, two])
            # It grows darker on one side and lighter again on the other.
            stroke = (wide > 0.0) & (wide <= _STROKE) & (sense[:, one] < 0.0) & (sense[:, two] > 0.0)
            stroke &= flat >= _ALIKE * sharp
            places[stroke, one] += wide[stroke] / 2.0
            places[stroke, two], steep[stroke, two] = np.nan, 0.0
    return places, steep


def caught_line(
    grey: Grey, first: tuple[float, float], last: tuple[float, float], unit: float = 1.0, reach: float = REACH
) -> Caught | None:
    """Return a pulled line as it lies along the picture's edge beside it: its ends (2, 2) moved across; None where there is none.

    unit : px; what is found by larger ones is sought again by single pixels.
    """
    if unit > 1.0:
        coarse = caught_line(_shrunk(grey, unit), _at(first, 1.0 / unit), _at(last, 1.0 / unit), reach=reach)
        if coarse is None:
            return None
        one, other = (_at((float(x), float(y)), unit) for x, y in coarse.points)
        return caught_line(grey, one, other, reach=min(2.0 * unit, 20.0)) or Caught(
            np.array([one, other]), coarse.sure
        )
    start, end = np.asarray(first, dtype=np.float64), np.asarray(last, dtype=np.float64)
    length = float(np.hypot(*(end - start)))
    if length < 6.0:
        return None
    count = int(np.clip(length / 2.0, _LEAST_PROBES, _MOST_PROBES))
    way = (end - start) / length
    normal = np.array([-way[1], way[0]])
    # The very ends lie in corners, where other edges come in.
    t = np.linspace(0.04, 0.96, count) * length
    middles = start + t[:, None] * way
    along = min(length / (2.0 * count), 1.5)
    off, steep = _peaks(*_slopes(grey, middles, np.tile(normal, (count, 1)), along, reach), drawn=_is_drawn(grey))
    fitted = _straight_through(t - length / 2.0, off, steep, reach)
    if fitted is None:
        return None
    at, turn, sure = fitted
    ends = np.array([at - turn * length / 2.0, at + turn * length / 2.0])
    if np.abs(ends).max() > reach * 1.5:
        return None
    return Caught(np.array([start, end]) + ends[:, None] * normal, sure)


def _straight_through(t: Floats, off: Floats, steep: Floats, reach: float) -> tuple[float, float, float] | None:
    """Return offset in the middle, turn and share of the probes of the line that most of them tell of."""
    found = _through(np.column_stack([np.ones(len(t)), t]), off, steep, reach)
    return None if found is None else (float(found[0][0]), float(found[0][1]), found[1])


def _through(
    basis: Floats, off: Floats, steep: Floats, reach: float, tries: int = 120
) -> tuple[Floats, float] | None:
    """Return the numbers (K,) by which probes' offsets are ``basis`` (N, K) times them, as most of the probes tell, weighed by how steep
    they are and how near they lie; and which share of the probes tells so (Fischler and Bolles, "Random sample consensus", 1981)."""
    kept = np.isfinite(off)
    probe, _ = np.nonzero(kept)
    if len(np.unique(probe)) < _SHARE * len(basis):
        return None
    x, y = basis[probe], off[kept]
    weight = np.sqrt(steep[kept]) * np.exp(-((y / reach) ** 2))
    best, chosen = 0.0, None
    rng = np.random.default_rng(7)
    for _ in range(tries):
        few = rng.integers(0, len(x), basis.shape[1])
        if abs(float(np.linalg.det(x[few]))) < _spread(x):
            continue
        near = np.abs(y - x @ np.linalg.solve(x[few], y[few])) < _AGREE
        score = float(weight[near].sum())
        if score > best:
            best, chosen = score, near
    if chosen is None:
        return None
    for _ in range(3):
        w = weight[chosen]
        numbers, *_ = np.linalg.lstsq(x[chosen] * w[:, None], y[chosen] * w, rcond=None)
        chosen = np.abs(y - x @ numbers) < _AGREE
        if chosen.sum() < basis.shape[1]:
            return None
    sure = len(np.unique(probe[chosen])) / len(basis)
    return (numbers, sure) if sure >= _SHARE else None


def _spread(x: Floats) -> float:
    """Return how large the determinant of a few probes is at least when they lie apart enough to tell of all the rest."""
    return float(0.25 * np.prod(np.ptp(x, axis=0)[1:])) if x.shape[1] == 2 else 0.05


_DRAWN: Kept[bool] = Kept(4)
_LIGHTER, _FEW = 20.0, 0.02
"""Levels of light beyond those about it, and how little of a drawn sheet is so light: nothing on it is lighter than the paper."""


def _is_drawn(grey: Grey) -> bool:
    """Whether the middle of a picture is a drawn sheet, dark strokes on paper. In a photograph what is dark and thin is a thing, and its
    two edges are two."""

    def asked() -> bool:
        from PIL import Image  # only over a picture

        high, wide = grey.shape
        step = max(max(grey.shape) // 1000, 1)
        middle = np.ascontiguousarray(grey[high // 5 : high - high // 5 : step, wide // 5 : wide - wide // 5 : step])
        cells = [np.array_split(row, 12, axis=1) for row in np.array_split(middle, 9, axis=0)]
        coarse = np.array([[np.median(cell) for cell in row] for row in cells], dtype=np.uint8)
        about = np.asarray(
            Image.fromarray(coarse).resize(middle.shape[::-1], Image.Resampling.BICUBIC), dtype=np.float64
        )
        return float((middle - about > _LIGHTER).mean()) <= _FEW

    return _DRAWN.of((grey,), asked)


_SMALL: Kept[dict[int, Grey]] = Kept(2)


def _shrunk(grey: Grey, unit: float) -> Grey:
    """Return a picture with ``unit`` pixels as one, each the mean of them."""
    from PIL import Image  # only large pictures are made smaller

    made = _SMALL.of((grey,), dict)
    size = (max(round(grey.shape[1] / unit), 2), max(round(grey.shape[0] / unit), 2))
    if size[0] not in made:
        made.clear()
        made[size[0]] = np.asarray(Image.fromarray(grey).resize(size, Image.Resampling.BOX))
    return made[size[0]]


def _at(point: tuple[float, float], scale: float) -> tuple[float, float]:
    """Return a pixel's place in a picture ``scale`` times as large: corners of pixels, not their centres, keep together."""
    return (point[0] + 0.5) * scale - 0.5, (point[1] + 0.5) * scale - 0.5


def bowed(grey: Grey, ends: Floats, reach: float = 4.0) -> Floats:
    """Return a line (2, 2) with points between its ends (N, 2) where the edge bows away from it evenly, as a lens bends it; its two
    ends where it does not."""
    start, end = ends
    length = float(np.hypot(*(end - start)))
    shares = np.linspace(0.1, 0.9, 9)
    found, there = [], []
    for share in shares:
        half = 0.06
        piece = caught_line(grey, tuple(start + (share - half) * (end - start)), tuple(start + (share + half) * (end - start)),
                            reach=reach)  # fmt: skip
        if piece is not None and piece.sure > 0.6:
            found.append(piece.points.mean(axis=0))
            there.append(share)
    if len(found) < 6:
        return ends
    places, t = np.array(found), np.array(there)
    way = (end - start) / length
    off = (places - start) @ [-way[1], way[0]]
    arc = np.polynomial.Polynomial.fit(t, off, 2)
    bow = abs(float(arc(0.5) - (arc(0.0) + arc(1.0)) / 2.0))
    if bow < _BOW or float(np.abs(off - arc(t)).max()) > max(0.25 * bow, 0.6):
        return ends
    shown = np.array([0.0, 0.25, 0.5, 0.75, 1.0])
    bent: Floats = start + shown[:, None] * (end - start) + arc(shown)[:, None] * np.array([-way[1], way[0]])
    return bent


def caught_point(grey: Grey, at: tuple[float, float], way: Floats, reach: float = REACH) -> tuple[float, float]:
    """Return a point moved across a direction (2,) to the nearest strong edge of the picture; as it is where there is none."""
    normal = np.array([-way[1], way[0]]) / np.hypot(*way)
    middle = np.array([at], dtype=np.float64)
    off, steep = _peaks(*_slopes(grey, middle, normal[None, :], 2.0, reach), drawn=_is_drawn(grey))
    score = np.where(np.isfinite(off), np.sqrt(steep) * np.exp(-((np.nan_to_num(off) / reach) ** 2)), 0.0)[0]
    best = int(np.argmax(score))
    if not score[best] > 0.0:
        return float(at[0]), float(at[1])
    x, y = middle[0] + off[0, best] * normal
    return float(x), float(y)


def caught_ring(grey: Grey, points: Floats, reach: float = REACH) -> Floats:
    """Return points (N, 2) of a ring moved on to the picture's edge: from five on all together, by the ellipse near the one through them
    that most of the edge tells of; else, and where there is no such ellipse, where the light changes most near each."""
    conic = ellipse_through(points)
    if conic is not None:
        ellipse = ellipse_of(conic)
        together = None if ellipse is None else _caught_together(grey, points, ellipse, reach)
        if together is not None:
            return together
        across = np.column_stack([points, np.ones(len(points))]) @ conic
        ways = np.column_stack([-across[:, 1], across[:, 0]])
    else:
        ways = _along_chords(points) if len(points) >= 3 else np.array([_flattest(grey, at, reach) for at in points])
    return np.array(
        [caught_point(grey, (float(x), float(y)), way, reach) for (x, y), way in zip(points, ways, strict=True)]
    )


def _caught_together(
    grey: Grey, points: Floats, ellipse: tuple[float, float, float, float, float], reach: float
) -> Floats | None:
    """Return the points (N, 2) moved across the ellipse through them by one ellipse near it: to the first order that is moved by
    a0 + a1 cos t + b1 sin t + a2 cos 2t + b2 sin 2t at its own angle t, scaled as the way across is."""
    u, v, long, short, angle = ellipse
    middle, cos, sin = np.array([u, v]), np.cos(angle), np.sin(angle)
    axes = np.array([[long * cos, long * sin], [-short * sin, short * cos]])
    turns = np.arctan2(*np.linalg.solve(axes.T, (points - middle).T)[::-1])
    gaps = np.diff(np.sort(turns), append=np.sort(turns)[0] + 2.0 * np.pi)
    widest = int(np.argmax(gaps))
    if 2.0 * np.pi - gaps[widest] < _LEAST_ARC:
        return None
    begin = float(np.sort(turns)[(widest + 1) % len(turns)])
    # Where no point lies the ring may be hidden.
    unseen = float(gaps[widest]) if gaps[widest] > np.pi / 2.0 else 0.0
    about = begin + np.linspace(0.0, 2.0 * np.pi - unseen, _RING_PROBES, endpoint=False)
    on, normals, basis = _round(middle, axes, about)
    off, steep = _peaks(*_slopes(grey, on, normals, 1.5, reach), drawn=_is_drawn(grey))
    found = _through(basis, off, steep, reach, tries=600)
    if found is None:
        return None
    on, normals, basis = _round(middle, axes, turns)
    moved: Floats = on + (basis @ found[0])[:, None] * normals
    return moved if float(np.abs(moved - points).max()) <= 1.5 * reach else None


def _round(middle: Floats, axes: Floats, turns: Floats) -> tuple[Floats, Floats, Floats]:
    """Return places (N, 2) of an ellipse at its own angles, the ways (N, 2) across, and how far ellipses near it go along them (N, 5)."""
    cos, sin = np.cos(turns), np.sin(turns)
    on = middle + np.column_stack([cos, sin]) @ axes
    along = np.column_stack([-sin, cos]) @ axes
    fast = np.hypot(along[:, 0], along[:, 1])
    normals = np.column_stack([along[:, 1], -along[:, 0]]) / fast[:, None]
    mean = np.sqrt(abs(float(np.linalg.det(axes))))
    basis = np.column_stack([np.ones(len(turns)), cos, sin, np.cos(2.0 * turns), np.sin(2.0 * turns)])
    return on, normals, basis * (mean / fast)[:, None]


def _flattest(grey: Grey, at: Floats, reach: float) -> Floats:
    """Return the direction (2,) along the strongest edge near a point."""
    span = np.arange(-reach, reach + 1.0)
    x, y = np.meshgrid(at[0] + span, at[1] + span)
    light = np.nan_to_num(_read(grey, np.stack([x, y], axis=-1)))
    down, right = np.gradient(light)
    tensor = np.array([[(right**2).sum(), (right * down).sum()], [(right * down).sum(), (down**2).sum()]])
    _, ways = np.linalg.eigh(tensor)
    found: Floats = ways[:, 0]
    return found


def _along_chords(points: Floats) -> Floats:
    """Return about the direction (N, 2) of a ring at three or four points on it: that of a circle through three neighbours."""
    middle = points.mean(axis=0)
    order = np.argsort(np.arctan2(*(points - middle).T[::-1]))
    ways = np.empty_like(points)
    for place, row in enumerate(order):
        before, after = points[order[place - 1]], points[order[(place + 1) % len(order)]]
        ways[row] = after - before
    return ways
