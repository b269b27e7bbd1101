"""Marks on the faces of a volume, whatever its kind: rings, arches, divisions, and lines on a plane through it.

A face is one of the six construction faces of the bounding volume, by its number, or one of the body's own, by its id.
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.volumes.marks.holds import Measured, Step

__all__ = ["ArchForm", "ArchMark", "DivideMark", "FaceMark", "FaceRef", "PathMark", "RingMark", "TickMark"]

Part = Annotated[float, Meta(ge=0.0, le=1.0, description="part of the face, 0 to 1")]
PartOrMm = Part | Measured
FaceNumber = Annotated[int, Meta(ge=0, le=5, description="number of the construction face in BOX_FACES")]
FaceId = Annotated[
    str, Meta(min_length=2, max_length=60, pattern=r"^[a-z][a-z0-9./]*$", description="id of a face of the body")
]
FaceRef = FaceNumber | FaceId
Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]
Wide = Annotated[float, Meta(ge=-5.0, le=6.0, description="part of the volume, may lie beyond it")]
ArchForm = Literal["half-round", "segmental", "pointed"]


class RingMark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="mark", tag="ring"):
    """A ring on a face; with a depth a hole, or raised a button, a knob, a dial.

    Args:
        at: its centre along the face's two middle lines, each held as a share, or in mm from an end or the middle;
            (0.5, 0.5) is where the face's diagonals cross.
        diameter: mm; 0 for the largest that fits round the centre.
        inner: diameters of concentric rings inside it, as parts of its own.
        depth: mm that it is sunk into the face; below nothing, mm that it is raised.
        divisions: strokes round its rim, as on a dial.
        count, step: so many of it in a row, each by parts of the face, a pitch or a gap from the one before.
        start_deg, sweep_deg: the part of the ring that is drawn, from the face's first direction; 360 for all of it.
    """

    face: FaceRef
    at: tuple[PartOrMm, PartOrMm] = (0.5, 0.5)
    diameter: Size = 0.0
    inner: Annotated[tuple[Part, ...], Meta(max_length=12)] = ()
    depth: Annotated[float, Meta(ge=-1e7, le=1e7, description="mm")] = 0.0
    divisions: Annotated[int, Meta(ge=0, le=360)] = 0
    count: Annotated[int, Meta(ge=1, le=200)] = 1
    step: tuple[Step, Step] = (0.0, 0.0)
    start_deg: Annotated[float, Meta(ge=-360.0, le=360.0)] = 0.0
    sweep_deg: Annotated[float, Meta(gt=0.0, le=360.0)] = 360.0


class ArchMark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="mark", tag="arch"):
    """An arch drawn on an upright face: its opening, and a band round it.

    Args:
        at: the middle of its foot, held as a ring's centre is.
        wide, high: of the opening, mm; never more than the face has.
        band: mm of thickness drawn round the opening.
        rise: of a segmental arch, as a part of half its width.
        count, step: so many of it in a row, each by parts of the face, a pitch or a gap from the one before.
    """

    face: FaceRef
    at: tuple[PartOrMm, PartOrMm] = (0.5, 0.0)
    wide: Size
    high: Size
    form: ArchForm = "half-round"
    band: Size = 0.0
    rise: Annotated[float, Meta(gt=0.0, le=1.0)] = 0.4
    count: Annotated[int, Meta(ge=1, le=200)] = 1
    step: tuple[Step, Step] = (0.0, 0.0)


class DivideMark(
    msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="mark", tag="divide"
):
    """A face parted by lines: at places along its first and its second direction, and a border.

    Args:
        across, up: places of the lines along the face inside its border, each held like a ring's centre.
        border: mm all round.
        diagonals: whether the diagonals that find its middle are drawn too.
        soft: drawn as construction, not as the object's own lines.
    """

    face: FaceRef
    across: Annotated[tuple[PartOrMm, ...], Meta(max_length=200)] = ()
    up: Annotated[tuple[PartOrMm, ...], Meta(max_length=200)] = ()
    border: Size = 0.0
    diagonals: bool = False
    soft: bool = True


class TickMark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="mark", tag="ticks"):
    """An edge parted by ticks: ``edge`` is its number in BOX_EDGES, ``parts`` the places from its first corner, held."""

    edge: Annotated[int, Meta(ge=0, le=11)]
    parts: Annotated[tuple[PartOrMm, ...], Meta(min_length=1, max_length=200)]


class PathMark(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, tag_field="mark", tag="path"):
    """Lines drawn in a plain view: on a plane across one own direction, ``at`` of the way through the volume.

    Args:
        across: the own direction that the plane lies square to.
        points: as parts of the volume along its two other directions; one point alone is drawn as a small cross.
    """

    across: Literal["long", "wide", "high"] = "wide"
    at: Part = 0.5
    points: Annotated[tuple[tuple[Wide, Wide], ...], Meta(min_length=1, max_length=200)]
    closed: bool = False
    soft: bool = False


FaceMark = RingMark | ArchMark | DivideMark | TickMark | PathMark
"""The union of all marks, for the file format."""
