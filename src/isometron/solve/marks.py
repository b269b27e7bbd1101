"""Marks on paper: flat arrays in millimetres, each with a role and the volume it belongs to."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Bools, Floats, Ints, after_each_other

__all__ = ["NOBODY", "Arcs", "Label", "Lines", "Role"]


NOBODY = -1
"""Owner of marks that belong to no volume, such as the horizon."""


class Role(IntEnum):
    """What a mark is for; surfaces choose the pen by it. The order is the order of painting."""

    CONE = 0
    GRID = 1
    GUIDE = 2
    TICK = 3
    HORIZON = 4
    HIDDEN = 5
    CONSTRUCTION = 6
    OBJECT = 7
    LETTERING = 8

    @property
    def word(self) -> str:
        """The role as it stands in files."""
        return self.name.lower()


AIDS = frozenset({Role.CONE, Role.GRID, Role.GUIDE, Role.TICK, Role.HORIZON, Role.CONSTRUCTION})
"""Roles that the switch 'construction lines' turns off."""


@dataclass(frozen=True)
class Lines:
    """Straight marks. points : (N, 4) u1, v1, u2, v2; role, owner, edge : (N,); edge is a row of the scene or -1."""

    points: Floats
    role: NDArray[np.int8]
    owner: Ints
    edge: Ints

    def __len__(self) -> int:
        return len(self.points)

    def select(self, rows: Ints | Bools) -> Lines:
        """Return the marks of the given rows."""
        return Lines(self.points[rows], self.role[rows], self.owner[rows], self.edge[rows])

    @staticmethod
    def of(points: Floats, role: Role, owner: int = NOBODY) -> Lines:
        """Return lines (N, 4) of one role and owner, belonging to no edge."""
        n = len(points)
        return Lines(points, np.full(n, role, np.int8), np.full(n, owner), np.full(n, -1))

    @staticmethod
    def joined(parts: list[Lines]) -> Lines:
        """Return the marks of all parts in their order; no part at all gives no mark."""
        if not parts:
            return Lines.of(np.zeros((0, 4)), Role.OBJECT)
        fields = ("points", "role", "owner", "edge")
        return Lines(*(after_each_other([getattr(part, name) for part in parts]) for name in fields))


@dataclass(frozen=True)
class Arcs:
    """Elliptical arcs. shape : (N, 7) centre u, v, semi-axes a, b, angle of a, first and last parameter, radians."""

    shape: Floats
    role: NDArray[np.int8]
    owner: Ints

    def select(self, rows: Ints | Bools) -> Arcs:
        """Return the marks of the given rows."""
        return Arcs(self.shape[rows], self.role[rows], self.owner[rows])

    @staticmethod
    def joined(parts: list[Arcs]) -> Arcs:
        """Return the marks of all parts in their order."""
        return Arcs(
            *(after_each_other([getattr(part, name) for part in parts]) for name in ("shape", "role", "owner"))
        )


@dataclass(frozen=True)
class Label:
    """Lettering at (u, v): ``anchor`` -1, 0, 1 sets the text's left end, middle or right end there; size in mm."""

    text: str
    u: float
    v: float
    role: Role
    owner: int = NOBODY
    anchor: int = -1
    size: float = 3.5
