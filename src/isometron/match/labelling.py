"""Which of a thing's two level directions each of its marked lines runs in, while no eye is known: all ways are tried.

Lines of one direction meet in one point, both points lie on the horizon, which is about level and about as high as the picture's middle,
and an eye sees them at a right angle: f^2 = -(a - c)(b - c) > 0.
"""

from __future__ import annotations

from math import atan2, degrees, hypot

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["level_labels"]

_MOST = 9
"""Level lines that are tried in all ways; more are given to the nearer of the two points by the first of them."""
_ANGLE_DEG, _ROLL_DEG, _HIGH, _RISE = 0.5, 4.0, 0.35, 0.6
"""What is usual: a line off its point, a horizon off the level, a horizon off the middle (parts of the picture's height), and what it
counts that a line rises to the side it does not run to."""
_NO_EYE = 400.0


def level_labels(lines: list[Floats], size: tuple[float, float], fixed: dict[int, bool]) -> list[bool]:
    """Return for each level line (2, 2), px, whether it is right-going; ``fixed`` are those that are known."""
    first = lines[:_MOST]
    best, chosen = np.inf, [_rises(line) for line in first]
    for bits in range(1 << len(first)):
        labels = [bool(bits >> k & 1) for k in range(len(first))]
        if any(k < len(first) and labels[k] != known for k, known in fixed.items()):
            continue
        cost = _cost(first, labels, size)
        if cost < best:
            best, chosen = cost, labels
    for k in range(len(first), len(lines)):
        chosen.append(fixed.get(k, _nearer(lines[k], first, chosen)))
    return chosen


def _rises(line: Floats) -> bool:
    """Whether a line rises to the right; y runs down."""
    way = line[-1] - line[0]
    return bool(way[0] * way[1] < 0.0)


def _point(lines: list[Floats]) -> Floats | None:
    """Return where lines meet, homogeneous px (3,); None of fewer than two."""
    if len(lines) < 2:
        return None
    every = np.concatenate(lines)
    shift, scale = every.mean(axis=0), float(np.ptp(every, axis=0).max())
    rows = np.array([np.cross([*((a - shift) / scale), 1.0], [*((b - shift) / scale), 1.0]) for a, b in lines])
    rows /= np.hypot(rows[:, 0], rows[:, 1])[:, None]
    _, _, ways = np.linalg.svd(rows)
    x, y, w = ways[-1]
    return np.array([scale * x + w * shift[0], scale * y + w * shift[1], w])


def _off(line: Floats, point: Floats) -> float:
    """Return the angle, degrees, between a line and the way from its middle to a point."""
    way, middle = line[-1] - line[0], line.mean(axis=0)
    there = point[:2] - point[2] * middle
    return degrees(atan2(abs(float(way[0] * there[1] - way[1] * there[0])), abs(float(way @ there))))


def _cost(lines: list[Floats], labels: list[bool], size: tuple[float, float]) -> float:
    width, height = size
    parts = [[line for line, label in zip(lines, labels, strict=True) if label is side] for side in (True, False)]
    points = [_point(part) for part in parts]
    cost = 0.0
    for part, point in zip(parts, points, strict=True):
        if point is not None:
            # A short line tells of its direction less well.
            cost += sum(
                (_off(line, point) / (_ANGLE_DEG + 60.0 / hypot(*(line[-1] - line[0])))) ** 2 for line in part
            )
    far = [p[:2] / p[2] if p is not None and abs(p[2]) > 1e-9 else None for p in points]
    middle = np.array([width / 2.0, height / 2.0])
    if far[0] is not None and far[1] is not None:
        one, other = far[0] - middle, far[1] - middle
        if not float(one @ other) < 0.0:
            cost += _NO_EYE
        way = far[0] - far[1]
        roll = (
            degrees(atan2(float(way[1]), float(way[0])))
            if way[0] > 0.0
            else degrees(atan2(-float(way[1]), -float(way[0])))
        )
        cost += (roll / _ROLL_DEG) ** 2
        # Right-going edges run to the point on the right.
        cost += 4.0 * (far[0][0] < far[1][0])
    heights = [(p[1] - middle[1]) / height for p in far if p is not None]
    if heights:
        cost += (float(np.mean(heights)) / _HIGH) ** 2
    level = height / 2.0 + height * float(np.mean(heights)) if heights else height / 2.0
    # Below the eye level right-going edges rise to the right, above it they fall.
    cost += sum(
        _RISE
        for line, label in zip(lines, labels, strict=True)
        if _rises(line) != (label == (line[:, 1].mean() > level))
    )
    return cost


def _nearer(line: Floats, lines: list[Floats], labels: list[bool]) -> bool:
    points = [
        _point([one for one, label in zip(lines, labels, strict=False) if label is side]) for side in (True, False)
    ]
    offs = [_off(line, point) if point is not None else 90.0 for point in points]
    return offs[0] <= offs[1] if offs[0] != offs[1] else _rises(line)
