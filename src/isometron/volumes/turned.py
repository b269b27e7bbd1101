"""The turned body: rings along an axle, straight, rounded or smooth between them. Cylinder, cone, ball and wheel are such."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from math import radians
from typing import Annotated, Literal

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.volumes.box import BOX_BITS, BOX_EDGE_AXES, BOX_EDGES, box_corners, box_solids
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import CORNERS, Solids
from isometron.volumes.volume import AXIS_LETTERS, Volume

__all__ = ["PROFILES", "ProfileRing", "Turned", "profile_pieces", "turned_frame", "turned_rounds", "turned_solids"]

_ROUND_PIECES = 10
_SMOOTH_PIECES = 8
_CORNER = np.radians(16.0)
"""A side that turns by less than this runs on smoothly: a quarter round of ten pieces turns by 9 degrees at each."""
Part = Annotated[float, Meta(ge=0.0, le=1.0, description="part of the size, 0 to 1")]


class ProfileRing(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One ring of a profile: how far along the axle, how wide, and how the side runs on to the next one."""

    at: Part
    wide: Part
    then: Literal["straight", "round", "smooth"] = "straight"


Profile = tuple[ProfileRing, ...]


def _profile(*rings: tuple[float, float] | tuple[float, float, str]) -> Profile:
    return tuple(
        ProfileRing(at=r[0], wide=r[1], then=r[2] if len(r) > 2 else "straight")  # type: ignore[arg-type]
        for r in rings
    )


PROFILES: dict[str, Profile] = {
    "cylinder": _profile((0.0, 1.0), (1.0, 1.0)),
    "cone": _profile((0.0, 1.0), (1.0, 0.0)),
    "frustum": _profile((0.0, 1.0), (1.0, 0.6)),
    "ball": _profile((0.0, 0.0, "round"), (0.5, 1.0, "round"), (1.0, 0.0)),
    "wheel": _profile((0.0, 0.9, "round"), (0.22, 1.0), (0.78, 1.0, "round"), (1.0, 0.9)),
    "bottle": _profile((0.0, 0.8, "round"), (0.05, 1.0), (0.55, 1.0, "smooth"), (0.8, 0.36), (1.0, 0.36)),
}
"""Profiles to begin with, by name."""


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
    axle = rotation[:, AXIS_LETTERS.index(volume.axle)]
    travel = np.array([-axle[1], axle[0], 0.0])
    size = float(np.sqrt(travel @ travel))
    lean = _about(travel / size, radians(volume.lean_deg)) if size > 1e-9 else np.eye(3)
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
    ends = (AXIS_LETTERS.index(first.axle) if isinstance(first, Turned) else 0) != BOX_EDGE_AXES
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


def profile_pieces(profile: Profile) -> tuple[Floats, Floats, Bools]:
    """Return the profile with every rounded and smooth stretch cut into straight pieces.

    Returns places and widths (M,) along the axle, 0 to 1, and whether each is a ring of the profile itself (M,). Rounded is a
    quarter of an ellipse that bulges outward; smooth is a cubic with the neighbours' slopes (Catmull and Rom 1974).
    """
    ordered = sorted(profile, key=lambda ring: ring.at)
    places, widths, rings = [ordered[0].at], [ordered[0].wide], [True]
    for k, (one, two) in enumerate(pairwise(ordered)):
        if one.then == "straight":
            inner = np.zeros((0, 2))
        elif one.then == "round":
            inner = _quarter(one, two)
        else:
            inner = _cubic(ordered, k)
        places += [*inner[:, 0], two.at]
        widths += [*np.clip(inner[:, 1], 0.0, 1.0), two.wide]
        rings += [False] * len(inner) + [True]
    return np.array(places), np.array(widths), np.array(rings)


def _corners(at: Floats, wide: Floats, tall: float, broad: float) -> Bools:
    """Tell for each place of a cut profile whether the side has a corner there: it turns by more than `_CORNER`."""
    run, rise = np.diff(wide) * broad, np.diff(at) * tall
    slope = np.arctan2(run, rise)
    corner = np.ones(len(at), dtype=bool)
    corner[1:-1] = np.abs(np.diff(slope)) > _CORNER
    return corner


def _quarter(one: ProfileRing, two: ProfileRing) -> Floats:
    t = np.linspace(0.0, np.pi / 2, _ROUND_PIECES + 1)[1:-1]
    slow, quick = 1.0 - np.cos(t), np.sin(t)
    along, out = (slow, quick) if two.wide >= one.wide else (quick, slow)
    return np.column_stack([one.at + (two.at - one.at) * along, one.wide + (two.wide - one.wide) * out])


def _cubic(rings: list[ProfileRing], k: int) -> Floats:
    one, two = rings[k], rings[k + 1]
    before, after = rings[max(k - 1, 0)], rings[min(k + 2, len(rings) - 1)]

    def slope(low: ProfileRing, high: ProfileRing, smooth: bool) -> float:
        return (high.wide - low.wide) / (high.at - low.at) * (two.at - one.at) if smooth and high.at > low.at else 0.0

    m0 = slope(before, two, before.then == "smooth" and before is not one)
    m1 = slope(one, after, two.then == "smooth")
    t = np.linspace(0.0, 1.0, _SMOOTH_PIECES + 1)[1:-1]
    h00, h10, h01, h11 = 2 * t**3 - 3 * t**2 + 1, t**3 - 2 * t**2 + t, -2 * t**3 + 3 * t**2, t**3 - t**2
    wide = h00 * one.wide + h10 * m0 + h01 * two.wide + h11 * m1
    return np.column_stack([one.at + (two.at - one.at) * t, wide])


def turned_rounds(volume: Turned, row: int) -> RoundParts:
    """Return the round parts of one turned body at position ``row``."""
    corner, rotation = turned_frame(volume)
    return _parts_of(volume, corner, rotation, row)


def _parts_of(volume: Turned, corner: Floats, rotation: Floats, row: int) -> RoundParts:
    k = AXIS_LETTERS.index(volume.axle)
    half = np.array(volume.size) / 2
    axle = rotation[:, k] * volume.size[k]
    # Right-handed about the axle, so that angles run the same way on every body.
    first, second = (rotation[:, (k + step) % 3] * half[(k + step) % 3] for step in (1, 2))
    middle = corner + rotation @ (half * (np.arange(3) != k))
    at, wide, ring = profile_pieces(volume.profile)
    bend = _corners(at, wide, volume.size[k], float(half[(k + 1) % 3]))
    # A stretch of the axle without any width is no body.
    starts, ends, dome = _stretches(at, wide, ring, volume.profile)
    rows = np.flatnonzero((at[ends] - at[starts] > 1e-9) & (np.maximum(wide[starts], wide[ends]) > 1e-9))
    starts, ends, dome = starts[rows], ends[rows], dome[rows]
    frusta = Frusta(
        np.full(len(rows), row),
        middle + at[starts, None] * axle,
        (at[ends] - at[starts])[:, None] * axle,
        np.tile(first, (len(rows), 1)),
        np.tile(second, (len(rows), 1)),
        wide[starts],
        wide[ends],
        np.where(dome, 2.0 * np.maximum(wide[starts], wide[ends]) ** 2, 0.0),
    )
    drawn = {(at[m], wide[m]): not bend[m] for m in np.flatnonzero((ring | bend) & (wide > 1e-9))}
    drawn |= {(at[m], part): False for m in (0, -1) for part in volume.face_rings if 1e-9 < part < wide[m]}
    rings = [np.concatenate([middle + place * axle, part * first, part * second]) for place, part in drawn]
    soft = list(drawn.values())
    sections = _sections(volume, corner, rotation)
    spokes = _spokes(volume, middle, axle, first, second, (float(at[0]), float(at[-1])))
    return RoundParts.joined(
        [
            RoundParts(frusta=frusta, smooth=~np.column_stack([bend[starts], bend[ends]]) & ~dome[:, None]),
            RoundParts.drawn(row, [*rings, *sections], [*soft, *[True] * len(sections)]),
            RoundParts.stroked(row, spokes),
        ]
    )


def _stretches(at: Floats, wide: Floats, ring: Bools, profile: Profile) -> tuple[Ints, Ints, Bools]:
    """Return where the pieces of a cut profile start and end (rows of it), and which are domes: a stretch that is rounded
    down to the axle is half an ellipsoid, so it stays whole."""
    ordered = sorted(profile, key=lambda r: r.at)
    own = np.flatnonzero(ring)
    starts, ends, dome = [], [], []
    for one, first, last in zip(ordered, own, own[1:], strict=False):
        whole = one.then == "round" and min(wide[first], wide[last]) <= 1e-9
        cuts = [first, last] if whole else range(first, last + 1)
        starts += list(cuts[:-1])
        ends += list(cuts[1:])
        dome += [whole] * (len(cuts) - 1)
    return np.array(starts, dtype=np.intp), np.array(ends, dtype=np.intp), np.array(dome, dtype=bool)


def _sections(volume: Turned, corner: Floats, rotation: Floats) -> list[Floats]:
    """Return the sections (9,) of a ball square to a chosen own direction, evenly spaced; other bodies have none.

    An ellipsoid's section at the part a of its size has sqrt(1 - (2 a - 1)^2) of its half axes.
    """
    if volume.profile != PROFILES["ball"] or not volume.sections:
        return []
    k = AXIS_LETTERS.index(volume.sections_about)
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
