"""Parts of a side and rows of bays: by diagonals, by a measuring line, and as learners do with a ruler.

Equal parts of the leading edge, which is not foreshortened, are carried to the vanishing point and cut by the side's
diagonal: similar triangles (Euclid, Elements VI.2), seen in perspective.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot

import msgspec
import numpy as np

from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.side import Laid, Side, done, ends_of, lay_side, measured_uprights, raise_upright, side_along
from isometron.document.lengths.units import format_number
from isometron.document.model import Document
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.box import box_corners
from isometron.volumes.copies import copies_of
from isometron.volumes.marks.face_marks import DivideMark
from isometron.volumes.marks.places import face_plane, line_places
from isometron.volumes.relations import Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = [
    "parts_by_diagonals",
    "parts_by_measuring_line",
    "row_by_diagonals",
    "row_by_measuring_line",
    "with_a_ruler",
]


def _parted(document: Document, row: int) -> tuple[Side, list[float]] | NotHere:
    """Return the side with a division on it and its places counted from the leading edge; halves without one."""
    for axis in (None, *(k for k in range(3))):
        side = side_along(document, row, axis)
        if isinstance(side, NotHere):
            if axis is None:
                return side
            continue
        mark = next(
            (m for m in side.volume.marks if isinstance(m, DivideMark) and _lies_on(m, side) and m.across), None
        )
        if mark is not None:
            across, _ = line_places(mark, face_plane(side.volume, mark.face))
            places = [side.from_lead(place / side.true) for place in across]
            return side, sorted(places)
    usual = side_along(document, row, None)
    assert not isinstance(usual, NotHere)
    return usual, [0.5]


def _lies_on(mark: DivideMark, side: Side) -> bool:
    other = 3 - side.axis - side.box.axis_up
    return mark.face == 2 * other + side.box.bit(other)


def parts_by_diagonals(document: Document, row: int) -> Construction | NotHere:
    """Part the side at the leading edge by its diagonal: ends ``part k bottom`` and ``top``, from the leading edge."""
    found = _parted(document, row)
    if isinstance(found, NotHere):
        return found
    side, places = found
    table = Table(document)
    laid = lay_side(table, side)
    title = tr("Parts by diagonals")
    if places == [0.5]:
        crossing = table.cross(table.join(laid.near[0], laid.far[1]), table.join(laid.near[1], laid.far[0]), "M")
        half = raise_upright(laid, crossing, "part 1")
        table.step(tr("The diagonals of any rectangle cross in its true middle; a ruler's half lies too far back."))
        return done(table, "parts", title, side, ends_of([half]))
    lead = table.join(laid.near[0], laid.near[1])
    marks = [
        table.lay_off(lead, laid.near[0], place * side.box.high, (0.0, 1.0), f"h{k}")
        for k, place in enumerate(places, start=1)
    ]
    levels = [table.join(mark, laid.point) for mark in marks]
    table.step(tr("The leading edge is parallel to the paper, so equal parts of it are drawn equal."))
    diagonal = table.join(laid.near[0], laid.far[1])
    uprights = [
        raise_upright(laid, table.cross(diagonal, level, f"d{k}"), f"part {k}")
        for k, level in enumerate(levels, start=1)
    ]
    table.step(tr("A diagonal parts the length as the leading edge is parted, whatever the foreshortening."))
    return done(table, "parts", title, side, ends_of(uprights))


def parts_by_measuring_line(document: Document, row: int) -> Construction | NotHere:
    """Part the side at the leading edge by a measuring line; the ends are named as `parts_by_diagonals` does."""
    found = _parted(document, row)
    if isinstance(found, NotHere):
        return found
    side, places = found
    table = Table(document)
    laid = lay_side(table, side)
    uprights = measured_uprights(laid, places, [f"part {k}" for k in range(1, len(places) + 1)])
    return done(table, "parts-line", tr("Parts by measuring line"), side, ends_of(uprights))


@dataclass(frozen=True)
class _Row:
    """Bays along a side: where each begins and ends, in lengths of the first one from the leading edge."""

    side: Side
    bays: list[tuple[float, float]]
    gap: float


def _row(document: Document, row: int) -> _Row | NotHere:
    """Return the first row of copies of a volume, or three bays side by side when it has none."""
    volume = document.volumes[row]
    first = volume.copies[0] if volume.copies else None
    axis = None if first is None else DIRECTIONS.index(first.along)
    side = side_along(document, row, axis)
    if isinstance(side, NotHere):
        return side
    count, pitch = (3, side.true) if first is None else (first.count, first.pitch)
    whole = msgspec.structs.replace(
        volume,
        copies=(Repeat(along=DIRECTIONS[side.axis], count=count, pitch=pitch),),
        mirror=None,
    )
    corners = np.concatenate([box_corners([copy])[0][0] for copy in copies_of(whole, dict)])
    if not (document.eye.to_camera(corners)[:, 2] > 0.0).all():
        return NotHere(tr("The row of {name} reaches behind the eye. Step back first.", name=volume.name))
    bays = []
    for k in range(count):
        size = side.true
        if first is not None and first.last > 0.0 and k == count - 1:
            size = first.last
        start = k * pitch
        if first is not None and first.last > 0.0 and pitch < 0.0 and k == count - 1:
            start += side.true - first.last
        ends = [start / side.true, (start + size) / side.true]
        ends = ends if side.sense > 0 else [1.0 - end for end in reversed(ends)]
        bays.append((ends[0], ends[1]))
    return _Row(side, bays, abs(pitch) / side.true - 1.0)


def _names(found: _Row) -> tuple[list[float], list[str]]:
    """Return the uprights of all bays but the first, and their names: ``bay k start`` is nearer to the leading edge."""
    places, names = [], []
    for k, bay in enumerate(found.bays[1:], start=2):
        for place, word in zip(bay, ("start", "end"), strict=True):
            places.append(place)
            names.append(f"bay {k} {word}")
    return places, names


def _measured_row(document: Document, found: _Row) -> tuple[Table, Laid, list[tuple[Spot, Spot]]]:
    """Rule the first bay and measure off the uprights of all the others."""
    table = Table(document)
    laid = lay_side(table, found.side)
    return table, laid, measured_uprights(laid, *_names(found))


def row_by_measuring_line(document: Document, row: int) -> Construction | NotHere:
    """Repeat a bay by a measuring line; ends ``bay k start bottom`` and so on for every bay after the first."""
    found = _row(document, row)
    if isinstance(found, NotHere):
        return found
    table, _, uprights = _measured_row(document, found)
    return done(table, "row-line", tr("Row by measuring line"), found.side, ends_of(uprights))


def row_by_diagonals(document: Document, row: int) -> Construction | NotHere:
    """Repeat a bay by diagonals; a last bay that differs has none of its own.

    What repeats is the pitch, from the start of one to the start of the next: a post and the gap behind it. The diagonals
    of all pitches are parallel, so they vanish in one point on the upright through the side's vanishing point, and so do
    those of the posts themselves.
    """
    found = _row(document, row)
    if isinstance(found, NotHere):
        return found
    side = found.side
    if found.gap < -CLOSE:
        return NotHere(tr("The bays overlap: their pitch is less than their length."), "row-line")
    if any(abs(end - start - 1.0) > CLOSE for start, end in found.bays):
        return NotHere(tr("The last bay differs, so its diagonal runs elsewhere."), "row-line")
    if found.bays[-1][0] < 0.0:
        return NotHere(tr("The row comes towards the eye from the leading edge."), "row-line")
    table = Table(document)
    laid = lay_side(table, side)
    wall = table.upright(laid.point)
    apart = found.gap > CLOSE
    starts = (
        [laid.near, *measured_uprights(laid, [1.0 + found.gap], ["bay 2 start"])] if apart else [laid.near, laid.far]
    )
    point = table.cross(table.join(laid.near[0], starts[1][1]), wall, "VP D1")
    table.step(
        tr("VP D1 is the vanishing point of the diagonals of one pitch, from the start of one to the start of the next: they are parallel, "
           "so they have one."),
    )  # fmt: skip
    own = _own_diagonal(laid, wall) if apart else point
    uprights: list[tuple[Spot, Spot]] = []
    for k in range(2, len(found.bays) + 1):
        start = starts[k - 1] if apart else _named(starts[k - 1], f"bay {k} start")
        uprights.append(start)
        over = table.cross(table.join(start[0], own), laid.top, table.fresh("Q"))
        end = raise_upright(laid, over, f"bay {k} end")
        uprights.append(end)
        if k < len(found.bays):
            over = table.cross(table.join(start[0], point), laid.top, table.fresh("Q"))
            starts.append(raise_upright(laid, over, f"bay {k + 1} start") if apart else end)
    table.step(tr("Each bay hands its diagonal on; nothing is measured, so no error adds up from a ruler."))
    return done(table, "row", tr("Row by diagonals"), side, ends_of(uprights))


def _named(upright: tuple[Spot, Spot], name: str) -> tuple[Spot, Spot]:
    """Return an upright under another name: where one bay ends the next one starts."""
    return replace(upright[0], end=f"{name} bottom"), replace(upright[1], end=f"{name} top")


def _own_diagonal(laid: Laid, wall: Line) -> Spot:
    """Rule the diagonal of what stands in the row itself, for its width."""
    table = laid.table
    point = table.cross(table.join(laid.near[0], laid.far[1]), wall, "VP D2")
    table.step(
        tr(
            "VP D2 likewise for the diagonal of what stands in the row itself, for its width: it is as wide everywhere."
        )
    )
    return point


def with_a_ruler(document: Document, row: int) -> Construction | NotHere:
    """Repeat a bay as learners do, by equal steps and by steps that shrink by one factor, and say how far that is off."""
    found = _row(document, row)
    if isinstance(found, NotHere):
        return found
    table, laid, uprights = _measured_row(document, found)
    near, far = laid.near[0], laid.far[0]
    step = hypot(far.u - near.u, far.v - near.v)
    towards = (far.u - near.u, far.v - near.v)
    true = [low for low, _ in uprights if low.end.endswith("end bottom")]
    pitch = abs(laid.bottom.along(true[0]) - laid.bottom.along(far))
    shrink = pitch / (step * (1.0 + found.gap)) if step > 0.0 else 1.0
    said = {}
    for word, factor in ((tr("equal steps"), 1.0), (tr("a constant shrink"), shrink)):
        along, size = step, step * (1.0 + found.gap)
        for k in range(2, len(found.bays) + 1):
            size *= factor
            along += size
            if k == len(found.bays):
                guess = table.lay_off(laid.bottom, near, along, towards, table.fresh("g"))
                said[word] = (guess, hypot(guess.u - true[-1].u, guess.v - true[-1].v))
                high = 0.3 * (laid.near[1].v - near.v)
                table.lay_off(table.upright(guess), guess, high, (0.0, 1.0), table.fresh("k"))
    table.step(
        tr("With equal steps of the ruler the last bay would end {equal} away from its place; with every step {factor} of the "
           "one before, {shrink} away. Equal bays shrink by a little less each time: neither the step nor the factor stays.",
           equal=table.paper(said[tr("equal steps")][1]), factor=format_number(shrink, 3),
           shrink=table.paper(said[tr("a constant shrink")][1])),
    )  # fmt: skip
    return done(table, "row-ruler", tr("Row with a ruler, and its error"), found.side, ends_of(uprights))
