"""What the hand does in the plain views: catching places, pulling volumes, drawing lines; all in mm of the object."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.solve.plain_views import ViewName, view_axes
from isometron.tools.pulling import rounded
from isometron.volumes.box import box_corners
from isometron.volumes.cut.profiles import ViewName as ProfileView
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import PathMark
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["caught", "extents", "path_mark", "places_every", "profile_view", "pulled", "quarter_places", "volume_at"]

_ACROSS = {"side": "wide", "front": "long", "plan": "high"}
"""The own direction that each view looks along, for a volume that is not turned."""
_LEAST_SIZE = 0.01
_MOST_QUARTERS = 80


def extents(view: ViewName, volume: AnyVolume) -> tuple[Floats, Floats]:
    """Return the least and greatest (2,) of a volume's bounding box in a view, mm."""
    corners, _ = box_corners([volume])
    flat = corners[0] @ view_axes(view).T
    return flat.min(axis=0), flat.max(axis=0)


def volume_at(document: Document, view: ViewName, place: Floats) -> str | None:
    """Return the id of the smallest volume in a view that a place (2,) lies in, or None."""
    best: tuple[float, str] | None = None
    for volume in document.volumes:
        low, high = extents(view, volume)
        if not volume.put_away and (place >= low).all() and (place <= high).all():
            area = float(np.prod(high - low))
            if best is None or area < best[0]:
                best = (area, volume.id)
    return None if best is None else best[1]


def quarter_places(low: float, high: float, length: float | None) -> list[float]:
    """Return the places of quarter lines of a length between two places; none without a length."""
    if not length:
        return []
    count = int((high - low) / (length / 4.0) + HAIR)
    return [low + k * length / 4.0 for k in range(min(count, _MOST_QUARTERS) + 1)]


def places_every(low: float, high: float, step: float | None, least: float) -> list[float]:
    """Return places from low to high, one each step; none for a step of less than ``least``."""
    if step is None or step < least:
        return []
    return [float(place) for place in np.arange(low, high + HAIR, step)]


def caught(
    document: Document,
    view: ViewName,
    place: Floats,
    *,
    reach: float,
    step: float,
    moving: str = "",
    quarters: Sequence[Sequence[float]] = ((), ()),
) -> Floats:
    """Return a place (2,) caught within ``reach`` mm by the ends and middles of volumes other than ``moving``, by the ground
    and by quarter lines (across, up); else rounded to ``step``."""
    found = []
    for axis in (0, 1):
        targets = [*quarters[axis], *([0.0] if view != "plan" and axis == 1 else [])]
        for volume in document.volumes:
            if volume.id != moving and not volume.put_away:
                low, high = extents(view, volume)
                targets += [float(low[axis]), float(high[axis]), float(low[axis] + high[axis]) / 2]
        near = min(targets, key=lambda t: abs(t - place[axis]), default=None)
        is_near = near is not None and abs(near - place[axis]) <= reach
        found.append(near if is_near else rounded(float(place[axis]), step))
    return np.array(found)


def pulled(
    volume: AnyVolume, axes: Floats, sides: tuple[int, int], target: Floats
) -> tuple[tuple[float, ...], tuple[float, ...]] | None:
    """Return corner and size of a volume one or two of whose faces are pulled to a place in a view.

    Each side stands for the own direction that runs most along it; a turned volume is pulled along its own directions.
    """
    corners, rotations = box_corners([volume])
    corner, size = corners[0, 0].copy(), list(volume.size)
    for axis, side in enumerate(sides):
        if side == 0:
            continue
        along = axes[axis] @ rotations[0]
        own = int(np.argmax(np.abs(along)))
        if abs(along[own]) < 0.5:
            return None
        flat = corners[0] @ axes[axis]
        reach = float(target[axis] - (flat.min() if side < 0 else flat.max()))
        pull = reach / float(along[own])
        at_end = (side > 0) == (along[own] > 0.0)
        new = size[own] + (pull if at_end else -pull)
        if new < _LEAST_SIZE:
            return None
        if not at_end:
            corner = corner + pull * rotations[0][:, own]
        size[own] = round(new, 6)
    return tuple(float(c) for c in corner), tuple(size)


def profile_view(view: ViewName, volume: AnyVolume) -> ProfileView:
    """Return the view of a volume's own profiles that a plain view shows it in: of one turned aside its side is the front."""
    if view == "plan":
        return "plan"
    aside = abs(volume.yaw_deg % 180.0 - 90.0) < 45.0
    return "side" if (view == "side") != aside else "front"


def path_mark(volume: AnyVolume, view: ViewName, points: list[Floats], *, closed: bool) -> PathMark | str:
    """Return lines drawn in a view as a mark on the middle plane of a volume, or why they cannot be."""
    if not volume.upright or volume.yaw_deg % 90.0:
        return tr(
            "{volume} is turned; lines are drawn in volumes that stand square in the plain views.", volume=volume.name
        )
    across = _ACROSS[view]
    if volume.yaw_deg % 180.0:
        across = {"wide": "long", "long": "wide"}.get(across, across)
    k = DIRECTIONS.index(across)
    a, b = (n for n in range(3) if n != k)
    corners, rotations = box_corners([volume])
    axes = view_axes(view)
    parts = []
    for point in points:
        place = corners[0].mean(axis=0)
        # Move the middle within the plane of the view to where the point was drawn.
        gap = point - axes @ place
        own = rotations[0].T @ (place + gap @ axes - corners[0, 0])
        parts.append((float(own[a]) / volume.size[a], float(own[b]) / volume.size[b]))
    if any(not -5.0 <= value <= 6.0 for part in parts for value in part):
        return tr("The lines reach too far beyond {volume}.", volume=volume.name)
    return PathMark(across=across, points=tuple(parts), closed=closed)  # type: ignore[arg-type]
