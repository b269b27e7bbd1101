"""The 45-degree point: a square from its diagonal, and a grid of squares stair-stepped from it."""

from __future__ import annotations

from isometron.construct.box_parts import SetUp, close_back, corner_letter, finished, set_up, true_of
from isometron.construct.measuring_points import measuring_line, measuring_spot, station, working_end
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Table
from isometron.construct.subject import level_box
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["by_diagonal_point"]

_PARTS = 3


def by_diagonal_point(document: Document, row: int) -> Construction | NotHere:
    """Construct a box by the 45-degree point: one measured length, everything else from diagonals."""
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    at = set_up(table, box)
    eye = station(at)
    diagonal = _bisector(at, eye)
    spot = measuring_spot(at, eye, "right")
    table.step(tr("One measuring point is enough; the 45-degree point carries the length over to the other side."))
    scale = _Measure(at, spot)
    _grid(scale, diagonal)
    sides = (_end(scale, diagonal, "right"), _end(scale, diagonal, "left"))
    ends = close_back(at, *(_upright(at, side, foot) for side, foot in zip(("right", "left"), sides, strict=True)))
    return finished(table, "diagonal", tr("45-degree point"), box, row, ends)


def _bisector(at: SetUp, eye: Spot) -> Spot:
    """Mark the 45-degree point: halve the right angle at the station point up to the horizon."""
    table = at.table
    spot = table.cross(table.halving(eye, at.vp_right, at.vp_left), at.horizon, "45")
    table.step(
        tr("45 is the 45-degree point: the diagonals of all squares on the ground that lie like the box run to it.")
    )
    return spot


class _Measure:
    """Lengths from the leading edge: laid off on the measuring line, carried to the right-going edge by MP R."""

    def __init__(self, at: SetUp, spot: Spot) -> None:
        self.at, self.spot = at, spot
        self.line = measuring_line(at)
        self.start, self.end = working_end(at)
        self.right_edge = at.table.join(self.start, at.vp_right)
        self.left_edge = at.table.join(self.start, at.vp_left)

    def right(self, length: float, name: str) -> Spot:
        """Mark a length on the right-going edge."""
        table = self.at.table
        true = true_of(table, length, self.at.box.scale)
        laid = table.lay_off(self.line, self.start, length, (1.0, 0.0), f"m {name}", true)
        return table.cross(table.join(laid, self.spot), self.right_edge, name)

    def over(self, spot: Spot, diagonal: Spot, name: str) -> Spot:
        """Carry a point of the right-going edge to the left-going one: through the square on it."""
        table = self.at.table
        corner = table.cross(table.join(spot, self.at.vp_left), table.join(self.start, diagonal), table.fresh("s"))
        return table.cross(table.join(corner, self.at.vp_right), self.left_edge, name)


def _grid(measure: _Measure, diagonal: Spot) -> None:
    """Stair-step a grid of squares on the shorter side: each diagonal hands the unit on."""
    at, table = measure.at, measure.at.table
    unit = min(at.box.right, at.box.left) / _PARTS
    right = [measure.right(unit, "p1")]
    left = [measure.over(right[0], diagonal, "q1")]
    table.step(tr("A square's diagonal runs to 45, so its two sides are equal: q1 is as far along as p1."))
    for number in range(2, _PARTS + 1):
        step = table.cross(table.join(right[-1], diagonal), table.join(left[0], at.vp_right), table.fresh("t"))
        right.append(table.cross(table.join(step, at.vp_left), measure.right_edge, f"p{number}"))
        left.append(measure.over(right[-1], diagonal, f"q{number}"))
    for on_right, on_left in zip(right, left, strict=True):
        table.join(on_right, at.vp_left)
        table.join(on_left, at.vp_right)
    table.step(tr("Each diagonal climbs one square on, like a stair; no length is measured twice."))


def _end(measure: _Measure, diagonal: Spot, side: str) -> Spot:
    at, table = measure.at, measure.at.table
    length = at.box.right if side == "right" else at.box.left
    letter = corner_letter(side, measure.end)
    if side == "right":
        foot = measure.right(length, letter)
    else:
        foot = measure.over(measure.right(length, "w"), diagonal, letter)
    table.step(tr("The 45-degree point makes one measuring line serve both sides."))
    return foot


def _upright(at: SetUp, side: str, foot: Spot) -> tuple[Spot, Spot]:
    """Raise the upright from a corner at the working end, and draw the side."""
    table, (start, end) = at.table, working_end(at)
    point = at.vp_right if side == "right" else at.vp_left
    other_start, other_end = (at.top, "top") if end == "bottom" else (at.bottom, "bottom")
    other = table.cross(table.upright(foot), table.join(other_start, point), corner_letter(side, other_end))
    for one, two in ((start, foot), (other_start, other), (foot, other)):
        table.edge(one, two)
    return (foot, other) if end == "bottom" else (other, foot)
