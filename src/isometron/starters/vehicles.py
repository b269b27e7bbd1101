"""Vehicles of the night market: an open three-wheeler, a low car, a tall van, and the centre plane of a two-wheeler.

All are counted in wheel diameters, the module.
"""

from __future__ import annotations

from isometron.starters.parts import Parts, wheel
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import counted_off, leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.face_marks import PathMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import Turned

__all__ = ["low_car", "tall_van", "three_wheeler", "two_wheeler"]


def three_wheeler(w: float) -> Parts:
    """An open cart on three wheels, with a counter and a raked canopy on four posts."""
    parts = Parts()
    long, wide, base = 3.6 * w, 1.75 * w, 0.5 * w
    parts.add(Box(id="platform", name="Platform", corner=(0.0, 0.0, base), size=(long, wide, 0.22 * w)))
    counter = Box(
        id="counter",
        name="Counter body",
        corner=(0.1 * w, 0.12 * w, base + 0.22 * w),
        size=(2.6 * w, wide - 0.24 * w, 1.1 * w),
    )
    parts.add(counter, "platform", high="1.1 rear_wheel")
    rear = wheel("rear-wheel", "Rear wheel", (0.35 * w, -0.02 * w, 0.0), w, 0.12 * w)
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


def low_car(w: float) -> Parts:
    """A low passenger car: body with a chamfered nose, raked cabin with leaning sides, four wheels."""
    parts = Parts()
    long, wide, high, floor = 6.7 * w, 2.75 * w, 0.95 * w, 0.34 * w
    outline = ((0, 0), (26, 0), (27, 2), (27, 5), (25, 7), (17, 9), (16, 10), (3, 10), (0, 9))
    body = CutBody(
        id="body", name="Car body", corner=(0.0, 0.0, floor), size=(long, wide, high),
        side=counted_off(27, 10, outline),
    )  # fmt: skip
    parts.add(body)
    cabin = CutBody(
        id="cabin", name="Cabin", corner=(0.85 * w, 0.12 * w, floor + high), size=(3.1155 * w, wide - 0.24 * w, 0.82 * w),
        side=leaning(0.2, 0.36), front=leaning(0.1, 0.1),
    )  # fmt: skip
    parts.add(cabin, "body", long="0.465 car_body.long", high="0.82 wheel")
    road = wheel(
        "wheel", "Wheel", (0.78 * w, -0.02 * w, 0.0), w, 0.33 * w,
        copies=(Repeat(along="long", count=2, pitch=4.05 * w),),
    )  # fmt: skip
    parts.mirrored(road, "body", "body", pitch="4.05 wheel")
    return parts


def tall_van(w: float) -> Parts:
    """A tall van: one box with a raked front over four wheels."""
    parts = Parts()
    long, wide, high, floor = 7.0 * w, 2.9 * w, 2.75 * w, 0.45 * w
    outline = ((0, 0), (28, 0), (28, 4), (24, 6), (20, 11), (1, 11), (0, 10))
    body = CutBody(
        id="body", name="Van body", corner=(0.0, 0.0, floor), size=(long, wide, high),
        side=counted_off(28, 11, outline),
    )  # fmt: skip
    parts.add(body)
    road = wheel(
        "wheel", "Wheel", (0.9 * w, -0.02 * w, 0.0), w, 0.32 * w,
        copies=(Repeat(along="long", count=2, pitch=4.3 * w),),
    )  # fmt: skip
    parts.mirrored(road, "body", "body", pitch="4.3 wheel")
    return parts


def two_wheeler(w: float) -> Parts:
    """The centre plane of a two-wheeler: two wheels, and the lines of fork, frame and seat on the plane between them."""
    parts = Parts()
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
