"""What is meant and not so, told on the paper under the volume that it is about. It stands on the board only."""

from __future__ import annotations

from collections.abc import Sequence

from isometron.document.model import Document
from isometron.solve.findings import missed_targets
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Label, Marks, Role, Singles

__all__ = ["WARNINGS"]

_SIZE, _BELOW = 3.0, 5.0
_FREE = (15.0, 25.0)


def _marks(seen: Seen) -> Marks:
    if not seen.document.targets:
        return NOTHING
    labels = (
        Label(f"⚠ {words}", u, v - _BELOW, Role.CAUTION, anchor=0, size=_SIZE, free=_FREE)
        for u, v, words in missed_targets(seen.document, seen.picture)
    )
    return Marks(labels=Singles(tuple(labels)))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return bool(document.targets)


WARNINGS = Layer(_marks, leans_on=_leans_on)
