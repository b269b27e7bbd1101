"""What a construction gives: steps with their marks and sentences, and its last points; or why it cannot be done here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from isometron.errors import IsometronError
from isometron.geometry.frames import Floats

__all__ = ["Construction", "ConstructionError", "Corner", "NotHere", "Options", "Spot", "Step"]


class ConstructionError(IsometronError, ValueError):
    """A step that no ruler can take: lines that do not meet, or meet off any reasonable paper; says why."""


@dataclass(frozen=True)
class Spot:
    """A named paper point, mm from the centre of vision; ``end`` is what it is an end of, such as ``bay 2 start bottom``."""

    name: str
    u: float
    v: float
    end: str = ""

    @property
    def at(self) -> tuple[float, float]:
        """The place (u, v)."""
        return self.u, self.v


@dataclass(frozen=True)
class Step:
    """One step: what to do, why, and what it leaves on the paper.

    lines : (N, 4) construction lines; arcs : (N, 7) centre u, v, semi-axes, angle, first and last parameter in
    radians; edges : (N, 4) lines of the object; points : the points that are new; used : earlier ones that it begins from.
    """

    sentence: str
    why: str
    lines: Floats
    arcs: Floats
    edges: Floats
    points: tuple[Spot, ...]
    used: tuple[Spot, ...] = ()


@dataclass(frozen=True)
class Construction:
    """A construction that was carried out.

    scale : mm of paper for one mm of the object on the true line of measure; setting_up : the first so many steps
    only lay out points, horizon and leading edge; ends : the last points by name, such as ``right bottom``; turned_deg : how far
    the twin is turned, of a construction that turns one; about : the number of the corner that it turns about, None for its middle.
    """

    school: str
    title: str
    volume: str
    scale: float
    setting_up: int
    steps: tuple[Step, ...]
    ends: dict[str, tuple[float, float]]
    turned_deg: float | None = None
    about: int | None = None


Corner = Literal["lead", "right", "left", "back"]
"""An upright of a box by where it stands: the leading one, at the end of the right-going and of the left-going edge, and the last."""


@dataclass(frozen=True)
class Options:
    """What some schools can be asked for: how far the twin is turned, degrees, and about which corner (None: its middle); the place on the ground, a paper point
    in mm, that a height is carried to (None: two places beside the volume); the ring, by its number among the volume's from 0 (None: the
    one that shows most openly). A turn of None is the first usual one that comes out on paper."""

    turn_deg: float | None = None
    corner: Corner | None = None
    place: tuple[float, float] | None = None
    ring: int | None = None


@dataclass(frozen=True)
class NotHere:
    """Why a school cannot draw this volume from this eye, and which school can (None: no school does)."""

    reason: str
    instead: str | None = None
