"""The turned body: rings along an axle, straight, rounded or smooth between them. Cylinder, cone, ball and wheel are such."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Annotated, Literal

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta
from isometron.volumes.box import box_corners, box_solids
from isometron.volumes.solids import Solids
from isometron.volumes.volume import Volume

__all__ = ["PROFILES", "ProfileRing", "RoundParts", "Turned", "profile_pieces", "round_parts", "turned_solids"]

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
        spokes: lines between the widest and the narrowest of the face rings, evenly round the axle.
    """

    axle: Literal["long", "wide", "high"] = "high"
    profile: Annotated[Profile, Meta(min_length=2, max_length=60)] = PROFILES["cylinder"]
    face_rings: Annotated[tuple[Part, ...], Meta(max_length=12)] = ()
    spokes: Annotated[int, Meta(ge=0, le=60)] = 0


@dataclass(frozen=True)
class RoundParts:
    """The round parts of all turned bodies.

    frusta : their pieces in order along each axle; smooth : (R, 2) whether the side runs on without a corner at the
    lower and the upper end of a piece; rings : (G, 9) centre and the two half axes; ring_owner : (G,); ring_soft : (G,)
    rings of the profile where the side has no corner; spokes : (S, 2, 3) ends, spoke_owner : (S,).
    """

    frusta: Frusta
    smooth: Bools
    rings: Floats
    ring_owner: Ints
    ring_soft: Bools
    spokes: Floats
    spoke_owner: Ints


def turned_solids(volumes: Sequence[Volume]) -> Solids:
    """Return the bounding boxes of turned bodies: for picking and contact; they have no edges of their own."""
    none = np.zeros((0, 2), dtype=np.intp)
    return replace(box_solids(volumes), edges=none, edge_axes=np.zeros(0, dtype=np.intp))


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


def round_parts(volumes: Sequence[Turned], rows: Ints) -> RoundParts:
    """Return the round parts of turned bodies; ``rows`` (N,) are their positions in the document."""
    corners, rotations = box_corners(volumes)
    made = [
        _parts_of(volume, corner, rotation, int(row))
        for volume, corner, rotation, row in zip(volumes, corners[:, 0], rotations, rows, strict=True)
    ]
    if not made:
        made = [_nothing()]
    frusta = Frusta(*(np.concatenate([getattr(m.frusta, name) for m in made]) for name in _FRUSTA))
    rest = {name: np.concatenate([getattr(m, name) for m in made]) for name in _REST}
    return RoundParts(frusta, **rest)


_FRUSTA = ("owner", "base", "axle", "first", "second", "low", "high")
_REST = ("smooth", "rings", "ring_owner", "ring_soft", "spokes", "spoke_owner")


def _nothing() -> RoundParts:
    none, vectors, numbers = np.zeros(0, dtype=np.intp), np.zeros((0, 3)), np.zeros(0)
    frusta = Frusta(none, vectors, vectors, vectors, vectors, numbers, numbers)
    flags = np.zeros(0, dtype=bool)
    return RoundParts(frusta, flags.reshape(0, 2), np.zeros((0, 9)), none, flags, np.zeros((0, 2, 3)), none)


def _parts_of(volume: Turned, corner: Floats, rotation: Floats, row: int) -> RoundParts:
    k = ("long", "wide", "high").index(volume.axle)
    half = np.array(volume.size) / 2
    axle = rotation[:, k] * volume.size[k]
    # Right-handed about the axle, so that angles run the same way on every body.
    first, second = (rotation[:, (k + step) % 3] * half[(k + step) % 3] for step in (1, 2))
    middle = corner + rotation @ (half * (np.arange(3) != k))
    at, wide, ring = profile_pieces(volume.profile)
    bend = _corners(at, wide, volume.size[k], float(half[(k + 1) % 3]))
    # A stretch of the axle without any width is no body.
    rows = np.flatnonzero((np.diff(at) > 1e-9) & (np.maximum(wide[:-1], wide[1:]) > 1e-9))
    frusta = Frusta(
        np.full(len(rows), row),
        middle + at[rows, None] * axle,
        np.diff(at)[rows, None] * axle,
        np.tile(first, (len(rows), 1)),
        np.tile(second, (len(rows), 1)),
        wide[rows],
        wide[rows + 1],
    )
    drawn = {(at[m], wide[m]): not bend[m] for m in np.flatnonzero((ring | bend) & (wide > 1e-9))}
    drawn |= {(at[m], part): False for m in (0, -1) for part in volume.face_rings if 1e-9 < part < wide[m]}
    rings = [np.concatenate([middle + place * axle, part * first, part * second]) for place, part in drawn]
    spokes = _spokes(volume, middle, axle, first, second, (float(at[0]), float(at[-1])))
    return RoundParts(
        frusta,
        ~np.column_stack([bend[rows], bend[rows + 1]]),
        np.array(rings).reshape(-1, 9),
        np.full(len(rings), row),
        np.array(list(drawn.values()), dtype=bool),
        np.array(spokes).reshape(-1, 2, 3),
        np.full(len(spokes), row),
    )


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
