"""Measuring points: true lengths laid off on the measuring line and carried into depth. Kemp, The Science of Art (1990)."""

from __future__ import annotations

from isometron.construct.box_parts import SetUp, close_back, corner_letter, finished, set_up, true_of
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import level_box
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["by_measuring_points", "measure_along", "measuring_spot", "station", "working_end"]


def by_measuring_points(document: Document, row: int) -> Construction | NotHere:
    """Construct a box by its two measuring points."""
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    at = set_up(table, box)
    eye = station(at)
    spots = [measuring_spot(at, eye, side) for side in ("right", "left")]
    table.step(
        tr("MP is a measuring point: as far from its vanishing point as the eye is, so it cuts off equal lengths."),
    )
    line = measuring_line(at)
    sides = [measure_along(at, line, side, spot) for side, spot in zip(("right", "left"), spots, strict=True)]
    ends = close_back(at, sides[0], sides[1])
    return finished(table, "measuring", tr("Measuring points"), box, row, ends)


def station(at: SetUp) -> Spot:
    """Mark the station point: the eye folded down below the centre of vision."""
    table = at.table
    eye = table.lay_off(
        table.perpendicular(at.horizon, at.centre), at.centre, at.box.eye.viewing_distance, (0.0, -1.0), "SP"
    )
    table.join(at.vp_right, eye)
    table.join(at.vp_left, eye)
    table.step(
        tr("SP is the station point: the eye folded down, the viewing distance below the centre of vision. Seen from above, the eye "
           "stands that far in front of the paper."),
    )  # fmt: skip
    return eye


def measuring_spot(at: SetUp, eye: Spot, side: str) -> Spot:
    """Swing the station point about a vanishing point onto the horizon."""
    point, other = (at.vp_right, at.vp_left) if side == "right" else (at.vp_left, at.vp_right)
    return at.table.swing(point, eye, at.horizon, other, "MP R" if side == "right" else "MP L")


def working_end(at: SetUp) -> tuple[Spot, str]:
    """Return the end of the leading edge that lies farther from the horizon, where lines cross most cleanly."""
    low = abs(at.bottom.v) >= abs(at.top.v)
    return (at.bottom, "bottom") if low else (at.top, "top")


def measuring_line(at: SetUp) -> Line:
    """Return the measuring line, level through one end of the leading edge."""
    return at.table.title(at.table.level(working_end(at)[0]), tr("the measuring line"))


def measure_along(at: SetUp, line: Line, side: str, spot: Spot) -> tuple[Spot, Spot]:
    """Lay a true length off on the measuring line, carry it to the edge with the measuring point, raise the upright."""
    table, (start, end) = at.table, working_end(at)
    right = side == "right"
    length = at.box.right if right else at.box.left
    point, letter = (at.vp_right, "R") if right else (at.vp_left, "L")
    true = true_of(table, length, at.box.scale)
    laid = table.lay_off(line, start, length, (1.0 if right else -1.0, 0.0), f"m {letter}", true)
    edge = table.join(start, point)
    reached = table.cross(table.join(laid, spot), edge, corner_letter(side, end))
    other_start, other_end = (at.top, "top") if end == "bottom" else (at.bottom, "bottom")
    other = table.cross(table.upright(reached), table.join(other_start, point), corner_letter(side, other_end))
    for one, two in ((start, reached), (other_start, other), (reached, other)):
        table.edge(one, two)
    table.step(
        tr("In plan, m {letter} and the corner are equally far from the leading edge: the ruler draws that chord.",
           letter=letter),
    )  # fmt: skip
    return (reached, other) if end == "bottom" else (other, reached)
