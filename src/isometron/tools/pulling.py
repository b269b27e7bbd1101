"""Pulling a length along a direction in perspective: the pencil slides on the line to the vanishing point."""

from __future__ import annotations

from math import floor, log10

import numpy as np

from isometron.document.lengths.units import MM_PER, UnitName
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye

__all__ = ["on_plane", "paper_direction", "pulled_length", "round_step", "rounded"]

_NEAR_VANISHING = 0.98
"""A pull ends at this part of the way to the vanishing point: beyond it lies no length."""

_INCH_STEPS = (1 / 16, 1 / 8, 1 / 4, 1 / 2, 1.0, 2.0, 6.0, 12.0, 36.0, 120.0)


def paper_direction(eye: Eye, place: Floats, direction: Floats) -> Floats | None:
    """Return the unit vector (2,) in which ``place`` moves on paper when it moves along ``direction``.

    None behind the eye, and for a direction that runs along the sight line and so is seen as a point.
    """
    camera = eye.to_camera(place)[0]
    if not camera[2] > 0.0:
        return None
    along = eye.axes @ direction
    move = along[:2] * camera[2] - camera[:2] * along[2]
    size = float(np.hypot(*move))
    span = float(np.sqrt(camera @ camera) * np.sqrt(along @ along))
    return move / size if size > CLOSE * span else None


def pulled_length(eye: Eye, place: Floats, direction: Floats, u: float, v: float) -> float | None:
    """Return the signed true length from ``place`` along the unit ``direction`` to the foot of the paper point.

    The paper point is dropped at right angles onto the drawn line; the foot's place on the true line follows
    from u Zc = f Xc. A foot at the vanishing point or past it counts as `_NEAR_VANISHING` of the way.
    """
    on_paper = paper_direction(eye, place, direction)
    if on_paper is None:
        return None
    f = eye.viewing_distance
    camera, along = eye.to_camera(place)[0], eye.axes @ direction
    start = f * (camera[:2] @ on_paper) / camera[2]
    reach = float(on_paper @ (u, v))
    if along[2] != 0.0:
        vanishing = f * (along[:2] @ on_paper) / along[2]
        limit = start + _NEAR_VANISHING * (vanishing - start)
        reach = min(reach, limit) if vanishing > start else max(reach, limit)
    return float((reach * camera[2] - f * (camera[:2] @ on_paper)) / (f * (along[:2] @ on_paper) - reach * along[2]))


def on_plane(eye: Eye, point: Floats, normal: Floats, u: float, v: float) -> Floats | None:
    """Return where the sight line through the paper point meets the plane, or None (parallel, or behind the eye)."""
    ray = eye.ray(u, v)
    slope = float(normal @ ray)
    rise = float(normal @ (point - eye.place))
    if slope == 0.0 or rise / slope <= 0.0:
        return None
    place: Floats = eye.place + (rise / slope) * ray
    return place


def round_step(size: float, unit: UnitName) -> float:
    """Return the round step in mm (1, 2, 5 times a power of ten, or inch parts) that is at least ``size`` mm."""
    if unit == "in":
        inch = MM_PER["in"]
        return inch * next((s for s in _INCH_STEPS if s * inch >= size), _INCH_STEPS[-1])
    power = 10.0 ** floor(log10(max(size, 0.1)))
    return next(factor * power for factor in (1.0, 2.0, 5.0, 10.0) if factor * power >= size * (1 - CLOSE))


def rounded(length: float, step: float) -> float:
    """Return ``length`` rounded to the step, free of binary dust."""
    return round(round(length / step) * step, 6)
