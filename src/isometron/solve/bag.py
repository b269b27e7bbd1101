"""What marks have in common: a role, an owner, and that they lie in arrays, a row a mark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, replace
from enum import IntEnum
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Bools, Ints, after_each_other

__all__ = ["AIDS", "NOBODY", "Bag", "Role", "names_of"]


NOBODY = -1
"""Owner of marks that belong to no volume, such as the horizon."""


class Role(IntEnum):
    """What a mark is for; surfaces choose the pen by it. The order is the order of painting."""

    PHOTOGRAPH = 0
    TONE = 1
    CONE = 2
    GRID = 3
    GUIDE = 4
    TICK = 5
    HORIZON = 6
    RIM = 7
    EARLIER = 8
    EARLIER_EDGE = 9
    HIDDEN = 10
    CONSTRUCTION = 11
    STEP = 12
    STEP_EDGE = 13
    SURFACE = 14
    OBJECT = 15
    NOTE = 16
    LETTERING = 17
    CAUTION = 18

    @property
    def word(self) -> str:
        """The role as it stands in files."""
        return self.name.lower()


AIDS = frozenset({Role.CONE, Role.GRID, Role.GUIDE, Role.TICK, Role.HORIZON, Role.CONSTRUCTION})
"""Roles that the switch 'construction lines' turns off."""

B = TypeVar("B", bound="Bag")


class Bag:
    """Many marks of one kind as arrays, a row a mark; the last fields of each kind are ``role`` and ``owner``."""

    role: NDArray[np.int8]
    owner: Ints

    def __len__(self) -> int:
        return len(self.role)

    def select(self: B, rows: Ints | Bools) -> B:
        """Return the marks of the given rows."""
        return type(self)(*(getattr(self, name)[rows] for name in names_of(type(self))))

    def moved(self: B, place: Ints | None, shift: Ints | None = None) -> B:
        """Return the marks of owners with a ``place`` (N,) that is not negative, as those of the owners there; None keeps all.

        shift : how much further on the edges of each owner (N,) lie in their scene; only lines have any.
        """
        if len(self) == 0 or place is None:
            return self
        own = self.select(np.flatnonzero((self.owner < 0) | (place[self.owner] >= 0)))
        return replace(own, owner=np.where(own.owner < 0, own.owner, place[own.owner]))  # type: ignore[type-var]

    @classmethod
    def joined(cls: type[B], parts: Sequence[B]) -> B:
        """Return the marks of all parts, of which there is one at least, in their order."""
        if len(parts) == 1:
            return parts[0]
        return cls(*(after_each_other([getattr(part, name) for part in parts]) for name in names_of(cls)))

    def alike(self: B, other: B) -> bool:
        """Whether the two hold the same marks."""
        return self is other or all(
            np.array_equal(getattr(self, name), getattr(other, name)) for name in names_of(type(self))
        )


_NAMES: dict[type, tuple[str, ...]] = {}


def names_of(kind: type) -> tuple[str, ...]:
    """Return the fields of a kind of marks."""
    if kind not in _NAMES:
        _NAMES[kind] = tuple(field.name for field in fields(kind))
    return _NAMES[kind]
