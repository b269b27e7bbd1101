"""The stall row: five equal bays of the night market with gaps and arched openings, a counter and an awning in each."""

from __future__ import annotations

from isometron.document.edits import paste_volumes
from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.model import Document, NamedLength, Target
from isometron.starters.parts import Parts
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import ProfileRing, Turned

__all__ = ["stall_row"]

_BAY, _GAP, _DEEP, _HIGH = 2000.0, 450.0, 700.0, 2500.0
_COUNT = 5


def stall_row() -> Document:
    """Return the row on an A3 sheet, in two-point from a walker's eye."""
    middle = ((_COUNT - 1) * (_BAY + _GAP) + _BAY) / 2
    eye = place_eye(
        height=1650.0, away=12500.0, turn_deg=-52.0, viewing_distance=480.0, about=(middle, _DEEP / 2, 0.0)
    )
    row = Document(
        title="Stall row",
        sheet=sheet_with_horizon(eye, 420.0, 297.0, horizon=120.0),
        eye=eye,
        module="bay",
        lengths=(NamedLength(name="walkway", text="450"),),
        targets=(Target(text="counter.high < bay.high / 2"), Target(text="bay.gap = walkway")),
    )
    filled = paste_volumes(row, _parts().volumes).document
    return fit_sheet_part(filled, 0.94, 14.0, keep="perspective").document


def _row() -> tuple[Repeat, ...]:
    return (Repeat(along="long", count=_COUNT, pitch=_BAY + _GAP),)


def _parts() -> Parts:
    parts = Parts(ahead="y0")
    bay = Arch(
        id="bay", name="Bay", corner=(0.0, 0.0, 0.0), size=(_BAY, _DEEP, _HIGH), through="wide",
        pier=240.0, crown=420.0, copies=_row(),
        marks=(CourseMark(face="y0", long=380.0, high=140.0, joint=10.0), CourseMark(face="x1", long=380.0, high=140.0, joint=10.0)),
    )  # fmt: skip
    parts.add(bay, None, pitch="bay.long + walkway")
    counter = Box(
        id="counter", name="Counter", corner=(240.0, 90.0, 0.0), size=(_BAY - 480.0, 420.0, 920.0), copies=_row(),
        marks=(CourseMark(face=2, pattern="planks", high=150.0, joint=0.0, up=True),
               OpeningMark(face=2, at=(0.5, 0.62), wide=520.0, high=300.0, goes="pocket", depth=120.0, frame=40.0)),
    )  # fmt: skip
    parts.add(counter, "bay", pitch="bay.pitch")
    awning = CutBody(
        id="awning", name="Awning", corner=(120.0, -760.0, 1720.0), size=(_BAY - 240.0, 760.0, 420.0),
        front=leaning(1.0, 0.0), copies=_row(),
        marks=(CourseMark(face="front.4", pattern="slats", high=110.0, joint=110.0, up=True),),
    )  # fmt: skip
    parts.add(awning, "bay", pitch="bay.pitch")
    lamp = Turned(
        id="lamp", name="Lamp", corner=(_BAY / 2 - 130.0, 220.0, 1500.0), size=(260.0, 260.0, 330.0), copies=_row(),
        hangs=True,
        profile=(
            ProfileRing(at=0.0, wide=0.4, then="smooth"),
            ProfileRing(at=0.3, wide=0.95, then="smooth"),
            ProfileRing(at=0.6, wide=1.0, then="smooth"),
            ProfileRing(at=1.0, wide=0.4),
        ),
    )  # fmt: skip
    parts.add(lamp, "bay", pitch="bay.pitch")
    return parts
