"""The tea cart: a three-wheeled electric vehicle of the night market, for now in boxes."""

from __future__ import annotations

from isometron.document.model import Document
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box

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
        volumes=(*_bodywork(), *_posts(), *_wheels()),
    )


def _bodywork() -> tuple[Box, ...]:
    return (
        Box(id="whole", name="Whole cart", corner=(0.0, 0.0, 0.0), size=(2400.0, 1150.0, 1900.0), see_through=True),
        Box(id="body", name="Body", corner=(40.0, 80.0, 280.0), size=(1800.0, 990.0, 720.0)),
        Box(id="counter", name="Counter", corner=(0.0, 0.0, 1000.0), size=(1880.0, 1150.0, 40.0)),
        Box(id="canopy", name="Canopy", corner=(0.0, 0.0, 1640.0), size=(2040.0, 1150.0, 260.0)),
    )


def _posts() -> tuple[Box, ...]:
    places = [(x, y) for y in (100.0, 990.0) for x in (60.0, 1760.0)]
    names = ("near rear", "near front", "far rear", "far front")
    return tuple(
        Box(id=f"post-{n}", name=f"Post {name}", corner=(x, y, 1040.0), size=(60.0, 60.0, 600.0))
        for n, ((x, y), name) in enumerate(zip(places, names, strict=True), start=1)
    )


def _wheels() -> tuple[Box, ...]:
    rear, front = 620.0, 620.0 + 1500.0  # axles, one wheelbase apart
    size = (_WHEEL, _TYRE, _WHEEL)
    return (
        Box(id="wheel-front", name="Front wheel", corner=(front - _WHEEL / 2, 545.0, 0.0), size=size),
        Box(id="wheel-near", name="Rear wheel near", corner=(rear - _WHEEL / 2, 80.0 - _TYRE, 0.0), size=size),
        Box(id="wheel-far", name="Rear wheel far", corner=(rear - _WHEEL / 2, 1070.0, 0.0), size=size),
    )
