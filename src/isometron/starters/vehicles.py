"""Vehicles of the night market: an open three-wheeler, a low car, a tall van, and the centre plane of a two-wheeler.

All are counted in wheel diameters, the module.
"""

from __future__ import annotations

from isometron.starters.parts import Parts, wheel
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import leaning
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.marks.face_marks import PathMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import Turned

__all__ = ["low_car", "tall_van", "three_wheeler", "two_wheeler"]


def three_wheeler(w: float) -> Parts:
    """An open cart on three wheels, with a counter and a raked canopy on four posts."""
    parts = Parts(ahead="x1")
    long, wide, base = 3.6 * w, 1.75 * w, 0.5 * w
    parts.add(Box(id="platform", name="Platform", corner=(0.0, 0.0, base), size=(long, wide, 0.22 * w)))
    counter = Box(
        id="counter",
        name="Counter body",
        corner=(0.1 * w, 0.12 * w, base + 0.22 * w),
        size=(2.6 * w, wide - 0.24 * w, 1.1 * w),
    )
    parts.add(counter, "platform", high="1.1 rear_wheel")
    rear = wheel("rear-wheel", "Rear wheel", (0.35 * w, -0.12 * w, 0.0), w, 0.12 * w)
    parts.mirrored(rear, "platform", "platform")
    front = wheel("front-wheel", "Front wheel", (long + 0.05 * w, wide / 2 - 0.06 * w, 0.0), w, 0.12 * w)
    parts.add(front, "platform", long="rear_wheel", high="rear_wheel")
    fork = Box(
        id="fork", name="Fork arm", corner=(long, wide / 2 - 0.13 * w, 0.46 * w), size=(0.62 * w, 0.05 * w, 0.12 * w)
    )
    parts.mirrored(fork, "platform", "platform")
    top = base + 1.32 * w
    post = Turned(
        id="post", name="Post", corner=(0.15 * w, 0.16 * w, top), size=(0.09 * w, 0.09 * w, 1.1 * w),
        copies=(Repeat(along="long", count=2, pitch=2.41 * w),),
    )  # fmt: skip
    parts.mirrored(post, "platform", "counter")
    canopy = CutBody(
        id="canopy", name="Canopy", corner=(-0.05 * w, 0.0, top + 1.1 * w), size=(2.95 * w, wide, 0.42 * w),
        side=leaning(0.06, 0.2), front=leaning(0.09, 0.09),
    )  # fmt: skip
    parts.add(canopy, "post", long="counter_body.long + 0.35 rear_wheel", wide="platform.wide")
    return parts


_ROOM = 0.57
"""Radius of a wheel arch, in wheels."""


def _corner(x: float, y: float, *, round: float = 0.0, chamfer: float = 0.0) -> ProfileCorner:
    return ProfileCorner(at=(x, y), round=round, chamfer=chamfer)


def _arches(first: float, wheelbase: float, axle: float, w: float) -> list[ProfileCorner]:
    """Return the corners of two wheel arches along the underside, from the start on: half rounds about the wheels' axles.

    They follow the wheel called ``wheel``, and its row, in length and in height.
    """
    height = Measured(mm=axle, thing="wheel")
    corners = []
    for middle, along in ((first, ""), (first + wheelbase, "wheel.pitch ")):
        for sign, word in ((-1.0, "-"), (1.0, "+")):
            text = f"{along}{word} {_ROOM:g} wheel" if along else f"{sign * _ROOM:g} wheel"
            at = Measured(mm=middle + sign * _ROOM * w, says=text, thing="wheel")
            upper = ProfileCorner(at=(at, height), bow=-1.0 if sign < 0.0 else 0.0)
            lower = ProfileCorner(at=(at, 0.0))
            corners += [lower, upper] if sign < 0.0 else [upper, lower]
    return corners


def low_car(w: float) -> Parts:
    """A low passenger car: a body cut by its side view, plan and front, a raked cabin with leaning sides, four wheels."""
    parts = Parts(ahead="x1")
    long, wide, high, floor = 6.7 * w, 2.75 * w, 0.95 * w, 0.34 * w
    first, wheelbase = 1.28 * w, 4.05 * w
    side = CutProfile.through(
        [
            _corner(0.015, 0.14),
            _corner(0.05, 0.0),
            *_arches(first, wheelbase, 0.5 * w - floor, w),
            _corner(0.955, 0.0),
            _corner(0.99, 0.16),
            _corner(1.0, 0.55, round=0.08 * w),
            _corner(0.96, 0.77, round=0.1 * w),
            _corner(0.66, 0.93),
            _corner(0.16, 1.0),
            _corner(0.0, 0.92, round=0.1 * w),
        ]
    )
    plan = CutProfile.through(
        [_corner(0.0, 0.5), _corner(0.0, 0.07, round=0.12 * w), _corner(0.1, 0.0), _corner(0.88, 0.0),
         _corner(1.0, 0.13, chamfer=0.14 * w), _corner(1.0, 0.5)],
        alike=True,
    )  # fmt: skip
    front = CutProfile.through(
        [_corner(0.5, 1.0), _corner(0.05, 1.0, round=0.06 * w), _corner(0.0, 0.6), _corner(0.02, 0.0), _corner(0.5, 0.0)],
        alike=True,
    )  # fmt: skip
    body = CutBody(
        id="body", name="Car body", corner=(0.0, 0.0, floor), size=(long, wide, high), side=side, plan=plan, front=front
    )  # fmt: skip
    parts.add(body)
    cabin = CutBody(
        id="cabin", name="Cabin", corner=(0.9 * w, 0.17 * w, floor + 0.87 * high), size=(3.5 * w, wide - 0.34 * w, 0.9 * w),
        side=CutProfile.through(
            [_corner(0.0, 0.0), _corner(1.0, 0.0), _corner(0.63, 1.0, round=0.35 * w), _corner(0.24, 1.0, round=0.3 * w)]
        ),
        front=CutProfile.through(
            [_corner(0.5, 1.0), _corner(0.12, 1.0, round=0.1 * w), _corner(0.0, 0.12), _corner(0.0, 0.0), _corner(0.5, 0.0)],
            alike=True,
        ),
    )  # fmt: skip
    parts.add(cabin, "body", long="0.522 car_body.long", high="0.9 wheel")
    road = wheel(
        "wheel", "Wheel", (first - w / 2, 0.06 * w, 0.0), w, 0.33 * w,
        copies=(Repeat(along="long", count=2, pitch=wheelbase),),
    )  # fmt: skip
    parts.mirrored(road, "body", "body", pitch="4.05 wheel")
    return parts


def tall_van(w: float) -> Parts:
    """A tall van: one body with a raked front, cut by its side view, plan and front, over four wheels."""
    parts = Parts(ahead="x1")
    long, wide, high, floor = 7.0 * w, 2.9 * w, 2.75 * w, 0.45 * w
    first, wheelbase = 1.4 * w, 4.3 * w
    side = CutProfile.through(
        [
            _corner(0.0, 0.04),
            _corner(0.02, 0.0),
            *_arches(first, wheelbase, 0.5 * w - floor, w),
            _corner(0.985, 0.0),
            _corner(1.0, 0.06),
            _corner(1.0, 0.34, round=0.14 * w),
            _corner(0.87, 0.52, round=0.2 * w),
            _corner(0.72, 1.0, round=0.3 * w),
            _corner(0.02, 1.0, round=0.15 * w),
            _corner(0.0, 0.9),
        ]
    )
    plan = CutProfile.through(
        [_corner(0.0, 0.5), _corner(0.0, 0.0, round=0.1 * w), _corner(0.9, 0.0), _corner(1.0, 0.09, chamfer=0.12 * w),
         _corner(1.0, 0.5)],
        alike=True,
    )  # fmt: skip
    front = CutProfile.through(
        [_corner(0.5, 1.0), _corner(0.06, 1.0, round=0.16 * w), _corner(0.0, 0.45), _corner(0.0, 0.0), _corner(0.5, 0.0)],
        alike=True,
    )  # fmt: skip
    body = CutBody(
        id="body", name="Van body", corner=(0.0, 0.0, floor), size=(long, wide, high), side=side, plan=plan, front=front
    )  # fmt: skip
    parts.add(body)
    road = wheel(
        "wheel", "Wheel", (first - w / 2, 0.06 * w, 0.0), w, 0.32 * w,
        copies=(Repeat(along="long", count=2, pitch=wheelbase),),
    )  # fmt: skip
    parts.mirrored(road, "body", "body", pitch="4.3 wheel")
    return parts


def two_wheeler(w: float) -> Parts:
    """The centre plane of a two-wheeler: two wheels, and the lines of fork, frame and seat on the plane between them."""
    parts = Parts(ahead="x1")
    tyre = 0.14 * w
    pair = wheel(
        "wheel", "Wheel", (0.0, -tyre / 2, 0.0), w, tyre, copies=(Repeat(along="long", count=2, pitch=2.05 * w),)
    )
    parts.add(pair, None, pitch="2.05 wheel")
    long, high = 3.05 * w, 1.75 * w
    rear, front = 0.5 / 3.05, 2.55 / 3.05
    axle = 0.5 / 1.75
    lines = (
        PathMark(points=((front, axle), (front - 0.14, 0.86), (front - 0.2, 0.93))),
        PathMark(points=((rear, axle), (0.42, 0.3), (front - 0.115, 0.72), (0.36, 0.72), (rear, axle))),
        PathMark(points=((0.1, 0.74), (0.26, 0.7), (0.44, 0.76))),
        PathMark(points=((0.42, 0.3),), soft=True),
    )
    plane = Box(
        id="plane", name="Centre plane", corner=(0.0, -0.02 * w, 0.0), size=(long, 0.04 * w, high), see_through=True,
        marks=lines,
    )  # fmt: skip
    parts.add(plane, "wheel", long="wheel.pitch + wheel", high="1.75 wheel")
    return parts
