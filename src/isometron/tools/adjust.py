"""Hands on a volume: pull a face, move it, lift it, turn it. One stroke from press to release, one edit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import atan2, degrees

import numpy as np

from isometron.document.edits import Edit, move_volumes, reshape_volume
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError, format_length, format_number, parse_angle
from isometron.document.model import DocumentError
from isometron.document.shapes.lengthening import beside, lengthen
from isometron.document.shapes.profiles import move_corner
from isometron.document.together import turn_together
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats, half_turn
from isometron.geometry.tolerances import CLOSE
from isometron.solve.room import Stop, room_along
from isometron.tools.handles import Grip, Handle, corner_places, turning_circle
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.picture_catch import edge_snap
from isometron.tools.pulling import on_plane, pulled_length, round_step, rounded
from isometron.tools.snapping import Snap, level_targets, nearest_snap, size_targets
from isometron.view.plan import snapped
from isometron.volumes.cut.profiles import VIEWS, CutBody
from isometron.volumes.keeping import Kept
from isometron.wording import tr

__all__ = ["adjust_tool"]

_CATCH = 5.0
"""Snaps catch within this many steps of the pointer."""

_SMALLEST = 0.01

_STILL = 2.0
"""A pencil that has not gone farther than this many steps of the pointer has not pulled."""


@dataclass(frozen=True)
class _Pulled:
    """What a stroke has come to: the edit, words beside the pencil, and lines to show."""

    edit: Edit
    words: str
    lines: Floats


_NOTHING = np.zeros((0, 4))


def adjust_tool(context: ToolContext, handle: Handle, ids: tuple[str, ...]) -> Tool:
    """Drag a handle. ``ids`` are the volumes that move and lift together; faces and turning concern the handle's own."""
    worker = _WORKERS[handle.grip]
    prompt = tr("{prompts} Type a figure to have it exactly; Escape lets go.", prompts=_PROMPTS[handle.grip])
    pencil = yield Preview(prompt, step=0)
    start = (pencil.u, pencil.v)
    pulled: _Pulled | None = None
    refusal, meant = "", False
    while True:
        if pencil.act is Act.BACK:
            return None
        # A click that was no pull must not be caught by a snap near by.
        gone = float(np.hypot(pencil.u - start[0], pencil.v - start[1]))
        meant = meant or gone > _STILL * context.grain or bool(pencil.text.strip())
        try:
            if meant:
                pulled = worker(context, handle, ids, start, pencil) or pulled
            refusal = ""
        except (LengthError, DocumentError) as error:
            refusal = str(error)
        if pencil.act is Act.RELEASE or (pencil.act is Act.ENTER and not refusal):
            return pulled.edit if pulled is not None else None
        notes = () if pulled is None else (Note(pulled.words, pencil.u, pencil.v),)
        lines = _NOTHING if pulled is None else pulled.lines
        edit = None if pulled is None else pulled.edit
        pencil = yield Preview(prompt, guides=lines, notes=notes, refusal=refusal, step=0, edit=edit)


def _along(
    context: ToolContext, place: Floats, direction: Floats, start: tuple[float, float], pencil: Pencil
) -> float | None:
    """Return how far the stroke has pulled along ``direction``: from where it began to where the pencil is."""
    eye = context.drawing.document.eye
    begun = pulled_length(eye, place, direction, *start)
    now = pulled_length(eye, place, direction, pencil.u, pencil.v)
    return None if begun is None or now is None else now - begun


def _step(context: ToolContext, place: Floats) -> float:
    return round_step(context.per_step(place), context.drawing.document.unit)


def _settled(
    context: ToolContext, place: Floats, direction: Floats, length: float, targets: list[Snap]
) -> tuple[float, str]:
    snap = nearest_snap(targets, length, _CATCH * context.per_step(place))
    snap = snap or edge_snap(context, place, direction, length)
    return (snap.length, f" · {snap.words}") if snap is not None else (rounded(length, _step(context, place)), "")


def _face(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    document = context.drawing.document
    volume = document.volumes[handle.owner]
    rotation = context.drawing.scene.rotations[handle.owner]
    outward = handle.sign * rotation[:, handle.axis]
    pull = _along(context, handle.place, outward, start, pencil)
    if pull is None:
        return None
    own = volume.size[handle.axis]
    targets = level_targets(context.drawing, {handle.owner}, handle.place, outward)
    targets += size_targets(context.drawing, handle.owner, handle.axis, own)
    pull, why = _settled(context, handle.place, outward, pull, targets)
    length = own + pull
    if pencil.text.strip():
        length, why = read_length(pencil.text, document), ""
        if not length >= _SMALLEST:
            raise LengthError(tr("An edge is at least 0.01 mm long."))
    length = max(length, _step(context, handle.place), _SMALLEST)
    size = _proportioned(volume.size, handle.axis, length, context.proportion)
    corner = np.array(volume.corner)
    if handle.sign < 0.0:
        corner = corner + outward * (size[handle.axis] - own)
    words = format_length(length, document.unit) + why
    if pencil.straight:
        loose = ", ".join(each.name for each in beside(document, (volume.id,), handle.axis))
        words += tr(" · with what is joined") + (tr("; not joined: {names}", names=loose) if loose else "")
        stays = 0.0 if handle.sign > 0.0 else 1.0
        return _Pulled(lengthen(document, (volume.id,), handle.axis, length / own, stays=stays), words, _NOTHING)
    if context.proportion != "free":
        words += " · " + " x ".join(format_length(s, document.unit, with_unit=False) for s in size)
    return _Pulled(reshape_volume(document, volume.id, tuple(corner), size), words, _NOTHING)


def _proportioned(
    size: tuple[float, float, float], axis: int, length: float, proportion: str
) -> tuple[float, float, float]:
    if proportion == "cube":
        return (length, length, length)
    factor = length / size[axis] if proportion == "ratio" else 1.0
    a, b, c = (length if k == axis else round(s * factor, 6) for k, s in enumerate(size))
    return a, b, c


def _lift(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    document, up = context.drawing.document, np.array([0.0, 0.0, 1.0])
    pull = _along(context, handle.place, up, start, pencil)
    if pull is None:
        return None
    corners = context.drawing.scene.corners_of(handle.owner)
    low, high = float(corners[:, 2].min()), float(corners[:, 2].max())
    ground = [Snap(-low, tr("on the ground"))]
    targets = ground + _either_end(context, ids, up, (low, high))
    pull, why = _settled(context, handle.place, up, pull, targets)
    if pencil.text.strip():
        pull, why = read_length(pencil.text, document) - low, ""
    edit = move_volumes(document, ids, (0.0, 0.0, pull), "lift")
    return _Pulled(
        edit, tr("{low} above the ground{why}", low=format_length(low + pull, document.unit), why=why), _NOTHING
    )


def _either_end(
    context: ToolContext, ids: tuple[str, ...], direction: Floats, ends: tuple[float, float]
) -> list[Snap]:
    """Return the shifts along ``direction`` that bring either end of the moving volume level with another volume."""
    document = context.drawing.document
    moving = {row for row, volume in enumerate(document.volumes) if volume.id in ids}
    targets = level_targets(context.drawing, moving, np.zeros(3), direction)
    return [Snap(t.length - end, t.words) for t in targets for end in ends]


def _move(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    document, eye = context.drawing.document, context.drawing.document.eye
    up = np.array([0.0, 0.0, 1.0])
    begun, now = (on_plane(eye, handle.place, up, u, v) for u, v in (start, (pencil.u, pencil.v)))
    if begun is None or now is None:
        return None
    rotation, corners = context.drawing.scene.rotations[handle.owner], context.drawing.scene.corners_of(handle.owner)
    upright = abs(rotation[2, 2]) > 1.0 - CLOSE
    axes = [rotation[:, k] if upright else np.eye(3)[k] for k in (0, 1)]
    shifts, words = [], []
    raw = [float((now - begun) @ axis) for axis in axes]
    if pencil.straight or pencil.text.strip():
        raw = [r if abs(r) == max(map(abs, raw)) else 0.0 for r in raw]
    for axis, shift in zip(axes, raw, strict=True):
        if shift == 0.0 and (pencil.straight or pencil.text.strip()):
            shifts.append(0.0)
            continue
        along = corners @ axis
        shift, why = _settled(
            context, handle.place, axis, shift, _either_end(context, ids, axis, (along.min(), along.max()))
        )
        if pencil.text.strip():
            shift, why = read_length(pencil.text, document) * (1.0 if shift >= 0.0 else -1.0), ""
        shifts.append(shift)
        words.append(why)
    offset = shifts[0] * axes[0] + shifts[1] * axes[1]
    moved = tr(" and ").join(format_length(abs(s), document.unit) for s in shifts if s) or tr("not")
    return _Pulled(
        move_volumes(document, ids, offset),
        tr("moved {moved}{why}", moved=moved, why="".join(dict.fromkeys(words))),
        _NOTHING,
    )


def _turn(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    document, eye = context.drawing.document, context.drawing.document.eye
    volume = document.volumes[handle.owner]
    middle = context.drawing.scene.corners_of(handle.owner).mean(axis=0)
    up = np.array([0.0, 0.0, 1.0])
    begun, now = (on_plane(eye, handle.place, up, u, v) for u, v in (start, (pencil.u, pencil.v)))
    if begun is None or now is None:
        return None
    swing = degrees(_azimuth(now - middle) - _azimuth(begun - middle))
    angle = snapped(half_turn(volume.yaw_deg + swing))
    if pencil.text.strip():
        angle = parse_angle(pencil.text)
    edit = turn_together(document, (*(name for name in ids if name != volume.id), volume.id), angle)
    return _Pulled(
        edit, tr("turned to {angle}°", angle=format_number(angle, 2)), turning_circle(context.drawing, handle.owner)
    )


def _azimuth(direction: Floats) -> float:
    return atan2(float(direction[1]), float(direction[0]))


def _slide(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    """Slide along the axle: whatever is selected goes along."""
    document, direction = context.drawing.document, context.drawing.scene.rotations[handle.owner][:, handle.axis]
    pull = _along(context, handle.place, direction, start, pencil)
    if pull is None:
        return None
    along = context.drawing.scene.corners_of(handle.owner) @ direction
    ends = (float(along.min()), float(along.max()))
    pull, why = _settled(context, handle.place, direction, pull, _either_end(context, ids, direction, ends))
    pull, why = _stopped(context, handle, ids, direction, pull, why)
    if pencil.text.strip():
        pull, why = read_length(pencil.text, document) * (1.0 if pull >= 0.0 else -1.0), ""
    words = tr("slid {far} along its axle{why}", far=format_length(abs(pull), document.unit), why=why)
    return _Pulled(move_volumes(document, ids, pull * direction, tr("slide")), words, _NOTHING)


_ROOM: Kept[tuple[Stop, Stop]] = Kept(2)


def _stopped(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], direction: Floats, pull: float, why: str
) -> tuple[float, str]:
    """Return a slide that ends before it touches what is there; what is typed goes on."""
    picture, document = context.drawing.picture, context.drawing.document
    owners = {row for row in (document.index_of(name) for name in ids) if row is not None}
    back, forth = _ROOM.of((picture, handle, ids), lambda: room_along(picture, owners, direction))
    far, owner = forth if pull >= 0.0 else back
    if abs(pull) <= abs(far):
        return pull, why
    return far, tr(" · it touches {volume} there", volume=document.volumes[owner].name)


def _corner(
    context: ToolContext, handle: Handle, ids: tuple[str, ...], start: tuple[float, float], pencil: Pencil
) -> _Pulled | None:
    """Pull a corner of a profile on its plane; a figure sets the direction in which it has been pulled most."""
    document, eye = context.drawing.document, context.drawing.document.eye
    volume = document.volumes[handle.owner]
    assert isinstance(volume, CutBody)
    rotation = context.drawing.scene.rotations[handle.owner]
    begun, now = (
        on_plane(eye, handle.place, rotation[:, handle.axis], u, v) for u, v in (start, (pencil.u, pencil.v))
    )
    if begun is None or now is None:
        return None
    was = next((place for n, *place in corner_places(volume, handle.view) if n == handle.number), None)
    if was is None:
        return None
    axes = VIEW_AXES[VIEWS.index(handle.view)]
    raw = [float((now - begun) @ rotation[:, axis]) for axis in axes]
    most = max((0, 1), key=lambda k: abs(raw[k]))
    place, why = list(was), ""
    for k, axis in enumerate(axes):
        if k != most and (pencil.straight or pencil.text.strip()):
            continue
        way = rotation[:, axis]
        pull, caught = _settled(context, handle.place, way, raw[k], _corner_targets(context, handle, volume, k, way))
        place[k] = min(max(was[k] + pull, 0.0), volume.size[axis])
        why += caught
    if pencil.text.strip():
        far = read_length(pencil.text, document)
        place[most] = min(max(was[most] + (far if raw[most] >= 0.0 else -far), 0.0), volume.size[axes[most]])
    edit = move_corner(document, volume.id, handle.view, handle.number, (place[0], place[1]))
    words = " · ".join(format_length(round(p, 3), document.unit) for p in place)
    return _Pulled(edit, words + why, _NOTHING)


def _corner_targets(
    context: ToolContext, handle: Handle, volume: CutBody, column: int, direction: Floats
) -> list[Snap]:
    """Return pulls that bring a corner level with another corner of its profile, the body's quarters, or another volume."""
    places = corner_places(volume, handle.view)
    own = next(place[column] for n, *place in places if n == handle.number)
    size = volume.size[VIEW_AXES[VIEWS.index(handle.view)][column]]
    found = [Snap(place[column] - own, tr("level with a corner")) for n, *place in places if n != handle.number]
    found += [
        Snap(part * size - own, tr("{part:.0%} of the volume", part=part)) for part in (0.0, 0.25, 0.5, 0.75, 1.0)
    ]
    return found + level_targets(context.drawing, {handle.owner}, handle.place, direction)


_WORKERS: dict[
    Grip, Callable[[ToolContext, Handle, tuple[str, ...], tuple[float, float], Pencil], _Pulled | None]
] = {
    Grip.FACE: _face,
    Grip.MOVE: _move,
    Grip.LIFT: _lift,
    Grip.TURN: _turn,
    Grip.SLIDE: _slide,
    Grip.CORNER: _corner,
}

_PROMPTS = {
    Grip.FACE: tr("Pull the face along its own direction."),
    Grip.MOVE: tr("Move on the ground; Shift keeps to one direction."),
    Grip.LIFT: tr("Lift straight up or lower."),
    Grip.TURN: tr("Turn on the spot, lightly caught at every 15°."),
    Grip.SLIDE: tr("Slide along the axle."),
    Grip.CORNER: tr("Pull the corner of the profile; Shift keeps to one direction."),
}
