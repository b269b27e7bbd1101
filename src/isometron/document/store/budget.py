"""What a document unfolds to: copies times marks times rings. Asked before anything is built, so that no small file fills a machine.

A part is about what one edge costs to build, hide and draw; a round piece or a ring costs several. At the budget a document
is solved within a few seconds.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import singledispatch
from math import prod

from isometron.document.model import MOST_VOLUMES, Document, DocumentError
from isometron.volumes.arch import Arch
from isometron.volumes.courses import MOST_STROKES
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    DivideMark,
    FaceMark,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
)
from isometron.volumes.profile import PIECES
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["LEAST_GRID", "MOST_DEEP", "MOST_PARTS", "hold_to_budget", "over_budget", "parts_of"]

MOST_PARTS = 150_000
MOST_DEEP = 60
"""So many names may need each other in turn, and so many volumes be joined in a chain."""
LEAST_GRID = 0.01
"""mm; a finer module is none."""

_BOX, _ROUND, _RING, _SAYS, _CHORDED = 13, 4, 4, 30, 60


def parts_of(volume: Volume) -> int:
    """Return the number of parts that a volume unfolds to with its marks, copies and mirror image."""
    copies = prod(repeat.count for repeat in volume.copies) * (1 if volume.mirror is None else 2)
    own = _own_parts(volume) + sum(
        _course_parts(mark, volume) if isinstance(mark, CourseMark) else _mark_parts(mark) for mark in volume.marks
    )
    return copies * own + _SAYS * len(volume.says)


_MOST_PIECES = PIECES | {"smooth": 3 * PIECES["smooth"] + 2}
"""Of a stretch of a profile: a smooth one that is cut off at the bounds may come in three, with straight ones between."""


@singledispatch
def _own_parts(volume: Volume) -> int:
    return _BOX


@_own_parts.register
def _(volume: Turned) -> int:
    sides = sum(_ROUND * _MOST_PIECES[ring.then] + _RING for ring in volume.profile)
    return sides + 2 * _RING * len(volume.face_rings) + _RING * volume.sections + 2 * volume.spokes + _BOX


@_own_parts.register
def _(volume: Framed) -> int:
    return _BOX * (5 + 4 * len(volume.rails))


@_own_parts.register
def _(volume: Arch) -> int:
    return 12 * _BOX


@_own_parts.register
def _(volume: CutBody) -> int:
    total = _BOX
    for profile in (volume.side, volume.plan, volume.front):
        if profile is not None:
            rounds = sum(corner.round > 0.0 or corner.bow != 0.0 for corner in profile.corners)
            total += (2 if profile.alike else 1) * (6 * len(profile.corners) + _CHORDED * rounds)
    return total


def _course_parts(mark: CourseMark, volume: Volume) -> int:
    """As many joints as the largest face of the bounding volume may have."""
    _, high, wide = sorted(volume.size)
    long = wide if mark.pattern in ("planks", "slats") else mark.long + mark.joint
    return int(min((wide / long + 2.0) * (max(wide, high) / (mark.high + mark.joint) + 2.0), MOST_STROKES))


@singledispatch
def _mark_parts(mark: FaceMark) -> int:
    raise TypeError(type(mark))


@_mark_parts.register
def _(mark: RingMark) -> int:
    sunk = _ROUND + _RING if mark.depth else 0
    return mark.count * (_RING * (1 + len(mark.inner)) + sunk + mark.divisions)


@_mark_parts.register
def _(mark: ArchMark) -> int:
    return mark.count * 12


@_mark_parts.register
def _(mark: DivideMark) -> int:
    return len(mark.across) + len(mark.up) + 6


@_mark_parts.register
def _(mark: TickMark) -> int:
    return len(mark.parts)


@_mark_parts.register
def _(mark: PathMark) -> int:
    runs = (12 if mark.smooth else 1) * len(mark.points)
    return 60 * runs if mark.carried else 2 * runs


@_mark_parts.register
def _(mark: OpeningMark) -> int:
    sides = 4 if mark.outline is None else len(mark.outline.corners)
    rounds = 4 if mark.round > 0.0 else 2 if mark.form != "rectangle" else 0
    bars = 8 * sum(mark.bars)
    return mark.count * (2 if mark.mirrored else 1) * (6 * sides + _CHORDED * rounds + bars + _BOX)


def over_budget(volumes: Sequence[AnyVolume]) -> tuple[int, str] | None:
    """Return the row of the volume that costs too much among the others, and words; None when all is within bounds."""
    costs = [parts_of(volume) for volume in volumes]
    total = sum(costs)
    if total <= MOST_PARTS:
        return None
    row = max(range(len(costs)), key=costs.__getitem__)
    words = tr(
        "the document would unfold to about {total} parts, {own} of them here; at most {most} can be drawn. "
        "Take fewer copies, marks or rings",
        total=total, own=costs[row], most=MOST_PARTS,
    )  # fmt: skip
    return row, words


def hold_to_budget(before: Document, after: Document) -> Document:
    """Return ``after``; raises `DocumentError` when it unfolds to more than can be drawn, and to more than ``before``."""
    if after.volumes is before.volumes:
        return after
    # While one of thousands is dragged only that one is looked at.
    old, new = set(map(id, before.volumes)), set(map(id, after.volumes))
    more = sum(parts_of(volume) for volume in after.volumes if id(volume) not in old)
    less = sum(parts_of(volume) for volume in before.volumes if id(volume) not in new)
    if more <= less and len(after.volumes) <= max(len(before.volumes), MOST_VOLUMES):
        return after
    if len(after.volumes) > MOST_VOLUMES:
        raise DocumentError(tr("A document holds at most {most} volumes.", most=MOST_VOLUMES))
    found = over_budget(after.volumes)
    if found is not None:
        raise DocumentError(tr("{name}: {words}.", name=after.volumes[found[0]].name, words=found[1]))
    return after


@_mark_parts.register
def _(mark: CurveMark) -> int:
    return (8 if mark.mirrored else 4) * (len(mark.points) + 1)
