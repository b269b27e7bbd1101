"""Solving again while a few volumes are dragged: only they, and what meets them on paper, are drawn anew."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import compress, count
from operator import is_not
from typing import Generic, TypeVar

import msgspec
import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Bools, Ints
from isometron.geometry.shadow_loops import boxes_meeting
from isometron.solve.drawing import Drawing, near_marks, reached, solve
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.layers.register import LAYERS
from isometron.solve.marks import Marks
from isometron.solve.picture import Picture
from isometron.volumes.building import build_scene
from isometron.volumes.scene import Scene

__all__ = ["Again", "changed_rows", "kept_layers"]

_ASIDE = 0.01
"""mm of paper; boxes so near to each other count as meeting."""
_MOST = 0.5
"""Of all volumes; when more are near to what changed, all are solved."""

T = TypeVar("T")


class Again:
    """Draws documents that differ from that of one drawing, quickly where they differ in a few volumes only.

    A volume changes the picture within its own bounds on paper, before and after. The marks of all volumes that reach in
    there are drawn anew, among those that they meet on paper, which hide them or share lines with them; all others keep
    the marks they have.
    """

    def __init__(self, base: Drawing) -> None:
        self._base = base
        # From one document to the next it is mostly the same volumes that stand as they were.
        self._standing: _Latest[Scene] = _Latest()
        self._kept: _Latest[dict[str, Marks]] = _Latest()

    def solve(self, document: Document) -> Drawing:
        """Return the drawing of ``document``."""
        rows = changed_rows(self._base.document, document)
        if not rows:
            return solve(document)
        return self._near(document, np.array(rows, dtype=np.intp)) or solve(document)

    def _near(self, document: Document, changed: Ints) -> Drawing | None:
        """Draw the document anew where the volumes ``changed`` are; None when that is nearly everywhere."""
        base, eye = self._base, document.eye
        fresh = build_scene([document.volumes[row] for row in changed], document.volumes)
        boxes = base.boxes.copy()
        boxes[changed] = reached(Seen(document, Picture(eye, lambda: fresh)))
        touched = boxes_meeting(boxes, np.concatenate([base.boxes[changed], boxes[changed]]), _ASIDE)
        touched[changed] = True
        near = boxes_meeting(boxes, boxes[touched], _ASIDE)
        if np.count_nonzero(near) > _MOST * len(near):
            return None
        near[changed] = False
        standing = np.flatnonzero(near)
        around = self._standing.of(standing, base.scene.select)
        # What changed comes last: the places of all others need no telling anew.
        rows = np.concatenate([standing, changed])
        part = Scene.put_together([around, fresh], rows, ~touched[rows])
        made = near_marks(Seen(document, Picture(eye, lambda: part)))
        kept = self._kept.of(touched, self._untouched)
        new = np.where(touched[rows], rows, -1)
        counts = base.scene.edge_counts.copy()
        counts[changed] = fresh.edge_counts
        first = np.cumsum(counts) - counts
        further = first - base.scene.first_edge
        given = {
            name: Marks.joined([kept[name].moved(None, further if further.any() else None),
                                marks.moved(new, first[rows] - part.first_edge)])
            for name, marks in made.items()
        }  # fmt: skip
        whole = Picture(eye, lambda: _whole(base.scene, fresh, changed))
        found = Drawing(Seen(document, whole), given | kept_layers(base, document, changed.tolist()))
        vars(found)["boxes"] = boxes
        return found

    def _untouched(self, touched: Bools) -> dict[str, Marks]:
        """Return the marks of the volumes that keep them."""
        place = np.where(touched, -1, np.arange(len(touched)))
        return {name: self._base.of(name).moved(place) for name, layer in LAYERS.items() if layer.bounds is not None}


def kept_layers(base: Drawing, document: Document, changed: Sequence[int]) -> dict[str, Marks]:
    """Return the marks of layers that may change anywhere, and do not while volumes ``changed`` of ``base`` do."""

    def stands(layer: Layer) -> bool:
        return not (layer.leans_on(document, changed) or layer.leans_on(base.document, changed))

    return {n: base.of(n) for n, layer in LAYERS.items() if layer.bounds is None and stands(layer)}


@dataclass
class _Latest(Generic[T]):
    """What was made of the latest numbers that were asked for."""

    _asked: bytes | None = None
    _made: T | None = None

    def of(self, numbers: np.ndarray, make: Callable[[np.ndarray], T]) -> T:
        asked = numbers.tobytes()
        if self._made is None or asked != self._asked:
            self._asked, self._made = asked, make(numbers)
        return self._made


def changed_rows(before: Document, after: Document) -> list[int] | None:
    """Return the rows of volumes that are not what they were; None when anything else of the two differs."""
    if msgspec.structs.replace(before, volumes=()) != msgspec.structs.replace(after, volumes=()):
        return None
    if len(before.volumes) != len(after.volumes):
        return None
    # Of many volumes few are changed, and this is asked every frame: they are sought without a loop in Python.
    changed = list(compress(count(), map(is_not, before.volumes, after.volumes)))
    if any(before.volumes[row].id != after.volumes[row].id for row in changed):
        return None
    ids = {after.volumes[row].id for row in changed}
    images = [row for row, v in enumerate(after.volumes) if v.mirror is not None and v.mirror.about in ids]
    return sorted({*changed, *images})


def _whole(scene: Scene, fresh: Scene, changed: Ints) -> Scene:
    """Return a scene with the volumes ``changed`` as they are in another."""
    standing = np.delete(np.arange(len(scene.volumes)), changed)
    rows = np.concatenate([standing, changed])
    both = Scene.put_together([scene.select(standing), fresh], rows, np.zeros(len(rows), dtype=bool))
    return both.sorted(np.argsort(rows))
