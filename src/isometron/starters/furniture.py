"""Furniture and small things of the night market: chair, stool, appliance, bottle."""

from __future__ import annotations

import msgspec

from isometron.starters.parts import Parts
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import corners_cut, leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.marks.face_marks import RingMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import PROFILES, Turned

__all__ = ["desk_appliance", "side_chair", "stool", "turned_bottle"]


def side_chair(s: float) -> Parts:
    """A side chair with a flared back; the module is the seat's width."""
    parts = Parts(ahead="y0")
    leg = 0.085 * s
    seat = Framed(
        id="seat", name="Seat", corner=(0.0, 0.0, 0.0), size=(s, 0.95 * s, 1.07 * s), leg=(leg, leg), inset=0.01 * s,
        top=0.06 * s, rails=(Rail(at=0.82, high=0.1 * s, thick=0.05 * s), Rail(at=0.32, high=0.06 * s, thick=0.05 * s)),
    )  # fmt: skip
    parts.add(seat)
    post = CutBody(
        id="back-post", name="Back post", corner=(0.02 * s, 0.86 * s, 1.07 * s), size=(leg, 0.22 * s, 0.95 * s),
        front=leaning(0.62, -0.62),
    )  # fmt: skip
    pair = msgspec.structs.replace(post, copies=(Repeat(along="long", count=2, pitch=s - 0.04 * s - leg),))
    parts.add(pair, "seat", high="0.95 seat.long")
    for number, (low, deep) in enumerate(((0.28, 0.045), (0.5, 0.075), (0.72, 0.105)), start=1):
        slat = Box(
            id=f"slat-{number}", name=f"Slat {number}", corner=(0.02 * s + leg, (0.88 + deep) * s, (1.07 + low) * s),
            size=(s - 0.04 * s - 2 * leg, 0.035 * s, 0.13 * s),
        )  # fmt: skip
        parts.add(slat, "back-post", long="seat.long - 2 back_post.long - 0.04 seat.long")
    return parts


def stool(s: float) -> Parts:
    """A stool of four legs, rails and a seat; the module is the seat's width."""
    parts = Parts(ahead="y0")
    leg = 0.1 * s
    frame = Framed(
        id="stool", name="Stool", corner=(0.0, 0.0, 0.0), size=(s, s, 1.25 * s), leg=(leg, leg), inset=0.05 * s,
        top=0.09 * s, rails=(Rail(at=0.3, high=0.08 * s, thick=0.06 * s),),
    )  # fmt: skip
    parts.add(frame, None, wide="stool.long", high="1.25 stool.long")
    return parts


def desk_appliance(w: float) -> Parts:
    """A small appliance with rounded edges, a dial and a row of buttons; the module is its width."""
    parts = Parts(ahead="y0")
    body = CutBody(
        id="appliance", name="Appliance", corner=(0.0, 0.0, 0.06 * w), size=(w, 0.7 * w, 1.1 * w),
        plan=corners_cut((0.14 * w,) * 4, round_=True),
        marks=(
            RingMark(face=2, at=(0.5, 0.66), diameter=0.46 * w, depth=-0.07 * w, inner=(0.55,), divisions=24),
            RingMark(face=2, at=(0.29, 0.2), diameter=0.1 * w, depth=-0.03 * w, count=3, step=(0.21, 0.0)),
        ),
    )  # fmt: skip
    parts.add(body)
    foot = CutBody(
        id="foot", name="Foot", corner=(0.06 * w, 0.06 * w, 0.0), size=(0.88 * w, 0.58 * w, 0.06 * w),
        plan=corners_cut((0.1 * w,) * 4, round_=True),
    )  # fmt: skip
    parts.add(foot, "appliance", long="0.88 appliance.long")
    return parts


def turned_bottle(d: float) -> Parts:
    """A turned bottle with its stopper; the module is its diameter."""
    parts = Parts(ahead="y0")
    parts.add(
        Turned(id="bottle", name="Bottle", corner=(0.0, 0.0, 0.0), size=(d, d, 3.1 * d), profile=PROFILES["bottle"])
    )
    wide = 0.42 * d
    stopper = Turned(
        id="stopper", name="Stopper", corner=((d - wide) / 2, (d - wide) / 2, 3.1 * d), size=(wide, wide, 0.4 * d),
        profile=PROFILES["frustum"],
    )  # fmt: skip
    parts.add(stopper, "bottle", long="0.42 bottle", wide="0.42 bottle")
    return parts
