"""The perch stool: seat 420 x 400 at 450 mm, back posts flared to 820 mm, three slats."""

from __future__ import annotations

from math import cos, radians, sin

from isometron.document.model import Document
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box

__all__ = ["perch_stool"]

_LONG, _DEEP, _SEAT, _TOP = 420.0, 400.0, 450.0, 820.0
_LEG, _POST_DEEP, _FLARE_DEG = 36.0, 28.0, 9.0


def perch_stool() -> Document:
    """Return the stool on an A4 sheet, portrait, in two-point from a standing eye."""
    eye = place_eye(
        height=1250.0, away=2500.0, turn_deg=32.0, viewing_distance=460.0, about=(_LONG / 2, _DEEP / 2, 0.0)
    )
    return Document(
        title="Perch stool",
        sheet=sheet_with_horizon(eye, 210.0, 297.0, horizon=283.0),
        eye=eye,
        volumes=(*_seat(), *_back()),
    )


def _seat() -> tuple[Box, ...]:
    thick = 24.0
    legs = [(x, y) for y in (0.0, _DEEP - _LEG) for x in (0.0, _LONG - _LEG)]
    names = ("front left", "front right", "back left", "back right")
    return (
        Box(id="seat", name="Seat", corner=(0.0, 0.0, _SEAT - thick), size=(_LONG, _DEEP, thick)),
        *(
            Box(id=f"leg-{n}", name=f"Leg {name}", corner=(x, y, 0.0), size=(_LEG, _LEG, _SEAT - thick))
            for n, ((x, y), name) in enumerate(zip(legs, names, strict=True), start=1)
        ),
    )


def _back() -> tuple[Box, ...]:
    """Posts and slats lean back together; the posts' lower edge stands on the seat, their top reaches the height."""
    flare = radians(_FLARE_DEG)
    foot = _SEAT + _POST_DEEP * sin(flare)
    high = (_TOP - foot) / cos(flare)
    start = _DEEP - _LEG

    def at(x: float, along: float, in_: float) -> tuple[float, float, float]:
        y = start + along * sin(flare) + in_ * cos(flare)
        return x, round(y, 6), round(foot + along * cos(flare) - in_ * sin(flare), 6)

    posts = [
        Box(id=f"post-{n}", name=f"Back post {side}", corner=at(x, 0.0, 0.0),
            size=(_LEG, _POST_DEEP, round(high, 6)), pitch_deg=-_FLARE_DEG)
        for n, (x, side) in enumerate(((0.0, "left"), (_LONG - _LEG, "right")), start=1)
    ]  # fmt: skip
    slats = [
        Box(id=f"slat-{n}", name=f"Slat {n}", corner=at(_LEG, along, 7.0),
            size=(_LONG - 2 * _LEG, 14.0, 52.0), pitch_deg=-_FLARE_DEG)
        for n, along in enumerate((110.0, 200.0, 290.0), start=1)
    ]  # fmt: skip
    return (*posts, *slats)
