"""The view in plan: where the arms of the set square at the station point lie, as angles to the line of sight."""

from __future__ import annotations

from math import atan2, degrees

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye

__all__ = ["arm_angles", "bearing", "plan_points", "snapped"]


def bearing(eye: Eye, direction: Floats) -> float | None:
    """Return the angle in degrees, -90 to 90, of a direction in plan from the line of sight; right is positive.

    A direction and its opposite have one vanishing point, so the forward sense counts. None for an upright one.
    """
    yaw = np.radians(eye.yaw_deg)
    across = direction[0] * np.cos(yaw) + direction[1] * np.sin(yaw)
    away = -direction[0] * np.sin(yaw) + direction[1] * np.cos(yaw)
    if np.hypot(across, away) < CLOSE * np.sqrt(direction @ direction):
        return None
    angle = degrees(atan2(across, away))
    return angle - 180.0 if angle > 90.0 else angle + 180.0 if angle <= -90.0 else angle


def arm_angles(eye: Eye, rotation: Floats) -> tuple[float, float]:
    """Return the bearings of the left and the right arm of the set square, which stand at a right angle.

    In one-point one arm points straight ahead (0) and the other along the picture plane (90 or -90).
    """
    first = bearing(eye, rotation[:, 0])
    if first is None:
        first = bearing(eye, rotation[:, 1]) or 0.0
    other = first + 90.0 if first <= 0.0 else first - 90.0
    return min(first, other), max(first, other)


def plan_points(eye: Eye, points: Floats) -> Floats:
    """Return (N, 2) places in plan from the eye: to the right, and away along the level line of sight, mm."""
    yaw = np.radians(eye.yaw_deg)
    gap = points[:, :2] - eye.place[:2]
    right, away = np.array([np.cos(yaw), np.sin(yaw)]), np.array([-np.sin(yaw), np.cos(yaw)])
    return np.column_stack([gap @ right, gap @ away])


def snapped(angle_deg: float, *, step: float = 15.0, within: float = 1.0) -> float:
    """Return an angle drawn lightly to multiples of ``step`` degrees, otherwise to a tenth of a degree."""
    nearest = round(angle_deg / step) * step
    return nearest if abs(angle_deg - nearest) <= within else round(angle_deg, 1)
