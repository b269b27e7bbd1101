"""The practice sheet of three rows: three boxes above, three across and three below the eye level."""

from __future__ import annotations

from isometron.document.model import Document
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.wording import tr

__all__ = ["three_rows"]

_EYE = 1500.0
_SIDE = 420.0
_APART = 1000.0
_TURNS = (33.0, 45.0, 57.0)


def three_rows() -> Document:
    """Return nine boxes, each column turned further, on an A4 sheet in two-point."""
    eye = place_eye(height=_EYE, away=4200.0, turn_deg=0.0, viewing_distance=330.0)
    rows = (
        ("above", tr("Above"), _EYE + 620.0, _SIDE),
        ("across", tr("Across"), _EYE - _SIDE / 2, _SIDE),
        ("below", tr("Below"), _EYE - 620.0 - _SIDE, _SIDE),
    )
    boxes = [
        Box(
            id=f"{row}-{column + 1}",
            name=f"{name} {column + 1}",
            corner=((column - 1) * _APART - _SIDE / 2, -_SIDE / 2, height),
            size=(_SIDE, _SIDE, tall),
            yaw_deg=_TURNS[column],
            hangs=True,
        )
        for row, name, height, tall in rows
        for column in range(3)
    ]
    return Document(
        title=tr("Practice: above, across, below"),
        sheet=sheet_with_horizon(eye, 297.0, 210.0, horizon=105.0),
        eye=eye,
        volumes=tuple(boxes),
    )
