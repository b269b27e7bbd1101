"""Marks drawn on faces: a face or an edge is parted by a click, a ring or an arch is pulled open on it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import degrees, radians
from typing import Literal

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.lengths.units import format_length
from isometron.document.marks.dividing import divide_edge, divide_face, lay_mark, parts_words
from isometron.document.model import DocumentError
from isometron.geometry.frames import Floats
from isometron.solve.pick import SideHit, face_of_hit, nearest_edge, on_itself, pick_face, side_of_hit
from isometron.tools.form.typed_row import in_row, row_apart
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import on_plane, rounded
from isometron.tools.pulls import step_at, typed_length
from isometron.volumes.box import BOX_EDGES, Box
from isometron.volumes.faces.names import face_name
from isometron.volumes.faces.plane import FacePlane
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.lines.on_side import side_frame
from isometron.volumes.marks.face_marks import ArchForm, ArchMark, DivideMark, FaceMark, FaceRef, RingMark, TickMark
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from isometron.volumes.marks.places import face_plane, line_places
from isometron.wording import tr

__all__ = ["DividePlan", "FaceUnder", "LayPlan", "divide_tool", "face_under", "lay_tool", "side_caught"]

_NO_FACE = tr("There is no face here. Press on a solid volume.")
_AXLE = 0.75
"""Of a ring's diameter: so far its axle is shown on both sides."""
_CATCH = 8.0
"""The middle and the edges of a face catch within this many pointer steps."""


@dataclass(frozen=True)
class DividePlan:
    """How a face is parted: places across it and up it (0 to 1), a border in mm, its diagonals, and how it is drawn."""

    across: tuple[float, ...] = (0.5,)
    up: tuple[float, ...] = ()
    border: float = 0.0
    diagonals: bool = False
    soft: bool = True


@dataclass(frozen=True)
class FaceUnder:
    """A face of a volume's own body under the pencil, and the place on it as parts of the face.

    placement : (3, 3) and (3,), where the copy or the mirror image that is under the pencil lies, see `on_itself`. on_side : of a round
    side, whose face is then the plane that touches it there, the parts of its axle and of the whole turn about it.
    """

    owner: int
    face: FaceRef
    plane: FacePlane
    at: tuple[float, float]
    placement: tuple[Floats, Floats]
    on_side: tuple[float, float] | None = None

    @property
    def place(self) -> Floats:
        """Where it lies on what is under the pencil, (3,) in the world."""
        return self.on_copy(self.plane.spot(*self.at))

    def on_copy(self, place: Floats) -> Floats:
        """Return a place (3,) of the volume itself on what is under the pencil."""
        ways, moved = self.placement
        there: Floats = ways @ place + moved
        return there

    def met(self, context: ToolContext, pencil: Pencil) -> Floats | None:
        """Return the place (3,) of the volume itself that the pencil points at on the plane of the face."""
        ways, moved = self.placement
        place = on_plane(context.drawing.document.eye, self.place, ways @ self.plane.outward, pencil.u, pencil.v)
        return None if place is None else (place - moved) @ ways


def face_under(context: ToolContext, u: float, v: float) -> FaceUnder | None:
    """Return the face that the sight line meets first: the body's own, or one of the six of its bounding volume."""
    hit = pick_face(context.drawing, u, v, locked=False)
    if hit is None:
        return None
    volume = context.drawing.document.volumes[hit.owner]
    face = face_of_hit(context.drawing, hit)
    if face is None:
        return None  # a round side
    hit, placement = on_itself(context.drawing, hit)
    plane = face_plane(volume, face)
    return FaceUnder(hit.owner, face, plane, plane.parts_of(hit.place), placement)


def _shown(context: ToolContext, volume: AnyVolume, mark: FaceMark) -> Floats:
    """Return a mark of a volume as lines on paper (N, 4), whatever hides it."""
    eye = context.drawing.document.eye
    bare = msgspec.structs.replace(volume, marks=(mark,))
    ends = [mark_edges(bare).ends]
    rounds = mark_rounds(bare, 0)
    t = np.linspace(0.0, 1.0, 49)
    for ring, (start, sweep) in zip(rounds.rings, rounds.ring_span, strict=True):
        angle = 2 * np.pi * (start + sweep * t)[:, None]
        points = ring[:3] + np.cos(angle) * ring[3:6] + np.sin(angle) * ring[6:9]
        ends.append(np.stack([points[:-1], points[1:]], axis=1))
    pairs = np.concatenate(ends)
    paper, depth = eye.project(pairs.reshape(-1, 3))
    seen = (depth.reshape(-1, 2) > 0.0).all(axis=1)
    lines: Floats = paper.reshape(-1, 4)[seen]
    return lines


_DIVIDE = tr("Click a face to part it so, or an edge for ticks. Escape lays the tool aside.")


def divide_tool(context: ToolContext, plan: Callable[[], DividePlan]) -> Tool:
    """Part the face or the edge that is clicked, as ``plan`` says at that moment."""
    refusal, lines = "", np.zeros((0, 4))
    notes: tuple[Note, ...] = ()
    while True:
        pencil = yield Preview(_DIVIDE, live=lines, notes=notes, refusal=refusal)
        refusal, lines, notes = "", np.zeros((0, 4)), ()
        wish = plan()
        found = _tick(context, pencil, wish, hidden=False) or _division(context, pencil, wish)
        found = found or _tick(context, pencil, wish, hidden=True)
        if found is None:
            if pencil.act is Act.PRESS:
                refusal = tr("There is no face here. Click on a solid volume.")
            continue
        edit, mark, volume, words = found
        if pencil.act is Act.PRESS:
            try:
                return replace(edit(), told=tr("Laid: {words}", words=words))
            except DocumentError as error:
                refusal = str(error)
        lines = _shown(context, volume, mark)
        notes = (Note(words, pencil.u, pencil.v),)


_Found = tuple[Callable[[], Edit], FaceMark, AnyVolume, str]


def _tick(context: ToolContext, pencil: Pencil, wish: DividePlan, *, hidden: bool) -> _Found | None:
    """Return the ticks of the edge under the pencil, a hidden one too if that is wanted: of a box, whose edges are its first twelve."""
    if not wish.across:
        return None
    within = 0.6 * _CATCH * context.grain
    edge = nearest_edge(
        context.drawing, pencil.u, pencil.v, within, locked=False, hidden=hidden, first=len(BOX_EDGES)
    )
    if edge is None:
        return None
    volume = context.drawing.document.volumes[edge[0]]
    number = edge[1] - context.drawing.scene.edges_of(edge[0]).start
    if not isinstance(volume, Box) or number >= len(BOX_EDGES):
        return None
    mark = TickMark(edge=number, parts=wish.across)
    words = tr("{parts} parts of an edge of {volume}", parts=parts_words(wish.across), volume=volume.name)
    document = context.drawing.document
    return lambda: divide_edge(document, volume.id, number, wish.across), mark, volume, words


def _division(context: ToolContext, pencil: Pencil, wish: DividePlan) -> _Found | None:
    under = face_under(context, pencil.u, pencil.v)
    if under is None:
        return None
    document = context.drawing.document
    volume = document.volumes[under.owner]
    mark = DivideMark(
        face=under.face, across=wish.across, up=wish.up, border=wish.border, diagonals=wish.diagonals, soft=wish.soft
    )
    words = tr(
        "{across} x {up} on the {face} of {volume}", across=parts_words(wish.across), up=parts_words(wish.up),
        face=face_name(volume, under.face), volume=volume.name,
    )  # fmt: skip
    return lambda: divide_face(document, volume.id, mark), mark, volume, words


@dataclass(frozen=True)
class LayPlan:
    """What is laid on a face: a ring or an arch, and what it is beside its place and size."""

    kind: Literal["ring", "arch"] = "ring"
    depth: float = 0.0
    inner: tuple[float, ...] = ()
    divisions: int = 0
    sweep_deg: float = 360.0
    form: ArchForm = "half-round"
    band: float = 0.0


_LAY = {
    "ring": (
        tr("Press on a face where the ring's centre lies; its middle and division lines catch."),
        tr(
            "Pull it open: let go, or type its diameter (or 90, 3 gap 40 for a row) and press Enter. Escape steps back."
        ),
    ),
    "arch": (
        tr("Press on an upright face where the middle of the arch's foot stands."),
        tr("Pull up and aside to its height and half its width. Escape steps back."),
    ),
}


def lay_tool(context: ToolContext, plan: Callable[[], LayPlan]) -> Tool:
    """Lay a ring or an arch on a face: press at its centre or foot, pull it open."""
    start: FaceUnder | None = None
    refusal, lines = "", np.zeros((0, 4))
    notes: tuple[Note, ...] = ()
    while True:
        wish = plan()
        prompt = _LAY[wish.kind][start is not None]
        pencil = yield Preview(prompt, live=lines, notes=notes, refusal=refusal, step=None if start is None else 0)
        refusal, lines, notes = "", np.zeros((0, 4)), ()
        if pencil.act is Act.BACK:
            start = None
            continue
        if start is None:
            start, refusal, notes = _begun(context, pencil, wish)
            continue
        volume = context.drawing.document.volumes[start.owner]
        size, row = row_apart(pencil.text)
        typed, wrong = typed_length(context, size)
        mark, words = _opened(context, start, pencil, wish, typed)
        if pencil.act is Act.ENTER and wrong:
            refusal = wrong
        if mark is None:
            continue
        lines, notes = _shown(context, volume, mark), (Note(words, pencil.u, pencil.v),)
        if isinstance(mark, RingMark):
            lines = np.concatenate([lines, _axle(context, start, mark)])
        if pencil.act is Act.RELEASE or (pencil.act is Act.ENTER and not wrong):
            try:
                return in_row(lay_mark(context.drawing.document, volume.id, mark), volume.id, row)
            except DocumentError as error:
                refusal = str(error)
                if pencil.act is Act.RELEASE:  # a place that is refused is let go
                    start, lines, notes = None, np.zeros((0, 4)), ()


def _axle(context: ToolContext, start: FaceUnder, mark: RingMark) -> Floats:
    """Return the axle of a ring as a line on paper (1, 4): its minor axis runs along it."""
    middle = start.plane.spot(*start.at)
    out = mark.diameter * start.plane.outward
    ends = np.array([start.on_copy(middle - _AXLE * out), start.on_copy(middle + _AXLE * out)])
    paper, depth = context.drawing.document.eye.project(ends)
    return paper.reshape(1, 4) if (depth > 0.0).all() else np.zeros((0, 4))


def _begun(context: ToolContext, pencil: Pencil, wish: LayPlan) -> tuple[FaceUnder | None, str, tuple[Note, ...]]:
    """Return where a ring or an arch begins once it is pressed, else words about where it would."""
    under = face_under(context, pencil.u, pencil.v)
    if under is None:
        touching = _touching(context, pencil) if wish.kind == "ring" else None
        if touching is not None and pencil.act is Act.PRESS:
            return touching, "", ()
        side = round_side_words(context, pencil)
        if touching is not None:
            return None, "", (Note(side, pencil.u, pencil.v),)
        refusal = tr("{side}: marks lie on flat faces, such as its ends.", side=side) if side else _NO_FACE
        return None, refusal if pencil.act is Act.PRESS else "", (Note(side, pencil.u, pencil.v),) if side else ()
    at, words = _caught(context, under, wish)
    if wish.kind == "arch" and abs(under.plane.outward[2]) > 0.7:
        return None, tr("An arch stands on an upright face.") if pencil.act is Act.PRESS else "", ()
    if pencil.act is Act.PRESS:
        return replace(under, at=at), "", ()
    paper, _ = context.drawing.document.eye.project(replace(under, at=at).place)
    return None, "", (Note(words, float(paper[0, 0]), float(paper[0, 1])),)


def _touching(context: ToolContext, pencil: Pencil) -> FaceUnder | None:
    """Return the plane that touches the round side under the pencil; None elsewhere."""
    found = side_caught(context, pencil)
    if found is None:
        return None
    side = found.side
    place, first, second, outward = side_frame(side, *found.at)
    half = side.around * np.array([first, second])
    quad = np.array([[place + a * half[0] + b * half[1] for b in (-1.0, 1.0)] for a in (-1.0, 1.0)])
    plane = FacePlane(quad, place, 2.0 * half[0], 2.0 * half[1], outward, (0, 1))
    at = found.at[0] / side.reach[0], found.at[1] / side.reach[1]
    return FaceUnder(found.owner, found.face, plane, (0.5, 0.5), found.placement, at)


def side_caught(context: ToolContext, pencil: Pencil) -> SideHit | None:
    """Return the round side under the pencil, and the place on it, caught by the middle of it and by eighths of a turn."""
    hit = pick_face(context.drawing, pencil.u, pencil.v, locked=False)
    found = None if hit is None else side_of_hit(context.drawing, hit)
    if hit is None or found is None:
        return None
    within, step = _CATCH * context.per_step(hit.place), step_at(context, hit.place)
    long, round_ = found.side.reach
    far, about = found.at
    far = long / 2.0 if abs(far - long / 2.0) <= within else rounded(far, step)
    part = round_ / 8.0 if found.side.turn >= 2.0 * np.pi else round_ / 2.0
    caught = part * round(about / part)
    fine = radians(1.0) * found.side.around
    about = caught if abs(about - caught) <= within else fine * round(about / fine)
    return replace(
        found, at=(min(max(far, 0.0), long), about % round_ if part < round_ / 2.0 else min(max(about, 0.0), round_))
    )


def round_side_words(context: ToolContext, pencil: Pencil) -> str:
    """Return where the pencil is on a round side, as height along the axle and angle about it; empty elsewhere."""
    hit = pick_face(context.drawing, pencil.u, pencil.v, locked=False)
    found = None if hit is None else side_of_hit(context.drawing, hit)
    if found is None:
        return ""
    volume = context.drawing.document.volumes[found.owner]
    far, about = found.at
    return tr(
        "{side} of {volume}, {far} along its axle, at {angle:.0f}°",
        side=face_name(volume, found.face),
        volume=volume.name,
        far=format_length(round(far, 1), context.drawing.document.unit),
        angle=degrees(about / found.side.around),
    )


def _caught(context: ToolContext, under: FaceUnder, wish: LayPlan) -> tuple[tuple[float, float], str]:
    """Return the place on a face, caught by its middle, by the lines that part it, and for arches by its foot."""
    volume = context.drawing.document.volumes[under.owner]
    within = _CATCH * context.per_step(under.place)
    own = [m for m in volume.marks if isinstance(m, DivideMark) and m.face == under.face]
    targets = (
        {0.5, *(p / under.plane.wide for m in own for p in line_places(m, under.plane)[0])},
        {0.5, *(p / under.plane.high for m in own for p in line_places(m, under.plane)[1])},
    )
    if wish.kind == "arch":
        targets = (targets[0], {0.0})
    found, words = [], []
    for part, places, size in zip(under.at, targets, (under.plane.wide, under.plane.high), strict=True):
        near = min(places, key=lambda p: abs(p - part))
        caught = abs(near - part) * size <= within
        step = step_at(context, under.place)
        found.append(near if caught else rounded(part * size, step) / size)
        words.append(caught)
    said = tr("in the middle") if all(words) and found[0] == found[1] == 0.5 else face_name(volume, under.face)
    at = (min(max(found[0], 0.0), 1.0), min(max(found[1], 0.0), 1.0))
    return at, said


def _opened(
    context: ToolContext, start: FaceUnder, pencil: Pencil, wish: LayPlan, typed: float | None
) -> tuple[FaceMark | None, str]:
    """Return the mark as it is pulled open now, and its size in words."""
    unit = context.drawing.document.unit
    centre, place = start.plane.spot(*start.at), start.met(context, pencil)
    if place is None and typed is None:
        return None, ""
    gap = np.zeros(3) if place is None else place - centre
    x, y = (
        float(gap @ way) / size
        for way, size in ((start.plane.x, start.plane.wide), (start.plane.y, start.plane.high))
    )
    step = step_at(context, start.place)
    if wish.kind == "ring":
        diameter = typed if typed is not None else rounded(2 * float(np.hypot(x, y)), step)
        if not diameter > 0.0:
            return None, ""
        ring = RingMark(
            face=start.face, at=start.on_side or start.at, diameter=diameter, depth=wish.depth, inner=wish.inner,
            divisions=wish.divisions, sweep_deg=wish.sweep_deg,
        )  # fmt: skip
        return ring, f"⌀ {format_length(diameter, unit)}"
    wide, high = rounded(2 * abs(x), step), typed if typed is not None else rounded(max(y, 0.0), step)
    if not (wide > 0.0 and high > 0.0):
        return None, ""
    arch = ArchMark(face=start.face, at=start.at, wide=wide, high=high, form=wish.form, band=wish.band)
    return arch, f"{format_length(wide, unit)} x {format_length(high, unit)}"
