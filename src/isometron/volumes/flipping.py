"""Flipping a volume's own shape along one of its directions, its bounding box staying: what a mirror image needs."""

from __future__ import annotations

from functools import singledispatch

import msgspec
import numpy as np

from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import half_turn
from isometron.geometry.tolerances import HAIR
from isometron.volumes.arch import Arch, plane_axes
from isometron.volumes.box import BOX_FACES, box_corners
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile
from isometron.volumes.faces.turned import ROUND_SIDE
from isometron.volumes.framed import Framed
from isometron.volumes.kinds import NoFace, own_faces, own_sides
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    CurvePoint,
    DivideMark,
    FaceMark,
    FaceRef,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
    stands_up,
)  # fmt: skip
from isometron.volumes.marks.holds import Apart, Held, Measured, Step, other_way
from isometron.volumes.marks.places import face_plane
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["flipped", "turns_over"]


def _edge(edge: RoundedEdge, axis: int, volume: Volume) -> RoundedEdge:
    """Flip a rounded edge: its faces change sides, and where its radius grows its start and its end."""
    other = msgspec.structs.replace(edge, between=(_face(edge.between[0], axis), _face(edge.between[1], axis)))
    if edge.grows_to is None:
        return other
    try:
        one, two = (face_plane(volume, face).outward for face in edge.between)
    except NoFace:
        return other
    way = np.cross(one, two) @ box_corners([volume])[1][0]
    if not way.any():
        return other  # two faces that look alike have no edge
    first = int(np.flatnonzero(np.abs(way) > HAIR * float(np.abs(way).max()))[0])
    return msgspec.structs.replace(other, radius=edge.grows_to, grows_to=edge.radius) if first == axis else other


def flipped(volume: Volume, axis: int) -> Volume:
    """Return the volume with its shape and its marks flipped along own direction ``axis`` (0 long, 1 wide, 2 high)."""
    shape = _shape(volume, axis)
    if volume.rounded:
        shape = msgspec.structs.replace(shape, rounded=tuple(_edge(edge, axis, volume) for edge in volume.rounded))
    if not volume.marks:
        return shape
    return msgspec.structs.replace(shape, marks=tuple(_mark(mark, axis, volume) for mark in volume.marks))


@singledispatch
def _shape(volume: Volume, axis: int) -> Volume:
    """Flip a kind of volume; a box is alike on both sides."""
    return volume


@_shape.register
def _(volume: Turned, axis: int) -> Volume:
    along = DIRECTIONS.index(volume.axle) == axis
    # The lean is told against the axle, which a flip along it turns round.
    lean = -volume.lean_deg if along else volume.lean_deg
    steered = msgspec.structs.replace(volume, steer_deg=-volume.steer_deg, lean_deg=lean)
    if not along:
        return steered
    rings = sorted(volume.profile, key=lambda ring: ring.at)
    # How the side runs on belongs to the stretch, so it moves to the ring that now begins it.
    thens = [*(ring.then for ring in reversed(rings[:-1])), rings[-1].then]
    turned = [
        msgspec.structs.replace(ring, at=1.0 - ring.at, then=then)
        for ring, then in zip(rings[::-1], thens, strict=True)
    ]
    return msgspec.structs.replace(steered, profile=tuple(turned))


@_shape.register
def _(volume: CutBody, axis: int) -> Volume:
    views = {
        view: _profile(getattr(volume, view), axes.index(axis))
        for view, axes in zip(VIEWS, VIEW_AXES, strict=True)
        if axis in axes
    }
    return msgspec.structs.replace(volume, **views)


def _profile(profile: CutProfile | None, column: int) -> CutProfile | None:
    """Flip an outline: it then goes round the other way, which its corners may."""
    if profile is None:
        return None
    corners = []
    for corner in profile.corners:
        at = list(corner.at)
        at[column] = other_way(at[column])
        corners.append(msgspec.structs.replace(corner, at=tuple(at)))
    return msgspec.structs.replace(profile, corners=tuple(corners))


@_shape.register
def _(volume: Arch, axis: int) -> Volume:
    upright = axis == plane_axes(volume.through)[1]
    return msgspec.structs.replace(volume, hangs_down=not volume.hangs_down) if upright else volume


@_shape.register
def _(volume: Framed, axis: int) -> Volume:
    return volume  # upside down a frame would have its top below: planes of a mirror that do that keep it upright


def turns_over(volume: Volume, axis: int) -> bool:
    """Whether flipping a volume along an own direction would stand a mark with a foot on its head, on whatever face it lies."""
    return any(
        _flips(mark.face, axis, volume)[1]
        for mark in volume.marks
        if isinstance(mark, ArchMark | OpeningMark) and stands_up(mark)
    )


@singledispatch
def _mark(mark: FaceMark, axis: int, volume: Volume) -> FaceMark:
    """Flip a kind of mark on a volume; each registers its own."""
    raise TypeError(f"No flipping of marks of kind {type(mark).__name__}.")


def _flips(face: FaceRef, axis: int, volume: Volume) -> tuple[bool, bool]:
    """Return whether a face's own first and second direction are turned round when its volume is flipped."""
    if not isinstance(face, str):
        own = BOX_FACES[face][0]
        a, b, _ = plane_axes(DIRECTIONS[own])
        return a == axis, b == axis
    side = own_sides(volume).get(face)
    if side is not None:
        along = int(np.argmax(np.abs(side.axle @ box_corners([volume])[1][0]))) == axis
        return along, not along
    found = own_faces(volume).get(face)
    if found is None:
        return False, False
    _, rotations = box_corners([volume])
    x, y = found.x @ rotations[0], found.y @ rotations[0]
    level = abs(float(x[0])) > 1.0 - HAIR and abs(float(y[1])) > 1.0 - HAIR
    # See `level_directions`: a face's first direction goes by where it runs most, the second one up.
    return int(np.argmax(np.abs(x))) == axis, axis == (1 if level else 2)


@_mark.register
def _(mark: RingMark, axis: int, volume: Volume) -> FaceMark:
    if isinstance(volume, Turned) and mark.face == ROUND_SIDE:
        along, whole = axis == DIRECTIONS.index(volume.axle), _angle_flipped(volume, axis)
        at = (other_way(mark.at[0]), mark.at[1]) if along else (mark.at[0], _less(mark.at[1], whole))
        return msgspec.structs.replace(mark, at=at, step=_step(mark.step, along, not along))
    across, up = _flips(mark.face, axis, volume)
    start = mark.start_deg
    if across or up:
        start = half_turn((180.0 if across else 0.0) - start - mark.sweep_deg)
    return msgspec.structs.replace(
        mark,
        face=_face(mark.face, axis),
        at=_part(mark.at, across, up),
        start_deg=start,
        step=_step(mark.step, across, up),
    )


def _step(step: tuple[Step, Step], across: bool, up: bool) -> tuple[Step, Step]:
    return (_turned_round(step[0]) if across else step[0], _turned_round(step[1]) if up else step[1])


def _turned_round(step: Step) -> Step:
    if not isinstance(step, Apart):
        return -step
    return msgspec.structs.replace(step, mm=-step.mm, says=f"-({step.says})" if step.says else "")


def _part(at: tuple[Held, Held], across: bool, up: bool) -> tuple[Held, Held]:
    return (other_way(at[0]) if across else at[0], other_way(at[1]) if up else at[1])


def _lines(places: tuple[Held, ...]) -> tuple[Held, ...]:
    return tuple(map(other_way, reversed(places)))


def _face(face: FaceRef, axis: int) -> FaceRef:
    """Return the face that is where a face comes to lie; one that a profile makes keeps its name."""
    if not isinstance(face, str):
        return face ^ 1 if BOX_FACES[face][0] == axis else face
    return f"{face[0]}{1 - int(face[1])}{face[2:]}" if face[0] == "xyz"[axis] and face[1] in "01" else face


@_mark.register
def _(mark: ArchMark, axis: int, volume: Volume) -> FaceMark:
    across, up = _flips(mark.face, axis, volume)
    at = mark.at if axis == 2 else _part(mark.at, across, up)
    return msgspec.structs.replace(mark, face=_face(mark.face, axis), at=at, step=_step(mark.step, across, up))


@_mark.register
def _(mark: OpeningMark, axis: int, volume: Volume) -> FaceMark:
    across, up = _flips(mark.face, axis, volume)
    outline = mark.outline
    if isinstance(volume, Turned) and mark.face == ROUND_SIDE:
        at = (
            (other_way(mark.at[0]), mark.at[1])
            if across
            else (mark.at[0], _less(mark.at[1], _angle_flipped(volume, axis)))
        )
        # Its own way up stays up, so it is turned round across unless it is stood on its head.
        outline = _profile(outline, 1 if axis == 2 else 0)
        return msgspec.structs.replace(mark, at=at, step=_step(mark.step, across, up), outline=outline)
    for column, turned in enumerate((across, up)):
        outline = _profile(outline, column) if turned else outline
    return msgspec.structs.replace(
        mark,
        face=_face(mark.face, axis),
        at=_part(mark.at, across, up),
        step=_step(mark.step, across, up),
        outline=outline,
    )


@_mark.register
def _(mark: DivideMark, axis: int, volume: Volume) -> FaceMark:
    across, up = _flips(mark.face, axis, volume)
    return msgspec.structs.replace(
        mark,
        face=_face(mark.face, axis),
        across=_lines(mark.across) if across else mark.across,
        up=_lines(mark.up) if up else mark.up,
    )


@_mark.register
def _(mark: CurveMark, axis: int, volume: Volume) -> FaceMark:
    if isinstance(volume, Turned) and mark.face == ROUND_SIDE:
        return _on_round(mark, axis, volume)
    across, up = _flips(mark.face, axis, volume)

    def turned(point: CurvePoint) -> CurvePoint:
        way = point.way_deg
        if way is not None and (across or up):
            way = half_turn((180.0 - way if across else way) if not up else (way + 180.0 if across else -way))
        bow = -point.bow if across != up else point.bow
        return msgspec.structs.replace(point, at=_part(point.at, across, up), way_deg=way, bow=bow)

    return msgspec.structs.replace(mark, face=_face(mark.face, axis), points=tuple(map(turned, mark.points)))


def _on_round(mark: CurveMark, axis: int, volume: Turned) -> FaceMark:
    """Flip a line on a round side: along its axle, or about it, where the angle is counted from the first half axis."""
    along, whole = axis == DIRECTIONS.index(volume.axle), _angle_flipped(volume, axis)

    def turned(point: CurvePoint) -> CurvePoint:
        at = (other_way(point.at[0]), point.at[1]) if along else (point.at[0], _less(point.at[1], whole))
        way = point.way_deg
        if way is not None:
            way = half_turn(180.0 - way) if along else half_turn(-way)
        return msgspec.structs.replace(point, at=at, bow=-point.bow, way_deg=way)

    return msgspec.structs.replace(mark, points=tuple(map(turned, mark.points)))


def _angle_flipped(volume: Turned, axis: int) -> float:
    """Return what an angle is taken from when it is flipped, in turns: half a turn along the first half axis, nothing along the second."""
    return 0.5 if axis == (DIRECTIONS.index(volume.axle) + 1) % 3 else 0.0


def _less(held: Held, whole: float) -> Held:
    """Return an angle, a part of the whole turn, subtracted from a part of it."""
    if not isinstance(held, Measured):
        return whole - held
    return msgspec.structs.replace(held, mm=-held.mm) if whole == 0.0 else other_way(held)


@_mark.register
def _(mark: CourseMark, axis: int, volume: Volume) -> FaceMark:
    flips = _flips(mark.face, axis, volume)
    turned = (mark.turned[0] != flips[0], mark.turned[1] != flips[1])
    return msgspec.structs.replace(mark, face=_face(mark.face, axis), turned=turned)


@_mark.register
def _(mark: TickMark, axis: int, volume: Volume) -> FaceMark:
    own, place = divmod(mark.edge, 4)
    if own == axis:
        return msgspec.structs.replace(mark, parts=_lines(mark.parts))
    first, second = (k for k in range(3) if k != own)
    bit = 1 if axis == first else 2
    assert axis in (first, second)
    return msgspec.structs.replace(mark, edge=4 * own + (place ^ bit))


@_mark.register
def _(mark: PathMark, axis: int, volume: Volume) -> FaceMark:
    a, _, k = plane_axes(mark.across)
    if axis == k:
        return msgspec.structs.replace(mark, at=1.0 - mark.at)
    points = tuple((1.0 - x, y) if axis == a else (x, 1.0 - y) for x, y in mark.points)
    return msgspec.structs.replace(mark, points=points)
