"""An empty document from what a sketcher decides first: paper, unit, and where the eye is."""

from __future__ import annotations

from isometron.document.edits import Edit, change_document
from isometron.document.lengths.units import UnitName
from isometron.document.model import UNTITLED, Document, checked, with_fields
from isometron.view.placing import horizon_on_sheet, place_eye, sheet_with_horizon
from isometron.view.sheet import PAPERS, Sheet, paper_name
from isometron.wording import tr

__all__ = ["new_document", "paper_size", "take_paper", "usual_distance"]


def paper_size(paper: str, *, landscape: bool) -> tuple[float, float]:
    """Return width and height in mm of a paper of `PAPERS`."""
    short, long = PAPERS[paper]
    return (long, short) if landscape else (short, long)


_HORIZON = 0.62
"""Part of a fresh sheet's height at which the horizon lies."""

_ARM = 450.0
"""mm: the viewing distance of a sheet at arm's length."""


def usual_distance(height: float) -> float:
    """Return the viewing distance in mm for a fresh sheet so many mm high: an arm's length, nearer for what is less high than A3,
    so that the start of the first block, a third of it below the horizon, lies well on the paper."""
    return min(_ARM, max(5.0 * int(0.304 * height), 10.0))


def take_paper(document: Document, width: float, height: float) -> Edit:
    """Lay the drawing on a sheet of another size, mm: its middle stays on the same place of the picture. An empty sheet is laid
    anew, its horizon at the same part of the height and its start on the paper."""
    sheet, (x, y) = document.sheet, document.sheet.centre_of_vision
    words = tr("take {paper}", paper=paper_name(width, height))
    if document.volumes or document.pictures:
        centre = (x + (width - sheet.width) / 2, y + (height - sheet.height) / 2)
        return change_document(document, words, sheet=Sheet(width=width, height=height, centre_of_vision=centre))
    eye = document.eye
    distance = eye.viewing_distance * usual_distance(height) / usual_distance(sheet.height)
    above = horizon_on_sheet(eye, sheet) * height / sheet.height
    eye = with_fields(eye, viewing_distance=distance)
    return change_document(document, words, eye=eye, sheet=sheet_with_horizon(eye, width, height, above))


def new_document(
    *,
    width: float = 420.0,
    height: float = 297.0,
    unit: UnitName = "mm",
    eye_height: float = 1500.0,
    away: float = 4500.0,
    turn_deg: float = -35.0,
    tilt_deg: float = 0.0,
    viewing_distance: float | None = None,
    horizon: float | None = None,
    title: str = UNTITLED,
) -> Document:
    """Return an empty sheet. ``horizon`` in mm above the lower edge, by default at 62 % of the height; the viewing distance is
    `usual_distance` by default.

    Raises `DocumentError` for a value outside its rule.
    """
    distance = usual_distance(height) if viewing_distance is None else viewing_distance
    eye = place_eye(height=eye_height, away=away, turn_deg=turn_deg, tilt_deg=tilt_deg, viewing_distance=distance)
    above = round(height * _HORIZON, 1) if horizon is None else horizon
    sheet = sheet_with_horizon(eye, width, height, above)
    return checked(Document(title=title, unit=unit, sheet=sheet, eye=eye), "new sheet")
