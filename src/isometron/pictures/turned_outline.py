"""The outline of a turned body in a picture, found on both sides of its axle at once.

Across the axle the light is read on lines a pixel apart, and its slope is taken at every width. The outline is the way along those lines
that gathers most slope on either side while it changes its width least: a best way, found line by line (dynamic programming, e.g.
Amini, Weymouth and Jain, 1990), on which a change of width costs its amount (Felzenszwalb and Huttenlocher, 2012). What only one side
has, a board of the floor or a shadow, weighs less; bands and highlights lie inside, and the way in to them costs more than they give.
Where it begins and ends is told by the near rim of the foot and the far rim of the top: level rings, as
wide as the outline is there.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.pictures.rasters import Pixels

__all__ = ["TurnedOutline", "few_of", "outline_about"]

_WIDEST, _LONGEST, _BELOW = 3.0, 14.0, 1.2
"""Of the foot's half width: no part of the body is wider, or farther from the foot upward or downward."""
_SOFT = 1.5
"""Pixels over which light is smoothed."""
_ASKEW = 0.06
"""Of the foot's half width: so far the axle may lie beside the middle."""
_OTHER = 0.5
"""What the side that was not pointed at counts, of both."""
_TURN = 0.15
"""What a change of width costs by the pixel; a line gives up to 1."""
_WORTH = 0.55
"""What a line must give to be one of the body's."""
_GROOVE = 0.35
"""Of the foot's half width: how high a groove is at least."""
_ENOUGH = 130.0
"""Pixels of the foot's half width that are enough."""
_NOISE = 1.0
"""Levels of light that a slope is worth nothing below."""
_FEW, _STRAY, _APART = 12, 1.5, 0.08


@dataclass(frozen=True)
class TurnedOutline:
    """ups : px (N,) along the axle from the foot, in order; own, other : px (N,) from the axle to the outline on either side; from the
    widest place of the foot's rim to that of the top's."""

    ups: Floats
    own: Floats
    other: Floats


def outline_about(
    pixels: Pixels, foot: Floats, way: Floats, half: float, rim: Callable[[Floats], float]
) -> TurnedOutline | None:
    """Return the outline of the body that stands at a pixel (2,) with its axle along ``way`` (2,); None where there is none.

    pixels : (H, W, 3); half : px from the axle to the end of the foot that was pointed at, negative to the left of the way up;
    rim : how high a level ring is drawn about a pixel, as a part of its width.
    """
    times = max(int(abs(half) // _ENOUGH), 1)
    if times > 1:  # finer than that it tells no more, and takes longer
        found = outline_about(
            _coarser(pixels, times),
            (foot + 0.5) / times - 0.5,
            way,
            half / times,
            lambda place: rim((place + 0.5) * times - 0.5),
        )
        return (
            None if found is None else TurnedOutline(*(times * part for part in (found.ups, found.own, found.other)))
        )
    way = np.asarray(way, dtype=np.float64) / np.hypot(*way)
    aside, half = np.array([-way[1], way[0]]) * np.sign(half), abs(half)
    widths = np.arange(0.0, _WIDEST * half)
    ups = np.arange(-np.ceil(_BELOW * half), _LONGEST * half)
    axle = foot + ups[:, None] * way
    inside = ((axle >= 0.0) & (axle <= np.array(pixels.shape[1::-1]) - 1.0)).all(axis=1)
    ups, axle = ups[inside], axle[inside]
    if len(ups) < 3 or len(widths) < 8:
        return None
    both = [np.array(_slopes(pixels, axle[:, None] + widths[:, None] * out)) for out in (aside, -aside)]
    own, other, askew = both[0][0], both[1][0], int(_ASKEW * half) + 1
    path = _best(_plain(own) ** (1.0 - _OTHER) * _about(_plain(other), askew) ** _OTHER - _WORTH, half, ups)
    if path is None:
        return None
    lines, columns = path
    rims = [_rim(both, lines, columns, np.array([rim(place) for place in axle[lines]]), sense) for sense in (-1, 1)]
    near = np.abs(ups[lines] + 0.25 * half) <= 0.6 * half
    first = int(np.argmax(np.where(near, rims[0], -1.0)))
    upper = np.where(ups[lines] > 0.5 * half, rims[1], -1.0)
    last = int(np.argmax(upper))
    cut = slice(first, last + 1)
    sides = [_finer(own[lines], columns)[cut], _finer(other[lines], columns, askew)[cut]]
    return TurnedOutline(ups[lines][cut], *(_filled(side, half) for side in sides)) if last > first + 2 else None


def _coarser(pixels: Pixels, times: int) -> Pixels:
    """Return a picture with so many pixels of it in one, on either side."""
    height, width = (size // times * times for size in pixels.shape[:2])
    blocks = pixels[:height, :width].reshape(height // times, times, width // times, times, -1)
    found: Pixels = blocks.mean(axis=(1, 3)).astype(np.uint8)
    return found


def _filled(widths: Floats, half: float) -> Floats:
    """Return widths without dents that are lower than a groove would be: there a band was followed a little way in."""
    from scipy.ndimage import grey_closing, median_filter

    most = max(min(int(_GROOVE * half), len(widths) - 1), 3)
    longer = np.pad(widths, most, mode="reflect", reflect_type="odd")  # beyond its ends it goes on as it came
    found: Floats = median_filter(grey_closing(longer, most), 5)[most:-most]
    return found


def _rim(both: list[Floats], lines: Ints, columns: Ints, rim: Floats, sense: int) -> Floats:
    """Return how plain the half ring (N,) is that a level ring of each width shows, the near one below or the far one above."""
    angle = np.radians(np.arange(8.0, 83.0, 3.0))
    across, along = np.array([np.cos(angle), np.sin(angle)])[:, None] * np.ones((2, len(lines), 1))
    k = np.clip(np.rint(columns[:, None] * across), 0, both[0].shape[2] - 1).astype(np.intp)
    row = lines[:, None] + sense * np.rint(columns[:, None] * rim[:, None] * along).astype(np.intp)
    there = (row >= 0) & (row < both[0].shape[1])
    row = np.clip(row, 0, both[0].shape[1] - 1)
    # Across a ring the light changes along its normal.
    tilt = np.arctan2(along, across * np.maximum(rim[:, None], 1e-6))
    found = np.zeros(k.shape)
    for side in both:
        found += np.abs(np.cos(tilt) * side[0][row, k]) + np.abs(np.sin(tilt) * side[1][row, k])
    plain: Floats = np.exp(np.log(np.where(there, found, 0.0) + _NOISE).mean(axis=1))  # all of it must be there
    return plain


def _slopes(pixels: Pixels, places: Floats) -> tuple[Floats, Floats]:
    """Return how steeply light and colour change with the width, and along the axle, at places (N, M, 2)."""
    from scipy.ndimage import gaussian_filter, map_coordinates

    across, along = np.zeros(places.shape[:2]), np.zeros(places.shape[:2])
    rows = places[..., ::-1].transpose(2, 0, 1)
    for colour in pixels.transpose(2, 0, 1):
        light = gaussian_filter(map_coordinates(colour.astype(np.float32), rows, order=1, mode="nearest"), _SOFT)
        across, along = np.hypot(across, np.gradient(light, axis=1)), np.hypot(along, np.gradient(light, axis=0))
    across[:, 0] = 0.0
    return across, along


def _plain(steep: Floats) -> Floats:
    """Return how plain each slope is as an edge, 0 to about 1, by what the steepest of the picture are."""
    usual = max(float(np.percentile(steep, 97.0)), 1.0)
    return 1.5 * steep / (steep + 0.5 * usual)


def _about(plain: Floats, within: int) -> Floats:
    """Return the plainest within so many pixels of width."""
    from scipy.ndimage import maximum_filter1d

    found: Floats = maximum_filter1d(plain, 2 * within + 1, axis=1)
    return found


def _best(gain: Floats, half: float, ups: Floats) -> tuple[Ints, Ints] | None:
    """Return the lines (N,) and columns (N,) of the best way through gains (M, K) that goes by the foot's end."""
    column = np.arange(float(gain.shape[1]))
    price: Floats = _TURN * column
    foot = int(np.argmin(np.abs(ups)))
    gain = np.array(gain)
    gain[foot] += 40.0 * np.exp(-0.5 * ((column - half) / (0.08 * half + 2.0)) ** 2)  # it goes by there, about
    total: Floats = gain[0]
    came = np.zeros(gain.shape, dtype=np.int32)
    best, end = -np.inf, (-1, -1)
    for line in range(1, len(gain)):
        total, came[line] = _carried(total, price)
        if line <= foot:  # it begins here
            came[line] = np.where(total < 0.0, -1, came[line])
            total = np.maximum(total, 0.0)
        total = np.asarray(total + gain[line], dtype=np.float64)
        if line > foot and total.max() > best:
            best, end = float(total.max()), (line, int(np.argmax(total)))
    if best <= 40.0:
        return None
    lines, columns = [end[0]], [end[1]]
    while lines[-1] > 0 and came[lines[-1], columns[-1]] >= 0:
        columns.append(int(came[lines[-1], columns[-1]]))
        lines.append(lines[-1] - 1)
    return np.array(lines[::-1], dtype=np.intp), np.array(columns[::-1], dtype=np.intp)


def _carried(total: Floats, price: Floats) -> tuple[Floats, Ints]:
    """Return the best total (K,) at each column once the change of width is paid, and from which column it came."""
    column = np.arange(len(total))
    up, down = total + price, (total - price)[::-1]
    left, right = np.maximum.accumulate(up), np.maximum.accumulate(down)
    from_left = np.maximum.accumulate(np.where(up >= left, column, 0))
    from_right = np.minimum.accumulate(np.where(down >= right, column[::-1], column[-1]))[::-1]
    one, two = left - price, right[::-1] + price
    return np.maximum(one, two), np.where(one >= two, from_left, from_right)


def _finer(steep: Floats, columns: Ints, about: int = 0) -> Floats:
    """Return the widths (N,) of a way, each at the steepest place within so many pixels, by a parabola through the slopes beside it."""
    rows = np.arange(len(columns))
    near = np.clip(columns[:, None] + np.arange(-about, about + 1), 1, steep.shape[1] - 2)
    k = near[rows, np.argmax(steep[rows[:, None], near], axis=1)]
    a, b, c = (steep[rows, k + d] for d in (-1, 0, 1))
    bend = a - 2.0 * b + c
    off = np.where(bend < 0.0, 0.5 * (a - c) / np.where(bend < 0.0, bend, -1.0), 0.0)
    found: Floats = k + np.clip(off, -1.0, 1.0)
    return found


def few_of(ups: Floats, widths: Floats) -> tuple[Ints, list[bool]]:
    """Return which of many places of an outline tell its form: rows (N,), and whether the outline runs straight on from each.

    Where it strays farthest from the monotone cubic through those taken so far another one is taken, until all lie within a pixel or so.
    """
    from scipy.interpolate import PchipInterpolator

    taken, apart = [0, len(ups) - 1], _APART * float(np.median(widths))
    while len(taken) < _FEW:
        off = np.abs(PchipInterpolator(ups[taken], widths[taken])(ups) - widths)
        off[np.abs(ups[:, None] - ups[taken]).min(axis=1) < apart] = 0.0
        worst = int(np.argmax(off))
        if off[worst] <= _STRAY:
            break
        taken = sorted({*taken, worst})
    straight = []
    for one, two in pairwise(taken):
        chord = np.interp(ups[one : two + 1], ups[[one, two]], widths[[one, two]])
        straight.append(bool(np.abs(chord - widths[one : two + 1]).max() <= _STRAY))
    return np.array(taken, dtype=np.intp), [*straight, True]
