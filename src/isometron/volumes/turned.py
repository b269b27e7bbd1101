"""The turned body: rings along an axle, straight, rounded or smooth between them. Cylinder, cone, ball and wheel are such."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import radians
from typing import Annotated, Literal

import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Bools, Floats
from isometron.geometry.frusta import Frusta
from isometron.geometry.tolerances import CLOSE
from isometron.geometry.turning import SAMPLES
from isometron.volumes.box import BOX_BITS, BOX_EDGE_AXES, BOX_EDGES, box_corners, box_solids
from isometron.volumes.profile import (
    PROFILES,
    Part,
    Profile,
    ProfileRing,
    Side,
    corner_rings,
    cut,
    knots,
    profile_sides,
    sampled,
    soft_bends,
)
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import CORNERS, Solids
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["PROFILES", "ProfileRing", "Turned", "turned_frame", "turned_rounds", "turned_solids"]


class Turned(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="turned", gc=False):
    """A body of rings round an axle through the middle of its bounding volume.

    Args:
        axle: the own direction it is turned about.
        profile: its rings, in order along the axle.
        face_rings: diameters of concentric rings on both ends, as parts of the size (rim, disc, hub).
        sections, sections_about: of a ball: so many sections square to an own direction.
        squared: whether the squares that stand round the rings on its ends are drawn, as construction.
        steer_deg, lean_deg: a wheel turned about the upright through its middle, and its top leant towards the axle's end.
        spokes: lines between the widest and the narrowest of the face rings, evenly round the axle.
    """

    axle: Literal["long", "wide", "high"] = "high"
    profile: Annotated[Profile, Meta(min_length=2, max_length=60)] = PROFILES["cylinder"]
    face_rings: Annotated[tuple[Part, ...], Meta(max_length=12)] = ()
    spokes: Annotated[int, Meta(ge=0, le=60)] = 0
    sections: Annotated[int, Meta(ge=0, le=24)] = 0
    sections_about: Literal["long", "wide", "high"] = "high"
    squared: bool = False
    steer_deg: Annotated[float, Meta(ge=-180.0, le=180.0, description="about the upright through its middle")] = 0.0
    lean_deg: Annotated[float, Meta(ge=-180.0, le=180.0, description="over, about its way of travel")] = 0.0


def turned_frame(volume: Turned) -> tuple[Floats, Floats]:
    """Return the corner (3,) and rotation (3, 3) in which the body stands: steered about the upright through its middle,
    and leant about the level direction square to its axle."""
    corners, rotations = box_corners([volume])
    corner, rotation = corners[0, 0], rotations[0]
    if volume.steer_deg == 0.0 and volume.lean_deg == 0.0:
        return corner, rotation
    axle = rotation[:, DIRECTIONS.index(volume.axle)]
    travel = np.array([-axle[1], axle[0], 0.0])
    size = float(np.sqrt(travel @ travel))
    lean = _about(travel / size, radians(volume.lean_deg)) if size > CLOSE else np.eye(3)
    stood = _about(np.array([0.0, 0.0, 1.0]), radians(volume.steer_deg)) @ lean @ rotation
    half = np.array(volume.size) / 2
    return corner + rotation @ half - stood @ half, stood


def _about(axis: Floats, angle: float) -> Floats:
    """Return the rotation by an angle about a unit axis (Rodrigues' formula)."""
    x, y, z = axis
    cross = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    turned: Floats = np.eye(3) + np.sin(angle) * cross + (1.0 - np.cos(angle)) * (cross @ cross)
    return turned


def turned_solids(volumes: Sequence[Volume]) -> Solids:
    """Return the bounding boxes of turned bodies: for picking and contact. Their only edges are the squares round the
    rings on their ends, where these are wanted."""
    first = volumes[0]
    squared = isinstance(first, Turned) and first.squared
    ends = (DIRECTIONS.index(first.axle) if isinstance(first, Turned) else 0) != BOX_EDGE_AXES
    kept = np.flatnonzero(ends & squared)
    solids, soft = box_solids(volumes), np.ones(len(kept), dtype=bool)
    if not squared:
        return replace(solids, edges=BOX_EDGES[kept], edge_axes=BOX_EDGE_AXES[kept], soft=soft)
    stood = np.stack([_stood_corners(volume) for volume in volumes if isinstance(volume, Turned)])
    straight = isinstance(first, Turned) and first.steer_deg == 0.0 and first.lean_deg == 0.0
    return replace(
        solids,
        vertices=np.concatenate([solids.vertices, stood], axis=1),
        edges=BOX_EDGES[kept] + CORNERS,
        edge_axes=BOX_EDGE_AXES[kept] if straight else np.full(len(kept), -1),
        soft=soft,
    )


def _stood_corners(volume: Turned) -> Floats:
    corner, rotation = turned_frame(volume)
    corners: Floats = corner + (BOX_BITS * np.array(volume.size)) @ rotation.T
    return corners


def turned_rounds(volume: Turned, row: int) -> RoundParts:
    """Return the round parts of one turned body at position ``row``."""
    corner, rotation = turned_frame(volume)
    return _parts_of(volume, corner, rotation, row)


def _parts_of(volume: Turned, corner: Floats, rotation: Floats, row: int) -> RoundParts:
    k = DIRECTIONS.index(volume.axle)
    half = np.array(volume.size) / 2
    axle = rotation[:, k] * volume.size[k]
    # Right-handed about the axle, so that angles run the same way on every body.
    first, second = (rotation[:, (k + step) % 3] * half[(k + step) % 3] for step in (1, 2))
    middle = corner + rotation @ (half * (np.arange(3) != k))
    sides = profile_sides(volume.profile)
    frusta, rounded = _solids(sides, row, middle, axle, first, second)
    bent = [side for side in sides if side.kind != "straight" and not side.dome]
    frame = np.concatenate([middle, axle, first, second])
    ends = (sides[0].one, sides[-1].two)
    corners = corner_rings(volume.profile, volume.size[k], float(half[(k + 1) % 3]))
    drawn = {place: not corner for place, corner in corners.items() if place[1] > CLOSE}
    drawn |= {(end.at, part): False for end in ends for part in volume.face_rings if CLOSE < part < end.wide}
    creases = np.array([[*frame, *bend] for bend in soft_bends(volume.profile, corners)]).reshape(-1, 16)
    rings = [np.concatenate([middle + place * axle, part * first, part * second]) for place, part in drawn]
    soft = list(drawn.values())
    sections = _sections(volume, corner, rotation)
    spokes = _spokes(volume, middle, axle, first, second, (ends[0].at, ends[1].at))
    return RoundParts.joined(
        [
            RoundParts(
                frusta=frusta,
                rounded=rounded,
                spun=np.ones(len(frusta), dtype=np.intp),
                bend_spun=np.ones(len(bent), dtype=np.intp),
                spindle_spun=np.ones(len(sides), dtype=np.intp),
                spindles=np.tile(frame, (len(sides), 1)),
                spindle_curve=np.array([knots(side) for side in sides]),
                spindle_owner=np.full(len(sides), row),
                bends=np.tile(frame, (len(bent), 1)),
                bend_curve=np.array([sampled(side) for side in bent]).reshape(-1, SAMPLES, 4),
                bend_owner=np.full(len(bent), row),
                creases=creases,
                crease_owner=np.full(len(creases), row),
                crease_spun=np.ones(len(creases), dtype=np.intp),
            ),
            RoundParts.drawn(row, [*rings, *sections], [*soft, *[True] * len(sections)]),
            RoundParts.stroked(row, spokes),
        ]
    )


def _solids(
    sides: Sequence[Side], row: int, middle: Floats, axle: Floats, first: Floats, second: Floats
) -> tuple[Frusta, Bools]:
    """Return the solids that the sides are made of, and which of them a rounded side was cut into."""
    pieces = np.concatenate([cut(side) for side in sides])
    rounded = np.concatenate([np.full(side.pieces, side.kind != "straight" and not side.dome) for side in sides])
    low_at, low, high_at, high, bulge = pieces.T
    # A stretch of the axle without any width is no body.
    rows = np.flatnonzero((high_at - low_at > CLOSE) & (np.maximum(low, high) > CLOSE))
    frusta = Frusta(
        np.full(len(rows), row),
        middle + low_at[rows, None] * axle,
        (high_at - low_at)[rows, None] * axle,
        np.tile(first, (len(rows), 1)),
        np.tile(second, (len(rows), 1)),
        low[rows],
        high[rows],
        bulge[rows],
    )
    return frusta, rounded[rows]


def _sections(volume: Turned, corner: Floats, rotation: Floats) -> list[Floats]:
    """Return the sections (9,) of a ball square to a chosen own direction, evenly spaced; other bodies have none.

    An ellipsoid's section at the part a of its size has sqrt(1 - (2 a - 1)^2) of its half axes.
    """
    if volume.profile != PROFILES["ball"] or not volume.sections:
        return []
    k = DIRECTIONS.index(volume.sections_about)
    half = np.array(volume.size) / 2
    middle = corner + rotation @ half
    found = []
    for place in (np.arange(volume.sections) + 1.0) / (volume.sections + 1.0):
        off = 2.0 * place - 1.0
        part = np.sqrt(1.0 - off * off)
        centre = middle + off * half[k] * rotation[:, k]
        halves = [part * half[(k + step) % 3] * rotation[:, (k + step) % 3] for step in (1, 2)]
        found.append(np.concatenate([centre, *halves]))
    return found


def _spokes(
    volume: Turned, middle: Floats, axle: Floats, first: Floats, second: Floats, ends: tuple[float, float]
) -> list[Floats]:
    if volume.spokes == 0 or len(volume.face_rings) < 2:
        return []
    outer, inner = max(volume.face_rings), min(volume.face_rings)
    found = []
    for angle in np.arange(volume.spokes) * (2 * np.pi / volume.spokes):
        out = np.cos(angle) * first + np.sin(angle) * second
        found += [np.stack([middle + at * axle + inner * out, middle + at * axle + outer * out]) for at in ends]
    return found
