"""The tea cart: a three-wheeled electric vehicle of the night market, with round wheels, posts and a lamp."""

from __future__ import annotations

import msgspec

from isometron.document.model import Document
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.marks.face_marks import CourseMark, FaceMark, OpeningMark, RingMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.sections.plane import KeptPlane
from isometron.volumes.turned import PROFILES, ProfileRing, Turned

__all__ = ["tea_cart"]

_WHEEL = 560.0
_TYRE = 60.0


def tea_cart() -> Document:
    """Return the cart, 2400 x 1150 x 1900 mm, on an A3 sheet in two-point from an eye 1500 mm high."""
    eye = place_eye(height=1500.0, away=6100.0, turn_deg=-37.0, viewing_distance=560.0, about=(1250.0, 575.0, 0.0))
    return Document(
        title="Tea cart",
        sheet=sheet_with_horizon(eye, 420.0, 297.0, horizon=184.0),
        eye=eye,
        volumes=tuple(msgspec.structs.replace(v, ahead="x1") for v in (*_bodywork(), *_posts(), *_wheels(), _lamp())),
        planes=(
            KeptPlane(
                id="belt", name="Belt", of="body", across="high", at=Measured(mm=430.0), band=30.0, only=("body",)
            ),
        ),
    )


def _bodywork() -> tuple[Box | CutBody, ...]:
    return (
        Box(id="whole", name="Whole cart", corner=(0.0, 0.0, 0.0), size=(2400.0, 1150.0, 1900.0), see_through=True),
        Box(id="body", name="Body", corner=(40.0, 80.0, 280.0), size=(1800.0, 990.0, 720.0), marks=_details()),
        Box(
            id="counter",
            name="Counter",
            corner=(0.0, 0.0, 1000.0),
            size=(1880.0, 1150.0, 40.0),
            marks=(CourseMark(face=5, pattern="planks", high=190.0, joint=0.0),),
        ),
        _canopy(),
    )


def _details() -> tuple[FaceMark, ...]:
    """Two hatches of each side, and the lamps of the front."""
    hatch = OpeningMark(face=2, at=(Measured(mm=1010.0, to="edge"), Measured(from_="end", mm=55.0, to="edge")), wide=320.0, high=190.0,
                        round=30.0, goes="pocket", depth=25.0, mirrored=True, count=2, step=(Apart(by="gap", mm=60.0), 0.0))  # fmt: skip
    lamp = RingMark(face=1, at=(Measured(mm=170.0), 0.78), diameter=130.0, inner=(0.7,), mirrored=True)
    return hatch, lamp


def _canopy() -> CutBody:
    """Raked: it rises to the front, and its sides lean in."""
    side = (
        ProfileCorner(at=(0.0, 0.0)),
        ProfileCorner(at=(1.0, 0.0)),
        ProfileCorner(at=(0.93, 1.0), round=60.0),
        ProfileCorner(at=(0.05, 0.6), round=60.0),
    )
    front = (
        ProfileCorner(at=(0.5, 1.0)),
        ProfileCorner(at=(0.09, 1.0), round=60.0),
        ProfileCorner(at=(0.0, 0.0)),
        ProfileCorner(at=(0.5, 0.0)),
    )
    return CutBody(
        id="canopy", name="Canopy", corner=(0.0, 0.0, 1640.0), size=(2040.0, 1150.0, 260.0),
        side=CutProfile.through(side), front=CutProfile.through(front, alike=True),
    )  # fmt: skip


def _posts() -> tuple[Turned, ...]:
    places = [(x, y) for y in (100.0, 990.0) for x in (60.0, 1760.0)]
    names = ("near rear", "near front", "far rear", "far front")
    return tuple(
        Turned(id=f"post-{n}", name=f"Post {name}", corner=(x, y, 1040.0), size=(60.0, 60.0, 600.0))
        for n, ((x, y), name) in enumerate(zip(places, names, strict=True), start=1)
    )


def _wheels() -> tuple[Turned, ...]:
    rear, front = 620.0, 620.0 + 1500.0  # axles, one wheelbase apart
    places = (
        ("wheel-front", "Front wheel", front, 545.0),
        ("wheel-near", "Rear wheel near", rear, 80.0 - _TYRE),
        ("wheel-far", "Rear wheel far", rear, 1070.0),
    )
    return tuple(
        Turned(
            id=name,
            name=words,
            corner=(axle - _WHEEL / 2, y, 0.0),
            size=(_WHEEL, _TYRE, _WHEEL),
            axle="wide",
            profile=PROFILES["wheel"],
            face_rings=(0.7, 0.3, 0.14),
        )
        for name, words, axle, y in places
    )


def _lamp() -> Turned:
    """A paper lamp that hangs under the canopy's front end."""
    return Turned(
        id="lamp",
        name="Lamp",
        corner=(1880.0, 485.0, 1400.0),
        size=(180.0, 180.0, 240.0),
        profile=(
            ProfileRing(at=0.0, wide=0.4, then="smooth"),
            ProfileRing(at=0.3, wide=0.95, then="smooth"),
            ProfileRing(at=0.6, wide=1.0, then="smooth"),
            ProfileRing(at=1.0, wide=0.4),
        ),
    )
