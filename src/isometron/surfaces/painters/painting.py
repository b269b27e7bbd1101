"""What every surface does: it paints marks, kind by kind, in the order of their roles. It knows no layer."""

from __future__ import annotations

from collections.abc import Sequence
from operator import itemgetter
from typing import Any, ClassVar, Protocol

import numpy as np

from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Marks, Raster, Role, Singles

__all__ = ["Painter", "paint", "said_of"]


class Painter(Protocol):
    """Paints marks that all have one role.

    notes : in words, by the kind, what is not painted as it is: what the surface resamples or leaves out; picks : whether
    it takes the marks of a role out of all those of a kind itself (loops do that on the way).
    """

    notes: ClassVar[dict[str, str]]
    picks: ClassVar[bool]

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Paint pictures."""

    def fills(self, role: Role, marks: Fills) -> None:
        """Paint regions filled with a tone."""

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
    waiting: list[tuple[int, int, str, Any, bool]] = []
    for marks in stream:
        for kind, bag in marks.bags():
            counts = np.bincount(bag.role)
            roles = np.flatnonzero(counts).tolist()
            waiting += [(role, _ORDER[kind], kind, bag, len(roles) == 1) for role in roles]
    for role, _, kind, bag, alone in sorted(waiting, key=itemgetter(0, 1)):
        own = bag if alone or painter.picks else bag.select(np.flatnonzero(bag.role == role))
        getattr(painter, kind)(Role(role), own)


_ORDER = {kind: place for place, kind in enumerate(Marks.__dataclass_fields__)}


def said_of(stream: Sequence[Marks], notes: dict[str, str]) -> list[str]:
    """Return what a person must be told of a surface with these notes: those of the kinds that there are."""
    kinds = {kind for marks in stream for kind, _ in marks.bags()}
    return [words for kind, words in notes.items() if kind in kinds]
