"""Judging a box drawn by eye: what its back uprights mean in true lengths, and where those of a cube would stand.

An edge that reaches the part t of the way to its vanishing point V has the true length t / (1 - t) |V - eye| at the
leading edge's scale (from u = f Xc / Zc along the edge); see `isometron.view.vanishing.measuring_point` for |V - eye|.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

__all__ = ["Judgement", "cube_corners", "judged", "part_for", "true_length"]

Place = tuple[float, float]


@dataclass(frozen=True)
class Judgement:
    """What a box drawn by eye is: true lengths in heights of the leading edge, and the mm to move each back upright.

    off_right, off_left : how far along its edge the lower end of that upright is from a cube's, mm of paper;
    positive when it stands too far back.
    """

    right: float
    left: float
    off_right: float
    off_left: float
    cube: dict[str, Place]


def true_length(part: float, point: Place, viewing_distance: float) -> float:
    """Return the true length, mm of paper at the leading edge, of an edge that goes ``part`` of the way to ``point``."""
    return part / (1.0 - part) * hypot(viewing_distance, *point)


def part_for(length: float, point: Place, viewing_distance: float) -> float:
    """Return which part of the way to its vanishing point an edge of a true length goes."""
    return length / (length + hypot(viewing_distance, *point))


def cube_corners(
    viewing_distance: float, vp_right: Place, vp_left: Place, bottom: Place, top: Place
) -> dict[str, Place]:
    """Return the corners of the cube on a leading edge in a level view, by name."""
    height = hypot(top[0] - bottom[0], top[1] - bottom[1])
    right = part_for(height, vp_right, viewing_distance)
    left = part_for(height, vp_left, viewing_distance)
    corners = {"lead bottom": bottom, "lead top": top}
    for end, start in (("bottom", bottom), ("top", top)):
        corners[f"right {end}"] = _towards(start, vp_right, right)
        corners[f"left {end}"] = _towards(start, vp_left, left)
        corners[f"back {end}"] = _back(start, vp_right, vp_left, right, left)
    return corners


def judged(
    viewing_distance: float,
    vp_right: Place,
    vp_left: Place,
    bottom: Place,
    top: Place,
    right_part: float,
    left_part: float,
) -> Judgement:
    """Judge a box whose back uprights stand at given parts of the way to the vanishing points."""
    height = hypot(top[0] - bottom[0], top[1] - bottom[1])
    lengths, off = [], []
    for part, point in ((right_part, vp_right), (left_part, vp_left)):
        lengths.append(true_length(part, point, viewing_distance) / height)
        way = hypot(point[0] - bottom[0], point[1] - bottom[1])
        off.append((part - part_for(height, point, viewing_distance)) * way)
    cube = cube_corners(viewing_distance, vp_right, vp_left, bottom, top)
    return Judgement(lengths[0], lengths[1], off[0], off[1], cube)


def _towards(start: Place, point: Place, part: float) -> Place:
    return start[0] + part * (point[0] - start[0]), start[1] + part * (point[1] - start[1])


def _back(start: Place, vp_right: Place, vp_left: Place, right: float, left: float) -> Place:
    """Return the back corner: going right then left adds depths, r = t / (1 - t) each in units of the start's depth."""
    r, s = right / (1.0 - right), left / (1.0 - left)
    depth = 1.0 + r + s
    return (
        (start[0] + r * vp_right[0] + s * vp_left[0]) / depth,
        (start[1] + r * vp_right[1] + s * vp_left[1]) / depth,
    )
