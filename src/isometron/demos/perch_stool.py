"""The perch stool: seat 420 x 400 at 450 mm, back posts flared to 820 mm, three slats; legs and rails as one frame."""

from __future__ import annotations

from math import cos, radians, sin, tan

import msgspec

from isometron.document.joins import joined_as_it_lies
from isometron.document.model import Document, Target
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.relations import Repeat

__all__ = ["perch_stool"]

_LONG, _DEEP, _SEAT, _TOP = 420.0, 400.0, 450.0, 820.0
_LEG, _POST_DEEP, _FLARE_DEG = 36.0, 28.0, 9.0


def perch_stool() -> Document:
    """Return the stool on an A4 sheet, portrait, in two-point from a standing eye."""
    eye = place_eye(
        height=1250.0, away=2500.0, turn_deg=32.0, viewing_distance=460.0, about=(_LONG / 2, _DEEP / 2, 0.0)
    )
    seat, post = _seat(), _post()
    return Document(
        title="Perch stool",
        sheet=sheet_with_horizon(eye, 210.0, 297.0, horizon=283.0),
        eye=eye,
        module="seat",
        targets=(Target(text="back_post.high < seat.high"),),
        volumes=tuple(
            msgspec.structs.replace(v, ahead="y0") for v in (seat, _joined(post, seat), _joined(_slats(), post))
        ),
    )


def _joined(volume: Box | CutBody, to: Framed | CutBody) -> Box | CutBody:
    return msgspec.structs.replace(volume, joined=joined_as_it_lies(volume, to))


def _seat() -> Framed:
    return Framed(
        id="seat",
        name="Seat",
        corner=(0.0, 0.0, 0.0),
        size=(_LONG, _DEEP, _SEAT),
        leg=(_LEG, _LEG),
        top=24.0,
        rails=(Rail(at=0.86, high=52.0, thick=20.0), Rail(at=0.34, high=26.0, thick=20.0)),
    )


def _post() -> CutBody:
    """Both posts lean back alike: the front side stands in above, the back side below."""
    high = _TOP - _SEAT
    flare = high * tan(radians(_FLARE_DEG))
    deep = _POST_DEEP + flare
    part = round(flare / deep, 9)
    return CutBody(
        id="back-post",
        name="Back post",
        corner=(0.0, _DEEP - _POST_DEEP, _SEAT),
        size=(_LEG, round(deep, 6), high),
        front=leaning(part, -part),
        copies=(Repeat(along="long", count=2, pitch=_LONG - _LEG),),
    )


def _slats() -> Box:
    """Three slats between the posts, as a row along their lean."""
    lean = radians(_FLARE_DEG)
    along, in_ = 110.0, 7.0
    y = _DEEP - _POST_DEEP + along * sin(lean) + in_ * cos(lean)
    z = _SEAT + along * cos(lean) - in_ * sin(lean)
    return Box(
        id="slat",
        name="Slat",
        corner=(_LEG, round(y, 6), round(z, 6)),
        size=(_LONG - 2 * _LEG, 14.0, 52.0),
        pitch_deg=-_FLARE_DEG,
        copies=(Repeat(along="high", count=3, pitch=90.0),),
    )
