"""Surfaces that lines are drawn on: flat ones, and round sides unrolled about their axle."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["FlatSurface", "RoundSurface", "Surface"]


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
    it places are mm along the axle, and mm of arc about it at ``around`` mm from it.

    radius : gives how far the side lies from the axle at mm along it, (N,) and how fast that grows (N,); flattened : the two half
    axes as parts of it.
    """

    origin: Floats
    axle: Floats
    first: Floats
    second: Floats
    around: float
    radius: Callable[[Floats], tuple[Floats, Floats]]
    flattened: tuple[float, float] = (1.0, 1.0)
    flat: bool = False

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
