"""Lines longer than the ruler: marks on the way, so that it is laid from one to the next."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, hypot

from isometron.construct.outcome import Spot
from isometron.document.lengths.ruler import Ruler
from isometron.document.model import Document
from isometron.solve.ruler_words import paper_words, ruler_words
from isometron.wording import tr

__all__ = ["marks_on_the_way"]

_SPARE = 10.0
"""mm of a ruler that stay free at both of its ends together: a pencil does not draw round a corner."""


def marks_on_the_way(
    document: Document, lines: Sequence[Sequence[float]], known: Sequence[Spot]
) -> tuple[list[Spot], list[str]]:
    """Return the marks for lines (u1, v1, u2, v2 in mm) that are longer than the document's ruler, and what to do, a sentence a line.

    known : points of the step, which name the ends of the lines. Without a ruler there are none.
    """
    ruler = document.ruler
    marks: list[Spot] = []
    told: list[str] = []
    for u1, v1, u2, v2 in lines if ruler is not None else ():
        assert ruler is not None
        long = hypot(u2 - u1, v2 - v1)
        stretches = ceil(long / max(ruler.length - _SPARE, 1.0))
        if stretches < 2:
            continue
        first, last = (_named(known, at) for at in ((u1, v1), (u2, v2)))
        own = [
            Spot(
                tr("way {number}", number=len(marks) + k),
                u1 + (u2 - u1) * k / stretches,
                v1 + (v2 - v1) * k / stretches,
            )
            for k in range(1, stretches)
        ]
        marks += own
        places = "; ".join(f"{spot.name}, {ruler_words(document, spot.u, spot.v)}" for spot in own)
        told.append(
            tr("From {first} to {last} it is {long}, longer than the ruler: mark {places}, and lay the ruler from mark to mark{how}.",
               first=first, last=last, long=paper_words(document, long), places=places, how=_how(ruler))
        )  # fmt: skip
    return marks, told


def _named(known: Sequence[Spot], at: tuple[float, float]) -> str:
    """Return the name of the point that a line ends in, or that it is its end."""
    near = [spot.name for spot in known if hypot(spot.u - at[0], spot.v - at[1]) < 1e-6]
    return near[0] if near else tr("one end")


def _how(ruler: Ruler) -> str:
    """Return how a ruler of its kind is laid to a mark."""
    if ruler.kind == "clear":
        return tr(", over both")
    if ruler.kind == "edge":
        return tr(", the paper's edge just beside them; carry the distances on ticks from the check bar")
    return tr(", its edge just below them")
