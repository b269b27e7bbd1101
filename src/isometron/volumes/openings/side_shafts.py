"""Openings in round sides as shafts: straight into the body from the plane that touches the side at their place."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec
import numpy as np

from isometron.geometry.faces.shaft import CarveError, Shaft
from isometron.geometry.frames import Floats, square_to
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.lines.on_side import side_frame
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured, held_at, step_mm
from isometron.volumes.marks.places import reach_on
from isometron.volumes.openings.outlines import opening_outline
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["side_shaft", "side_turn", "with_places"]


def side_turn(side: RoundSurface, along: float, about: float, up: Floats) -> tuple[Floats, bool]:
    """Return the frame (12,) of an opening at a place of a round side: the place, its ways across and up, and outward; and
    whether up runs along the axle: whichever of the two ways along the surface climbs more."""
    place, first, second, outward = side_frame(side, along, about)
    upright = abs(float(first @ up)) >= abs(float(second @ up)) - CLOSE
    y = first if upright else second
    if float(y @ up) < -CLOSE:
        y = -y
    return np.concatenate([place, square_to(y, outward), y, outward]), upright


def with_places(volume: Volume, mark: OpeningMark, side: RoundSurface) -> Iterator[tuple[float, float, OpeningMark]]:
    """Yield the places of an opening and of those in its row, mm along a round side and about it, and each alone."""
    reach = [reach_on(volume, mark, column) for column in (0, 1)]
    at = [held_at(*each) for each in zip(mark.at, side.reach, reach, strict=True)]
    step = [step_mm(*each) for each in zip(mark.step, side.reach, reach, strict=True)]
    for k in range(mark.count):
        along, about = at[0] + k * step[0], at[1] + k * step[1]
        held = (Measured(mm=along), Measured(mm=about))
        yield along, about, msgspec.structs.replace(mark, at=held, count=1)


def side_shaft(mark: OpeningMark, side: RoundSurface, along: float, about: float, up: Floats) -> Shaft:
    """Return the shaft of one opening in a round side; raises `CarveError` and `OutlineError` in words."""
    if mark.form == "inset":
        raise CarveError(tr("A round side has no outline to follow: choose another shape."))
    frame, _ = side_turn(side, along, about, up)
    outline = opening_outline(mark)
    if mark.goes == "pocket" and mark.depth <= 0.0:
        raise CarveError(tr("A pocket needs a depth."))
    if mark.goes == "pocket":
        return Shaft(frame, outline, depth=mark.depth, bent=True)
    return Shaft(frame, outline, walls=1 if mark.goes == "wall" else 0, bent=True)
