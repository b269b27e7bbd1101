"""What a layer of a drawing is: what it gives, what that depends on, and how far a change reaches."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.solve.marks import Marks
from isometron.solve.picture import Picture

__all__ = ["Layer", "Seen", "own_bounds"]

_REACH = 30.0
"""Marks run to this many sheet diagonals round the centre of vision: far past any table the sheet lies on."""


@dataclass(frozen=True)
class Seen:
    """What a layer is given: the document, and its picture, which is worked out as far as it is asked for."""

    document: Document
    picture: Picture

    @cached_property
    def reach(self) -> float:
        """How far from the centre of vision marks are carried, mm."""
        x, y = self.document.sheet.centre_of_vision
        return _REACH * self.document.sheet.diagonal + abs(x) + abs(y)

    @property
    def hidden(self) -> bool:
        """Whether hidden parts are drawn."""
        return self.document.show.hidden == "dashed"


def own_bounds(seen: Seen) -> Floats:
    """Return the boxes (V, 4) of what each volume draws or hides."""
    return seen.picture.boxes


def _always(document: Document, rows: Sequence[int]) -> bool:
    return True


def _never(document: Document) -> bool:
    return False


@dataclass(frozen=True)
class Layer:
    """A layer of the drawing.

    marks : what it gives; leans_on : whether a change of volumes (rows of the document) changes any of its marks;
    bounds : within which boxes (V, 4) on paper, least u, v and greatest, the marks of each volume lie and change what others draw, so that a change
    of it, before and after, changes nothing beyond; it is asked of scenes with only some of the volumes, too. None of a layer whose marks may
    change anywhere: they are kept while it leans on no volume that changes, and else asked again. waits : whether it is left out on the board while something is dragged, as it would take too long.
    """

    marks: Callable[[Seen], Marks]
    bounds: Callable[[Seen], Floats] | None = None
    waits: Callable[[Document], bool] = _never
    leans_on: Callable[[Document, Sequence[int]], bool] = _always
