"""Catching marks by a picture's own edges, finer than a pixel: the steps of light across a line, or across a ring.

Across the mark the light is read along short probes; where its slope is steepest is the edge (the peak of the slope, placed by a
parabola through three readings, see Canny, "A computational approach to edge detection", 1986). A robust straight line, or an
ellipse, through what the probes tell is what catches.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.conics import ellipse_through
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


def _peaks(off: Floats, slope: Floats, most: int = 3) -> tuple[Floats, Floats]:
    """Return offsets and steepness (N, most) of the steepest places of each probe; NaN and 0 where there are fewer."""
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
    return np.where(there, off[order + 1] + _STEP * shift, np.nan), np.where(there, here, 0.0)


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
    off, steep = _peaks(*_slopes(grey, middles, np.tile(normal, (count, 1)), along, reach))
    fitted = _straight_through(t - length / 2.0, off, steep, reach)
    if fitted is None:
        return None
    at, turn, sure = fitted
    ends = np.array([at - turn * length / 2.0, at + turn * length / 2.0])
    if np.abs(ends).max() > reach * 1.5:
        return None
    return Caught(np.array([start, end]) + ends[:, None] * normal, sure)


def _straight_through(t: Floats, off: Floats, steep: Floats, reach: float) -> tuple[float, float, float] | None:
    """Return offset in the middle, turn and share of the probes of the line that most of them tell of, weighed by how steep they are
    and how near they lie."""
    probe, _ = np.nonzero(np.isfinite(off))
    if len(np.unique(probe)) < _SHARE * len(t):
        return None
    kept = np.isfinite(off)
    x, y = t[probe], off[kept]
    weight = np.sqrt(steep[kept]) * np.exp(-((y / reach) ** 2))
    best, chosen = 0.0, None
    rng = np.random.default_rng(7)
    for _ in range(120):
        a, b = rng.integers(0, len(x), 2)
        if abs(x[a] - x[b]) < 0.25 * (x.max() - x.min()):
            continue
        turn = (y[a] - y[b]) / (x[a] - x[b])
        near = np.abs(y - (y[a] + turn * (x - x[a]))) < _AGREE
        score = float(weight[near].sum())
        if score > best:
            best, chosen = score, near
    if chosen is None:
        return None
    for _ in range(3):
        w = weight[chosen]
        system = np.column_stack([np.ones(w.size), x[chosen]]) * w[:, None]
        (at, turn), *_ = np.linalg.lstsq(system, y[chosen] * w, rcond=None)
        chosen = np.abs(y - at - turn * x) < _AGREE
        if chosen.sum() < 2:
            return None
    sure = len(np.unique(probe[chosen])) / len(t)
    return (float(at), float(turn), sure) if sure >= _SHARE else None


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
    off, steep = _peaks(*_slopes(grey, middle, normal[None, :], 2.0, reach))
    score = np.where(np.isfinite(off), np.sqrt(steep) * np.exp(-((np.nan_to_num(off) / reach) ** 2)), 0.0)[0]
    best = int(np.argmax(score))
    if not score[best] > 0.0:
        return float(at[0]), float(at[1])
    x, y = middle[0] + off[0, best] * normal
    return float(x), float(y)


def caught_ring(grey: Grey, points: Floats, reach: float = REACH) -> Floats:
    """Return points (N, 2) of a ring moved on to the picture's edge: across the ellipse through them from five on, else where the
    light changes most near each."""
    conic = ellipse_through(points)
    if conic is not None:
        across = np.column_stack([points, np.ones(len(points))]) @ conic
        ways = np.column_stack([-across[:, 1], across[:, 0]])
    else:
        ways = _along_chords(points) if len(points) >= 3 else np.array([_flattest(grey, at, reach) for at in points])
    return np.array(
        [caught_point(grey, (float(x), float(y)), way, reach) for (x, y), way in zip(points, ways, strict=True)]
    )


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
