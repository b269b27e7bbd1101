"""Joined volumes: where one lies on, beside or inside another one, told along the other one's three directions."""

from __future__ import annotations

from typing import Literal

import msgspec
import numpy as np

from isometron.document.lengths.units import UnitName, format_length, format_number
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import holds
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.faces.names import face_names
from isometron.volumes.kinds import own_faces
from isometron.volumes.own_sides import side_names
from isometron.volumes.relations import Hold, How, Join
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = [
    "HeldBy",
    "extents_in",
    "hold_for",
    "join_words",
    "joined_as_it_lies",
    "placed_by",
    "standing_on",
    "stood_frame",
]

HeldBy = Literal["edge", "middle"]
_SAME = 0.01
"""Faces that lie within this of each other, mm, count as flush."""


def stood_frame(volume: Volume) -> tuple[Floats, Floats]:
    """Return the corner (3,) and the rotation (3, 3) in which a body stands: of a wheel with its steer and its lean."""
    if isinstance(volume, Turned):
        return turned_frame(volume)
    corners, rotations = box_corners([volume])
    return corners[0, 0], rotations[0]


def extents_in(child: Volume, parent: Volume) -> tuple[Floats, Floats]:
    """Return where a volume's bounding box begins and ends (3,) along another one's directions, mm from its corner."""
    corners, _ = box_corners([child])
    start, rotation = stood_frame(parent)
    own = (corners[0] - start) @ rotation
    return own.min(axis=0), own.max(axis=0)


def placed_by(child: Volume, parent: Volume, join: Join) -> tuple[float, float, float]:
    """Return the corner at which a volume lies as its join says."""
    low, high = extents_in(child, parent)
    shift = np.array(
        [_shift(hold, low[k], high[k], parent.size[k], _levels(hold, parent, k)) for k, hold in enumerate(join.holds)]
    )
    x, y, z = np.round(np.array(child.corner) + stood_frame(parent)[1] @ shift, 6) + 0.0
    return float(x), float(y), float(z)


def _levels(hold: Hold, parent: Volume, axis: int) -> tuple[float, float] | None:
    """Return where what is before, and what is after, the other volume ends and begins along a direction, mm.

    None where the face that is stood on is not there now: then a volume stays where it is.
    """
    if not hold.on:
        return 0.0, parent.size[axis]
    face = own_faces(parent).get(hold.on)
    if face is None:
        return None
    start, rotation = stood_frame(parent)
    level = float((face.corner - start) @ rotation[:, axis])
    return level, level


def standing_on(low: Floats, high: Floats, parent: Volume) -> tuple[int, Hold] | None:
    """Return the direction and the hold of a volume that stands on a face of another one's body, within its bounding volume.

    low, high : (3,) see `extents_in`. Only faces square to a direction are stood on so; None where there is none.
    """
    start, rotation = stood_frame(parent)
    place = start + rotation @ ((low + high) / 2.0)
    for face in own_faces(parent).values():
        outward = face.outward @ rotation
        axis = int(np.argmax(np.abs(outward)))
        if abs(float(outward[axis])) < 1.0 - HAIR:
            continue
        level = float((face.corner - start) @ rotation[:, axis])
        gap = low[axis] - level if outward[axis] > 0.0 else level - high[axis]
        at_end = level <= _SAME or level >= parent.size[axis] - _SAME
        flat = np.array([(place - face.corner) @ face.x, (place - face.corner) @ face.y])
        if abs(float(gap)) > _SAME or at_end or not holds(face.loops[0], flat):
            continue
        if not any(holds(hole, flat) for hole in face.loops[1:]):
            return axis, Hold(how="after" if outward[axis] > 0.0 else "before", on=face.id)
    return None


def _shift(hold: Hold, low: float, high: float, size: float, levels: tuple[float, float] | None) -> float:
    if levels is None:
        return 0.0
    middle = (low + high) / 2
    if hold.how == "share":
        return hold.share * size - middle
    if hold.how == "middle":
        return size / 2 + hold.by - middle
    if hold.how == "start":
        return hold.by - (middle if hold.to == "middle" else low)
    if hold.how == "end":
        return size - hold.by - (middle if hold.to == "middle" else high)
    return levels[0] - hold.by - high if hold.how == "before" else levels[1] + hold.by - low


def hold_for(how: How, low: float, high: float, size: float, to: HeldBy = "edge") -> Hold:
    """Return the hold of one kind that leaves a volume where it is."""
    middle = (low + high) / 2
    if how == "share":
        return Hold(how=how, share=round(float(middle / size), 9) + 0.0)
    inside = to if how in ("start", "end") else "edge"
    by = {
        "start": middle if to == "middle" else low,
        "end": size - (middle if to == "middle" else high),
        "before": -high,
        "after": low - size,
        "middle": middle - size / 2,
    }[how]
    return Hold(how=how, by=round(float(by), 6) + 0.0, to=inside)


def joined_as_it_lies(child: Volume, parent: Volume, kept: Join | None = None) -> Join:
    """Return the join that leaves a volume where it is: with the kinds of hold of ``kept``, or those that are plainest.

    Outside a face it stands before or after it; inside it is centred when it is, flush with an end when it is, and else
    held from the start.
    """
    low, high = extents_in(child, parent)
    holds = []
    stands = standing_on(low, high, parent) if kept is None else None
    for k, size in enumerate(parent.size):
        was = None if kept is None else kept.holds[k]
        how = _plainest(low[k], high[k], size) if was is None else _still(was.how, low[k], high[k], size)
        levels = _levels(was, parent, k) if was is not None and was.on else None
        if stands is not None and stands[0] == k:
            holds.append(stands[1])
            continue
        if was is not None and levels is not None:
            by = levels[0] - high[k] if was.how == "before" else low[k] - levels[1]
            holds.append(msgspec.structs.replace(was, by=round(float(by), 6) + 0.0, says=""))
            continue
        holds.append(_as_it_lies(hold_for(how, low[k], high[k], size, "edge" if was is None else was.to), was))
    return Join(to=parent.id, holds=(holds[0], holds[1], holds[2]))


def _as_it_lies(hold: Hold, was: Hold | None) -> Hold:
    """Return the hold that was there while the volume has not moved along it: what an expression gave it still gives."""
    same = was is not None and was.how == hold.how and abs(was.by - hold.by) <= _SAME
    return was if was is not None and same and abs(was.share - hold.share) <= CLOSE else hold


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
    # What lies nearer to an end keeps its distance to that one: a wheel to its own end of the body.
    return "start" if low + high <= size or abs(low) <= _SAME else "end"


def join_words(join: Join, parent: Volume, unit: UnitName) -> str:
    """Return a join in words, such as ``stands on Body, centred between left side and right side, 120 mm inside the rear``."""
    head = tr("with {name}", name=parent.name)
    names = face_names(parent) if any(hold.on for hold in join.holds) else {}
    upright = join.holds[2]
    if upright.how in ("before", "after"):
        host = parent.name
        if upright.on:
            host = tr("{face} of {name}", face=names.get(upright.on, tr("a face that is not there now")), name=host)
        head = tr("stands on {name}", name=host) if upright.how == "after" else tr("hangs from {name}", name=host)
        if abs(upright.by) > _SAME:
            head += tr(" with {gap} between", gap=format_length(upright.by, unit))
    said = [
        _hold_words(hold, (names.get(hold.on, ""),) * 2 if hold.on else side_names(parent, k), unit)
        for k, hold in enumerate(join.holds)
        if k < 2 or upright.how not in ("before", "after")
    ]
    return ", ".join((head, *said))


def _hold_words(hold: Hold, ends: tuple[str, str], unit: UnitName) -> str:
    far, near = format_length(abs(hold.by), unit), abs(hold.by) <= _SAME
    if hold.how == "share":
        share = format_number(100.0 * hold.share, 2)
        return tr("its middle at {share} % from {start} to {end}", share=share, start=ends[0], end=ends[1])
    if hold.how == "middle":
        if near:
            return tr("centred between {start} and {end}", start=ends[0], end=ends[1])
        return tr("{far} off the middle towards the {face}", far=far, face=ends[hold.by > 0.0])
    face = ends[hold.how in ("end", "after")]
    if hold.how in ("before", "after"):
        return tr("against the {face}", face=face) if near else tr("{far} outside the {face}", far=far, face=face)
    if hold.to == "middle":
        return tr("its middle {far} inside the {face}", far=far, face=face)
    if near:
        return tr("flush with the {face}", face=face)
    if hold.by < 0.0:
        return tr("{far} beyond the {face}", far=far, face=face)
    return tr("{far} inside the {face}", far=far, face=face)
