"""A sheet of another format for the same object under the same eye, as wide as it is wanted on paper."""

from __future__ import annotations

import msgspec

from isometron.document.edits import Edit
from isometron.document.eyes.eye_wishes import extent_on_paper
from isometron.document.model import Document, DocumentError, with_fields
from isometron.view.sheet import Sheet
from isometron.wording import tr

__all__ = ["drawn_width", "fresh_sheet"]


def drawn_width(document: Document) -> float | None:
    """Return how wide all that stands is drawn, mm of paper; None where it cannot be said."""
    if not document.volumes:
        return None
    try:
        low, high = extent_on_paper(document, document.eye)
    except DocumentError:
        return None
    return float(high[0] - low[0])


def fresh_sheet(document: Document, width: float, height: float, object_width: float | None = None) -> Edit:
    """Lay a sheet of a format under the object, which is drawn ``object_width`` mm wide (as wide as before without one), in its middle.

    The perspective stays: where the eye stands and looks is kept, and the viewing distance makes the picture larger.
    """
    if not document.volumes:
        raise DocumentError(tr("There is nothing to draw on a fresh sheet yet. Pull a block first (B)."))
    low, high = extent_on_paper(document, document.eye)
    factor = 1.0 if object_width is None else object_width / max(float(high[0] - low[0]), 1e-9)
    eye = with_fields(document.eye, viewing_distance=document.eye.viewing_distance * factor)
    u, v = factor * (low + high) / 2.0
    sheet = Sheet(width=width, height=height, centre_of_vision=(width / 2 - float(u), height / 2 - float(v)))
    changed = msgspec.structs.replace(document, eye=eye, sheet=with_fields(sheet))
    return Edit(tr("lay a fresh sheet"), changed)
