"""Which of a thing's directions a marked line runs in, as far as it can be told from the marks so far."""

from __future__ import annotations

from math import atan2, degrees, radians

import numpy as np

from isometron.document.pictures.marks import Along, LineMark
from isometron.document.pictures.placing import straight
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats, camera_axes

__all__ = ["DIRECTIONS", "bundle_points", "direction_of"]

DIRECTIONS: tuple[Along, ...] = ("long", "wide", "high")
"""Right-going, left-going, upright: the thing's long, wide and high."""
_UPRIGHT_DEG, _FITS_DEG = 14.0, 3.0


def direction_of(picture: SheetPicture, points: Floats, thing: str = "") -> Along:
    """Return the direction that a line (N, 2), px, fits best.

    By the eye where it is found; else by the lines of a direction that it meets in one point; else steep lines are upright, those that
    rise to the right right-going and the others left-going, as edges below the eye level do.
    """
    way = points[-1] - points[0]
    middle = points.mean(axis=0)
    camera = picture.camera
    own = [line for line in picture.lines if line.object == thing]
    if camera is not None and own:
        axes = camera_axes(radians(camera.yaw_deg), radians(camera.pitch_deg), radians(camera.roll_deg))
        first = not thing or thing == sorted({line.object for line in picture.lines})[0]
        if first:
            seen = axes.T * [camera.focal_px, -camera.focal_px, 1.0]
            at = straight(camera, middle[None, :])[0] - camera.centre
            off = [_angle_to(way, at, seen[k]) for k in range(3)]
            return DIRECTIONS[int(np.argmin(off))]
    steep = degrees(atan2(abs(way[0]), abs(way[1])))
    if steep < _UPRIGHT_DEG:
        return "high"
    found = bundle_points(own)
    fits = {along: _angle_to(way, middle, at) for along, at in found.items() if along != "high"}
    if fits and min(fits.values()) < _FITS_DEG and len(fits) == 2:
        return min(fits, key=lambda along: fits[along])
    return "long" if way[0] * way[1] < 0.0 else "wide"


def _angle_to(way: Floats, at: Floats, point: Floats) -> float:
    """Return the angle, degrees, between a line's way and the way from its middle to a vanishing point, homogeneous (3,)."""
    there = point[:2] - point[2] * at
    cross, dot = way[0] * there[1] - way[1] * there[0], way @ there
    return degrees(atan2(abs(float(cross)), abs(float(dot))))


def bundle_points(lines: list[LineMark]) -> dict[Along, Floats]:
    """Return where the lines of each direction meet, homogeneous px (3,), of directions with two lines at least."""
    found: dict[Along, Floats] = {}
    for along in DIRECTIONS:
        own = [np.array(line.points) for line in lines if line.along == along]
        if len(own) < 2:
            continue
        every = np.concatenate(own)
        shift, size = every.mean(axis=0), float(np.ptp(every, axis=0).max())
        rows = []
        for points in own:
            a, b = (points[[0, -1]] - shift) / size
            rows.append(np.cross([*a, 1.0], [*b, 1.0]))
        _, _, ways = np.linalg.svd(np.array(rows))
        x, y, w = ways[-1]
        found[along] = np.array([size * x + w * shift[0], size * y + w * shift[1], w])
    return found
