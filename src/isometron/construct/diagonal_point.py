"""The 45-degree point: a square from its diagonal, and a grid of squares stair-stepped from it."""

from __future__ import annotations

from math import sqrt

from isometron.construct.box_parts import SetUp, close_back, finished, set_up, true_of
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
    table.step(
        tr("Swing the station point about VP R up to the horizon: MP R, {place}.", place=table.ruler(spot)),
        tr("One measuring point is enough; the 45-degree point carries the length over to the other side."),
    )
    scale = _Measure(at, spot)
    _grid(scale, diagonal)
    sides = (_end(scale, diagonal, "right"), _end(scale, diagonal, "left"))
    ends = close_back(at, *(_upright(at, side, foot) for side, foot in zip(("right", "left"), sides, strict=True)))
    return finished(table, "diagonal", tr("45-degree point"), box, row, ends)


def _bisector(at: SetUp, eye: Spot) -> Spot:
    """Mark the 45-degree point: halve the right angle at the station point up to the horizon."""
    table = at.table
    reach = [(p.u - eye.u, p.v - eye.v) for p in (at.vp_right, at.vp_left)]
    unit = [(du / sqrt(du * du + dv * dv), dv / sqrt(du * du + dv * dv)) for du, dv in reach]
    halved = table.slanted(eye, unit[0][0] + unit[1][0], unit[0][1] + unit[1][1])
    spot = table.cross(halved, at.horizon, "45")
    table.step(
        tr("Halve the right angle at the station point: the line meets the horizon in the 45-degree point, {place}.",
           place=table.ruler(spot)),
        tr("The diagonals of all squares on the ground that lie like the box run to it."),
    )  # fmt: skip
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
        laid = self.at.table.lay_off(self.line, self.start, length, (1.0, 0.0), f"m {name}")
        return self.at.table.cross(self.at.table.join(laid, self.spot), self.right_edge, name)

    def over(self, spot: Spot, diagonal: Spot, name: str) -> Spot:
        """Carry a point of the right-going edge to the left-going one: through the square on it."""
        table = self.at.table
        corner = table.cross(table.join(spot, self.at.vp_left), table.join(self.start, diagonal), f"{name} square")
        return table.cross(table.join(corner, self.at.vp_right), self.left_edge, name)


def _grid(measure: _Measure, diagonal: Spot) -> None:
    """Stair-step a grid of squares on the shorter side: each diagonal hands the unit on."""
    at, table = measure.at, measure.at.table
    unit = min(at.box.right, at.box.left) / _PARTS
    right = [measure.right(unit, "p1")]
    left = [measure.over(right[0], diagonal, "q1")]
    table.step(
        tr(
            "Lay off one part, {true} ({drawn} of paper), and carry it to the right edge with MP R: p1. From p1 to VP L; where "
            "that crosses the diagonal from the leading edge to 45 is the first square; from there to VP R gives q1.",
            true=true_of(table, unit, at.box.scale),
            drawn=table.paper(unit),
        ),
        tr("In a square at 45° to its diagonal both sides are equal, so q1 is as far as p1."),
    )
    for number in range(2, _PARTS + 1):
        step = table.cross(table.join(right[-1], diagonal), table.join(left[0], at.vp_right), f"stair {number}")
        right.append(table.cross(table.join(step, at.vp_left), measure.right_edge, f"p{number}"))
        left.append(measure.over(right[-1], diagonal, f"q{number}"))
    for on_right, on_left in zip(right, left, strict=True):
        table.join(on_right, at.vp_left)
        table.join(on_left, at.vp_right)
    table.step(
        tr(
            "From p1 to 45 up to the next line to VP R, and back to VP L: p2, and so on. Carry each over to the left."
        ),
        tr("Each diagonal climbs one square on, like a stair; no length is measured twice."),
    )


def _end(measure: _Measure, diagonal: Spot, side: str) -> Spot:
    at, table = measure.at, measure.at.table
    length = at.box.right if side == "right" else at.box.left
    words = {
        "true": true_of(table, length, at.box.scale),
        "drawn": table.paper(length),
    }
    if side == "right":
        foot = measure.right(length, f"right {measure.end}")
        sentence = tr("Lay off the right-going length, {true} ({drawn} of paper), and carry it to its edge.", **words)
    else:
        foot = measure.over(measure.right(length, "w"), diagonal, f"left {measure.end}")
        sentence = tr(
            "Lay off the left-going length, {true} ({drawn} of paper), on the same line, carry it to the right edge, and "
            "over to the left edge through its square.",
            **words,
        )
    table.step(sentence, tr("The 45-degree point makes one measuring line serve both sides."))
    return foot


def _upright(at: SetUp, side: str, foot: Spot) -> tuple[Spot, Spot]:
    """Raise the upright from a corner at the working end, and draw the side."""
    table, (start, end) = at.table, working_end(at)
    point = at.vp_right if side == "right" else at.vp_left
    other_start, other_end = (at.top, "top") if end == "bottom" else (at.bottom, "bottom")
    other = table.cross(table.upright(foot), table.join(other_start, point), f"{side} {other_end}")
    for one, two in ((start, foot), (other_start, other), (foot, other)):
        table.edge(one, two)
    return (foot, other) if end == "bottom" else (other, foot)
