"""Marks and rounded edges that stay when the body under them changes: as they were meant, or as near to that as there is room.

A mark in mm that would fall beyond its face keeps its mm to the end it lies nearer to; where its face is gone it is pushed on to the
face that it overlaps most; where it has no room it is moved as a share of the face, and at last made smaller. What finds no place
stays in the document and is told by Check.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import msgspec
import numpy as np

from isometron.document.shapes.pushed import Pushed, carried_over, pushed_face
from isometron.volumes.kinds import AnyVolume, own_faces, own_sides
from isometron.volumes.lines.on_volume import surface_of
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    DivideMark,
    FaceMark,
    OpeningMark,
    RingMark,
)
from isometron.volumes.marks.held_places import is_given
from isometron.volumes.marks.holds import Apart, Held, held_at, reheld
from isometron.volumes.marks.places import Placed, face_plane, has_face, reach_on, side_under
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.undrawn import undrawn_edges, undrawn_marks

__all__ = ["remaining"]

_SMALLER = (0.8, 0.6, 0.4, 0.2)
_MOST_TRIES, _MOST_WHOLE = 60, 12
"""How often a mark is tried alone on its body, and how often with all the others, before what is left is told instead: a hand waits."""


def remaining(before: AnyVolume, after: AnyVolume) -> AnyVolume:
    """Return a volume on which everything that was drawn of ``before`` is drawn still, where that can be."""
    if not (after.marks or after.rounded) or _shape(before) == _shape(after):
        return after
    after = _on_faces_that_are(before, after)
    was_lost = {before.marks[number] for number in undrawn_marks(before)}
    room = _Patience()
    for number in undrawn_marks(after):
        mark = after.marks[number]
        if before.marks and mark not in was_lost and (was := _was(before, after, number)) is not None:
            after = _with_room(before, after, number, was, room)
    return _with_smaller_radii(before, after)


def _shape(volume: AnyVolume) -> AnyVolume:
    """Return what faces of a body depend on, with marks."""
    return msgspec.structs.replace(
        volume, id="shape", name="shape", corner=(0.0, 0.0, 0.0), yaw_deg=0.0, see_through=False, put_away=False, locked=False,
        hangs=False, quiet=(), copies=(), mirror=None, joined=None, says=(), keep=None, group="",
    )  # fmt: skip


def _was(before: AnyVolume, after: AnyVolume, number: int) -> FaceMark | None:
    """Return the mark that a mark was: the one in its place, of its sort, where there are as many."""
    if len(before.marks) != len(after.marks):
        mark = after.marks[number]
        return mark if mark in before.marks else None
    was, now = before.marks[number], after.marks[number]
    if type(was) is not type(now):
        return None
    # What a person has just changed stays as it was typed; what only follows others is to keep its place.
    held = {name: getattr(was, name) for name in ("at", "step") if any(map(is_given, getattr(was, name, ())))}
    return was if msgspec.structs.replace(now, face=was.face, **held) == was else None  # type: ignore[union-attr]


def _there(volume: AnyVolume, face: object) -> bool:
    return not isinstance(face, str) or face in own_faces(volume) or face in own_sides(volume)


def _on_faces_that_are(before: AnyVolume, after: AnyVolume) -> AnyVolume:
    """Return a volume whose marks and rounded edges lie on faces that are there, where something is there to be pushed on to."""
    gone = {f for m in after.marks if not _there(after, f := getattr(m, "face", 0)) and _there(before, f)}
    gone |= {f for edge in after.rounded for f in edge.between if not _there(after, f) and _there(before, f)}
    if not gone:
        return after
    to = {face: pushed_face(before, after, face) for face in gone if face not in own_sides(before)}
    marks = tuple(_pushed(before, after, mark) if getattr(mark, "face", 0) in to else mark for mark in after.marks)
    edges = tuple(_between(edge, to) for edge in after.rounded)
    return msgspec.structs.replace(after, marks=marks, rounded=edges)


def _between(edge: RoundedEdge, to: dict[Any, Pushed | None]) -> RoundedEdge:
    one, two = (found.face if (found := to.get(face)) is not None else face for face in edge.between)
    return msgspec.structs.replace(edge, between=(one, two)) if (one, two) != edge.between and one != two else edge


def _pushed(before: AnyVolume, after: AnyVolume, mark: FaceMark) -> FaceMark:
    """Return a mark on the face that it is pushed on to; as it is where there is none."""
    face = getattr(mark, "face", 0)
    if isinstance(mark, DivideMark | CourseMark):
        found = pushed_face(before, after, face)
        return mark if found is None else msgspec.structs.replace(mark, face=found.face)
    if isinstance(mark, CurveMark):
        return _pushed_line(before, after, mark)
    if not isinstance(mark, RingMark | ArchMark | OpeningMark):
        return mark
    plane = face_plane(before, face)
    at, reach, lengths = _standing(before, mark)
    low = [min(max(a - r[0], 0.0), n) for a, r, n in zip(at, reach, lengths, strict=True)]
    high = [min(max(a + r[1], 0.0), n) for a, r, n in zip(at, reach, lengths, strict=True)]
    small = [max(h - w, 1e-3 * n) for w, h, n in zip(low, high, lengths, strict=True)]
    around = np.array([low, np.array(low) + small])
    whole = isinstance(mark, OpeningMark) and mark.form == "inset"
    found = pushed_face(before, after, face, None if whole else around)
    if found is None:
        return mark
    place = plane.spot(*(a / n for a, n in zip(at, lengths, strict=True)))
    there = found.place(carried_over(before, after, place[None])[0])
    sizes = found.plane.wide, found.plane.high
    held = [_held(*each) for each in zip(mark.at, sizes, there, reach, lengths, at, strict=True)]
    step = [
        way if isinstance(way, Apart) else way * was / now
        for way, was, now in zip(mark.step, lengths, sizes, strict=True)
    ]
    return msgspec.structs.replace(mark, face=found.face, at=tuple(held), step=tuple(step))


def _held(held: Held, length: float, at: float, reach: tuple[float, float], was_long: float, was: float) -> Held:
    """Return a place held as it was: one in the middle stays there, and what gives it stays where that still gives it."""
    if abs(at - held_at(held, length, reach)) <= 1e-6 * (1.0 + length):
        return held
    return reheld(held, length, at, reach)


def _pushed_line(before: AnyVolume, after: AnyVolume, mark: CurveMark) -> CurveMark:
    plane = face_plane(before, mark.face)
    lengths = plane.wide, plane.high
    at = np.array([[held_at(h, n) for h, n in zip(p.at, lengths, strict=True)] for p in mark.points])
    around = np.array([at.min(axis=0), np.maximum(at.max(axis=0), at.min(axis=0) + 1e-3 * np.array(lengths))])
    found = pushed_face(before, after, mark.face, around)
    if found is None:
        return mark
    points = []
    for point, place in zip(mark.points, at, strict=True):
        world = carried_over(before, after, plane.spot(place[0] / lengths[0], place[1] / lengths[1])[None])[0]
        there, sizes = found.place(world), (found.plane.wide, found.plane.high)
        held = [reheld(own, n, mm) for own, n, mm in zip(point.at, sizes, there, strict=True)]
        points.append(msgspec.structs.replace(point, at=(held[0], held[1])))
    return msgspec.structs.replace(mark, face=found.face, points=tuple(points))


def _standing(volume: AnyVolume, mark: Placed) -> tuple[list[float], list[tuple[float, float]], tuple[float, float]]:
    """Return where a mark lies along the two ways of its face or its side, how far it reaches, and how long the ways are, mm."""
    _, lengths = surface_of(volume, mark.face)
    reach = [reach_on(volume, mark, column) for column in (0, 1)]
    return [held_at(*each) for each in zip(mark.at, lengths, reach, strict=True)], reach, lengths


@dataclass
class _Patience:
    """How many tries are left."""

    alone: int = _MOST_TRIES
    whole: int = _MOST_WHOLE


def _with_room(before: AnyVolume, after: AnyVolume, number: int, was: FaceMark, room: _Patience) -> AnyVolume:
    """Return a volume with a mark where it has room, or as it is where it has none."""
    lost = set(undrawn_marks(after))
    for mark in _tries(before, after, was, after.marks[number]):
        if room.alone <= 0 or room.whole <= 0:
            return after
        room.alone -= 1
        if undrawn_marks(msgspec.structs.replace(after, marks=(mark,), rounded=())):
            continue
        room.whole -= 1
        changed = msgspec.structs.replace(after, marks=(*after.marks[:number], mark, *after.marks[number + 1 :]))
        if set(undrawn_marks(changed)) <= lost - {number}:
            return changed
    return after


def _tries(before: AnyVolume, after: AnyVolume, was: FaceMark, mark: FaceMark) -> Iterator[FaceMark]:
    """Yield a mark as it might have room, the nearest to what was meant first."""
    if (
        not isinstance(mark, RingMark | ArchMark | OpeningMark)
        or not isinstance(was, Placed)
        or not has_face(before, was)
    ):
        return
    places = [mark] if has_face(after, mark) else []
    if side_under(before, was) is None:
        pushed = _pushed(before, after, was)
        if isinstance(pushed, Placed) and pushed != was and has_face(after, pushed):
            places.append(pushed)
            yield pushed
    for one in places:
        yield from _within(before, after, was, one)


def _within(before: AnyVolume, after: AnyVolume, was: Placed, mark: Placed) -> Iterator[FaceMark]:
    old, _, old_lengths = _standing(before, was)
    _, _, lengths = _standing(after, mark)
    shares = [a / n if n > 0.0 else 0.5 for a, n in zip(old, old_lengths, strict=True)]
    yield _at(
        after,
        mark,
        [at if at <= n / 2.0 else now - (n - at) for at, n, now in zip(old, old_lengths, lengths, strict=True)],
    )
    yield _at(after, mark, [share * n for share, n in zip(shares, lengths, strict=True)])
    for factor in (1.0, *_SMALLER):
        small = _scaled(mark, factor)
        for lean in (0.0, 1.0):  # towards the middle of the face, before it is made smaller
            places = [(share + lean * (0.5 - share)) * n for share, n in zip(shares, lengths, strict=True)]
            yield _at(after, small, places, inside=True)


def _at(volume: AnyVolume, mark: Placed, places: list[float], *, inside: bool = False) -> FaceMark:
    """Return a mark at places, mm along both ways, held as it is; ``inside``: brought in until it lies on its face."""
    _, reach, lengths = _standing(volume, mark)
    if inside:
        places = [min(max(at, r[0]), max(n - r[1], r[0])) for at, r, n in zip(places, reach, lengths, strict=True)]
    held = [
        own if abs(held_at(own, n, r) - at) <= 1e-6 * (1.0 + n) else reheld(own, n, at, r)
        for own, at, r, n in zip(mark.at, places, reach, lengths, strict=True)
    ]
    return msgspec.structs.replace(mark, at=tuple(held))


def _scaled(mark: Placed, factor: float) -> Placed:
    """Return a mark so many times as large, its row as much closer."""
    if factor == 1.0:
        return mark
    step = [
        msgspec.structs.replace(way, mm=way.mm * factor, says="") if isinstance(way, Apart) else way * factor
        for way in mark.step
    ]
    fields: dict[str, Any] = {"step": tuple(step)}
    if isinstance(mark, RingMark):
        return msgspec.structs.replace(mark, diameter=mark.diameter * factor, **fields)
    fields |= {"wide": mark.wide * factor, "high": mark.high * factor}
    if isinstance(mark, OpeningMark):
        fields |= {"round": mark.round * factor, "inset": mark.inset * factor, "depth": mark.depth * factor}
    return msgspec.structs.replace(mark, **fields)


def _with_smaller_radii(before: AnyVolume, after: AnyVolume) -> AnyVolume:
    """Return a volume with rounded edges that have come to have no room made smaller."""
    lost = set(undrawn_edges(after))
    if not lost or len(before.rounded) != len(after.rounded):
        return after
    for number in sorted(lost - set(undrawn_edges(before))):
        edge = after.rounded[number]
        for factor in _SMALLER:
            grows = None if edge.grows_to is None else edge.grows_to * factor
            small = msgspec.structs.replace(edge, radius=edge.radius * factor, grows_to=grows)
            changed = msgspec.structs.replace(
                after, rounded=(*after.rounded[:number], small, *after.rounded[number + 1 :])
            )
            left = set(undrawn_edges(changed))
            if number not in left and left <= lost:
                after, lost = changed, left
                break
    return after
