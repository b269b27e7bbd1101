"""Where a paper point lies as a ruler finds it: from the sheet's edges, on it or off it, in words with units."""

from __future__ import annotations

from isometron.document.lengths.ruler import on_ruler
from isometron.document.lengths.units import format_paper
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["across_words", "paper_words", "ruler_words", "up_words"]


def ruler_words(document: Document, u: float, v: float) -> str:
    """Return both distances of a paper point, such as ``12.0 mm beyond the left edge, 40.0 mm above the lower edge``."""
    return f"{across_words(document, u)}, {up_words(document, v)}"


def paper_words(document: Document, mm: float) -> str:
    """Return a length on paper with its unit: as the document's ruler has it, to its smallest division, if it has one."""
    return format_paper(mm, document.unit) if document.ruler is None else on_ruler(mm, document.ruler)


def across_words(document: Document, u: float) -> str:
    """Return how far across a point lies, from the sheet's left or right edge."""
    left, _, right, _ = document.sheet.rectangle
    if u < left:
        return tr("{far} beyond the left edge", far=paper_words(document, left - u))
    if u > right:
        return tr("{far} beyond the right edge", far=paper_words(document, u - right))
    return tr("{far} from the left edge", far=paper_words(document, u - left))


def up_words(document: Document, v: float) -> str:
    """Return how high a point lies, from the sheet's lower or upper edge."""
    _, lower, _, upper = document.sheet.rectangle
    if v < lower:
        return tr("{far} below the lower edge", far=paper_words(document, lower - v))
    if v > upper:
        return tr("{far} above the upper edge", far=paper_words(document, v - upper))
    return tr("{far} above the lower edge", far=paper_words(document, v - lower))
