"""How far each mark lies from what a camera and the boxes say of it, px: one row of numbers, in the order of the marks."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.match.marks import KnownLength
from isometron.match.solving.camera import AXES, Camera, Layout, Numbers, ideal, picture_of, ring_off

__all__ = ["Misfits", "is_straight"]

_EXACT, _UNIT = 3e4, 100.0
"""Weights of what is known exactly, and of the unit of a box, which nothing contradicts."""
_STRAIGHT = 0.3
"""px: points that lie so near to one line are a line."""
_TELLING, _LEAST_LINES, _LEAST_TELLING = 2.5, 4, 2
"""Rings that are no higher than so many standard deviations of a mark tell of hands and not of the eye: they are left out where there are
so many lines, or so many other rings."""
_SHARP = 1e-14
_LEAST_RING = 4
"""Points of a ring from which on it says anything of the eye: three lie on many circles."""


class Misfits:
    """The marks of a layout, laid out so that many numbers are tried at once.

    owner : (R,) which mark each row is of: lines first, then rings, -1 for what is known; free : how many rows say nothing of their
    own (a line without a box has two ends but one direction, a ring chooses its own circle). noise : px, one standard deviation of a
    mark, as far as it is known: rings too thin for it are left out.
    """

    def __init__(
        self, layout: Layout, *, boxes: bool = True, only: str | None = None, rings: bool = True, noise: float = 0.0
    ) -> None:
        self.layout = layout
        marks = layout.marks
        kept = [(n, line) for n, line in enumerate(marks.lines) if only is None or line.object == only]
        self._points = np.array([at for _, line in kept for at in line.points]).reshape(-1, 2)
        self._line = np.repeat(np.arange(len(kept)), [len(line.points) for _, line in kept])
        self._object = np.array([layout.objects.index(line.object) for _, line in kept], dtype=np.intp)
        self._axis = np.array([AXES.index(line.along) for _, line in kept], dtype=np.intp)
        names = list(layout.boxes)
        self._box = np.array([names.index(line.box) if line.box and boxes else -1 for _, line in kept], dtype=np.intp)
        self._ends = np.zeros((len(kept), 3))
        for row, (_, line) in enumerate(kept):
            others = [k for k in range(3) if k != self._axis[row]]
            if line.edge:
                self._ends[row, others] = [float(end) for end in line.edge]
        counts = np.bincount(self._line, minlength=len(kept))
        self._mean = (self._line == np.arange(len(kept))[:, None]) / np.maximum(counts, 1)[:, None]
        self._rings = [
            (number, ring, np.array(ring.points), is_straight(np.array(ring.points)))
            for number, ring in enumerate(marks.rings, len(marks.lines))
            if rings and len(ring.points) >= _LEAST_RING
        ]
        telling = [each for each in self._rings if each[3] or _thin(each[2]) > _TELLING * noise]
        if len(kept) >= _LEAST_LINES or len(telling) >= _LEAST_TELLING:
            self._rings = telling
        self._known = boxes
        owner = list(np.array([n for n, _ in kept], dtype=np.intp)[self._line])
        for number, ring, *_ in self._rings:
            owner += [number] * len(ring.points)
        for _, numbers in self._axles():
            owner += numbers[1:]
        rows = len(layout.boxes) + sum(max(len(same) - 1, 0) for same in self._lengths()) if boxes else 0
        self.owner = np.array([*owner, *[-1] * rows], dtype=np.intp)
        self.free = int((self._box < 0).sum()) + 3 * len(self._rings)

    def _axles(self) -> list[tuple[list[int], list[int]]]:
        """Return which of the rings stand on one upright axle, and the numbers of their marks."""
        by_axle: dict[str, list[int]] = {}
        for row, (_, ring, _, straight) in enumerate(self._rings):
            if not straight and ring.axle and ring.square_to == "high":
                by_axle.setdefault(ring.axle, []).append(row)
        return [(rows, [self._rings[row][0] for row in rows]) for rows in by_axle.values()]

    def _lengths(self) -> list[list[KnownLength]]:
        """Return the known lengths of each box."""
        return [[length for length in self.layout.marks.lengths if length.box == box] for box in self.layout.boxes]

    def of(self, numbers: Numbers) -> Numbers:
        """Return the misfits (..., R) of all marks under numbers (..., P), real or complex."""
        layout = self.layout
        camera = layout.camera(numbers)
        axes = layout.axes(numbers)
        rows = [self._off_lines(camera, axes, numbers)] if len(self._line) else []
        circles = []
        for _, ring, points, straight in self._rings:
            upright = ring.square_to == "high"
            axle = np.array([0.0, 0.0, 1.0]) + 0.0 * camera.f[..., None]
            if not upright:
                axle = axes[..., layout.objects.index(ring.object), AXES.index(ring.square_to), :]
            circle, off, spread = ring_off(camera, axle, ideal(camera, points), straight=straight)
            circles.append((circle, spread))
            rows.append(off)
        for own, _ in self._axles():
            rows += [_on_axle(circles[own[0]], circles[row]) for row in own[1:]]
        if self._known:
            rows += self._off_known(numbers)
        return np.concatenate(rows, axis=-1) if rows else np.zeros((*numbers.shape[:-1], 0))

    def _off_lines(self, camera: Camera, axes: Numbers, numbers: Numbers) -> Numbers:
        points = ideal(camera, self._points)
        ways = axes[..., self._object, self._axis, :]
        vanishing = picture_of(camera, ways)
        middle = self._mean @ points
        one = np.concatenate([middle, 1.0 + 0.0 * middle[..., :1]], axis=-1)
        boxed = self._box >= 0
        if boxed.any():
            own = self.layout.box_numbers(numbers)[..., self._box, :]
            off = self._ends * own[..., 3:]
            place = own[..., :3] + (off[..., :, None] * axes[..., self._object, :, :]).sum(axis=-2)
            one = np.where(boxed[:, None], picture_of(camera, place), one)
        line = np.cross(one, vanishing)
        size = np.sqrt((line[..., :2] ** 2).sum(axis=-1))
        line = line[..., self._line, :]
        found: Numbers = ((points * line[..., :2]).sum(axis=-1) + line[..., 2]) / size[..., self._line]
        return found

    def _off_known(self, numbers: Numbers) -> list[Numbers]:
        """Return what true lengths of one box say of each other; and that each box has a size at all."""
        rows, layout = [], self.layout
        own = layout.box_numbers(numbers)
        for box, lengths in enumerate(self._lengths()):
            rows.append(_UNIT * ((own[..., box, :3] * layout.reach[box]).sum(axis=-1) - 1.0))
            for one, other in pairwise(lengths):
                a, b = (own[..., box, 3 + AXES.index(length.along)] for length in (one, other))
                rows.append(_EXACT * (a - b * (one.mm / other.mm)))
        return [row[..., None] for row in rows]


def _thin(points: Numbers) -> float:
    """Return how high points (N, 2) of a ring stand off the line through them, px: the root of their mean square."""
    _, sizes, _ = np.linalg.svd(points - points.mean(axis=0), full_matrices=False)
    return float(sizes[-1] / np.sqrt(len(points)))


def is_straight(points: Numbers) -> bool:
    """Whether points (N, 2) of a ring lie on one line, as far as hands can tell: then it lies at eye level, or in the eye's plane."""
    return _thin(points) <= _STRAIGHT


Circle = tuple[Numbers, Numbers]


def _on_axle(first: Circle, other: Circle) -> Numbers:
    """Return how far a ring stands from the upright axle of another one, in what marks stray that are one pixel off.

    In planes at the distance one a centre is the foot of the axle by the height, so all centres lie on one line from the nadir. How well
    the angle between two of them is known follows from the rings' own points: what a thin ring says of its centre is next to nothing.
    """
    (one, spread), (two, more) = first, other
    cross = one[..., 0] * two[..., 1] - one[..., 1] * two[..., 0]
    along = one[..., 0] * two[..., 0] + one[..., 1] * two[..., 1]
    size = np.sqrt((one[..., :2] ** 2).sum(axis=-1)) * np.sqrt((two[..., :2] ** 2).sum(axis=-1))
    # On opposite sides of the eye level the centres lie opposite each other: the same line.
    angle = cross / size * np.where(along.real < 0.0, -1.0, 1.0)
    sure = _angle_spread(one, spread) + _angle_spread(two, more)
    found: Numbers = (angle / np.sqrt(sure))[..., None]
    return found


def _angle_spread(circle: Numbers, spread: Numbers) -> Numbers:
    """Return the variance of the direction of a circle's centre, for marks that stray by one pixel."""
    x, y = circle[..., 0], circle[..., 1]
    square = x * x + y * y
    across = np.stack([-y / square, x / square], axis=-1)
    own: Numbers = (across[..., :, None] * spread[..., :2, :2] * across[..., None, :]).sum(axis=(-2, -1)) + _SHARP
    return own
