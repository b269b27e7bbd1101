"""Height transfer: a height known on one upright, carried along the ground by the horizon to any other place."""

from __future__ import annotations

from isometron.construct.box_parts import finished, raise_lead
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import FARTHEST, Line, Table
from isometron.construct.subject import LevelBox, level_box
from isometron.document.lengths.units import format_number
from isometron.document.model import Document
from isometron.geometry.tolerances import CLOSE
from isometron.wording import tr

__all__ = ["by_height_transfer", "carry_height"]


def carry_height(table: Table, horizon: Line, bottom: Spot, top: Spot, foot: Spot, name: str) -> Spot:
    """Return the end of the upright over ``foot`` that is as high as the one from ``bottom`` to ``top``.

    Where the feet are joined level, or nearly so, the line meets the horizon nowhere within reach: then the tops are
    joined in the same direction by way of their equal part of the eye's height.
    """
    over = table.upright(foot)
    fall, run = foot.v - bottom.v, foot.u - bottom.u
    if abs(fall) * FARTHEST > abs(bottom.v * run) and abs(run) > CLOSE:
        meeting = table.cross(table.join(bottom, foot), horizon, table.fresh("h"))
        return table.cross(table.join(meeting, top), over, name)
    # Equal heights stand at an equal part of the eye's height: (v_HL - top) / (v_HL - ground) is the same everywhere.
    share = (top.v - bottom.v) / -bottom.v
    return table.lay_off(over, foot, abs(share * foot.v), (0.0, top.v - bottom.v), name)


def by_height_transfer(
    document: Document, row: int, place: tuple[float, float] | None = None
) -> Construction | NotHere:
    """Carry the leading edge's height to a place on the ground the box stands on, given as a paper point.

    Without a place it is carried to the middle of each free quarter: to the left and right of the box, nearer and
    farther. ends : ``height 1`` and so on, bottom and top.
    """
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    name = document.volumes[row].name
    if abs(box.lead[0][1]) < 0.5:
        return NotHere(tr("The foot of {name} lies on the horizon: the ground is seen as a line.", name=name), "plan")
    table = Table(document)
    centre = table.mark("CV", (0.0, 0.0))
    horizon = table.title(table.rule_across(table.level(centre)), tr("the horizon"))
    table.step(tr("It lies as high as the eye, at every distance."))
    bottom, top = raise_lead(table, box)
    table.laid_out()
    ends = {}
    for k, at in enumerate([place] if place is not None else _places(box)):
        foot = table.mark(f"P{k + 1}", at)
        if foot.v * bottom.v <= 0.0:
            return NotHere(tr("The place lies on the other side of the horizon, where there is no ground."))
        end = carry_height(table, horizon, bottom, top, foot, f"Q{k + 1}")
        table.edge(foot, end)
        ends[f"height {k + 1} bottom"], ends[f"height {k + 1} top"] = foot.at, end.at
        table.step(
            tr("P{number}–Q{number} is as high as the leading edge: {share} of the eye's height, there as here.",
               number=k + 1, share=_share(box)),
        )  # fmt: skip
    return finished(table, "height", tr("Height transfer"), box, row, ends)


def _share(box: LevelBox) -> str:
    return format_number((box.lead[1][1] - box.lead[0][1]) / -box.lead[0][1], 3)


def _places(box: LevelBox) -> list[tuple[float, float]]:
    """Places beside the box: its own size to the right and nearer, to the left and farther."""
    u, v = box.lead[0]
    wide = max(abs(at[0] - u) for at in box.corners.values())
    return [(u + 1.6 * wide, 1.1 * v), (u - 1.6 * wide, 0.6 * v)]
