"""What every volume has, whatever its kind."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.view.eye import Angle, Point
from isometron.volumes.marks.face_marks import FaceMark
from isometron.volumes.relations import Direction, Join, Keep, Mirror, Repeat, SizeExpression
from isometron.volumes.rounded import RoundedEdge

__all__ = ["AHEADS", "DIRECTIONS", "Ahead", "Identifier", "Length", "Name", "Volume"]

Length = Annotated[float, Meta(ge=0.01, le=1e7, description="mm, from 0.01 mm to 10 km")]
Name = Annotated[str, Meta(min_length=1, max_length=120)]
Identifier = Annotated[str, Meta(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")]

DIRECTIONS: tuple[Direction, ...] = ("long", "wide", "high")
"""The field's names of a volume's own three directions, in the order of ``size``."""


Ahead = Literal["x0", "x1", "y0", "y1"]
Warned = Annotated[str, Meta(min_length=1, max_length=40, pattern=r"^[a-z][a-z-]*$", description="code of a warning")]
AHEADS: tuple[Ahead, ...] = ("x0", "x1", "y0", "y1")
"""The four sides that can be a thing's own front: the start or the end of its long or its wide direction."""


class Volume(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="kind",
    omit_defaults=True,
    gc=False,
):
    """A bounding volume: a corner, its own three directions turned by yaw, pitch, roll, and a size along each.

    Args:
        id: unique in the document.
        corner: the corner where the three own directions start, mm.
        yaw_deg, pitch_deg, roll_deg: R = Rz(yaw) Rx(pitch) Ry(roll); the columns are the own directions.
        see_through: drawn as construction and hides nothing.
        put_away: neither drawn nor in anything's way until it is taken out again.
        locked: the pencil passes through it; only the ledger changes it.
        hangs: meant to float: no warning of it.
        marks: rings, arches and divisions on its faces; they move and grow with it.
        copies, mirror: further ones of it that are drawn and hide like it, and have no numbers of their own.
        joined: what it goes along with; says: what drives its sizes; keep: a locked ratio of them.
        group: name of the group it is selected with; empty for none.
        ahead: the side that is its own front.
        wall: thickness of its wall where it is hollow, mm; 0 for a solid body.
        rounded: its rounded edges.
        quiet: kinds of warnings, by their codes, that are not told of it.
    """

    id: Identifier
    name: Name
    corner: Point
    size: tuple[Length, Length, Length]
    yaw_deg: Angle = 0.0
    pitch_deg: Angle = 0.0
    roll_deg: Angle = 0.0
    see_through: bool = False
    put_away: bool = False
    locked: bool = False
    hangs: bool = False
    marks: Annotated[tuple[FaceMark, ...], Meta(max_length=200)] = ()
    copies: Annotated[tuple[Repeat, ...], Meta(max_length=3)] = ()
    mirror: Mirror | None = None
    joined: Join | None = None
    says: Annotated[tuple[SizeExpression, ...], Meta(max_length=4)] = ()
    keep: Keep | None = None
    group: Annotated[str, Meta(max_length=120)] = ""
    ahead: Ahead = "x0"
    wall: Annotated[float, Meta(ge=0.0, le=1e7, description="mm")] = 0.0
    rounded: Annotated[tuple[RoundedEdge, ...], Meta(max_length=200)] = ()
    quiet: Annotated[tuple[Warned, ...], Meta(max_length=20)] = ()

    @property
    def upright(self) -> bool:
        """Whether its third direction is the world's up."""
        return self.pitch_deg == 0.0 and self.roll_deg == 0.0
