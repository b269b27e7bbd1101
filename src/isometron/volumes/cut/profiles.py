"""The profiles of a cut body: closed outlines in its own side view, plan and front, corners held as a person holds them."""

from __future__ import annotations

from typing import Literal

from isometron.geometry.faces.corners import Corner
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.outlines import Outline
from isometron.volumes.cut.corners import (
    MOST_CORNERS,
    CutProfile,
    ProfileCorner,
    all_corners,
    corner_numbers,
    outline_within,
)
from isometron.volumes.volume import Volume

__all__ = [
    "MOST_CORNERS",
    "VIEWS",
    "CutBody",
    "CutProfile",
    "ProfileCorner",
    "ViewName",
    "mirror_column",
    "profile_corners",
    "profile_numbers",
    "profile_outline",
    "view_size",
]

ViewName = Literal["side", "plan", "front"]
VIEWS: tuple[ViewName, ...] = ("side", "plan", "front")
"""The views that cut a body, in the order of `VIEW_AXES`."""


class CutBody(Volume, frozen=True, kw_only=True, forbid_unknown_fields=True, tag="cut", gc=False):
    """What three profiles leave of the bounding volume; one that is not there cuts nothing away.

    Args:
        side: drawn in long and high; plan: in long and wide; front: in wide and high.
    """

    side: CutProfile | None = None
    plan: CutProfile | None = None
    front: CutProfile | None = None


def view_size(volume: Volume, view: ViewName) -> tuple[float, float]:
    """Return how far a view reaches along its two directions, mm."""
    a, b = VIEW_AXES[VIEWS.index(view)]
    return volume.size[a], volume.size[b]


def mirror_column(view: ViewName) -> int:
    """Return the direction (0 or 1 of the view's two) that both sides of a view are alike in."""
    return 1 if view == "plan" else 0


def profile_corners(profile: CutProfile, view: ViewName, size: tuple[float, float]) -> list[Corner]:
    """Return all corners in mm, with the mirror image of one half where both sides are alike."""
    return all_corners(profile, mirror_column(view), size)


def profile_numbers(profile: CutProfile, view: ViewName, size: tuple[float, float]) -> list[str]:
    """Return what each of `profile_corners` goes by: its number, with ``m`` for a mirror image."""
    return corner_numbers(profile, mirror_column(view), size)


def profile_outline(profile: CutProfile, view: ViewName, size: tuple[float, float]) -> Outline:
    """Return a profile's outline in mm of its view's two directions; ``size`` is how far the view reaches along them.

    Raises `OutlineError` in words where the corners make no outline.
    """
    return outline_within(profile, mirror_column(view), size)
