"""Planes that are kept by name: the middle of a thing, parallel to its sides at a distance, through three places."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Floats, square_to
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Point
from isometron.volumes.box import box_corners
from isometron.volumes.lines.paths import Path, path_through
from isometron.volumes.lines.surfaces import FlatSurface
from isometron.volumes.marks.face_marks import CurvePoint
from isometron.volumes.marks.holds import Held, Measured, held_at
from isometron.volumes.relations import Direction
from isometron.volumes.volume import DIRECTIONS, Identifier, Name, Volume

__all__ = [
    "GROUND",
    "MOST_PLANES",
    "KeptPlane",
    "PlaneLine",
    "leaning_about",
    "line_on_plane",
    "offsets_of",
    "plane_at",
    "plane_surface",
]

GROUND = "ground"
"""The id of the plane that lines on the ground are kept with."""

MOST_PLANES = 60
MOST_SECTIONS = 200
Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]


class PlaneLine(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A line drawn on a plane: straight runs, arcs, smooth curves.

    Args:
        points: few of them, each held in mm along the plane's two directions; closed: joined to its start.
        soft: drawn as construction, not as an object's own line.
    """

    points: Annotated[tuple[CurvePoint, ...], Meta(min_length=2, max_length=400)]
    closed: bool = False
    soft: bool = False


class KeptPlane(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A plane, and the lines along which it cuts what stands there.

    Args:
        of: id of the volume that it goes with; empty for the world.
        across: the direction, of that volume or of the world, that it lies square to; at : where along it, held as a mark's place
            is, in the world in mm from the origin.
        leans_deg: how far it leans from there, about the line through the volume's middle, or the world's origin, along ``leans_about``,
            right-handed; of that and of ``across`` no two are one.
        through: three places in the volume's own directions, mm, or in the world, in place of that.
        off: how far from there it lies, square to itself, mm.
        shown: whether it is drawn as a pale pane.
        cuts: whether its lines are drawn; every : mm from one parallel plane to the next, 0 for this one alone; band : mm to a second
            line beside each, 0 for none.
        only: ids of the volumes that it cuts; none for all that are not put away.
        soft: drawn as construction, not as the object's own lines.
        lines: what is drawn on it.
    """

    id: Identifier
    name: Name
    of: Annotated[str, Meta(max_length=80)] = ""
    across: Direction = "wide"
    at: Held = 0.5
    leans_deg: Annotated[float, Meta(gt=-90.0, lt=90.0, description="degrees")] = 0.0
    leans_about: Direction = "long"
    through: tuple[Point, Point, Point] | None = None
    off: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")] = 0.0
    shown: bool = False
    cuts: bool = True
    every: Size = 0.0
    band: Size = 0.0
    only: Annotated[tuple[str, ...], Meta(max_length=2000)] = ()
    soft: bool = False
    lines: Annotated[tuple[PlaneLine, ...], Meta(max_length=200)] = ()


def plane_at(plane: KeptPlane, named: Mapping[str, Volume]) -> tuple[Floats, Floats] | None:
    """Return a place (3,) on a plane, and the way square to it (3,) of length one; None while what it goes with is not there, or
    its three places lie on a line."""
    corner, rotation, size = np.zeros(3), np.eye(3), (0.0, 0.0, 0.0)
    if plane.of:
        volume = named.get(plane.of)
        if volume is None:
            return None
        corners, rotations = box_corners([volume])
        corner, rotation, size = corners[0, 0], rotations[0], volume.size
    if plane.through is not None:
        a, b, c = (corner + rotation @ np.array(place) for place in plane.through)
        normal = square_to(b - a, c - a)
        long = float(np.sqrt(normal @ normal))
        return None if long <= CLOSE else (a + plane.off * normal / long, normal / long)
    axis = DIRECTIONS.index(plane.across)
    far = held_at(plane.at, size[axis]) if plane.of or isinstance(plane.at, Measured) else 0.0
    if plane.leans_deg == 0.0:
        return corner + (far + plane.off) * rotation[:, axis], rotation[:, axis]
    normal, (pivot, _) = rotation @ _leaning(plane)[:, 2], leaning_about(plane)
    middle = corner + far * rotation[:, axis] + size[3 - axis - pivot] / 2.0 * rotation[:, 3 - axis - pivot]
    # Told where it is met along its direction from the volume's corner, as one that does not lean is.
    met = (
        corner
        + float((middle + plane.off * normal - corner) @ normal)
        / float(normal @ rotation[:, axis])
        * rotation[:, axis]
    )
    return met, normal


def leaning_about(plane: KeptPlane) -> tuple[int, Direction]:
    """Return the direction that a plane leans about: the one that is said, or another one where the plane lies square to that."""
    others: list[Direction] = [way for way in DIRECTIONS if way != plane.across]
    found = plane.leans_about if plane.leans_about in others else others[0]
    return DIRECTIONS.index(found), found


def _leaning(plane: KeptPlane) -> Floats:
    """Return the two directions along a leaning plane and its normal, the columns (3, 3), in the directions of its volume."""
    axis, (pivot, _) = DIRECTIONS.index(plane.across), leaning_about(plane)
    turn, about = np.radians(plane.leans_deg), np.eye(3)[pivot]

    def turned(way: Floats) -> Floats:  # Rodrigues' formula, of a way square to what it is turned about
        found: Floats = np.cos(turn) * way + np.sin(turn) * np.cross(about, way)
        return found

    first, second = (about if k == pivot else turned(np.eye(3)[k]) for k in range(3) if k != axis)
    return np.column_stack([first, second, turned(np.eye(3)[axis])])


def plane_surface(plane: KeptPlane, named: Mapping[str, Volume]) -> FlatSurface | None:
    """Return a plane as what lines are drawn on: from where its volume, or the world, begins, or from its first place.

    Its directions are the two of its volume that lie along it, in their order; of a plane through three places that from the first to the
    second, and square to it.
    """
    found = plane_at(plane, named)
    if found is None:
        return None
    place, normal = found
    rotation = box_corners([named[plane.of]])[1][0] if plane.of else np.eye(3)
    if plane.through is None:
        x, y, _ = (rotation @ _leaning(plane)).T
        return FlatSurface(place, x, y)
    x = rotation @ (np.array(plane.through[1]) - np.array(plane.through[0]))
    x = x / np.sqrt(x @ x)
    return FlatSurface(place, x, square_to(normal, x))


def line_on_plane(line: PlaneLine) -> Path:
    """Return the path of a line, mm along its plane's two directions."""
    places = np.array([[held_at(own, 0.0) for own in point.at] for point in line.points])
    return path_through(line.points, places, closed=line.closed)


def offsets_of(plane: KeptPlane, low: float, high: float) -> list[float]:
    """Return how far the planes of a family lie from the first, mm, that may cut what reaches from ``low`` to ``high``."""
    if plane.every <= 0.0:
        found = [0.0]
    else:
        first, last = int(np.ceil(low / plane.every)), int(np.floor(high / plane.every))
        found = [plane.every * k for k in range(first, min(last, first + MOST_SECTIONS - 1) + 1)]
    return found if plane.band <= 0.0 else [off + side for off in found for side in (0.0, plane.band)]
