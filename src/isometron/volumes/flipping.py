"""Flipping a volume's own shape along one of its directions, its bounding box staying: what a mirror image needs."""

from __future__ import annotations

from functools import singledispatch

import msgspec

from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import half_turn
from isometron.volumes.box import BOX_FACES
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile
from isometron.volumes.face_marks import ArchMark, DivideMark, FaceMark, PathMark, RingMark, TickMark
from isometron.volumes.framed import Framed
from isometron.volumes.holds import other_way
from isometron.volumes.prism import Arched, Counted, Cut, Prism, Section, plane_axes
from isometron.volumes.tapered import Tapered
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["flipped"]


def flipped(volume: Volume, axis: int) -> Volume:
    """Return the volume with its shape and its marks flipped along own direction ``axis`` (0 long, 1 wide, 2 high)."""
    shape = _shape(volume, axis)
    if not volume.marks:
        return shape
    return msgspec.structs.replace(shape, marks=tuple(_mark(mark, axis) for mark in volume.marks))


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
def _(volume: Tapered, axis: int) -> Volume:
    a, b, c, d = volume.lean
    lean = {0: (b, a, c, d), 1: (a, b, d, c), 2: (-a, -b, -c, -d)}[axis]
    return msgspec.structs.replace(volume, lean=lean)


@_shape.register
def _(volume: Prism, axis: int) -> Volume:
    _, b, through = plane_axes(volume.through)
    if axis == through:
        return volume
    return msgspec.structs.replace(volume, section=_section(volume.section, upright=axis == b))


@singledispatch
def _section(section: Section, *, upright: bool) -> Section:
    raise TypeError(f"No flipping of sections of kind {type(section).__name__}.")


@_section.register
def _(section: Cut, *, upright: bool) -> Section:
    a, b, c, d = section.lengths
    return msgspec.structs.replace(section, lengths=(d, c, b, a) if upright else (b, a, d, c))


@_section.register
def _(section: Counted, *, upright: bool) -> Section:
    points = [(x, section.rows - y) if upright else (section.columns - x, y) for x, y in section.points]
    return msgspec.structs.replace(section, points=tuple(reversed(points)))


@_section.register
def _(section: Arched, *, upright: bool) -> Section:
    return msgspec.structs.replace(section, hangs=not section.hangs) if upright else section


@_shape.register
def _(volume: Framed, axis: int) -> Volume:
    return volume  # upside down a frame would have its top below: planes of a mirror that do that keep it upright


def _face(face: int, axis: int) -> int:
    return face ^ 1 if BOX_FACES[face][0] == axis else face


def _part(place: tuple[float, float], face: int, axis: int) -> tuple[float, float]:
    """Flip a place on a face that lies along the flipped direction."""
    own = BOX_FACES[face][0]
    if own == axis:
        return place
    a, _, _ = plane_axes(DIRECTIONS[own])
    return (1.0 - place[0], place[1]) if a == axis else (place[0], 1.0 - place[1])


@singledispatch
def _mark(mark: FaceMark, axis: int) -> FaceMark:
    """Flip a kind of mark; each registers its own."""
    raise TypeError(f"No flipping of marks of kind {type(mark).__name__}.")


@_mark.register
def _(mark: RingMark, axis: int) -> FaceMark:
    own = BOX_FACES[mark.face][0]
    start = mark.start_deg
    if own != axis:
        a, _, _ = plane_axes(DIRECTIONS[own])
        start = (180.0 if a == axis else 0.0) - start - mark.sweep_deg
        start = half_turn(start)
    return msgspec.structs.replace(
        mark,
        face=_face(mark.face, axis),
        at=_part(mark.at, mark.face, axis),
        start_deg=start,
        step=_step(mark.step, mark.face, axis),
    )


def _step(step: tuple[float, float], face: int, axis: int) -> tuple[float, float]:
    own = BOX_FACES[face][0]
    if own == axis:
        return step
    a, _, _ = plane_axes(DIRECTIONS[own])
    return (-step[0], step[1]) if a == axis else (step[0], -step[1])


@_mark.register
def _(mark: ArchMark, axis: int) -> FaceMark:
    at = _part(mark.at, mark.face, axis) if axis != 2 else mark.at
    return msgspec.structs.replace(mark, face=_face(mark.face, axis), at=at, step=_step(mark.step, mark.face, axis))


@_mark.register
def _(mark: DivideMark, axis: int) -> FaceMark:
    own = BOX_FACES[mark.face][0]
    across, up = mark.across, mark.up
    if own != axis:
        a, _, _ = plane_axes(DIRECTIONS[own])
        if a == axis:
            across = tuple(1.0 - part for part in reversed(across))
        else:
            up = tuple(1.0 - part for part in reversed(up))
    return msgspec.structs.replace(mark, face=_face(mark.face, axis), across=across, up=up)


@_mark.register
def _(mark: TickMark, axis: int) -> FaceMark:
    own, place = divmod(mark.edge, 4)
    if own == axis:
        return msgspec.structs.replace(mark, parts=tuple(1.0 - part for part in reversed(mark.parts)))
    first, second = (k for k in range(3) if k != own)
    bit = 1 if axis == first else 2
    assert axis in (first, second)
    return msgspec.structs.replace(mark, edge=4 * own + (place ^ bit))


@_mark.register
def _(mark: PathMark, axis: int) -> FaceMark:
    a, _, k = plane_axes(mark.across)
    if axis == k:
        return msgspec.structs.replace(mark, at=1.0 - mark.at)
    points = tuple((1.0 - x, y) if axis == a else (x, 1.0 - y) for x, y in mark.points)
    return msgspec.structs.replace(mark, points=points)
