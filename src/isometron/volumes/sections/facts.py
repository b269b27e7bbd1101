"""What is told of a section: its area, how long its outline is, its pieces and holes, where it is highest and lowest."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from isometron.geometry.along import summed_along
from isometron.geometry.frames import Floats
from isometron.geometry.sections.pieces import Piece
from isometron.geometry.sections.planes import Cutting
from isometron.geometry.sections.regions import Outlined
from isometron.view.eye import Eye

__all__ = ["SectionFacts", "drawn_length", "section_facts"]

_LEVEL = 1e-7
"""Of the size: outlines that are level within this have no single highest or lowest place."""


@dataclass(frozen=True)
class SectionFacts:
    """mm and mm2. pieces : separate ones; highest, lowest : (3,), None where not a single place is."""

    area: float
    length: float
    pieces: int
    holes: int
    highest: Floats | None
    lowest: Floats | None
    highest_z: float | None
    lowest_z: float | None


def section_facts(outlined: Outlined, cutting: Cutting) -> SectionFacts:
    """Return what is told of a cut."""
    if not outlined.pieces:
        return SectionFacts(0.0, 0.0, 0, 0, None, None, None, None)
    areas = [sum(piece.swept for piece in loop) for loop in outlined.loops]
    up = np.array([cutting.x[2], cutting.y[2]])
    places = np.concatenate([piece.at(piece.extremes(up)) for piece in outlined.pieces])
    world = cutting.world(places)
    ends = []
    for sign in (1.0, -1.0):
        best = int(np.argmax(sign * world[:, 2]))
        near = world[np.abs(world[:, 2] - world[best, 2]) <= _LEVEL * outlined.size]
        single = float(np.abs(near - world[best]).max()) <= 1e-5 * outlined.size
        ends.append((world[best] if single else None, float(world[best, 2])))
    (highest, highest_z), (lowest, lowest_z) = ends
    return SectionFacts(
        outlined.area, outlined.length, sum(bool(a > 0.0) for a in areas), sum(bool(a <= 0.0) for a in areas), highest, lowest, highest_z, lowest_z
    )  # fmt: skip


def drawn_length(outlined: Outlined, cutting: Cutting, eye: Eye) -> float:
    """Return the length of the outline's picture, mm of paper, whatever hides it; NaN where it reaches behind the eye."""

    def speed_of(piece: Piece) -> Callable[[Floats], Floats]:
        def speed(t: Floats) -> Floats:
            camera, way = eye.to_camera(cutting.world(piece.at(t))), piece.way(t)
            step = (way[:, :1] * cutting.x + way[:, 1:] * cutting.y) @ eye.axes.T
            depth = camera[:, 2:]
            drawn = eye.viewing_distance * (step[:, :2] - camera[:, :2] / depth * step[:, 2:]) / depth
            found: Floats = np.where(depth[:, 0] > 0.0, np.hypot(*drawn.T), np.nan)
            return found

        return speed

    return sum(summed_along(speed_of(piece)) for piece in outlined.pieces)
