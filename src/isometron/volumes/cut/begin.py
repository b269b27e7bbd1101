"""Profiles to begin a cut body with: leaning sides, cut corners, outlines counted off in units."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence

import msgspec

from isometron.volumes.cut.profiles import CutProfile, ProfileCorner
from isometron.volumes.marks.holds import Held, other_way
from isometron.volumes.volume import Ahead

__all__ = ["corners_cut", "counted_off", "facing", "leaning"]


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


def facing(ahead: Ahead, profiles: Mapping[str, CutProfile]) -> dict[str, CutProfile]:
    """Return profiles drawn for a body whose front is where its length starts (x0) turned, as by quarters, to another front."""
    if ahead == "x0":
        return dict(profiles)
    views = {"side": "side", "front": "front", "plan": "plan"}
    flips: dict[str, dict[str, tuple[int, ...]]] = {
        "x1": {"side": (0,), "front": (0,), "plan": (0, 1)},
        "y0": {"front": (0,), "plan": (1,)},
        "y1": {"side": (0,), "plan": (0,)},
    }
    crosswise = ahead[0] == "y"
    if crosswise:
        views |= {"side": "front", "front": "side"}
    found = {}
    for view, profile in profiles.items():
        for column in flips[ahead].get(view, ()):
            profile = _each_place(profile, lambda at, c=column: (*at[:c], other_way(at[c]), *at[c + 1 :]))  # type: ignore[misc]
        if crosswise and view == "plan":
            profile = _each_place(profile, lambda at: (at[1], at[0]))
        found[views[view]] = profile
    return found


def _each_place(profile: CutProfile, moved: Callable[[tuple[Held, Held]], tuple[Held, ...]]) -> CutProfile:
    corners = tuple(msgspec.structs.replace(corner, at=moved(corner.at)) for corner in profile.corners)
    return msgspec.structs.replace(profile, corners=corners)
