"""Half edges of triangles: 3 t + k is that of triangle t from its corner k to the next."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Ints
from isometron.geometry.shell.united import NoShellError
from isometron.wording import tr

__all__ = ["after_in_patch", "next_half", "opposite_halves"]


def next_half(half: Ints) -> Ints:
    """Return the one after each (N,) in its own triangle."""
    after: Ints = half - half % 3 + (half + 1) % 3
    return after


def opposite_halves(rows: Ints, count: int) -> Ints:
    """Return of each half edge of triangles (T, 3) of ``count`` places the one that runs the other way; raises `NoShellError` where there is none."""
    start, end = rows.reshape(-1), rows[:, [1, 2, 0]].reshape(-1)
    order = np.argsort(np.minimum(start, end) * count + np.maximum(start, end), kind="stable")
    found = np.empty(len(start), dtype=np.intp)
    one, two = order[::2], order[1::2]
    if len(one) != len(two) or (start[one] != end[two]).any() or (end[one] != start[two]).any():
        raise NoShellError(tr("The body's surface has a gap. Move what nearly touches apart, or on to each other."))
    found[one], found[two] = two, one
    return found


def after_in_patch(half: Ints, opposite: Ints, is_side: Bools) -> Ints:
    """Return for half edges (N,) between two patches the next such one round their own patch, past what lies within it."""
    after = next_half(half)
    inner = np.flatnonzero(~is_side[after])
    while len(inner):
        after[inner] = next_half(opposite[after[inner]])
        inner = inner[~is_side[after[inner]]]
    return after
