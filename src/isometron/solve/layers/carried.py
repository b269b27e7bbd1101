"""Pictures that go along on the faces they were seen on: under another eye each face carries its part, hidden parts stay blank."""

from __future__ import annotations

from collections.abc import Sequence

from isometron.document.model import Document
from isometron.document.pictures.placing import in_place
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Marks, Singles
from isometron.volumes.turned import Turned

__all__ = ["CARRIED"]


def _marks(seen: Seen) -> Marks:
    document = seen.document
    carried = [p for p in document.pictures if p.carried and not p.hidden and p.camera and not in_place(document, p)]
    if not carried or not document.volumes:
        return NOTHING
    from isometron.solve.carried_faces import (
        carried_rasters,  # polygons take long to load, and few drawings need them
    )

    return Marks(pictures=Singles(tuple(carried_rasters(document, seen.picture.scene, carried))))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return any(picture.carried and not picture.hidden for picture in document.pictures)


def _waits(document: Document) -> bool:
    """Round bodies have hundreds of narrow faces."""
    return any(isinstance(volume, Turned) for volume in document.volumes)


CARRIED = Layer(_marks, leans_on=_leans_on, waits=_waits)
