"""What a layer of a drawing is: what it gives, what that depends on, and how far a change reaches."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum, auto
from functools import cached_property

from isometron.document.model import Document
from isometron.solve.marks import Marks
from isometron.solve.picture import Picture

__all__ = ["Layer", "Reach", "Seen"]

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


class Reach(Enum):
    """How far the change of a volume reaches in a layer."""

    NEAR = auto()
    """Every mark belongs to a volume, and changes only within what that volume, before or after, draws or hides on paper."""
    ANYWHERE = auto()
    """Marks may change anywhere on the sheet."""


def _always(document: Document, rows: Sequence[int]) -> bool:
    return True


def _never(document: Document) -> bool:
    return False


@dataclass(frozen=True)
class Layer:
    """A layer of the drawing.

    marks : what it gives; leans_on : whether a change of volumes (rows of the document) changes any of its marks;
    reach : how far from these volumes. Of a layer that reaches anywhere the marks are kept while it leans on no volume that
    changes, and else asked again. waits : whether it is left out on the board while something is dragged, as it would take too long.
    """

    marks: Callable[[Seen], Marks]
    reach: Reach = Reach.ANYWHERE
    waits: Callable[[Document], bool] = _never
    leans_on: Callable[[Document, Sequence[int]], bool] = _always
