"""The curves that a profile's rings are joined by: straight, quarters of ellipses, smooth; exact, with their slopes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import pi
from typing import Annotated, Literal

import msgspec
import numpy as np
from msgspec import Meta

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.geometry.turning import KNOTS, SAMPLES

__all__ = [
    "PIECES",
    "PROFILES",
    "Part",
    "Profile",
    "ProfileRing",
    "Side",
    "corner_rings",
    "profile_sides",
    "soft_bends",
    "width_at",
]

Part = Annotated[float, Meta(ge=0.0, le=1.0, description="part of the size, 0 to 1")]
_CORNER = np.radians(3.0)
"""A side that turns by less than this at a ring runs on there."""
_ON_CURVE = HAIR
"""Of the width: a ring so near to the rounded side between its neighbours lies on it."""
_NO_CUT = 1e-6
"""Of a stretch: a side that only touches a bound at its end is not cut off there, whatever the last digits say."""
_FINER = 2.5
_WITHIN = 1.0 - 3e-4
PIECES = {"straight": 1, "round": 10, "smooth": 8}


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


@dataclass(frozen=True)
class Side:
    """A stretch of a profile between two rings, t from 0 to 1 along it.

    slopes : of a smooth one at both ends, d wide / d t. A round one that reaches the axle is half an ellipsoid.
    """

    kind: str
    one: ProfileRing
    two: ProfileRing
    slopes: tuple[float, float] = (0.0, 0.0)

    @property
    def dome(self) -> bool:
        """Whether it is half an ellipsoid."""
        return self.kind == "round" and min(self.one.wide, self.two.wide) <= CLOSE

    @property
    def pieces(self) -> int:
        """How many solids it is cut into."""
        return 1 if self.dome else PIECES[self.kind]

    def at(self, t: Floats) -> Floats:
        """Return at, wide and their derivatives by t (N, 4) at the places t (N,)."""
        rise, run = self.two.at - self.one.at, self.two.wide - self.one.wide
        if self.kind == "straight":
            along, out, up, over = t, t, np.ones_like(t), np.ones_like(t)
        elif self.kind == "round":
            angle, turn = t * (pi / 2), pi / 2
            slow, quick = (1.0 - np.cos(angle), turn * np.sin(angle)), (np.sin(angle), turn * np.cos(angle))
            (along, up), (out, over) = (slow, quick) if run >= 0.0 else (quick, slow)
        else:
            return self._cubic(t, rise)
        return np.column_stack([self.one.at + rise * along, self.one.wide + run * out, rise * up, run * over])

    def _cubic(self, t: Floats, rise: float) -> Floats:
        m0, m1 = self.slopes
        wide = (
            (2 * t**3 - 3 * t**2 + 1) * self.one.wide + (t**3 - 2 * t**2 + t) * m0
            + (-2 * t**3 + 3 * t**2) * self.two.wide + (t**3 - t**2) * m1
        )  # fmt: skip
        slope = (
            (6 * t**2 - 6 * t) * (self.one.wide - self.two.wide)
            + (3 * t**2 - 4 * t + 1) * m0
            + (3 * t**2 - 2 * t) * m1
        )
        return np.column_stack([self.one.at + rise * t, np.clip(wide, 0.0, 1.0), np.full_like(t, rise), slope])

    def width(self, at: Floats) -> Floats:
        """Return the widths at places along the axle."""
        rise = self.two.at - self.one.at
        part = np.clip((at - self.one.at) / rise if rise > 0.0 else np.zeros_like(at), 0.0, 1.0)
        if self.kind == "round":
            growing = self.two.wide >= self.one.wide
            part = np.arccos(1.0 - part) / (pi / 2) if growing else np.arcsin(part) / (pi / 2)
        return self.at(part)[:, 1]


@lru_cache(maxsize=512)
def profile_sides(profile: Profile) -> tuple[Side, ...]:
    """Return a profile's stretches. Rings that lie on the rounded side between their neighbours do not part it.

    Rounded is a quarter of an ellipse that bulges outward; smooth is a cubic with the neighbours' slopes (Catmull and
    Rom 1974).
    """
    rings = sorted(profile, key=lambda ring: ring.at)
    sides: list[Side] = []
    k = 0
    while k < len(rings) - 1:
        last = _end_of_round(rings, k) if rings[k].then == "round" else k + 1
        slopes = _slopes(rings, k) if rings[k].then == "smooth" else (0.0, 0.0)
        sides += _within_bounds(Side(rings[k].then, rings[k], rings[last], slopes))
        k = last
    return tuple(sides)


def _within_bounds(side: Side) -> list[Side]:
    """Return a side in the stretches that it is parted into where it is cut off at the bounds, 0 and 1: smooth ones and straight ones."""
    if side.kind != "smooth":
        return [side]
    m0, m1 = side.slopes
    low, high = side.one.wide, side.two.wide
    # A cubic lies within the hull of its Bézier points: most need no roots.
    if all(0.0 <= pull <= 1.0 for pull in (low + m0 / 3.0, high - m1 / 3.0)):
        return [side]
    cubic = np.polynomial.Polynomial([low, m0, 3.0 * (high - low) - 2.0 * m0 - m1, 2.0 * (low - high) + m0 + m1])
    roots = np.concatenate([(cubic - bound).roots() for bound in (0.0, 1.0)])
    inner = np.sort(roots[np.abs(roots.imag) < CLOSE].real)
    cuts = [0.0, *(float(t) for t in inner if _NO_CUT < t < 1.0 - _NO_CUT), 1.0]
    found: list[Side] = []
    for start, end in pairwise(cuts):
        if end - start <= _NO_CUT:
            continue
        out = not 0.0 <= float(cubic((start + end) / 2.0)) <= 1.0
        t = np.array([start, end])
        one, two = (
            ProfileRing(
                at=side.one.at + part * (side.two.at - side.one.at), wide=min(max(float(cubic(part)), 0.0), 1.0)
            )
            for part in t
        )
        one, two = side.one if start == 0.0 else one, side.two if end == 1.0 else two
        slopes = cubic.deriv()(t) * (end - start)
        found.append(
            Side("straight", one, two) if out else Side("smooth", one, two, (float(slopes[0]), float(slopes[1])))
        )
    return found


def _end_of_round(rings: list[ProfileRing], k: int) -> int:
    """Return the ring at which the rounded stretch from ring k ends: the farthest whose quarter holds all between."""
    last = k + 1
    while rings[last].then == "round" and last + 1 < len(rings):
        last += 1
    while last > k + 1:
        side = Side("round", rings[k], rings[last])
        at, wide = (np.array([getattr(ring, name) for ring in rings[k + 1 : last]]) for name in ("at", "wide"))
        if np.abs(side.width(at) - wide).max() <= _ON_CURVE:
            break
        last -= 1
    return last


def _slopes(rings: list[ProfileRing], k: int) -> tuple[float, float]:
    one, two = rings[k], rings[k + 1]
    before, after = rings[max(k - 1, 0)], rings[min(k + 2, len(rings) - 1)]

    def slope(low: ProfileRing, high: ProfileRing, smooth: bool) -> float:
        return (high.wide - low.wide) / (high.at - low.at) * (two.at - one.at) if smooth and high.at > low.at else 0.0

    return slope(before, two, before.then == "smooth" and before is not one), slope(one, after, two.then == "smooth")


def width_at(profile: Profile, at: float) -> float:
    """Return how wide a profile is at a place along its axle."""
    sides = profile_sides(profile)
    side = next(
        (side for side in sides if side.one.at <= at <= side.two.at), sides[0] if at < sides[0].one.at else sides[-1]
    )
    return float(side.width(np.array([at]))[0])


def corner_rings(profile: Profile, tall: float, broad: float) -> dict[tuple[float, float], bool]:
    """Return the rings of a profile (at, wide), and whether its side has a corner there or ends; tall, broad : mm."""
    sides, ends = profile_sides(profile), np.array([0.0, 1.0])
    leans: dict[tuple[float, float], list[float]] = {}
    for side in sides:
        for (_, _, rise, run), ring in zip(side.at(ends), (side.one, side.two), strict=True):
            leans.setdefault((ring.at, ring.wide), []).append(float(np.arctan2(run * broad, rise * tall)))
    rings = sorted(profile, key=lambda ring: ring.at)
    # A smooth side runs on at a ring, cut off beside it or not: `soft_bends` tells what is left there.
    run_on = {
        ring.at for before, ring in pairwise(rings) if before.then == ring.then == "smooth" and ring is not rings[-1]
    }
    found = {}
    for ring in rings:
        own = leans.get((ring.at, ring.wide), [0.0, 0.0])
        found[ring.at, ring.wide] = ring.at not in run_on and (len(own) < 2 or max(own) - min(own) > _CORNER)
    return found


def soft_bends(profile: Profile, corners: dict[tuple[float, float], bool]) -> list[tuple[float, float, float, float]]:
    """Return the rings (at, wide) at which the side bends without a corner, and how it widens along the axle before and after each."""
    sides, ends = profile_sides(profile), np.array([0.0, 1.0])
    found = []
    for before, after in pairwise(sides):
        place = before.two.at, before.two.wide
        (_, _, rise, run), (_, _, up, over) = before.at(ends)[1], after.at(ends)[0]
        steep = min(rise, up) <= CLOSE or place != (after.one.at, after.one.wide)
        if not steep and not corners.get(place, False) and abs(run / rise - over / up) > CLOSE:
            found.append((*place, float(run / rise), float(over / up)))
    return found


@lru_cache(maxsize=512)
def sampled(side: Side) -> Floats:
    """Return at, wide and their derivatives by the step (`SAMPLES`, 4) along a stretch."""
    curve = side.at(np.linspace(0.0, 1.0, SAMPLES))
    curve[:, 2:] /= SAMPLES - 1
    return curve


@lru_cache(maxsize=512)
def knots(side: Side) -> Floats:
    """Return at, wide and their derivatives by the step (`KNOTS`, 4) along a stretch, ends included."""
    curve = side.at(np.linspace(0.0, 1.0, KNOTS))
    curve[:, 2:] /= KNOTS - 1
    return curve


@lru_cache(maxsize=512)
def cut(side: Side) -> Floats:
    """Return the solids that a stretch is cut into (P, 5): at and wide of both ends, and how much each bulges between.

    The square of the radius is as right at both ends and half way, see `geometry.frusta`.
    """
    t = np.linspace(0.0, 1.0, side.pieces + 1)
    if side.kind == "round":  # finer towards the ring where it leaves the ring's plane, and is hardest to follow
        t = t**_FINER if side.two.wide >= side.one.wide else 1.0 - t[::-1] ** _FINER
    curve = side.at(t)[:, :2]
    low, high = curve[:-1].copy(), curve[1:].copy()
    if side.dome:
        bulge = 2.0 * np.maximum(low[:, 1], high[:, 1]) ** 2
    elif side.kind == "straight":
        bulge = np.zeros(len(low))
    else:
        # They stay within the true side, so that none of them ever covers its outline.
        low[:, 1], high[:, 1] = _WITHIN * low[:, 1], _WITHIN * high[:, 1]
        middle = _WITHIN * side.width((low[:, 0] + high[:, 0]) / 2)
        bulge = 4.0 * (middle**2 - ((low[:, 1] + high[:, 1]) / 2) ** 2)
    return np.column_stack([low, high, bulge])
