"""Carrying a height over the ground by the horizon: equal heights stand at an equal fraction of eye height."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from isometron.geometry.tolerances import PARALLEL

__all__ = ["HeightTransfer", "height_ratio", "transfer_height"]


def height_ratio(horizon_v: float, foot_v: float, top_v: float) -> float | None:
    """Return (top - foot) / (horizon - foot): the height as a part of eye height, or None for a foot on the horizon.

    Level view. A foot on a plane above the eye works alike: the ratio is then a drop over that plane's height
    above the eye.
    """
    reach = horizon_v - foot_v
    if abs(reach) <= PARALLEL * max(1.0, hypot(horizon_v, foot_v)):
        return None
    return (top_v - foot_v) / reach


@dataclass(frozen=True)
class HeightTransfer:
    """A height carried to another foot. ``top`` and ``paper_height`` are None where there is no answer."""

    ratio: float
    true_height: float
    top: tuple[float, float] | None
    paper_height: float | None


def transfer_height(
    horizon_v: float,
    eye_height: float,
    foot: tuple[float, float],
    top: tuple[float, float],
    other_foot: tuple[float, float],
) -> HeightTransfer | None:
    """Carry the upright ``foot`` -> ``top`` to ``other_foot`` on the same level plane, level view; paper mm.

    ``eye_height`` is the distance between the eye and that plane in mm of the object. None when the first
    foot lies on the horizon; the result's ``top`` is None when the other foot lies on it or beyond it.
    """
    ratio = height_ratio(horizon_v, foot[1], top[1])
    if ratio is None:
        return None
    reach, other = horizon_v - foot[1], horizon_v - other_foot[1]
    if other * reach <= 0.0:
        return HeightTransfer(ratio, ratio * eye_height, None, None)
    rise = ratio * other
    return HeightTransfer(ratio, ratio * eye_height, (other_foot[0], other_foot[1] + rise), rise)
