"""Marks on the faces of a volume, whatever its kind: rings, arches, divisions, and lines on a plane through it.

A face is one of the six construction faces of the bounding volume, by its number, or one of the body's own, by its id.
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.volumes.cut.corners import CutProfile
from isometron.volumes.marks.holds import Held, Measured, Step

__all__ = [
    "ARCH_FORMS", "ArchForm", "ArchMark", "CourseMark", "CoursePattern", "CurveMark", "CurvePoint", "DivideMark", "FaceMark", "FaceRef", "Goes", "OpeningForm", "OpeningMark", "PathMark",
    "RingMark", "TickMark", "stands_up",
]  # fmt: skip

Part = Annotated[float, Meta(ge=0.0, le=1.0, description="part of the face, 0 to 1")]
PartOrMm = Part | Measured
FaceNumber = Annotated[int, Meta(ge=0, le=5, description="number of the construction face in BOX_FACES")]
FaceId = Annotated[
    str, Meta(min_length=2, max_length=60, pattern=r"^[a-z][a-z0-9./]*$", description="id of a face of the body")
]
FaceRef = FaceNumber | FaceId
MarkName = Annotated[str, Meta(max_length=80)]
Size = Annotated[float, Meta(ge=0.0, le=1e7, description="mm")]
Wide = Annotated[float, Meta(ge=-5.0, le=6.0, description="part of the volume, may lie beyond it")]
ArchForm = Literal["half-round", "segmental", "pointed"]
ARCH_FORMS: tuple[ArchForm, ...] = ("half-round", "segmental", "pointed")
OpeningForm = Literal["rectangle", "ring", "half-round", "segmental", "pointed", "outline", "inset"]
Goes = Literal["pocket", "wall", "through"]
CoursePattern = Literal["bricks", "tiles", "planks", "squares", "slats"]


class RingMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="ring",
    omit_defaults=True,
):
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
        mirrored: whether its mirror image about the thing's middle is there too.
        name: what a person calls it, empty for what it is.
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
    mirrored: bool = False
    name: MarkName = ""


class ArchMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="arch",
    omit_defaults=True,
):
    """An arch drawn on an upright face: its opening, and a band round it.

    Args:
        at: the middle of its foot, held as a ring's centre is.
        wide, high: of the opening, mm; never more than the face has.
        band: mm of thickness drawn round the opening.
        rise: of a segmental arch, as a part of half its width.
        count, step: so many of it in a row, each by parts of the face, a pitch or a gap from the one before.
        mirrored: whether its mirror image about the thing's middle is there too.
        name: what a person calls it, empty for what it is.
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
    mirrored: bool = False
    name: MarkName = ""


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


class PathMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="path",
    omit_defaults=True,
):
    """Lines drawn in a plain view: on a plane across one own direction, ``at`` of the way through the volume.

    Args:
        across: the own direction that the plane lies square to.
        points: as parts of the volume along its two other directions; one point alone is drawn as a small cross.
        smooth: a smooth curve through the points, not straight runs from one to the next.
        carried: carried straight on to the body, where it meets the surface on both sides, and not drawn on the plane; around : over
            the body's ends too, as a belt along this line.
    """

    across: Literal["long", "wide", "high"] = "wide"
    at: Part = 0.5
    points: Annotated[tuple[tuple[Wide, Wide], ...], Meta(min_length=1, max_length=200)]
    closed: bool = False
    soft: bool = False
    smooth: bool = False
    carried: bool = False
    around: bool = False


class OpeningMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="opening",
    omit_defaults=True,
):
    """An opening cut into a face, straight into the body.

    Args:
        at: its middle, of an arch the middle of its foot, held as a ring's centre is.
        wide, high: mm; of a ring both are its diameter.
        form: rectangle, ring, an arch, a closed outline, or the face's own outline so far inwards ("inset").
        round: radius of a rectangle's corners, mm.
        rise: of a segmental arch, as a part of half its width.
        outline: of the form "outline", within wide and high.
        inset: of the form "inset", mm inside the face's outline; part : which part of the face's height it takes.
        goes: a pocket with a bottom, through one wall, or right through the body; depth : of a pocket, mm.
        frame: width of a band drawn round it, mm. sill : how far a sill stands out at its foot, mm.
        bars: so many upright and level ones across it; bar : their width, mm, 0 for lines. back : how far behind the face bars
            and pane stand, mm. pane : whether a pane meets the wall all round.
        count, step: so many of it in a row, each by parts of the face, a pitch or a gap from the one before.
        mirrored: whether its mirror image about the thing's middle is cut too.
        name: what a person calls it, empty for what it is.
    """

    face: FaceRef
    at: tuple[PartOrMm, PartOrMm] = (0.5, 0.5)
    wide: Size = 0.0
    high: Size = 0.0
    form: OpeningForm = "rectangle"
    round: Size = 0.0
    rise: Annotated[float, Meta(gt=0.0, le=1.0)] = 0.4
    outline: CutProfile | None = None
    inset: Size = 0.0
    part: tuple[Part, Part] = (0.0, 1.0)
    goes: Goes = "wall"
    depth: Size = 0.0
    frame: Size = 0.0
    sill: Size = 0.0
    bars: tuple[Annotated[int, Meta(ge=0, le=40)], Annotated[int, Meta(ge=0, le=40)]] = (0, 0)
    bar: Size = 0.0
    back: Size = 0.0
    pane: bool = False
    count: Annotated[int, Meta(ge=1, le=200)] = 1
    step: tuple[Step, Step] = (0.0, 0.0)
    mirrored: bool = False
    name: MarkName = ""


class CurvePoint(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A point of a line on a surface.

    Args:
        at: where it lies along the surface's two directions, each held as a ring's centre is; on a round side along the axle, and
            as a part of the whole turn about it.
        then: how the line goes on to the next point: straight, as a smooth curve, or as an arc.
        bow: of an arc how far it bows out to the right, as a part of half its length.
        sharp: a corner of a smooth curve.
        way_deg: the direction that a smooth curve is held to here, counter-clockwise from the surface's first direction.
    """

    at: tuple[Held, Held]
    then: Literal["straight", "smooth", "arc"] = "straight"
    bow: Annotated[float, Meta(ge=-20.0, le=20.0)] = 0.0
    sharp: bool = False
    way_deg: Annotated[float, Meta(ge=-360.0, le=360.0)] | None = None


class CurveMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="curve",
    omit_defaults=True,
):
    """A line drawn on a face, or on the round side ("side") of a turned body: straight runs, arcs, smooth curves.

    Args:
        points: few of them; closed: joined to its start.
        soft: drawn as construction, not as the object's own lines.
        mirrored: whether its mirror image about the thing's middle is there too.
    """

    face: FaceRef
    points: Annotated[tuple[CurvePoint, ...], Meta(min_length=2, max_length=400)]
    closed: bool = False
    soft: bool = False
    mirrored: bool = False


class CourseMark(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    tag_field="mark",
    tag="courses",
    omit_defaults=True,
):
    """A face filled with courses of bricks or tiles, planks, squares or slats, up to its outline and its openings.

    Args:
        pattern: what fills it. long, high : of one thing, mm; of planks and slats ``high`` is their width.
        joint: mm between one and the next. bond : how far each course is shifted against the one below, as a part of a length.
        up: whether planks and slats run up the face, and not along it.
        gap: mm of paper to which lines may come near each other; finer ones are left out, from the far end on.
        border: mm all round that stay free.
        soft: drawn as construction, not as the object's own lines.
        turned: whether they begin at the far end, across and up.
    """

    face: FaceRef
    pattern: CoursePattern = "bricks"
    long: Annotated[float, Meta(ge=0.1, le=1e7, description="mm")] = 240.0
    high: Annotated[float, Meta(ge=0.1, le=1e7, description="mm")] = 71.0
    joint: Size = 10.0
    bond: Part = 0.5
    up: bool = False
    gap: Annotated[float, Meta(ge=0.0, le=100.0, description="mm of paper")] = 0.8
    border: Size = 0.0
    soft: bool = False
    turned: tuple[bool, bool] = (False, False)


FaceMark = RingMark | ArchMark | DivideMark | TickMark | PathMark | OpeningMark | CurveMark | CourseMark
"""The union of all marks, for the file format."""


def stands_up(mark: FaceMark) -> bool:
    """Whether a mark has a foot, so that there is no mirror image of it that stands on its head."""
    return isinstance(mark, ArchMark) or (isinstance(mark, OpeningMark) and mark.form in (*ARCH_FORMS, "inset"))
