"""Placing an eye by what a sketcher knows: how high, how far away, how much the object is turned, where the horizon lies."""

from __future__ import annotations

from math import cos, radians, sin, tan

from isometron.view.eye import Eye, Point
from isometron.view.sheet import Sheet

__all__ = ["horizon_on_sheet", "place_eye", "sheet_with_horizon"]


def place_eye(
    *,
    height: float,
    away: float,
    turn_deg: float,
    tilt_deg: float = 0.0,
    viewing_distance: float,
    about: Point = (0.0, 0.0, 0.0),
    cone_deg: float = 60.0,
) -> Eye:
    """Return an eye ``height`` mm above the ground that has ``about`` straight ahead, ``away`` mm off in plan.

    ``turn_deg`` is the angle between the object's long direction (world x) and the picture plane: 0 shows the
    front as in one-point, 30 turns the object counter-clockwise seen from above. ``tilt_deg`` looks up.
    """
    turn = radians(turn_deg)
    # Turning the object one way is walking round it the other way; the object keeps its true directions.
    x = about[0] - away * sin(turn)
    y = about[1] - away * cos(turn)
    return Eye(
        position=(x, y, height),
        yaw_deg=-turn_deg,
        pitch_deg=tilt_deg,
        viewing_distance=viewing_distance,
        cone_deg=cone_deg,
    )


def horizon_on_sheet(eye: Eye, sheet: Sheet) -> float:
    """Return the height of the horizon above the sheet's lower edge at the centre of vision, mm; for |pitch| < 90."""
    return sheet.centre_of_vision[1] - eye.viewing_distance * tan(radians(eye.pitch_deg))


def sheet_with_horizon(eye: Eye, width: float, height: float, horizon: float, across: float | None = None) -> Sheet:
    """Return a sheet whose horizon lies ``horizon`` mm above its lower edge, the centre of vision ``across`` mm
    from its left edge (its middle by default)."""
    up = horizon + eye.viewing_distance * tan(radians(eye.pitch_deg))
    return Sheet(width=width, height=height, centre_of_vision=(width / 2 if across is None else across, up))
