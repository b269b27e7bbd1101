"""Which of a thing's directions a marked line runs in, as far as it can be told from the marks so far."""

from __future__ import annotations

from itertools import count
from math import atan2, degrees

import msgspec
import numpy as np

from isometron.document.pictures.marks import Along, LineMark
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats
from isometron.match.answer import Answer
from isometron.match.labelling import level_labels
from isometron.match.picture_eye import answer_of
from isometron.match.solving.camera import ideal, picture_of

__all__ = ["DIRECTIONS", "bundle_points", "by_slope", "direction_of", "is_sure", "new_thing", "relabelled"]

DIRECTIONS: tuple[Along, ...] = ("long", "wide", "high")
"""Right-going, left-going, upright: the thing's long, wide and high."""
_UPRIGHT_DEG, _FITS_DEG, _ANOTHER_DEG, _FAR_DEG = 14.0, 3.0, 5.0, 12.0
_SHORT = 150.0
"""Degrees times pixels: how far off a line may be drawn by a hand's tremble."""
_SURE = 0.15
"""An eye whose viewing distance is so well known tells that an edge is another thing's."""


def direction_of(picture: SheetPicture, points: Floats) -> tuple[str, Along]:
    """Return the thing and the direction that a line (N, 2), px, fits best; a new thing's name where it fits none.

    By the eye where one is found; else by the lines of a direction that it meets in one point; else steep lines are upright, those that
    rise to the right right-going and the others left-going, as edges below the eye level do.
    """
    answer = answer_of(picture)
    if not isinstance(answer, str) and answer.usable:
        way = points[-1] - points[0]
        off, thing, along = min(_by_eye(answer, way, points.mean(axis=0)))
        if off > (_ANOTHER_DEG if is_sure(answer) else _FAR_DEG) + _SHORT / float(np.hypot(*way)):
            return new_thing(picture), by_slope(points)
        return thing, along
    way = points[-1] - points[0]
    if degrees(atan2(abs(way[0]), abs(way[1]))) < _UPRIGHT_DEG:
        return "", "high"
    found = bundle_points([line for line in picture.lines if not line.object])
    level = [(_angle_to(way, points.mean(axis=0), at), along) for along, at in found.items() if along != "high"]
    if len(level) == 2 and min(level)[0] < _FITS_DEG:
        return "", min(level)[1]
    return "", by_slope(points)


def is_sure(answer: Answer) -> bool:
    """Whether an eye is so well known that it tells of each line what it is."""
    return answer.usable and answer.fit.over >= 2 and answer.focal.pm95 <= _SURE * answer.focal.value


def relabelled(picture: SheetPicture, lines: tuple[LineMark, ...]) -> tuple[LineMark, ...]:
    """Return the first thing's lines with the directions that go best together, see `isometron.match.labelling`; what a person has said
    stays."""
    ends = [np.array([line.points[0], line.points[-1]]) for line in lines]
    steep = [degrees(atan2(abs(way[0]), abs(way[1]))) < _UPRIGHT_DEG for way in (e[1] - e[0] for e in ends)]
    level = [
        n for n, line in enumerate(lines)
        if not line.object and (line.along != "high" if line.by_hand else not steep[n])
    ]  # fmt: skip
    fixed = {k: lines[n].along == "long" for k, n in enumerate(level) if lines[n].by_hand}
    labels = level_labels([ends[n] for n in level], (float(picture.width), float(picture.height)), fixed)
    said: dict[int, Along] = {n: "long" if label else "wide" for n, label in zip(level, labels, strict=True)}
    return tuple(
        line if line.by_hand or line.object else msgspec.structs.replace(line, along=said.get(n, "high"))
        for n, line in enumerate(lines)
    )


def by_slope(points: Floats) -> Along:
    """Return the level direction that a line (N, 2), px, runs in as edges below the eye level do: right-going ones rise to the right."""
    way = points[-1] - points[0]
    return "long" if way[0] * way[1] < 0.0 else "wide"


def _by_eye(answer: Answer, way: Floats, middle: Floats) -> list[tuple[float, str, Along]]:
    """Return for each thing and each of its directions the angle, degrees, by which a line misses its vanishing point."""
    layout, numbers = answer.fit.layout, answer.fit.numbers
    camera = layout.camera(numbers)
    there = ideal(camera, np.array([middle]))[0]
    found: list[tuple[float, str, Along]] = []
    axes = np.real(layout.axes(numbers))
    for row, thing in enumerate(layout.objects):
        seen = np.real(picture_of(camera, axes[row]))
        found += [(_angle_to(way, there, seen[k]), thing, DIRECTIONS[k]) for k in range(3)]
    # An upright is an upright of whatever it belongs to.
    return [each for each in found if each[2] != "high" or each[1] == layout.objects[0]]


def new_thing(picture: SheetPicture) -> str:
    """Return a name that no thing of a picture has."""
    taken = {line.object for line in picture.lines} | {ring.object for ring in picture.rings}
    return next(f"{n}" for n in count(2) if f"{n}" not in taken)


def _angle_to(way: Floats, at: Floats, point: Floats) -> float:
    """Return the angle, degrees, between a line's way and the way from its middle to a vanishing point, homogeneous (3,)."""
    there = point[:2] - point[2] * at
    cross, dot = way[0] * there[1] - way[1] * there[0], way @ there
    return degrees(atan2(abs(float(cross)), abs(float(dot))))


def bundle_points(lines: list[LineMark]) -> dict[Along, Floats]:
    """Return where the lines of each direction meet, homogeneous px (3,), of directions with two lines at least."""
    found: dict[Along, Floats] = {}
    for along in DIRECTIONS:
        own = [np.array(line.points) for line in lines if line.along == along]
        if len(own) < 2:
            continue
        every = np.concatenate(own)
        shift, size = every.mean(axis=0), float(np.ptp(every, axis=0).max())
        rows = []
        for points in own:
            a, b = (points[[0, -1]] - shift) / size
            rows.append(np.cross([*a, 1.0], [*b, 1.0]))
        _, _, ways = np.linalg.svd(np.array(rows))
        x, y, w = ways[-1]
        found[along] = np.array([size * x + w * shift[0], size * y + w * shift[1], w])
    return found
