"""What every surface does: it paints marks, kind by kind, in the order of their roles. It knows no layer."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, ClassVar, Protocol

import numpy as np

from isometron.solve.marks import Arcs, Curves, Fill, Label, Lines, Marks, Raster, Role, Singles

__all__ = ["Painter", "paint", "said_of"]


class Painter(Protocol):
    """Paints marks that all have one role.

    notes : in words, by the kind, what is not painted as it is: what the surface resamples or leaves out.
    """

    notes: ClassVar[dict[str, str]]

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Paint pictures."""

    def fills(self, role: Role, marks: Singles[Fill]) -> None:
        """Paint filled polygons."""

    def lines(self, role: Role, marks: Lines) -> None:
        """Paint straight marks."""

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Paint elliptical arcs."""

    def curves(self, role: Role, marks: Curves) -> None:
        """Paint cubic pieces."""

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Paint lettering."""


def paint(stream: Sequence[Marks], painter: Painter) -> None:
    """Paint all marks: role by role, in each pictures first and lettering last, in each kind a layer after the other."""
    waiting: list[tuple[int, int, str, Any]] = []
    for marks in stream:
        for place, (kind, bag) in enumerate(marks.bags()):
            waiting += [(int(role), place, kind, bag) for role in np.unique(bag.role)]
    order = {kind: place for place, kind in enumerate(Marks.__dataclass_fields__)}
    for role, _, kind, bag in sorted(waiting, key=lambda one: (one[0], order[one[2]])):
        own = bag.role == role
        getattr(painter, kind)(Role(role), bag if own.all() else bag.select(np.flatnonzero(own)))


def said_of(stream: Sequence[Marks], notes: dict[str, str]) -> list[str]:
    """Return what a person must be told of a surface with these notes: those of the kinds that there are."""
    kinds = {kind for marks in stream for kind, _ in marks.bags()}
    return [words for kind, words in notes.items() if kind in kinds]
