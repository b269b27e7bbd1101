"""Closed outlines of corners that are held as a person holds them: profiles that cut a body, outlines of openings."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.faces.corners import Corner, OutlineError, outline_through
from isometron.geometry.outlines import Outline
from isometron.geometry.tolerances import HAIR
from isometron.volumes.marks.holds import Held, held_at
from isometron.wording import tr

__all__ = ["MOST_CORNERS", "CutProfile", "ProfileCorner", "all_corners", "corner_numbers", "outline_within"]

MOST_CORNERS = 2000
Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]


class ProfileCorner(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A corner of a profile.

    Args:
        at: its two coordinates along the view's own directions, each held as a share or as so many mm.
        round, chamfer: radius of its rounding, or how far along both sides it is cut, mm; 0 for a sharp corner.
        n: its number, which stays with it and is never given to another one of the profile: faces are known by it.
        bow: how far the side to the next corner bows out, as a part of half its length; 1 is half a round, negative bows in.
    """

    n: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    at: tuple[Held, Held]
    round: Size = 0.0
    chamfer: Size = 0.0
    bow: Annotated[float, Meta(ge=-20.0, le=20.0)] = 0.0


class CutProfile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A closed outline; outside it nothing is left of the body.

    Args:
        corners: in order round the outline, either way.
        alike: both sides alike: the corners are one half, and the other half is its mirror image about the view's middle
            (left and right of a plan and a front, front and rear of a side view).
        next_n: the number that the next new corner gets.
    """

    corners: Annotated[tuple[ProfileCorner, ...], Meta(min_length=2, max_length=MOST_CORNERS)]
    alike: bool = False
    next_n: Annotated[int, Meta(ge=0, le=1_000_000)] = 0

    @staticmethod
    def through(corners: Iterable[ProfileCorner], *, alike: bool = False) -> CutProfile:
        """Return a profile through corners, numbered anew from 1."""
        numbered = tuple(msgspec.structs.replace(corner, n=n) for n, corner in enumerate(corners, 1))
        return CutProfile(corners=numbered, alike=alike, next_n=len(numbered) + 1)


def all_corners(profile: CutProfile, column: int, size: tuple[float, float]) -> list[Corner]:
    """Return all corners in mm, with the mirror image of one half where both sides are alike along direction ``column``."""
    found = [
        Corner(held_at(c.at[0], size[0]), held_at(c.at[1], size[1]), c.round, c.chamfer, c.bow)
        for c in profile.corners
    ]
    for k in _mirrored(profile, found, column, size[column]):
        corner = found[k]
        x, y = (corner.x, size[1] - corner.y) if column else (size[0] - corner.x, corner.y)
        found.append(Corner(x, y, corner.round, corner.chamfer, found[k - 1].bow if k else 0.0))
    return found


def _mirrored(profile: CutProfile, half: list[Corner], column: int, length: float) -> list[int]:
    """Return the corners of one half whose images make the other, in the order in which the outline goes on; those on the
    middle, where the halves meet, are not there twice."""
    if not profile.alike:
        return []
    last = len(half) - 1
    off = [(corner.y if column else corner.x) - length / 2.0 for corner in half]
    return [k for k in range(last, -1, -1) if not (k in (0, last) and abs(off[k]) <= HAIR)]


def corner_numbers(profile: CutProfile, column: int, size: tuple[float, float]) -> list[str]:
    """Return what each of `all_corners` goes by: its number, with ``m`` for a mirror image."""
    own = [str(corner.n) for corner in profile.corners]
    half = [Corner(held_at(c.at[0], size[0]), held_at(c.at[1], size[1])) for c in profile.corners]
    return own + [f"{own[k]}m" for k in _mirrored(profile, half, column, size[column])]


def outline_within(profile: CutProfile, column: int, size: tuple[float, float]) -> Outline:
    """Return a profile's outline in mm; ``size`` is how far it may reach along its two directions.

    Raises `OutlineError` in words where the corners make no outline.
    """
    corners = all_corners(profile, column, size)
    for number, corner in enumerate(corners):
        beyond = max(-corner.x, corner.x - size[0], -corner.y, corner.y - size[1])
        if beyond > HAIR:
            raise OutlineError(
                tr("Corner {number} lies {beyond:.4g} mm beyond the bounding volume: hold it from the other end, or as a share.",
                   number=number + 1, beyond=beyond)
            )  # fmt: skip
    outline = outline_through(corners)
    for bend in outline.bends.values():
        # A round touches its sides and stays within; a bow may not.
        points = bend.at(bend.start + bend.sweep * np.linspace(0.0, 1.0, 65))
        beyond = max(-float(points.min()), float((points - size).max()))
        if beyond > HAIR:
            raise OutlineError(
                tr("A side bows {beyond:.4g} mm beyond the bounding volume: bow it less, or bring its corners in.", beyond=beyond)
            )  # fmt: skip
    return outline
