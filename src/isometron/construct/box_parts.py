"""Parts that several schools share: the set-up of a level view, the leading edge, and the last edges of a box."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.construct.outcome import Construction, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import FlatBox, LevelBox, TiltedBox
from isometron.document.lengths.units import format_length, format_number
from isometron.wording import tr

__all__ = ["SetUp", "close_back", "finished", "raise_lead", "set_up", "side_points", "true_of"]


@dataclass
class SetUp:
    """Horizon, vanishing points and leading edge on the table."""

    table: Table
    box: LevelBox
    horizon: Line
    centre: Spot
    vp_right: Spot
    vp_left: Spot
    bottom: Spot
    top: Spot


def set_up(table: Table, box: LevelBox) -> SetUp:
    """Lay out the horizon with the centre of vision, and both vanishing points by their ruler distances."""
    centre = table.mark("CV", (0.0, 0.0))
    horizon = table.level(centre)
    right, left = table.mark("VP R", box.vp_right), table.mark("VP L", box.vp_left)
    table.join(left, right)
    table.step(
        tr(
            "Rule the horizon. Mark the centre of vision, {centre}, and on the horizon VP R, {right}, and VP L, {left}.",
            centre=table.ruler(centre),
            right=table.ruler(right),
            left=table.ruler(left),
        ),
        tr("The eye sees the two vanishing points at a right angle, as the box's sides stand at one."),
    )
    bottom, top = raise_lead(table, box)
    return SetUp(table, box, horizon, centre, right, left, bottom, top)


def raise_lead(table: Table, box: LevelBox) -> tuple[Spot, Spot]:
    """Draw the leading edge: its foot by ruler distances, its height laid off."""
    bottom = table.mark("lead bottom", box.lead[0])
    top = table.lay_off(table.upright(bottom), bottom, box.high, (0.0, 1.0), "lead top")
    table.edge(bottom, top)
    table.step(
        tr(
            "Mark the foot of the leading edge, {foot}, and lay off its height upwards: {true} are {drawn} here.",
            foot=table.ruler(bottom),
            true=true_of(table, box.high, box.scale),
            drawn=table.paper(box.high),
        ),
        tr(
            "The leading edge is the true line of measure: on it 1 m is {metre} of paper, a scale of 1 : {ratio}.",
            metre=table.paper(1000.0 * box.scale),
            ratio=format_number(1.0 / box.scale, 2),
        ),
    )
    return bottom, top


def true_of(table: Table, drawn: float, scale: float) -> str:
    """Return the true length, with its unit, of a length at ``scale``."""
    return format_length(round(drawn / scale, 6), table.document.unit)


def side_points(at: SetUp, side: str, foot: Spot) -> tuple[Spot, Spot]:
    """Raise the upright over a foot on the bottom edge of a side, and cross it with the top edge. Draws the side."""
    table = at.table
    point = at.vp_right if side == "right" else at.vp_left
    upper = table.cross(table.upright(foot), table.join(at.top, point), f"{side} top")
    for one, other in ((at.bottom, foot), (at.top, upper), (foot, upper)):
        table.edge(one, other)
    return foot, upper


def close_back(at: SetUp, right: tuple[Spot, Spot], left: tuple[Spot, Spot]) -> dict[str, tuple[float, float]]:
    """Cross the back edges over to the opposite vanishing points, and return every corner by name."""
    table = at.table
    # The end farther from the horizon crosses cleanly; on the horizon itself the back edges would lie in one line.
    first = 0 if abs(at.bottom.v) >= abs(at.top.v) else 1
    words = ("back bottom", "back top")
    crossed = table.cross(table.join(right[first], at.vp_left), table.join(left[first], at.vp_right), words[first])
    second = table.cross(table.upright(crossed), table.join(right[1 - first], at.vp_left), words[1 - first])
    table.join(left[1 - first], second)
    back = (crossed, second) if first == 0 else (second, crossed)
    for k in (0, 1):
        table.edge(right[k], back[k])
        table.edge(left[k], back[k])
    table.edge(*back)
    table.step(
        tr("Run the right corners to VP L and the left corners to VP R; where they cross stands the back upright."),
        tr("Parallel edges share a vanishing point, so each back edge runs to the opposite one."),
    )
    pairs = {"lead": (at.bottom, at.top), "right": right, "left": left, "back": back}
    return {f"{name} {end}": pair[k].at for name, pair in pairs.items() for k, end in enumerate(("bottom", "top"))}


def finished(
    table: Table,
    school: str,
    title: str,
    box: LevelBox | FlatBox | TiltedBox,
    row: int,
    ends: dict[str, tuple[float, float]],
    setting_up: int = 2,
) -> Construction:
    """Return the construction that the table holds."""
    volume = table.document.volumes[row].id
    return Construction(school, title, volume, box.scale, setting_up, tuple(table.steps), ends)
