"""The names of volumes, where they are shown."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.document.model import Document
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Label, Marks, Role, Singles

__all__ = ["NAMES"]

_FREE = (0.25, 0.3)
"""A name may be moved by this part of its volume's picture across and up."""


def _marks(seen: Seen) -> Marks:
    """Return the name of every volume that is seen whole, in its middle."""
    document, picture = seen.document, seen.picture
    if not document.show.names:
        return NOTHING
    labels = []
    for owner, volume in enumerate(document.volumes):
        paper = picture.paper[picture.scene.corner_rows[owner]]
        if volume.put_away or not np.isfinite(paper).all():
            continue
        (u, v), (wide, high) = paper.mean(axis=0), np.ptp(paper, axis=0)
        free = (_FREE[0] * float(wide), _FREE[1] * float(high))
        labels.append(Label(volume.name, float(u), float(v), Role.LETTERING, owner, anchor=0, free=free))
    return Marks(labels=Singles(tuple(labels)))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return document.show.names


NAMES = Layer(_marks, leans_on=_leans_on)
