"""The delivery van of the night market: a cut body with windows, a windscreen, lamps on both sides, a belt and a centre line."""

from __future__ import annotations

import msgspec

from isometron.document.edits import paste_volumes
from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.eyes.keeping import go_to_eye, keep_eye
from isometron.document.model import Document
from isometron.document.planes.plane_edits import belt, centre_line
from isometron.starters.vehicles import tall_van
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import CurveMark, CurvePoint, FaceMark, OpeningMark, RingMark
from isometron.volumes.marks.holds import Apart, Measured

__all__ = ["delivery_van"]

_WHEEL = 660.0
_REVEAL = 22.0


def delivery_van() -> Document:
    """Return the van on an A3 sheet, in two-point from a standing eye a little before its front."""
    eye = place_eye(height=1550.0, away=11500.0, turn_deg=-38.0, viewing_distance=560.0, about=(2300.0, 950.0, 0.0))
    bare = Document(
        title="Delivery van", sheet=sheet_with_horizon(eye, 420.0, 297.0, horizon=170.0), eye=eye, module="wheel"
    )
    volumes = tuple(_with_marks(volume) for volume in tall_van(_WHEEL).volumes)
    filled = paste_volumes(bare, volumes).document
    filled = belt(filled, "body", 560.0, band=45.0).document
    filled = centre_line(filled, "body").document
    standing = keep_eye(fit_sheet_part(filled, 0.82, 16.0, keep="perspective").document, "standing").document
    return go_to_eye(_kept_from_the_kerb(standing), "standing").document


def _kept_from_the_kerb(document: Document) -> Document:
    """Keep a second eye, of somebody who sits on the kerb before the other corner."""
    eye = place_eye(height=450.0, away=9000.0, turn_deg=-62.0, viewing_distance=560.0, about=(2300.0, 950.0, 0.0))
    low = msgspec.structs.replace(document, eye=eye, sheet=sheet_with_horizon(eye, 420.0, 297.0, horizon=95.0))
    return keep_eye(fit_sheet_part(low, 0.82, 16.0, keep="perspective").document, "from the kerb").document


def _with_marks(volume: AnyVolume) -> AnyVolume:
    if not isinstance(volume, CutBody):
        return volume
    return msgspec.structs.replace(volume, name="Van body", marks=_marks())


def _marks() -> tuple[FaceMark, ...]:
    """Windows and doors of the near side, which stand on the far side too; the windscreen and the lamps of the front."""
    upper, lower, screen, front = "front.2", "plan.2", "side.14", "side.12"
    pane = OpeningMark(face=upper, high=560.0, round=70.0, goes="pocket", depth=_REVEAL, mirrored=True)
    return (
        msgspec.structs.replace(pane, at=(Measured(from_="end", mm=560.0, to="edge"), Measured(mm=90.0, to="edge")), wide=760.0),
        msgspec.structs.replace(pane, at=(Measured(mm=420.0, to="edge"), Measured(mm=90.0, to="edge")), wide=1020.0, count=2,
                                step=(Apart(by="gap", mm=110.0), 0.0)),
        OpeningMark(face=screen, form="inset", inset=75.0, round=70.0, goes="pocket", depth=_REVEAL),
        RingMark(face=front, at=(Measured(mm=190.0), 0.62), diameter=190.0, inner=(0.72,), mirrored=True),
        OpeningMark(face=front, at=(0.5, 0.3), wide=620.0, high=150.0, round=30.0, goes="pocket", depth=30.0, bars=(0, 3)),
        CurveMark(face=lower, mirrored=True, points=_line(((0.74, 1.0), (0.735, 0.35), (0.715, 0.08), (0.93, 0.08), (0.925, 1.0)))),
        CurveMark(face=lower, mirrored=True, points=_line(((0.35, 1.0), (0.35, 0.08), (0.66, 0.08), (0.66, 1.0)))),
        OpeningMark(face=lower, at=(0.755, 0.78), wide=130.0, high=34.0, round=17.0, goes="pocket", depth=15.0, mirrored=True),
    )  # fmt: skip


def _line(places: tuple[tuple[float, float], ...]) -> tuple[CurvePoint, ...]:
    return tuple(CurvePoint(at=place) for place in places)
