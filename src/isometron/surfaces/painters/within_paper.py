"""What of lines and arcs lies on the paper, for forms that know no clipping."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import HAIR

__all__ = ["clipped_arcs", "clipped_lines"]


def clipped_lines(lines: Floats, width: float, height: float) -> tuple[Floats, Ints]:
    """Return what of lines (N, 4) lies within a rectangle from (0, 0), and which lines they are of (Liang and Barsky 1984)."""
    if not len(lines):
        return lines, np.zeros(0, dtype=np.intp)
    start, way = lines[:, :2], lines[:, 2:] - lines[:, :2]
    low, high = np.zeros(len(lines)), np.ones(len(lines))
    for axis, most in enumerate((width, height)):
        with np.errstate(divide="ignore", invalid="ignore"):
            one, two = -start[:, axis] / way[:, axis], (most - start[:, axis]) / way[:, axis]
        still = way[:, axis] == 0.0
        inside = (start[:, axis] >= 0.0) & (start[:, axis] <= most)
        low = np.where(still, np.where(inside, low, 2.0), np.maximum(low, np.minimum(one, two)))
        high = np.where(still, high, np.minimum(high, np.maximum(one, two)))
    kept = np.flatnonzero(high > low)
    whole = (low[kept] <= 0.0) & (high[kept] >= 1.0)
    ends = np.hstack([start + low[:, None] * way, start + high[:, None] * way])[kept]
    ends[whole] = lines[kept[whole]]
    return ends, kept


def clipped_arcs(shapes: Floats, width: float, height: float) -> tuple[Floats, Ints]:
    """Return what of arcs (N, 7) lies within a rectangle from (0, 0), and which arcs they are of."""
    found, rows = [], []
    for row, shape in enumerate(shapes):
        u, v, a, b, angle, first, last = (float(x) for x in shape)
        reach = np.hypot(a * np.array([np.cos(angle), np.sin(angle)]), b * np.array([np.sin(angle), np.cos(angle)]))
        if u - reach[0] >= 0.0 and u + reach[0] <= width and v - reach[1] >= 0.0 and v + reach[1] <= height:
            found.append(shape)
            rows.append(row)
            continue
        cuts = [first, *sorted(_crossed(shape, width, height)), last]
        for one, two in pairwise(cuts):
            t = (one + two) / 2.0
            x, y = a * np.cos(t), b * np.sin(t)
            place = u + x * np.cos(angle) - y * np.sin(angle), v + x * np.sin(angle) + y * np.cos(angle)
            if two - one > HAIR and 0.0 <= place[0] <= width and 0.0 <= place[1] <= height:
                found.append(np.array([u, v, a, b, angle, one, two]))
                rows.append(row)
    return np.array(found).reshape(-1, 7), np.array(rows, dtype=np.intp)


def _crossed(shape: Floats, width: float, height: float) -> list[float]:
    """Return the angles at which an arc crosses the rectangle's edges: p cos t + q sin t = r along each of its two directions."""
    u, v, a, b, angle, first, last = (float(x) for x in shape)
    found = []
    for p, q, levels in (
        (a * np.cos(angle), -b * np.sin(angle), (-u, width - u)), (a * np.sin(angle), b * np.cos(angle), (-v, height - v)),
    ):  # fmt: skip
        size, middle = float(np.hypot(p, q)), float(np.arctan2(q, p))
        for level in levels:
            if size <= 0.0 or abs(level) > size:
                continue
            half = float(np.arccos(level / size))
            for t in (middle - half, middle + half):
                t += 2 * np.pi * np.ceil((first - t) / (2 * np.pi))
                if first < t < last:
                    found.append(float(t))
    return found
