"""Profiles to begin a cut body with: leaning sides, cut corners, outlines counted off in units."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from isometron.volumes.cut.profiles import CutProfile, ProfileCorner

__all__ = ["corners_cut", "counted_off", "leaning"]


def leaning(start: float, end: float) -> CutProfile:
    """Return the profile of a body whose upper edges stand in by these parts of its length at its start and its end.

    Below nothing the lower edge stands in: the side flares. Edges that meet make a ridge.
    """
    low, high = (max(-start, 0.0), 1.0 - max(-end, 0.0)), (max(start, 0.0), 1.0 - max(end, 0.0))
    return CutProfile.through(
        ProfileCorner(at=at) for at in ((low[0], 0.0), (low[1], 0.0), (high[1], 1.0), (high[0], 1.0))
    )


def corners_cut(lengths: Sequence[float], *, round_: bool) -> CutProfile:
    """Return a whole view whose corners are rounded or chamfered by so many mm, counter-clockwise from the first one."""
    places = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    return CutProfile.through(
        ProfileCorner(at=at, round=length if round_ else 0.0, chamfer=0.0 if round_ else length)
        for at, length in zip(places, lengths, strict=True)
    )


def counted_off(columns: float, rows: float, points: Iterable[tuple[float, float]]) -> CutProfile:
    """Return the outline through points counted off in units, so many across the view and so many up it."""
    return CutProfile.through(ProfileCorner(at=(x / columns, y / rows)) for x, y in points)
