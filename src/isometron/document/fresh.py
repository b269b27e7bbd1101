"""An empty document from what a sketcher decides first: paper, unit, and where the eye is."""

from __future__ import annotations

from isometron.document.lengths.units import UnitName
from isometron.document.model import Document, checked
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.view.sheet import PAPERS

__all__ = ["new_document", "paper_size"]


def paper_size(paper: str, *, landscape: bool) -> tuple[float, float]:
    """Return width and height in mm of a paper of `PAPERS`."""
    short, long = PAPERS[paper]
    return (long, short) if landscape else (short, long)


def new_document(
    *,
    width: float = 420.0,
    height: float = 297.0,
    unit: UnitName = "mm",
    eye_height: float = 1500.0,
    away: float = 4500.0,
    turn_deg: float = -35.0,
    tilt_deg: float = 0.0,
    viewing_distance: float = 450.0,
    horizon: float | None = None,
    title: str = "Untitled",
) -> Document:
    """Return an empty sheet. ``horizon`` in mm above the lower edge, by default at 62 % of the height.

    Raises `DocumentError` for a value outside its rule.
    """
    eye = place_eye(
        height=eye_height, away=away, turn_deg=turn_deg, tilt_deg=tilt_deg, viewing_distance=viewing_distance
    )
    above = round(height * 0.62, 1) if horizon is None else horizon
    sheet = sheet_with_horizon(eye, width, height, above)
    return checked(Document(title=title, unit=unit, sheet=sheet, eye=eye), "new sheet")
