"""A profile from a drawn path: the right half of a body's side view as the first path of an SVG file."""

from __future__ import annotations

import math
from itertools import pairwise
from pathlib import Path
from typing import Any

from isometron.document.model import DocumentError
from isometron.document.store.disk import read_whole
from isometron.volumes.turned import ProfileRing
from isometron.wording import tr

__all__ = ["profile_from_svg"]

_LARGEST = 2**20
_LONGEST = 2**16
_MOST = 60
_STEPS = 8
_NOT_DRAWN = {"defs", "clipPath", "mask", "marker", "pattern", "symbol", "style"}


def profile_from_svg(path: Path) -> tuple[ProfileRing, ...]:
    """Return the profile drawn by the first path of an SVG file.

    The axle runs upright through the path's leftmost point; heights run up the page. Curves are cut into straight
    pieces, at most 60 rings in all. Raises `DocumentError` for a file without such a path, and for one that goes down
    again: a turned body has one width at each height.
    """
    data = read_whole(path, _LARGEST)
    try:
        points = _points(data, path.name)
    except DocumentError:
        raise
    except Exception as error:  # the reader raises whatever its parsers do
        raise DocumentError(tr("{name} cannot be read as SVG: {error}.", name=path.name, error=error)) from error
    if len(points) < 2:
        raise DocumentError(
            tr("{name} holds no path. Draw the right half of the side view as one path.", name=path.name)
        )
    if points[0][1] > points[-1][1]:
        points.reverse()
    heights = [height for _, height in points]
    low, left = min(heights), min(x for x, _ in points)
    tall = max(heights) - low
    wide = max(x for x, _ in points) - left
    if not (tall > 0.0 and wide > 0.0):
        raise DocumentError(tr("The path of {name} has no height or no width.", name=path.name))
    for one, two in pairwise(heights):
        if two < one - 1e-3 * tall:
            raise DocumentError(
                tr("The path of {name} goes down again at {part} % of its height; it must rise all the way.",
                   name=path.name, part=round(100 * (one - low) / tall))
            )  # fmt: skip
    rings = [
        ProfileRing(at=min(max((h - low) / tall, 0.0), 1.0), wide=min(max((x - left) / wide, 0.0), 1.0))
        for x, h in _thinned(points)
    ]
    return tuple(sorted(rings, key=lambda ring: ring.at))


def _points(data: bytes, name: str) -> list[tuple[float, float]]:
    """Return the points of the first path, y up. Styles are not looked at: they change no shape."""
    from svgelements import Line, Matrix, Move
    from svgelements import Path as Drawn

    drawn, moves = _first_path(data)
    if len(drawn) > _LONGEST:
        raise DocumentError(
            tr("The path of {name} is {long} kB long, more than {most}. Draw it with fewer points.",
               name=name, long=len(drawn) // 1024, most=_LONGEST // 1024)
        )  # fmt: skip
    found: list[tuple[float, float]] = []
    matrix = Matrix(" ".join(moves)) if moves else Matrix()
    for segment in Drawn(drawn) * matrix:
        if isinstance(segment, Move):
            continue
        steps = 1 if isinstance(segment, Line) else _STEPS
        for k in range(0 if not found else 1, steps + 1):
            point = segment.point(k / steps)
            found.append((float(point.x), -float(point.y)))
    return [p for p in found if math.isfinite(p[0]) and math.isfinite(p[1])]


def _first_path(data: bytes) -> tuple[str, list[str]]:
    """Return what the first path of an SVG file is drawn by, and the moves of it and of all that it lies in, outer first."""
    from defusedxml.ElementTree import fromstring

    waiting: list[tuple[Any, list[str]]] = [(fromstring(data), [])]
    while waiting:
        element, moves = waiting.pop()
        kind = str(element.tag).rpartition("}")[2]
        if kind in _NOT_DRAWN:
            continue
        moves = [*moves, element.get("transform")[:1000]] if element.get("transform") else moves
        if kind == "path" and element.get("d"):
            return element.get("d"), moves
        waiting += [(child, moves) for child in reversed(list(element))]
    return "", []


def _thinned(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    if len(points) <= _MOST:
        return points
    return [points[round(k * (len(points) - 1) / (_MOST - 1))] for k in range(_MOST)]
