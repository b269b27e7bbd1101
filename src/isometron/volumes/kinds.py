"""The register of kinds: a new kind is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from isometron.errors import IsometronError
from isometron.volumes.box import Box, box_solids
from isometron.volumes.solids import Solids
from isometron.volumes.turned import Turned, turned_solids
from isometron.volumes.volume import Volume

__all__ = ["SOLIDS", "AnyVolume", "solids_of"]

AnyVolume = Box | Turned
"""The union of all kinds, for the file format."""

SOLIDS: dict[type[Volume], Callable[[Sequence[Volume]], Solids]] = {
    Box: box_solids,
    Turned: turned_solids,
}


def solids_of(kind: type[Volume]) -> Callable[[Sequence[Volume]], Solids]:
    """Return the builder of a kind; raises `IsometronError` naming the known kinds."""
    if kind not in SOLIDS:
        known = ", ".join(k.__name__ for k in SOLIDS)
        raise IsometronError(f"No solids for volumes of kind {kind.__name__}; known kinds: {known}.")
    return SOLIDS[kind]
