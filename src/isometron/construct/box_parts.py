"""Parts that several schools share: the set-up of a level view, the leading edge, and the last edges of a box."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.construct.outcome import Construction, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import FlatBox, LevelBox, TiltedBox
from isometron.document.lengths.units import format_length, format_number
from isometron.wording import tr

__all__ = ["SetUp", "close_back", "corner_letter", "finished", "raise_lead", "set_up", "side_points", "true_of"]


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


_LETTERS = {"lead": "AE", "right": "BF", "left": "CG", "back": "DH"}


def corner_letter(upright: str, end: str) -> str:
    """Return the letter of a corner: A to D below, E to H over them; A and E are the ends of the leading edge."""
    return _LETTERS[upright][end == "top"]


def set_up(table: Table, box: LevelBox) -> SetUp:
    """Lay out the horizon with the centre of vision, and both vanishing points by their ruler distances."""
    centre = table.mark("CV", (0.0, 0.0))
    horizon = table.title(table.level(centre), tr("the horizon"))
    right, left = table.mark("VP R", box.vp_right), table.mark("VP L", box.vp_left)
    for spot in (left, right):
        horizon.reached.append(horizon.along(spot))
    table.step(
        tr("CV is the centre of vision, straight before the eye; VP is a vanishing point. The eye sees the two at a right angle, "
           "as the box's sides stand at one."),
    )  # fmt: skip
    bottom, top = raise_lead(table, box)
    table.laid_out()
    return SetUp(table, box, horizon, centre, right, left, bottom, top)


def raise_lead(table: Table, box: LevelBox) -> tuple[Spot, Spot]:
    """Draw the leading edge: its foot by ruler distances, its height laid off."""
    bottom = table.mark("A", box.lead[0])
    true = true_of(table, box.high, box.scale)
    top = table.lay_off(table.upright(bottom), bottom, box.high, (0.0, 1.0), "E", true)
    table.edge(bottom, top)
    table.step(
        tr(
            "A–E is the leading edge, the true line of measure: on it 1 m is {metre} of paper, a scale of 1 : {ratio}.",
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
    upper = table.cross(table.upright(foot), table.join(at.top, point), corner_letter(side, "top"))
    for one, other in ((at.bottom, foot), (at.top, upper), (foot, upper)):
        table.edge(one, other)
    return foot, upper


def close_back(at: SetUp, right: tuple[Spot, Spot], left: tuple[Spot, Spot]) -> dict[str, tuple[float, float]]:
    """Cross the back edges over to the opposite vanishing points, and return every corner by name."""
    table = at.table
    # The end farther from the horizon crosses cleanly; on the horizon itself the back edges would lie in one line.
    first = 0 if abs(at.bottom.v) >= abs(at.top.v) else 1
    letters = _LETTERS["back"]
    crossed = table.cross(table.join(right[first], at.vp_left), table.join(left[first], at.vp_right), letters[first])
    over = table.join(right[1 - first], at.vp_left)
    second = table.cross(table.upright(crossed), over, letters[1 - first])
    back = (crossed, second) if first == 0 else (second, crossed)
    for k in (0, 1):
        table.edge(right[k], back[k])
        table.edge(left[k], back[k])
    table.edge(*back)
    table.step(tr("Parallel edges share a vanishing point, so each back edge runs to the opposite one."))
    pairs = {"lead": (at.bottom, at.top), "right": right, "left": left, "back": back}
    return {f"{name} {end}": pair[k].at for name, pair in pairs.items() for k, end in enumerate(("bottom", "top"))}


def finished(
    table: Table,
    school: str,
    title: str,
    box: LevelBox | FlatBox | TiltedBox,
    row: int,
    ends: dict[str, tuple[float, float]],
) -> Construction:
    """Return the construction that the table holds."""
    volume = table.document.volumes[row].id
    return Construction(school, title, volume, box.scale, table.setting_up, tuple(table.steps), ends)
