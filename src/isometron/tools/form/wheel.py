"""A wheel by the ring one wants to see: its ellipse is drawn on the paper, and the wheel that stands nearest to it is set."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot

import numpy as np

from isometron.document.edits import add_volume, fresh_id, fresh_name
from isometron.document.lengths.units import format_length
from isometron.document.model import DocumentError
from isometron.geometry.frames import Floats
from isometron.tools.form.on_face import lines_of
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.view.ring_to_wheel import StandingWheel, WantedRing, standing_wheel
from isometron.volumes.turned import PROFILES, Turned
from isometron.wording import tr

__all__ = ["wheel_tool"]

_START = tr("Press where the middle of the ring is to be, and pull out its long half axis.")
_OPEN = tr(
    "Move across to open it; the wheel that stands nearest to it is shown. Click to set it. Escape steps back."
)
_THICK = 0.3
"""Thickness of a wheel to begin with, as a part of its diameter."""
_ANGLES = np.linspace(0.0, 2 * np.pi, 73)


@dataclass(frozen=True)
class _Drawn:
    """centre on paper; major : the long half axis as a way on paper, mm."""

    centre: tuple[float, float]
    major: tuple[float, float]


def wheel_tool(context: ToolContext) -> Tool:
    """Set wheels by their rings."""
    centre: tuple[float, float] | None = None
    drawn: _Drawn | None = None
    shown = Preview(_START)
    while True:
        pencil = yield shown
        if pencil.act is Act.BACK:
            centre, drawn = None, None
            shown = Preview(_START)
            continue
        if centre is None:
            if pencil.act is Act.PRESS:
                centre = pencil.u, pencil.v
            shown = Preview(_START, step=None if centre is None else 0)
            continue
        if drawn is None:
            way = pencil.u - centre[0], pencil.v - centre[1]
            long = hypot(*way) > 4.0 * context.grain
            shown = Preview(_START, live=np.array([[*centre, pencil.u, pencil.v]]), step=0)
            if pencil.act is Act.RELEASE:
                drawn = _Drawn(centre, way) if long else None
                centre = centre if long else None
                shown = Preview(_OPEN if long else _START, step=1 if long else None)
            continue
        ring = _ring(drawn, pencil)
        wheel = standing_wheel(context.drawing.document.eye, ring) if ring is not None else None
        shown = _showing(context, ring, wheel, pencil)
        if pencil.act is Act.PRESS and wheel is not None:
            try:
                return add_volume(context.drawing.document, _body(context, wheel))
            except DocumentError as error:
                shown = Preview(_OPEN, refusal=str(error), step=1)


def _ring(drawn: _Drawn, pencil: Pencil) -> WantedRing | None:
    """Return the ellipse as it is opened now."""
    major = hypot(*drawn.major)
    along = np.array(drawn.major) / major
    minor = abs(float(np.array([-along[1], along[0]]) @ (pencil.u - drawn.centre[0], pencil.v - drawn.centre[1])))
    if minor < 0.02 * major:
        return None
    axis = degrees(atan2(along[1], along[0])) + 90.0
    return WantedRing(drawn.centre, major, min(minor, major), axis % 180.0)


def _showing(context: ToolContext, ring: WantedRing | None, wheel: StandingWheel | None, pencil: Pencil) -> Preview:
    if ring is None:
        return Preview(_OPEN, step=1)
    turn = np.radians(ring.minor_axis_deg)
    minor, major = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    points = (
        np.array(ring.centre)
        + ring.semi_major * np.cos(_ANGLES)[:, None] * major
        + ring.semi_minor * np.sin(_ANGLES)[:, None] * minor
    )
    wanted = np.hstack([points[:-1], points[1:]])
    said = tr("wanted {degree:.0f}°, minor axis {axis:.0f}°", degree=ring.degree, axis=ring.minor_axis_deg)
    if wheel is None:
        words = tr("{said}: no wheel that stands on the ground looks so here", said=said)
        return Preview(_OPEN, guides=wanted, notes=(Note(words, pencil.u, pencil.v),), step=1)
    unit = context.drawing.document.unit
    words = tr(
        "{said}; nearest that stands: ⌀ {diameter}, {degree:+.1f}°, axis {axis:+.1f}°",
        said=said, diameter=format_length(round(wheel.diameter, 1), unit), degree=wheel.degree_off, axis=wheel.axis_off,
    )  # fmt: skip
    live = lines_of(context, _circle(wheel))
    return Preview(_OPEN, live=live, guides=wanted, notes=(Note(words, pencil.u, pencil.v),), step=1)


def _circle(wheel: StandingWheel) -> Floats:
    """Return places (N, 3) round a standing wheel."""
    axle = wheel.axle
    level = np.array([-axle[1], axle[0], 0.0])
    radius = wheel.diameter / 2.0
    up = np.array([0.0, 0.0, radius])
    found: Floats = (
        wheel.contact + up + radius * np.cos(_ANGLES[:-1])[:, None] * level + np.sin(_ANGLES[:-1])[:, None] * up
    )
    return found


def _body(context: ToolContext, wheel: StandingWheel) -> Turned:
    """Return the wheel as a turned body whose near ring is the one that was drawn."""
    document = context.drawing.document
    axle, size = wheel.axle, wheel.diameter
    middle = wheel.contact + np.array([0.0, 0.0, size / 2.0])
    # The axle runs away from the eye, so that the ring at its start is the near one.
    axle = axle if float(axle @ (middle - document.eye.place)) > 0.0 else -axle
    thick = round(_THICK * size, 3)
    along = np.array([axle[1], -axle[0], 0.0])
    corner = wheel.contact - size / 2.0 * along
    name = fresh_name(document, tr("Wheel"))
    return Turned(
        id=fresh_id(document, name), name=name, corner=(float(corner[0]), float(corner[1]), 0.0),
        size=(size, thick, size), yaw_deg=degrees(atan2(float(along[1]), float(along[0]))), axle="wide", profile=PROFILES["cylinder"],
    )  # fmt: skip
