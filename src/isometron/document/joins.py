"""Joined volumes: where one lies on, beside or inside another one, told along the other one's three directions."""

from __future__ import annotations

import numpy as np

from isometron.document.units import UnitName, format_length
from isometron.geometry.frames import Floats
from isometron.volumes.box import FACE_NAMES, box_corners
from isometron.volumes.relations import Hold, How, Join
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["extents_in", "hold_for", "join_words", "joined_as_it_lies", "placed_by"]

_SAME = 0.01
"""Faces that lie within this of each other, mm, count as flush."""


def extents_in(child: Volume, parent: Volume) -> tuple[Floats, Floats]:
    """Return where a volume's bounding box begins and ends (3,) along another one's directions, mm from its corner."""
    corners, _ = box_corners([child])
    start, rotations = box_corners([parent])
    own = (corners[0] - start[0, 0]) @ rotations[0]
    return own.min(axis=0), own.max(axis=0)


def placed_by(child: Volume, parent: Volume, join: Join) -> tuple[float, float, float]:
    """Return the corner at which a volume lies as its join says."""
    low, high = extents_in(child, parent)
    shift = np.array([_shift(hold, low[k], high[k], parent.size[k]) for k, hold in enumerate(join.holds)])
    _, rotations = box_corners([parent])
    x, y, z = np.round(np.array(child.corner) + rotations[0] @ shift, 6) + 0.0
    return float(x), float(y), float(z)


def _shift(hold: Hold, low: float, high: float, size: float) -> float:
    if hold.how == "start":
        return hold.by - low
    if hold.how == "end":
        return size - hold.by - high
    if hold.how == "before":
        return -hold.by - high
    if hold.how == "after":
        return size + hold.by - low
    return size / 2 + hold.by - (low + high) / 2


def hold_for(how: How, low: float, high: float, size: float) -> Hold:
    """Return the hold of one kind that leaves a volume where it is."""
    by = {
        "start": low,
        "end": size - high,
        "before": -high,
        "after": low - size,
        "middle": (low + high) / 2 - size / 2,
    }[how]
    return Hold(how=how, by=round(float(by), 6) + 0.0)


def joined_as_it_lies(child: Volume, parent: Volume, kept: Join | None = None) -> Join:
    """Return the join that leaves a volume where it is: with the kinds of hold of ``kept``, or those that are plainest.

    Outside a face it stands before or after it; inside it is centred when it is, flush with an end when it is, and else
    held from the start.
    """
    low, high = extents_in(child, parent)
    holds = []
    for k, size in enumerate(parent.size):
        how = _plainest(low[k], high[k], size) if kept is None else _still(kept.holds[k].how, low[k], high[k], size)
        holds.append(hold_for(how, low[k], high[k], size))
    return Join(to=parent.id, holds=(holds[0], holds[1], holds[2]))


def _still(how: How, low: float, high: float, size: float) -> How:
    """Return the kind of hold a volume keeps when it is moved by hand: what has left its face is held anew."""
    outside = how in ("before", "after")
    return how if outside == (low >= size - _SAME or high <= _SAME) else _plainest(low, high, size)


def _plainest(low: float, high: float, size: float) -> How:
    if high <= _SAME:
        return "before"
    if low >= size - _SAME:
        return "after"
    if abs(low + high - size) <= 2 * _SAME:
        return "middle"
    if abs(low) <= _SAME:
        return "start"
    return "end" if abs(size - high) <= _SAME else "start"


_FACES = tuple(zip(FACE_NAMES[0::2], FACE_NAMES[1::2], strict=True))
_ALONG = (tr("lengthwise"), tr("crosswise"), tr("in height"))


def join_words(join: Join, parent: Volume, unit: UnitName) -> str:
    """Return a join in words, such as ``stands on Body, centred crosswise, 120 mm from the left end``."""
    said = [_hold_words(hold, k, unit) for k, hold in enumerate(join.holds)]
    outside = [k for k, hold in enumerate(join.holds) if hold.how in ("before", "after")]
    head = tr("with {name}", name=parent.name)
    if outside:
        k = 2 if 2 in outside else outside[0]
        hold, gap = join.holds[k], ""
        if abs(hold.by) > _SAME:
            gap = tr(" with {gap} between", gap=format_length(hold.by, unit))
        kinds = {(2, "after"): tr("stands on {name}"), (2, "before"): tr("hangs from {name}")}
        head = kinds.get((k, hold.how), tr("sits beside {name}")).format(name=parent.name) + gap
        said[k] = ""
    return ", ".join(part for part in (head, *said) if part)


def _hold_words(hold: Hold, axis: int, unit: UnitName) -> str:
    far = format_length(abs(hold.by), unit)
    if hold.how == "middle":
        return (
            tr("centred {along}", along=_ALONG[axis])
            if abs(hold.by) <= _SAME
            else tr("{far} off the middle {along}", far=far, along=_ALONG[axis])
        )
    if hold.how in ("before", "after"):
        return tr("beyond the {face}", face=_FACES[axis][hold.how == "after"])
    face = _FACES[axis][hold.how == "end"]
    return tr("flush with the {face}", face=face) if abs(hold.by) <= _SAME else tr(
        "{far} from the {face}", far=far, face=face
    )  # fmt: skip
