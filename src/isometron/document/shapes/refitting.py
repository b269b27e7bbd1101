"""Outlines that stay when their volume gets another size: corners keep their mm, their share and their order; nothing is dropped.

A corner in mm that would fall outside keeps its mm to the end it lies nearer to. Where mm would change the order of corners along
a direction, those between their neighbours scale together. Where the outline would still cross itself a whole direction scales.
Rounds, chamfers and bows that no longer fit shrink.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import hypot, isfinite

import msgspec
import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.tolerances import HAIR
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import (
    VIEWS,
    CutBody,
    CutProfile,
    ProfileCorner,
    mirror_column,
    profile_corners,
    profile_outline,
    view_size,
)
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.held_places import is_given
from isometron.volumes.marks.holds import Held, Measured, held_at, reheld

__all__ = ["refitted"]

Size = tuple[float, float]
_SHRINKS = 40
"""Times that rounds may shrink by a fifth: to less than two ten-thousandths of what they were."""


def refitted(before: AnyVolume, after: AnyVolume) -> AnyVolume:
    """Return a cut body with its outlines as they fit it now, those that were good in ``before`` and are the same outlines still."""
    if not isinstance(before, CutBody) or not isinstance(after, CutBody):
        return after
    were_bad = {view for view, _ in uncut_because(before)}
    fields = {}
    for view in VIEWS:
        old, new = getattr(before, view), getattr(after, view)
        if old is None or new is None or view in were_bad or not _same_corners(old, new):
            continue
        sizes = view_size(before, view), view_size(after, view)
        if sizes[0] == sizes[1] and (old is new or _makes(new, view, sizes[1])):
            continue
        column = mirror_column(view)
        fitted = _fitted(old, new, sizes, lambda profile, v=view: _makes(profile, v, view_size(after, v)), column)  # type: ignore[misc]
        if fitted is not new:
            fields[view] = fitted
    return msgspec.structs.replace(after, **fields) if fields else after


def _same_corners(old: CutProfile, new: CutProfile) -> bool:
    """Whether nobody has laid another outline: only what follows from other things differs."""
    return old.alike == new.alike and [_meant(c) for c in old.corners] == [_meant(c) for c in new.corners]


def _meant(corner: ProfileCorner) -> tuple[object, ...]:
    places = [
        msgspec.structs.replace(h, mm=0.0, says="") if isinstance(h, Measured) and is_given(h) else h
        for h in corner.at
    ]
    return corner.n, *places, corner.round, corner.chamfer, corner.bow


def _makes(profile: CutProfile, view: str, size: Size) -> bool:
    try:
        profile_outline(profile, view, size)  # type: ignore[arg-type]
    except OutlineError:
        return False
    return True


Test = Callable[[CutProfile], bool]


def _fitted(old: CutProfile, new: CutProfile, sizes: tuple[Size, Size], makes: Test, column: int) -> CutProfile:
    """Return an outline that fits: as little changed as serves, tried in turn."""
    were = [[held_at(corner.at[k], sizes[0][k]) for corner in old.corners] for k in (0, 1)]
    wholes = [(sizes[0][k], sizes[1][k]) for k in (0, 1)]
    if old.alike:  # one half: it reaches to the middle, which is its end
        wholes[column] = (sizes[0][column] / 2.0, sizes[1][column] / 2.0)
    tries: list[list[list[float] | None]] = []
    ordered = [
        _in_order([c.at[k] for c in new.corners], were[k], sizes[0][k], sizes[1][k], wholes[k]) for k in (0, 1)
    ]
    scaled = [[at * to / of for at in were[k]] for k, (of, to) in enumerate(zip(*sizes, strict=True))]
    tries = [[ordered[0], ordered[1]], [scaled[0], ordered[1]], [ordered[0], scaled[1]], [scaled[0], scaled[1]]]
    if sizes[0][0] == sizes[1][0]:
        tries = [tries[0], tries[2], tries[3]]
    for places in tries:
        placed = _placed(new, places, sizes[1])
        if makes(placed):
            return placed
        smaller = _with_room(placed, column, sizes[1], makes)
        if smaller is not None:
            return smaller
    plain = _placed(new, tries[-1], sizes[1])
    bare = tuple(msgspec.structs.replace(c, round=0.0, chamfer=0.0, bow=0.0) for c in plain.corners)
    last = msgspec.structs.replace(plain, corners=bare)
    return last if makes(last) else new


def _placed(profile: CutProfile, places: Sequence[list[float] | None], size: Size) -> CutProfile:
    """Return an outline with its corners at places (mm, by direction), each held as it was; what lies there already is not touched."""

    def held(own: Held, at: float, length: float) -> Held:
        return own if abs(held_at(own, length) - at) <= HAIR else reheld(own, length, at)

    corners = []
    for row, corner in enumerate(profile.corners):
        at = [
            own if at is None else held(own, at[row], size[k])
            for k, (own, at) in enumerate(zip(corner.at, places, strict=True))
        ]
        corners.append(msgspec.structs.replace(corner, at=(at[0], at[1])) if at != list(corner.at) else corner)
    changed = any(one is not other for one, other in zip(corners, profile.corners, strict=True))
    return msgspec.structs.replace(profile, corners=tuple(corners)) if changed else profile


def _in_order(
    held: Sequence[Held], were: Sequence[float], was_long: float, long: float, ends: tuple[float, float]
) -> list[float]:
    """Return where coordinates lie, mm, in the order in which they were.

    ends : where the last coordinate of the way may lie, before and now. What is given by others keeps its place before the rest.
    """
    places = [_inside(own, was, was_long, long) for own, was in zip(held, were, strict=True)]
    kept = [(0.0, 0.0), ends]
    for firm in (True, False):
        rows = [k for k, own in enumerate(held) if is_given(own) == firm]
        pairs = sorted({(were[k], places[k]) for k in rows})
        good = [
            pair for pair in pairs
            if all(_agree(pair, other) for other in pairs) and all(_agree(pair, other) for other in kept)
        ]  # fmt: skip
        kept += good
    settled = set(kept)
    anchors = np.array(sorted(settled))
    return [
        at if (was, at) in settled else float(np.interp(was, anchors[:, 0], anchors[:, 1]))
        for was, at in zip(were, places, strict=True)
    ]


def _inside(held: Held, was: float, was_long: float, long: float) -> float:
    """Return where a coordinate lies now; one in mm that has come to lie outside keeps its mm to the end it lay nearer to."""
    at = held_at(held, long)
    if -HAIR <= at <= long + HAIR or not isinstance(held, Measured):
        return at
    return was if was <= was_long / 2.0 else long - (was_long - was)


def _agree(one: tuple[float, float], other: tuple[float, float]) -> bool:
    """Whether two coordinates (before, now) are in the same order as they were; those that lay together may part."""
    apart, now = one[0] - other[0], one[1] - other[1]
    return abs(apart) <= HAIR or (apart * now > 0.0 and abs(now) > HAIR)


def _with_room(profile: CutProfile, column: int, size: Size, makes: Test) -> CutProfile | None:
    """Return an outline whose rounds, chamfers and bows are as much smaller as it takes, or None where that does not serve."""
    found = msgspec.structs.replace(profile, corners=_rounds_that_fit(profile, column, size))
    if makes(found):
        return found
    if not any(corner.round or corner.chamfer or corner.bow for corner in profile.corners):
        return None
    for bows in (False, True):
        small = found
        for _ in range(_SHRINKS):
            small = msgspec.structs.replace(small, corners=tuple(_smaller(c, 0.8, bows=bows) for c in small.corners))
            if makes(small):
                return small
    return None


def _smaller(corner: ProfileCorner, factor: float, *, bows: bool) -> ProfileCorner:
    return msgspec.structs.replace(
        corner,
        round=corner.round * factor,
        chamfer=corner.chamfer * factor,
        bow=corner.bow * (factor if bows else 1.0),
    )


def _rounds_that_fit(profile: CutProfile, column: int, size: Size) -> tuple[ProfileCorner, ...]:
    """Return the corners with each round and chamfer no larger than its two sides have room for."""
    try:
        whole = profile_corners(profile, "plan" if column else "side", size)
    except ValueError:
        return profile.corners
    count = len(whole)
    backs = [_back(whole[k - 1], whole[k], whole[(k + 1) % count]) for k in range(count)]
    factors = [1.0] * count
    for k in range(count):
        after = (k + 1) % count
        length = hypot(whole[after].x - whole[k].x, whole[after].y - whole[k].y)
        taken = backs[k] + backs[after]
        if taken > length:
            part = 0.0 if not isfinite(taken) else (length / taken) * (1.0 - HAIR)
            factors[k], factors[after] = min(factors[k], part), min(factors[after], part)
    return tuple(
        _smaller(corner, factors[k], bows=False) if factors[k] < 1.0 else corner
        for k, corner in enumerate(profile.corners)
    )


def _back(before, here, after) -> float:  # type: ignore[no-untyped-def]
    """Return how far from a corner its round or chamfer begins, mm (radius times the tangent of half the turn)."""
    if here.round <= 0.0:
        return float(here.chamfer)
    one, two = np.array([before.x - here.x, before.y - here.y]), np.array([after.x - here.x, after.y - here.y])
    size = float(np.sqrt(one @ one) * np.sqrt(two @ two))
    if size <= HAIR:
        return 0.0
    turn = np.pi - float(np.arccos(np.clip(one @ two / size, -1.0, 1.0)))
    return float(here.round * np.tan(turn / 2.0)) if turn < np.pi - HAIR else float("inf")
