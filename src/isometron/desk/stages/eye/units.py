"""Units and ranges of the Eye stage's fields."""

from __future__ import annotations

from collections.abc import Callable

from isometron.desk.frame.session import Session
from isometron.document.lengths.units import UnitName, paper_unit

__all__ = ["PAPER_RANGE", "on_paper"]


PAPER_RANGE = (-9e4, 9e4)
"""mm of paper that a vanishing point may lie off."""


def on_paper(session: Session) -> Callable[[], UnitName]:
    """Return what gives the unit of paper."""
    return lambda: paper_unit(session.document.unit)
