"""Numbers of an outline that is typed or laid anew: corners that are still the same keep theirs, so faces keep their ids."""

from __future__ import annotations

from collections.abc import Sequence
from difflib import SequenceMatcher

import msgspec

from isometron.volumes.cut.profiles import CutProfile, ProfileCorner
from isometron.volumes.marks.holds import held_at

__all__ = ["numbered_like"]

_GRAIN = 1e-4
"""mm: corners nearer than this are one."""


def numbered_like(old: CutProfile | None, new: CutProfile, size: tuple[float, float]) -> CutProfile:
    """Return an outline numbered as an earlier one of the same view: corners at the same place by it, those that moved between them in
    their order, all others by numbers that were never used.

    An outline that was laid the other way round, or from another corner, is matched by its places alone.
    """
    if old is None:
        return new
    count = len(new.corners)
    found: list[int | None] = [None] * count
    keys = [_key(corner, size) for corner in new.corners]
    at = {_key(corner, size): corner.n for corner in reversed(old.corners)}
    for row, key in enumerate(keys):
        if key in at:
            found[row] = at.pop(key)
    _fill_between([_key(corner, size) for corner in old.corners], old.corners, keys, found)
    nothing = max(old.next_n, new.next_n, 1 + max(corner.n for corner in old.corners))
    numbers = []
    for number in found:
        numbers.append(nothing if number is None else number)
        nothing += number is None
    corners = tuple(msgspec.structs.replace(c, n=n) for c, n in zip(new.corners, numbers, strict=True))
    return msgspec.structs.replace(new, corners=corners, next_n=nothing)


def _key(corner: ProfileCorner, size: tuple[float, float]) -> tuple[int, int]:
    one, two = (round(held_at(held, length) / _GRAIN) for held, length in zip(corner.at, size, strict=True))
    return one, two


def _fill_between(
    before: Sequence[tuple[int, int]],
    corners: Sequence[ProfileCorner],
    now: Sequence[tuple[int, int]],
    found: list[int | None],
) -> None:
    """Match the corners between two that stayed, where as many stand there as did: they have been moved."""
    blocks = SequenceMatcher(None, before, now, autojunk=False).get_matching_blocks()
    ends = (0, 0)
    for block in blocks:
        gap = block.a - ends[0], block.b - ends[1]
        if gap[0] == gap[1]:
            for k in range(gap[0]):
                number = corners[ends[0] + k].n
                if found[ends[1] + k] is None and number not in found:
                    found[ends[1] + k] = number
        ends = block.a + block.size, block.b + block.size
