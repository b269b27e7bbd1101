"""The drawing: what the document looks like on paper, a stream of marks in layers, with everything measured on the way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.solve.findings import Finding, findings
from isometron.solve.layers.layer import Seen
from isometron.solve.layers.register import LAYERS
from isometron.solve.marks import Lines, Marks
from isometron.solve.measures import EdgeMeasure, edge_measures
from isometron.solve.picture import Picture
from isometron.volumes.building import scene_of
from isometron.volumes.scene import Scene

__all__ = ["Drawing", "near_marks", "solve"]


@dataclass(frozen=True)
class Drawing:
    """A solved document. ``given`` : marks of layers that are there at once; all else is worked out when asked for."""

    seen: Seen
    given: dict[str, Marks]

    @property
    def document(self) -> Document:
        """What is drawn."""
        return self.seen.document

    @property
    def picture(self) -> Picture:
        """The scene as the eye sees it."""
        return self.seen.picture

    @property
    def scene(self) -> Scene:
        """The volumes as arrays."""
        return self.picture.scene

    def of(self, layer: str) -> Marks:
        """Return the marks of one layer of `LAYERS`."""
        if layer not in self.given:
            self.given[layer] = LAYERS[layer].marks(self.seen)
        return self.given[layer]

    @property
    def stream(self) -> tuple[Marks, ...]:
        """The marks of all layers, a layer after the other."""
        return tuple(self.of(layer) for layer in LAYERS)

    @cached_property
    def marks(self) -> Marks:
        """All marks."""
        return Marks.joined(self.stream)

    @property
    def edges(self) -> Lines:
        """The straight edges' lines, which know the edge of the scene that each belongs to."""
        return self.of("edges").lines

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is worth a warning, with place and figure."""
        return tuple(findings(self.document, self.picture))

    @cached_property
    def quiet_findings(self) -> tuple[Finding, ...]:
        """The warnings that volumes are told to be quiet about."""
        return tuple(findings(self.document, self.picture, quiet=True))

    @cached_property
    def boxes(self) -> Floats:
        """Least u, v and greatest u, v (N, 4) of all that a change of each volume changes, mm; infinite behind the eye."""
        return reached(self.seen)

    def measures(self, owner: int) -> list[EdgeMeasure]:
        """Return the measures of one volume's edges."""
        return edge_measures(self.document, self.picture, owner)


def solve(document: Document) -> Drawing:
    """Return the drawing of ``document``."""
    seen = Seen(document, Picture(document.eye, lambda: scene_of(document.volumes)))
    return Drawing(seen, near_marks(seen))


def near_marks(seen: Seen) -> dict[str, Marks]:
    """Return the marks of all layers that change only near the volumes that change."""
    seen.picture.begin()
    return {name: layer.marks(seen) for name, layer in LAYERS.items() if layer.bounds is not None}


def reached(seen: Seen) -> Floats:
    """Return the boxes (V, 4) on paper within which each volume changes anything, in any of the layers that tell."""
    each = [bounds(seen) for bounds in dict.fromkeys(layer.bounds for layer in LAYERS.values()) if bounds is not None]
    if len(each) == 1:
        return each[0]
    boxes = np.stack(each)
    found: Floats = np.hstack([boxes[:, :, :2].min(axis=0), boxes[:, :, 2:].max(axis=0)])
    return found
