"""Lengths as they are typed anywhere: with or without a unit, by names and modules, or as a part of something."""

from __future__ import annotations

import re

from isometron.document.lengths.expressions import hold_unambiguous
from isometron.document.lengths.proportion import is_expression
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.units import LengthError, parse_length, parse_percent
from isometron.document.model import Document, DocumentError
from isometron.wording import tr

__all__ = ["part_typed", "read_length", "typed_length"]

_OF_IT = re.compile(r"(?P<part>.+?)\s+of\s+it", re.IGNORECASE)
_RECKONS = re.compile(r"[^\W\d].*[*/+()]|[*(]|[\w.]\s*\+|[\w.]\s+[-−]\s+[\w.]")
_FRACTION = re.compile(r"(\d{1,9})\s*/\s*(\d{1,9})")


def part_typed(text: str) -> float | None:
    """Return the part that is meant by ``40 %``, ``40 % of it`` or ``1/3 of it``; None by anything else.

    A bare fraction is always a length. Raises `LengthError` for a part that is none.
    """
    body = text.strip()
    of_it = _OF_IT.fullmatch(body)
    if of_it is None:
        return parse_percent(body) / 100.0 if body.endswith("%") else None
    part = of_it["part"].strip()
    fraction = _FRACTION.fullmatch(part)
    if fraction is None:
        if part.endswith("%"):
            return parse_percent(part) / 100.0
        raise LengthError(tr("{typed!r} is no part. Understood: 40 % or 1/3 of it.", typed=body[:60]))
    if int(fraction[2]) == 0:
        raise LengthError(tr("{typed!r} divides by zero.", typed=body[:60]))
    return int(fraction[1]) / int(fraction[2])


def typed_length(text: str, document: Document) -> tuple[float, str]:
    """Return the mm of a typed length or expression, and the expression; empty for a plain length.

    Raises `LengthError` for what is neither, and `DocumentError` for an expression that cannot be worked out.
    """
    try:
        return parse_length(text, document.unit), ""
    except LengthError:
        # What begins with a letter, or reckons, is meant as an expression, though its names may not be there.
        if not (is_expression(document, text) or text.strip()[:1].isalpha() or _RECKONS.search(text)):
            raise
    body = text.strip().removeprefix("=")
    hold_unambiguous(body, document.unit)
    return Sizes(document.volumes, document.lengths).value(body, document.unit), body


def read_length(text: str, document: Document, whole: float | None = None) -> float:
    """Return the mm of what is typed where one length is wanted; of a part where there is a ``whole`` (mm) to take it of.

    Raises `LengthError` in words for anything else.
    """
    part = part_typed(text) if whole is not None else None
    if part is not None and whole is not None:
        return part * whole
    try:
        return typed_length(text, document)[0]
    except DocumentError as error:
        raise LengthError(str(error)) from error
