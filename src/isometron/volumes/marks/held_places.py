"""All the places that a volume holds, each with the way it is held along: corners of its profiles, and its marks."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import msgspec
import numpy as np

from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats
from isometron.volumes.box import BOX_EDGES, box_corners
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile
from isometron.volumes.kinds import AnyVolume, own_corners
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, FaceMark, OpeningMark, RingMark, TickMark
from isometron.volumes.marks.holds import Apart, Held, Measured
from isometron.volumes.marks.places import face_plane, has_face, side_under

__all__ = ["Way", "follows_others", "holds_mm", "is_given", "mark_ways", "with_held"]

_HELD = ("at", "step", "across", "up", "parts")
"""Fields of marks that hold places, or steps from one to the next."""


@dataclass(frozen=True)
class Way:
    """The way along which a place is held: where it starts (3,), its direction (3,) of length one, and its length in mm."""

    start: Floats
    along: Floats
    length: float

    def to(self, place: Floats) -> float:
        """Return how far along it a world place (3,) lies, mm."""
        return float((place - self.start) @ self.along)


Change = Callable[[Any, Way], Any]


def is_given(held: object) -> bool:
    """Whether a place goes by an expression or by another volume."""
    return (isinstance(held, Measured) and bool(held.says or held.thing)) or (
        isinstance(held, Apart) and bool(held.says)
    )


def follows_others(volume: AnyVolume) -> bool:
    """Whether a corner of a volume's profiles, or a mark on it, goes by an expression or by another volume."""
    return any(map(is_given, _held(volume)))


def holds_mm(mark: FaceMark) -> bool:
    """Whether a mark holds a place, or a step, otherwise than as a share of its face."""
    return any(isinstance(held, Measured | Apart) for held in _of_mark(mark))


def _of_mark(mark: FaceMark) -> Iterator[Held | Apart]:
    if isinstance(mark, RingMark | ArchMark | DivideMark | TickMark | OpeningMark):
        for name in _HELD:
            yield from getattr(mark, name, ())


def _held(volume: AnyVolume) -> Iterator[Held | Apart]:
    if isinstance(volume, CutBody):
        for profile in (volume.side, volume.plan, volume.front):
            for corner in () if profile is None else profile.corners:
                yield from corner.at
    for mark in volume.marks:
        yield from _of_mark(mark)


def with_held(volume: AnyVolume, change: Change) -> AnyVolume:
    """Return a volume with each place that is given as ``change`` makes it of it, and of the way it is held along."""
    fields: dict[str, Any] = {}
    if isinstance(volume, CutBody):
        corners, rotations = box_corners([volume])
        ways = [Way(corners[0, 0], rotations[0][:, k], volume.size[k]) for k in range(3)]
        for view, axes in zip(VIEWS, VIEW_AXES, strict=True):
            profile: CutProfile | None = getattr(volume, view)
            if profile is not None and any(is_given(held) for corner in profile.corners for held in corner.at):
                own = [ways[axis] for axis in axes]
                moved = tuple(
                    msgspec.structs.replace(corner, at=_changed(corner.at, own, change)) for corner in profile.corners
                )
                fields[view] = msgspec.structs.replace(profile, corners=moved)
    if any(map(is_given, _held(volume))):
        # Profiles first: marks lie on the faces that they make.
        volume = msgspec.structs.replace(volume, **fields) if fields else volume
        fields = {"marks": tuple(_mark(mark, volume, change) for mark in volume.marks)}
    return msgspec.structs.replace(volume, **fields) if fields else volume


def _changed(held: tuple[Any, ...], ways: list[Way], change: Change) -> tuple[Any, ...]:
    return tuple(change(own, way) if is_given(own) else own for own, way in zip(held, ways, strict=True))


def _mark(mark: FaceMark, volume: AnyVolume, change: Change) -> FaceMark:
    given = [name for name in _HELD if isinstance(own := getattr(mark, name, ()), tuple) and any(map(is_given, own))]
    if not given or not has_face(volume, mark):
        return mark
    across, up = mark_ways(mark, volume)
    fields = {}
    for name in given:
        own = getattr(mark, name)
        ways = [across, up] if name in ("at", "step") else [up if name == "up" else across] * len(own)
        fields[name] = _changed(own, ways, change)
    return msgspec.structs.replace(mark, **fields)


def mark_ways(mark: FaceMark, volume: AnyVolume) -> tuple[Way, Way]:
    """Return the two ways along which a mark's places are held; those of ticks are both their edge."""
    if isinstance(mark, TickMark):
        start, end = own_corners(volume)[BOX_EDGES[mark.edge]]
        way = _way(start, end - start)
        return way, way
    assert isinstance(mark, RingMark | ArchMark | DivideMark | OpeningMark)
    side = side_under(volume, mark)
    if side is not None:
        # About the axle there is no straight way: what is held there is held by the sheet unrolled.
        return Way(side.origin, side.axle, side.reach[0]), Way(side.origin, np.zeros(3), side.reach[1])
    plane = face_plane(volume, mark.face)
    border = mark.border if isinstance(mark, DivideMark) else 0.0
    return _way(plane.middle - plane.x / 2.0, plane.x, border), _way(plane.middle - plane.y / 2.0, plane.y, border)


def _way(start: Floats, whole: Floats, border: float = 0.0) -> Way:
    size = float(np.sqrt(whole @ whole))
    along = whole / size if size > 0.0 else whole
    border = min(border, 0.49 * size)
    return Way(start + border * along, along, size - 2.0 * border)
