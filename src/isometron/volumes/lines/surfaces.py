"""Surfaces that lines are drawn on: flat ones, and round sides unrolled about their axle."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints

__all__ = ["FlatSurface", "RoundSurface", "Surface"]

_SEAM = 1e-6
"""Radians that a place may lie beyond the end of a side."""
_STEPS, _LEAST = 20, 0.05
"""Of Newton's rule, and the least slope that it is taken at: where a way runs along the side it would be thrown far off."""


class Surface(Protocol):
    """Takes places (N, 2) drawn on it, mm, to the world."""

    @property
    def flat(self) -> bool:
        """Whether straight lines stay straight on it."""
        ...

    def world(self, drawn: Floats) -> Floats:
        """Return the world places (N, 3)."""
        ...

    def carried(self, drawn: Floats, ways: Floats) -> Floats:
        """Return what small steps (N, 2) at places (N, 2) come to in the world (N, 3)."""
        ...


@dataclass(frozen=True)
class FlatSurface:
    """A plane: a place on it (3,), and its two directions (3,), of length one."""

    origin: Floats
    x: Floats
    y: Floats
    flat: bool = True

    def world(self, drawn: Floats) -> Floats:
        """Return the world places (N, 3) of places (N, 2) in mm along the two directions."""
        found: Floats = self.origin + drawn[:, :1] * self.x + drawn[:, 1:] * self.y
        return found

    def carried(self, drawn: Floats, ways: Floats) -> Floats:
        """Return what steps (N, 2) come to, wherever they are."""
        found: Floats = ways[:, :1] * self.x + ways[:, 1:] * self.y
        return found


@dataclass(frozen=True)
class RoundSurface:
    """A round side: a place on its axle (3,), the axle's direction and the two half axes' directions (3,) of length one; along
    it places are mm along the axle, up to ``long``, and mm of arc about it at ``around`` mm from it.

    radius : gives how far the side lies from the axle at mm along it, (N,) and how fast that grows (N,); flattened : the two half
    axes as parts of it; turn : radians, how far about the axle the side goes from its start; hollow : whether it looks at its axle; breaks : mm along it
    where its bend begins anew.
    """

    origin: Floats
    axle: Floats
    first: Floats
    second: Floats
    around: float
    radius: Callable[[Floats], tuple[Floats, Floats]]
    flattened: tuple[float, float] = (1.0, 1.0)
    long: float = np.inf
    turn: float = 2.0 * np.pi
    hollow: bool = False
    breaks: tuple[float, ...] = ()
    flat: bool = False

    @property
    def reach(self) -> tuple[float, float]:
        """How far it goes along its axle and about it, mm."""
        return self.long, self.around * self.turn

    def placed(self, rotation: Floats, corner: Floats) -> RoundSurface:
        """Return the side turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        ways = {name: rotation @ getattr(self, name) for name in ("axle", "first", "second")}
        return replace(self, origin=rotation @ self.origin + corner, **ways)

    def world(self, drawn: Floats) -> Floats:
        """Return the world places (N, 3) of places (N, 2): h, s at the angle s / around."""
        angle = drawn[:, 1] / self.around
        radius, _ = self.radius(drawn[:, 0])
        x, y = self.flattened[0] * radius * np.cos(angle), self.flattened[1] * radius * np.sin(angle)
        found: Floats = self.origin + drawn[:, :1] * self.axle + x[:, None] * self.first + y[:, None] * self.second
        return found

    def carried(self, drawn: Floats, ways: Floats) -> Floats:
        """Return what steps (N, 2) at places (N, 2) come to."""
        angle = drawn[:, 1] / self.around
        radius, grows = self.radius(drawn[:, 0])
        turn = ways[:, 1] / self.around
        x = self.flattened[0] * (grows * ways[:, 0] * np.cos(angle) - radius * np.sin(angle) * turn)
        y = self.flattened[1] * (grows * ways[:, 0] * np.sin(angle) + radius * np.cos(angle) * turn)
        found: Floats = ways[:, :1] * self.axle + x[:, None] * self.first + y[:, None] * self.second
        return found

    def met(self, places: Floats, way: Floats) -> Floats:
        """Return how far (N,) along a way (3,) from places (N, 3) near it the side lies: Newton's rule on how far they are from it."""
        step = np.zeros(len(places))
        for _ in range(_STEPS):
            off = places + step[:, None] * way - self.origin
            along = off @ self.axle
            x, y = off @ self.first / self.flattened[0], off @ self.second / self.flattened[1]
            away = np.maximum(np.hypot(x, y), 1e-9)
            radius, grows = self.radius(along)
            slope = (x * (way @ self.first) / self.flattened[0] + y * (way @ self.second) / self.flattened[1]) / away
            slope = slope - grows * float(way @ self.axle)
            slope = np.where(np.abs(slope) < _LEAST, np.where(slope < 0.0, -_LEAST, _LEAST), slope)
            step = step - (away - radius) / slope
        return step

    def drawn(self, place: Floats) -> tuple[float, float]:
        """Return where a world place (3,) lies on the side: mm along its axle, and mm of arc about it."""
        off = place - self.origin
        angle = float(np.arctan2(off @ self.second / self.flattened[1], off @ self.first / self.flattened[0]))
        angle %= 2.0 * np.pi
        # Just before its start is no whole turn behind it.
        beyond = angle > (self.turn + 2.0 * np.pi) / 2.0
        return float(off @ self.axle), (angle - 2.0 * np.pi if beyond else angle) * self.around

    def stretch(self, places: Floats) -> Ints:
        """Return the stretches (N,) between breaks that places (N, 3) lie beside."""
        found: Ints = np.searchsorted(np.array(self.breaks), (places - self.origin) @ self.axle)
        return found

    def off(self, places: Floats) -> Floats:
        """Return how far (N,) beyond the side places (N, 3) lie, along their radius and in the measure of the wider half axis."""
        off = places - self.origin
        away = np.hypot(off @ self.first / self.flattened[0], off @ self.second / self.flattened[1])
        found: Floats = away - self.radius(off @ self.axle)[0]
        return found

    def holds(self, places: Floats) -> Bools:
        """Tell of places (N, 3) whether the side is there about its axle."""
        off = places - self.origin
        angle = np.arctan2(off @ self.second / self.flattened[1], off @ self.first / self.flattened[0])
        found: Bools = (angle + _SEAM) % (2.0 * np.pi) <= self.turn + 2.0 * _SEAM
        return found
