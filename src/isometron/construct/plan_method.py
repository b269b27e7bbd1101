"""The plan method: the square in plan above the picture plane, rays to the station point, dropped into the picture.

Kemp, The Science of Art (1990), appendix on the plan and elevation method.
"""

from __future__ import annotations

from math import cos, degrees, sin

from isometron.construct.box_parts import SetUp, close_back, finished, raise_lead, side_points, true_of
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
    plane, lead, eye = _plane(table, box)
    corners = _plan(table, box, lead)
    at = _points(table, box, plane, eye, lead, corners)
    feet = _rays(table, plane, eye, corners)
    sides = [_drop(at, side, foot) for side, foot in zip(("right", "left"), feet, strict=False)]
    ends = close_back(at, sides[0], sides[1])
    _check_back(at, feet[2], sides[0])
    return finished(table, "plan", tr("Plan method"), box, row, ends, setting_up=1)


def _plane(table: Table, box: LevelBox) -> tuple[Line, Spot, Spot]:
    top = max(0.0, *(at[1] for at in box.corners.values())) + _GAP
    lead = table.mark("A", (box.lead[0][0], top))
    plane = table.rule_across(table.level(lead))
    foot = table.mark("CV in plan", (0.0, top))
    eye = table.lay_off(table.perpendicular(plane, foot), foot, box.eye.viewing_distance, (0.0, -1.0), "SP")
    centre = table.mark("CV", (0.0, 0.0))
    table.rule_across(table.level(centre))
    table.step(
        tr(
            "Rule the picture plane as a line, {plane}, and the horizon, {horizon}. Mark A on the picture plane, {lead}, where "
            "the leading edge touches it. Below the centre of vision mark the "
            "station point at the viewing distance of {far}: {eye}.",
            lead=table.ruler(lead),
            plane=table.up(lead),
            horizon=table.up(centre),
            far=table.paper(box.eye.viewing_distance),
            eye=table.ruler(eye),
        ),
        tr("The upper half of the sheet is seen from above: the paper on edge, and the eye in front of it."),
    )
    return plane, lead, eye


def _plan(table: Table, box: LevelBox, lead: Spot) -> tuple[Spot, Spot, Spot]:
    turn = box.turn
    right_line = table.slanted(lead, cos(turn), sin(turn))
    left_line = table.perpendicular(right_line, lead)
    right = table.lay_off(right_line, lead, box.right, (cos(turn), sin(turn)), "B")
    left = table.lay_off(left_line, lead, box.left, (-sin(turn), cos(turn)), "C")
    back = table.cross(table.parallel(left_line, right), table.parallel(right_line, left), "D")
    for one, other in ((lead, right), (lead, left), (right, back), (left, back)):
        table.edge(one, other)
    table.step(
        tr(
            "From A draw the plan at {angle}° to the picture plane: {right} to B, {left} to C at a right angle, and close it at D.",
            angle=f"{degrees(turn):.1f}",
            right=table.paper(box.right),
            left=table.paper(box.left),
        ),
        tr(
            "These are the true lengths {right} and {left} at the scale of the leading edge, which touches the paper.",
            right=true_of(table, box.right, box.scale),
            left=true_of(table, box.left, box.scale),
        ),
    )
    return right, left, back


def _points(
    table: Table, box: LevelBox, plane: Line, eye: Spot, lead: Spot, corners: tuple[Spot, Spot, Spot]
) -> SetUp:
    centre = Spot("CV", 0.0, 0.0)
    horizon = table.level(centre)
    found = []
    for corner, name in ((corners[0], "R"), (corners[1], "L")):
        arm = table.parallel(table.join(lead, corner), eye)
        above = table.cross(arm, plane, f"{name} in plan")
        found.append(table.cross(table.perpendicular(plane, above), horizon, f"VP {name}"))
    table.step(
        tr(
            "Lay the ruler through the station point parallel to A–B and to A–C; drop both crossings with the picture "
            "plane to the horizon: VP R, {right}, and VP L, {left}.",
            right=table.ruler(found[0]),
            left=table.ruler(found[1]),
        ),
        tr("The eye looks along an edge where that edge vanishes."),
    )
    bottom, top = raise_lead(table, box)
    return SetUp(table, box, horizon, centre, found[0], found[1], bottom, top)


def _rays(table: Table, plane: Line, eye: Spot, corners: tuple[Spot, Spot, Spot]) -> list[Spot]:
    feet = [table.cross(table.join(corner, eye), plane, corner.name.lower()) for corner in corners]
    table.step(
        tr("Rule rays from B, C and D to the station point, and mark b, c and d where they cross the picture plane."),
        tr("The paper catches each sight line there: that is how far across the corner is drawn."),
    )
    return feet


def _drop(at: SetUp, side: str, foot: Spot) -> tuple[Spot, Spot]:
    table = at.table
    point, letter = (at.vp_right, "R") if side == "right" else (at.vp_left, "L")
    reached = table.cross(table.upright(foot), table.join(at.bottom, point), f"{side} bottom")
    pair = side_points(at, side, reached)
    table.step(
        tr(
            "Rule both ends of the leading edge to VP {letter}, and drop {foot} onto them: the {side} upright.",
            letter=letter,
            foot=foot.name,
            side=tr("right") if side == "right" else tr("left"),
        ),
        tr("Its height comes out by itself: the true height runs along the edges to the vanishing point."),
    )
    return pair


def _check_back(at: SetUp, foot: Spot, right: tuple[Spot, Spot]) -> None:
    table = at.table
    end = 0 if abs(at.bottom.v) >= abs(at.top.v) else 1
    back = table.cross(table.upright(foot), table.join(right[end], at.vp_left), "d dropped")
    table.step(
        tr("Drop d as a check: it falls on the back upright, {place}.", place=table.ruler(back)),
        tr("Two ways to one point. If they miss each other, an earlier line was ruled badly."),
    )
