"""Where a paper point lies as a ruler finds it: from the sheet's edges, on it or off it, in words with units."""

from __future__ import annotations

from isometron.document.lengths.units import format_paper
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["across_words", "ruler_words", "up_words"]


def ruler_words(document: Document, u: float, v: float) -> str:
    """Return both distances of a paper point, such as ``12.0 mm beyond the left edge, 40.0 mm above the lower edge``."""
    return f"{across_words(document, u)}, {up_words(document, v)}"


def across_words(document: Document, u: float) -> str:
    """Return how far across a point lies, from the sheet's left or right edge."""
    left, _, right, _ = document.sheet.rectangle
    if u < left:
        return tr("{far} beyond the left edge", far=format_paper(left - u, document.unit))
    if u > right:
        return tr("{far} beyond the right edge", far=format_paper(u - right, document.unit))
    return tr("{far} from the left edge", far=format_paper(u - left, document.unit))


def up_words(document: Document, v: float) -> str:
    """Return how high a point lies, from the sheet's lower or upper edge."""
    _, lower, _, upper = document.sheet.rectangle
    if v < lower:
        return tr("{far} below the lower edge", far=format_paper(lower - v, document.unit))
    if v > upper:
        return tr("{far} above the upper edge", far=format_paper(v - upper, document.unit))
    return tr("{far} above the lower edge", far=format_paper(v - lower, document.unit))
