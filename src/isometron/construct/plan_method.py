"""The plan method: the square in plan above the picture plane, rays to the station point, dropped into the picture.

Kemp, The Science of Art (1990), appendix on the plan and elevation method.
"""

from __future__ import annotations

from math import cos, sin

from isometron.construct.box_parts import SetUp, close_back, corner_letter, finished, raise_lead, side_points, true_of
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import LevelBox, level_box
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["by_plan"]

_GAP = 12.0
"""Millimetres of paper between the picture and the picture plane drawn in plan above it."""


def by_plan(document: Document, row: int) -> Construction | NotHere:
    """Construct a box by the plan method, the picture plane through its leading edge."""
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    plane, horizon, lead, eye = _plane(table, box)
    corners = _plan(table, box, lead)
    at = _points(table, box, plane, horizon, eye, lead, corners)
    feet = _rays(table, plane, eye, corners)
    sides = [_drop(at, side, foot) for side, foot in zip(("right", "left"), feet, strict=False)]
    ends = close_back(at, sides[0], sides[1])
    _check_back(at, feet[2], sides[0])
    return finished(table, "plan", tr("Plan method"), box, row, ends)


def _plane(table: Table, box: LevelBox) -> tuple[Line, Line, Spot, Spot]:
    top = max(0.0, *(at[1] for at in box.corners.values())) + _GAP
    lead = table.mark("a", (box.lead[0][0], top))
    plane = table.title(table.rule_across(table.level(lead)), tr("the picture plane"))
    centre = table.mark("CV", (0.0, 0.0))
    horizon = table.title(table.rule_across(table.level(centre)), tr("the horizon"))
    foot = table.cross(table.upright(centre), plane, "o")
    eye = table.lay_off(table.perpendicular(plane, foot), foot, box.eye.viewing_distance, (0.0, -1.0), "SP")
    table.step(
        tr("The upper half of the sheet is seen from above: the picture plane is the paper on edge, and SP the station point, the eye at "
           "its viewing distance in front of it. CV is the centre of vision."),
    )  # fmt: skip
    table.laid_out()
    return plane, horizon, lead, eye


def _plan(table: Table, box: LevelBox, lead: Spot) -> tuple[Spot, Spot, Spot]:
    turn = box.turn
    right_line = table.slanted(lead, cos(turn), sin(turn))
    true = true_of(table, box.right, box.scale)
    right = table.lay_off(right_line, lead, box.right, (cos(turn), sin(turn)), "b", true)
    right_edge = table.join(lead, right)
    left_line = table.perpendicular(right_edge, lead)
    true = true_of(table, box.left, box.scale)
    left = table.lay_off(left_line, lead, box.left, (-sin(turn), cos(turn)), "c", true)
    left_edge = table.join(lead, left)
    back = table.cross(table.parallel(left_edge, right), table.parallel(right_edge, left), "d")
    for one, other in ((lead, right), (lead, left), (right, back), (left, back)):
        table.edge(one, other)
    table.step(
        tr("a–b and a–c are true lengths at the scale of the leading edge, which touches the paper at a. Small letters are the plan "
           "of the corners with the same great ones."),
    )  # fmt: skip
    return right, left, back


def _points(
    table: Table, box: LevelBox, plane: Line, horizon: Line, eye: Spot, lead: Spot, corners: tuple[Spot, Spot, Spot]
) -> SetUp:
    found = []
    for corner, name in ((corners[0], "R"), (corners[1], "L")):
        arm = table.parallel(table.join(lead, corner), eye)
        above = table.cross(arm, plane, name.lower())
        found.append(table.cross(table.upright(above), horizon, f"VP {name}"))
    table.step(tr("The eye looks along an edge where that edge vanishes: VP R and VP L are the vanishing points."))
    bottom, top = raise_lead(table, box)
    centre = Spot("CV", 0.0, 0.0)
    return SetUp(table, box, horizon, centre, found[0], found[1], bottom, top)


def _rays(table: Table, plane: Line, eye: Spot, corners: tuple[Spot, Spot, Spot]) -> list[Spot]:
    feet = [table.cross(table.join(corner, eye), plane, f"{corner.name}1") for corner in corners]
    table.step(tr("The paper catches each sight line there: that is how far across the corner is drawn."))
    return feet


def _drop(at: SetUp, side: str, foot: Spot) -> tuple[Spot, Spot]:
    point = at.vp_right if side == "right" else at.vp_left
    over = at.table.upright(foot)
    reached = at.table.cross(over, at.table.join(at.bottom, point), corner_letter(side, "bottom"))
    pair = side_points(at, side, reached)
    at.table.step(
        tr("Its height comes out by itself: the true height runs along the edges to the vanishing point."),
    )
    return pair


def _check_back(at: SetUp, foot: Spot, right: tuple[Spot, Spot]) -> None:
    table = at.table
    end = 0 if abs(at.bottom.v) >= abs(at.top.v) else 1
    table.cross(table.upright(foot), table.join(right[end], at.vp_left), table.fresh("x"))
    table.step(
        tr(
            "A check, two ways to one point: it falls on the back upright. If it does not, an earlier line was ruled badly."
        ),
    )
