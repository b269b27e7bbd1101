"""The side of a box at its leading edge, laid out on the table: what is parted, repeated or carried along it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import hypot

import numpy as np

from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import LevelBox, level_box
from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.volumes.box import box_corners
from isometron.volumes.volume import Volume
from isometron.wording import tr

_ON = 1e-9
"""mm within which a point lies on a line."""

__all__ = ["Laid", "Side", "done", "ends_of", "lay_side", "measured_uprights", "raise_upright", "side_along"]


@dataclass(frozen=True)
class Side:
    """The side at the leading edge that is parted or repeated.

    sense : 1 when the own direction runs away from the leading edge, else -1; length : along it, mm of paper at the
    leading edge's scale; true : in mm of the object.
    """

    box: LevelBox
    volume: Volume
    axis: int
    right: bool
    sense: int
    true: float

    @property
    def letter(self) -> str:
        """Letter of the vanishing point that the side runs to."""
        return "R" if self.right else "L"

    @property
    def point(self) -> tuple[float, float]:
        """That point, mm."""
        return self.box.vp_right if self.right else self.box.vp_left

    @property
    def other_letter(self) -> str:
        """Letter of the other vanishing point."""
        return "L" if self.right else "R"

    @property
    def other_point(self) -> tuple[float, float]:
        """The other vanishing point, mm."""
        return self.box.vp_left if self.right else self.box.vp_right

    @property
    def across_corner(self) -> tuple[float, float]:
        """The lower corner across the body from the leading edge."""
        return self.box.corners["left bottom" if self.right else "right bottom"]

    @property
    def length(self) -> float:
        """Length along the side, mm of paper at the leading edge's scale."""
        return self.box.right if self.right else self.box.left

    def corner(self, far: bool, end: str) -> tuple[float, float]:
        """Return a corner of the side, at the leading edge or at its far end; ``end`` is "bottom" or "top"."""
        name = ("right" if self.right else "left") if far else "lead"
        return self.box.corners[f"{name} {end}"]

    def from_lead(self, place: float) -> float:
        """Return a place of the own direction (0 to 1) as counted from the leading edge."""
        return place if self.sense > 0 else 1.0 - place

    def place_of(self, flat: Floats, *, on_far: bool) -> Floats:
        """Return the world places (K, 3) of places (K, 2) along the side and up it, mm, on the near or the far side."""
        across = 3 - self.axis - self.box.axis_up
        own = np.zeros((len(flat), 3))
        own[:, self.axis], own[:, self.box.axis_up] = flat[:, 0], flat[:, 1]
        own[:, across] = self.volume.size[across] * (self.box.bit(across) ^ int(on_far))
        corners, rotations = box_corners([self.volume])
        places: Floats = corners[0, 0] + own @ rotations[0].T
        return places


def side_along(document: Document, row: int, axis: int | None) -> Side | NotHere:
    """Return the side of a volume along an own direction, of none the one that runs right; or why it has none here."""
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    if axis is None:
        axis = box.axis_right
    if axis not in (box.axis_right, box.axis_left):
        return NotHere(tr("The row runs upward; only rows along the ground vanish in a level view."))
    right = axis == box.axis_right
    volume = document.volumes[row]
    return Side(box, volume, axis, right, box.sense_right if right else box.sense_left, volume.size[axis])


@dataclass
class Laid:
    """The side on the table: its four corners, the edges to the vanishing point, and that point."""

    table: Table
    side: Side
    near: tuple[Spot, Spot]
    far: tuple[Spot, Spot]
    point: Spot
    bottom: Line
    top: Line


def lay_side(table: Table, side: Side) -> Laid:
    """Draw the four edges of a side and rule its two level ones to their vanishing point."""
    near = (table.mark("A", side.corner(False, "bottom")), table.mark("E", side.corner(False, "top")))
    far = (table.mark("B", side.corner(True, "bottom")), table.mark("F", side.corner(True, "top")))
    point = table.mark(f"VP {side.letter}", side.point)
    table.edge(*near)
    table.edge(*far)
    table.edge(near[0], far[0])
    table.edge(near[1], far[1])
    bottom, top = table.join(near[0], point), table.join(near[1], point)
    table.step(
        tr("The side: A–E is the leading edge, and A–B and E–F run to VP {letter}. It is {true} long; any way that is exact must part "
           "that length, not the drawn one.", letter=side.letter, true=format_length(side.true, table.document.unit)),
    )  # fmt: skip
    table.laid_out()
    return Laid(table, side, near, far, point, bottom, top)


def raise_upright(laid: Laid, at: Spot, name: str) -> tuple[Spot, Spot]:
    """Draw the upright through a point: its ends on the lower and the upper edge, ``name bottom`` and ``name top``."""
    table, upright = laid.table, laid.table.upright(at)
    ends = []
    for line, stem, end in ((laid.bottom, "P", "bottom"), (laid.top, "Q", "top")):
        spot = at if line.off(at) < _ON else table.cross(upright, line, table.fresh(stem))
        ends.append(replace(spot, end=f"{name} {end}"))
    table.edge(ends[0], ends[1])
    return ends[0], ends[1]


def ends_of(uprights: Sequence[tuple[Spot, Spot]]) -> dict[str, tuple[float, float]]:
    """Return the ends of uprights by what they are ends of."""
    return {spot.end: spot.at for pair in uprights for spot in pair}


def done(table: Table, school: str, title: str, side: Side, ends: dict[str, tuple[float, float]]) -> Construction:
    """Return the construction that the table holds."""
    return Construction(school, title, side.volume.id, side.box.scale, table.setting_up, tuple(table.steps), ends)


def measured_uprights(laid: Laid, places: Sequence[float], names: Sequence[str]) -> list[tuple[Spot, Spot]]:
    """Carry places along the side, in lengths of it from the leading edge, from a measuring line to the lower edge."""
    table, side = laid.table, laid.side
    line = table.title(table.level(laid.near[0]), tr("the measuring line"))
    way = (1.0 if side.right else -1.0, 0.0)
    true = format_length(round(side.true, 6), table.document.unit)
    whole = table.lay_off(line, laid.near[0], side.length, way, "m", true)
    spot = table.mark("MP", _measuring_place(side))
    table.rule_across(table.title(table.level(spot), tr("the horizon")))
    table.join(whole, laid.far[0])
    table.join(laid.far[0], spot)
    table.step(
        tr("MP is the measuring point: parallel lines in one plane share a point of the horizon, so it carries every length of the measuring "
           "line over. m, B and MP lie in one line; if not, something was ruled badly."),
    )  # fmt: skip
    uprights = []
    for place, name in zip(places, names, strict=True):
        step = (way[0] if place >= 0.0 else -way[0], 0.0)
        mark = table.lay_off(line, laid.near[0], abs(place) * side.length, step, table.fresh("m"))
        uprights.append(raise_upright(laid, table.cross(table.join(mark, spot), laid.bottom, table.fresh("P")), name))
    table.step(tr("On the measuring line the parts are true, so a ruler may part it."))
    return uprights


def _measuring_place(side: Side) -> tuple[float, float]:
    """Return the measuring point of the side's vanishing point: on the horizon, as far from it as the eye is, towards the other."""
    u, v = side.point
    far = hypot(u, v, side.box.eye.viewing_distance)
    return (u - far if side.right else u + far), v
