"""Turn on the spot: the ring in the ground square, a new set square at the same eye, the new square round the same ring."""

from __future__ import annotations

from dataclasses import replace
from math import cos, radians, sin

import numpy as np

from isometron.construct.box_parts import SetUp, corner_letter, finished, set_up
from isometron.construct.height_transfer import carry_height
from isometron.construct.measuring_points import station, working_end
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Table
from isometron.construct.subject import LevelBox, level_box
from isometron.document.model import Document
from isometron.geometry.conics import circle_picture, ellipse_of
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.wording import tr

__all__ = ["turned_on_the_spot"]

_LEAST = 0.5
_FLAT = 2.0
"""A ground square nearer than this to the horizon (mm of paper at the leading edge) is drawn as a line."""


def turned_on_the_spot(document: Document, row: int, turn_deg: float = 30.0) -> Construction | NotHere:
    """Construct the twin of a box on a square plan, turned counter-clockwise about its own middle.

    ends : ``corner 1`` to ``corner 4``, bottom and top, counter-clockwise seen from above.
    """
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    if abs(box.right - box.left) > HAIR * max(box.right, box.left):
        words = tr("{name} is not square in plan, so no ring touches all four sides. Make it square first.",
                   name=document.volumes[row].name)  # fmt: skip
        return NotHere(words, "plan")
    turn = box.turn + radians(turn_deg)
    quarter = turn % (np.pi / 2)
    if not radians(_LEAST) <= quarter <= np.pi / 2 - radians(_LEAST):
        return NotHere(
            tr("Turned that far, a side is parallel to the paper and has no vanishing point."), "one-point"
        )
    table = Table(document)
    at = set_up(table, box)
    start, end = working_end(at)
    if abs(start.v) < _FLAT:
        return NotHere(
            tr("{name} is seen on edge at eye level: its ground square is a line.", name=document.volumes[row].name)
        )
    feet = _first_square(at, end)
    conic, middle = _ring(at, feet)
    points = _new_points(at, station(at), quarter)
    corners = _new_square(at, conic, middle, points)
    raised = _heights(at, corners)
    other = "top" if end == "bottom" else "bottom"
    for k in range(4):
        table.edge(corners[k], corners[k - 1])
        table.edge(raised[k], raised[k - 1])
        table.edge(corners[k], raised[k])
    table.step(tr("Both boxes share their middle, their ring and their height."))
    ends = {f"corner {k + 1} {end}": spot.at for k, spot in enumerate(corners)}
    ends |= {f"corner {k + 1} {other}": spot.at for k, spot in enumerate(raised)}
    return replace(finished(table, "turn", tr("Turn on the spot"), box, row, ends), turned_deg=turn_deg)


def _first_square(at: SetUp, end: str) -> list[Spot]:
    table, corners = at.table, at.box.corners
    other = "top" if end == "bottom" else "bottom"
    feet, tops = [at.bottom if end == "bottom" else at.top], [at.top if end == "bottom" else at.bottom]
    for name in ("right", "back", "left"):
        for row, which in ((feet, end), (tops, other)):
            row.append(table.mark(corner_letter(name, which), corners[f"{name} {which}"]))
    for k in range(4):
        for row in (feet, tops):
            table.join(row[k], row[k - 1])
        table.join(feet[k], tops[k])
    table.step(
        tr(
            "The first box, lightly, as the plan method or the measuring points give it: its ground square carries everything over to the twin."
        ),
    )
    return feet


def _ring(at: SetUp, feet: list[Spot]) -> tuple[Floats, Spot]:
    """Draw the ring that touches the ground square at the middles of its sides; return its conic and centre."""
    table = at.table
    lead, right, back, left = feet
    middle = table.cross(table.join(lead, back), table.join(right, left), "M")
    for corner, other, point in ((lead, left, at.vp_right), (lead, right, at.vp_left)):
        table.cross(table.join(middle, point), table.join(corner, other), table.fresh("T"))
    conic = circle_picture(_ground_square(at.box))
    shape = ellipse_of(conic)
    if shape is not None:
        table.ring(conic, shape)
    table.step(
        tr(
            "The ring in the ground square, through the middles of its sides: it does not care how the square is turned."
        )
    )
    return conic, middle


def _ground_square(box: LevelBox) -> Floats:
    """Return the homography (3, 3) from the unit circle to the paper: the ring in the ground square, in plan and picture.

    The ground lies v0 below the eye at the leading edge's scale; the ring's middle and radius follow from the plan.
    """
    f, turn = box.eye.viewing_distance, box.turn
    u, v = max(box.lead, key=lambda at: abs(at[1]))
    radius = box.right / 2
    right, left = np.array([cos(turn), sin(turn)]), np.array([-sin(turn), cos(turn)])
    middle = np.array([u, f]) + radius * (right + left)
    return np.array([[f * radius, 0.0, f * middle[0]], [0.0, 0.0, f * v], [0.0, radius, middle[1]]])


def _new_points(at: SetUp, eye: Spot, quarter: float) -> tuple[Spot, Spot]:
    table = at.table
    found = []
    for angle, name in ((quarter, "VP R2"), (quarter + np.pi / 2, "VP L2")):
        found.append(table.cross(table.slanted(eye, cos(angle), sin(angle)), at.horizon, name))
    table.step(
        tr("The set square turned at the station point: the eye has not moved, so the right angle stays there, and its arms meet the "
           "horizon in the twin's vanishing points."),
    )  # fmt: skip
    return found[0], found[1]


def _new_square(at: SetUp, conic: Floats, middle: Spot, points: tuple[Spot, Spot]) -> list[Spot]:
    """Lay four tangents from the new vanishing points to the ring; they cross in the new corners."""
    table = at.table
    touching = []
    for point, across in ((points[0], points[1]), (points[1], points[0])):
        # The middles of two opposite sides lie on the line through the middle to the other vanishing point.
        line = table.join(middle, across)
        towards = (across.u - middle.u, across.v - middle.v)
        far = table.cross_ring(conic, line, towards, table.fresh("t"))
        near = table.cross_ring(conic, line, (-towards[0], -towards[1]), table.fresh("t"))
        touching.append((table.join(near, point), table.join(far, point)))
    (near_r, far_r), (near_l, far_l) = touching
    corners = [
        table.cross(one, other, f"K{k + 1}")
        for k, (one, other) in enumerate(((near_r, near_l), (near_r, far_l), (far_r, far_l), (far_r, near_l)))
    ]
    table.step(tr("A square round a ring touches it at the middles of its sides, however it is turned."))
    return corners


def _heights(at: SetUp, corners: list[Spot]) -> list[Spot]:
    """Carry the leading edge's height to each new corner along the ground, by the horizon."""
    start, end = working_end(at)
    other = at.top if end == "bottom" else at.bottom
    raised = [
        carry_height(at.table, at.horizon, start, other, corner, f"L{k + 1}") for k, corner in enumerate(corners)
    ]
    at.table.step(tr("Two level lines that meet on the horizon are as far apart everywhere as at the leading edge."))
    return raised
