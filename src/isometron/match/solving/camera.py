"""The camera as numbers that can be solved for, and what its marks say of them.

Camera axes right, up, look for a camera at the origin that looks along +y before it is tilted (pitch, positive up) and rolled
(positive lowers its right-hand side). Everything works with complex numbers too: derivatives are taken by a complex step (Squire and Trapp,
SIAM Review 40, 1998), exact to the last digit. Pixels are counted from the centre of vision, y down.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from isometron.match.marks import PictureMarks

__all__ = ["AXES", "MOST_BEND", "Camera", "Layout", "Numbers", "ideal", "picture_of", "plane_frame", "ring_off"]

AXES = ("long", "wide", "high")
_HAIR = 1e-15
MOST_BEND = 0.4
"""Of k1: no lens that draws straight things bends them more."""
_REWEIGHED = 2
"""Times that a circle is solved again with its points weighed by how far a pixel goes there."""
Numbers = np.ndarray[Any, Any]
"""Real or complex numbers of any shape."""


@dataclass(frozen=True)
class Camera:
    """f : focal length, px; centre : (2,) of vision, px; pitch, roll : radians; bend : k1 of the lens, by the square of the focal length."""

    f: Any
    centre: Numbers
    pitch: Any
    roll: Any
    bend: Any

    @property
    def axes(self) -> Numbers:
        """Rows right, up, look (..., 3, 3)."""
        sp, cp, sr, cr = np.sin(self.pitch), np.cos(self.pitch), np.sin(self.roll), np.cos(self.roll)
        zero = 0.0 * self.pitch
        # right = (1, 0, 0) and up = (0, -sin, cos) turned into each other by the roll.
        return _matrix([[cr, sr * sp, -sr * cp], [sr, -cr * sp, cr * cp], [zero, cp, sp]])


def _matrix(rows: list[list[Any]]) -> Numbers:
    return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)


def picture_of(camera: Camera, world: Numbers) -> Numbers:
    """Return homogeneous pictures (..., N, 3), px from the centre of vision, of world places or directions (..., N, 3)."""
    seen = world @ np.swapaxes(camera.axes, -1, -2)
    f = camera.f[..., None]
    return np.stack([f * seen[..., 0], -f * seen[..., 1], seen[..., 2]], axis=-1)


def ideal(camera: Camera, pixels: Numbers) -> Numbers:
    """Return where pixels (N, 2) would be without the bend of the lens, (..., N, 2) px from the centre of vision.

    x' = x (1 + k1 r^2) is undone by x = s x' with s (1 + k1 s^2 r'^2) = 1, solved for s by Newton's steps.
    """
    f = camera.f[..., None, None]
    off = (pixels - camera.centre[..., None, :]) / f
    if np.any(camera.bend != 0.0):
        bent = camera.bend[..., None] * (off * off).sum(axis=-1)
        shrink = 1.0 + 0.0 * bent
        for _ in range(6):
            square = bent * shrink * shrink
            shrink = (1.0 + 2.0 * square * shrink) / (1.0 + 3.0 * square)
        off = off * shrink[..., None]
    pixel: Numbers = off * f
    return pixel


@dataclass
class Layout:
    """Which numbers are solved for, in their order: the camera's, how each object is turned, each box's corner and sizes.

    A box has six: its corner and its sizes, in any unit: each box has its own until a length is known. reach : (K, 3) settles the units,
    see `held`: something must, and it must be linear, or the fit creeps along a curved valley.
    """

    marks: PictureMarks
    level: bool = False
    bent: bool = False
    centred: bool = True
    objects: list[str] = field(default_factory=list)
    boxes: dict[str, str] = field(default_factory=dict)
    reach: Numbers = field(default_factory=lambda: np.zeros((0, 3)))

    def __post_init__(self) -> None:
        self.objects = sorted(
            {line.object for line in self.marks.lines} | {r.object for r in self.marks.rings if r.square_to != "high"}
        )
        self.boxes = {line.box: line.object for line in self.marks.lines if line.box}
        names = ["f"] if self.marks.focal_px == 0.0 else []
        names += [] if self.level else ["pitch", "roll"]
        names += [] if self.centred else ["x", "y"]
        names += ["bend"] if self.bent else []
        self._camera = {name: n for n, name in enumerate(names)}
        self._first_box = len(names) + len(self.objects)
        self.count = self._first_box + 6 * len(self.boxes)
        self.reach = np.tile([0.0, 1.0, 0.0], (len(self.boxes), 1))

    def camera(self, numbers: Numbers) -> Camera:
        """Return the camera of some numbers (..., P); the focal length is solved for as its logarithm."""
        zero = 0.0 * numbers.sum(axis=-1)

        def own(name: str) -> Numbers:
            return numbers[..., self._camera[name]] if name in self._camera else zero

        x, y = self.marks.middle
        f = np.exp(own("f")) if "f" in self._camera else self.marks.focal_px + zero
        # The centre of vision is solved for in widths of the picture.
        centre = np.stack([x + self.marks.width * own("x"), y + self.marks.width * own("y")], axis=-1)
        return Camera(f, centre, own("pitch"), own("roll"), own("bend"))

    def possible(self, numbers: Numbers) -> bool:
        """Whether some numbers (P,) are those of a camera that anybody has: from a tenth of the picture's side to a hundred sides."""
        side = max(self.marks.width, self.marks.height)
        if not np.isfinite(numbers).all():
            return False
        with np.errstate(over="ignore"):  # a step may ask for an endless focal length
            camera = self.camera(numbers)
        return 0.1 * side < float(camera.f) < 100.0 * side and abs(float(camera.bend)) <= MOST_BEND

    def start(self, f: float, pitch: float, roll: float) -> Numbers:
        """Return numbers (P,) of a camera, the centre in the middle, nothing bent, everything else nothing."""
        numbers = np.zeros(self.count)
        for name, value in (("f", np.log(f)), ("pitch", pitch), ("roll", roll)):
            if name in self._camera:
                numbers[self._camera[name]] = value
        return numbers

    def carried(self, numbers: Numbers, other: Layout) -> Numbers:
        """Return numbers (P,) of this layout as those of another one of the same marks: what is new there is nothing."""
        found = np.zeros(other.count)
        for name, row in self._camera.items():
            if name in other._camera:
                found[other._camera[name]] = numbers[row]
        found[len(other._camera) :] = numbers[len(self._camera) :]
        other.reach = self.reach
        return found

    def held(self, numbers: Numbers) -> None:
        """Take the boxes' units from some numbers (P,): each corner stays at the distance one along the way to where it is now."""
        corners = self.box_numbers(numbers)[:, :3]
        self.reach = corners / (corners**2).sum(axis=1, keepdims=True)

    def turn_row(self, name: str) -> int:
        """Return which number says how an object is turned, radians."""
        return len(self._camera) + self.objects.index(name)

    def axes(self, numbers: Numbers) -> Numbers:
        """Return the three directions of all objects as rows (..., O, 3, 3)."""
        turn = numbers[..., len(self._camera) : self._first_box]
        zero, one = 0.0 * turn, 1.0 + 0.0 * turn
        return _matrix([[np.cos(turn), np.sin(turn), zero], [-np.sin(turn), np.cos(turn), zero], [zero, zero, one]])

    def box_numbers(self, numbers: Numbers) -> Numbers:
        """Return the corner and the sizes of all boxes (..., K, 6)."""
        own = numbers[..., self._first_box :]
        return own.reshape(*own.shape[:-1], len(self.boxes), 6)

    def box_rows(self, name: str) -> slice:
        """Return the numbers of a box: corner and sizes."""
        first = self._first_box + 6 * list(self.boxes).index(name)
        return slice(first, first + 6)


def plane_frame(axle: Numbers) -> Numbers:
    """Return two directions square to an axle (..., 3) and to each other, and the axle, as rows (..., 3, 3)."""
    first = np.cross(axle, np.array([0.3, 0.5, 0.2]))
    first = first / np.sqrt((first * first).sum(axis=-1))[..., None]
    return np.stack([first, np.cross(axle, first), axle], axis=-2)


def ring_off(camera: Camera, axle: Numbers, points: Numbers, *, straight: bool) -> tuple[Numbers, Numbers, Numbers]:
    """Return the circle (..., 3) square to an axle (..., 3) that fits points (..., N, 2) of a picture, its centre and the square of its radius,
    their misfits (..., N), px, and the covariance (..., 3, 3) of the circle for marks that stray by one pixel.

    The plane is taken at the distance one from the eye: X = r / (axle . r). The circle in it begins as that of least squares of
    |X|^2 - 2 c.X - d (Kasa's fit), multiplied out so that nothing is divided by, and is solved again with each point weighed by how far a
    pixel goes there. Its picture is a conic, and a point is off it by Sampson's first-order distance
    (Hartley and Zisserman, *Multiple View Geometry*, 4.2.6). One that is seen ``straight`` lies at eye level: then it is how far off that line.
    """
    f = camera.f[..., None]
    there = np.stack([points[..., 0] / f, points[..., 1] / f, 1.0 + 0.0 * points[..., 0]], axis=-1)
    carry = plane_frame(axle) @ np.swapaxes(camera.axes, -1, -2) @ np.diag([1.0, -1.0, 1.0])
    x, y, z = np.moveaxis(there @ np.swapaxes(carry, -1, -2), -1, 0)
    if straight:
        slope = np.sqrt((carry[..., 2, :2] ** 2).sum(axis=-1))
        return 0.0 * carry[..., 0, :3], z / slope[..., None] * f, 0.0 * carry
    system = np.stack([2.0 * x * z, 2.0 * y * z, z * z], axis=-1)
    square = x * x + y * y
    back = np.swapaxes(carry, -1, -2)
    weight = 1.0 + 0.0 * x
    for again in range(_REWEIGHED + 1):
        weighed = system * weight[..., None]
        turned = np.swapaxes(weighed, -1, -2)
        normal = turned @ weighed
        # A hair of damping: near the eye level the circle is as good as endless, and nothing is to break there.
        normal = normal + _HAIR * np.trace(normal, axis1=-2, axis2=-1)[..., None, None] * np.eye(3)
        solved = np.linalg.solve(normal, turned @ (square * weight)[..., None])[..., 0]
        c, d, e = np.moveaxis(solved, -1, 0)
        one, zero = 1.0 + 0.0 * c, 0.0 * c
        conic = back @ _matrix([[one, zero, -c], [zero, one, -d], [-c, -d, -e]]) @ carry
        along = there @ conic
        steep = 2.0 * np.sqrt((along[..., :2] ** 2).sum(axis=-1))
        if again < _REWEIGHED:
            weight = f / steep
    off = (along * there).sum(axis=-1) / steep * f
    # By c, d, e each misfit changes by its row of the system, and what was solved for last is c, d, e.
    moved = system * (f / steep)[..., None]
    spread = np.linalg.inv(np.swapaxes(moved, -1, -2) @ moved + _HAIR * np.eye(3))
    by = _matrix([[one, zero, zero], [zero, one, zero], [2.0 * c, 2.0 * d, one]])
    circle = np.stack([c, d, e + c * c + d * d], axis=-1)
    return circle, off, by @ spread @ np.swapaxes(by, -1, -2)
