"""Wheel arches: half rounds cut into the lower edge of a body's side view, which stay concentric with their wheels."""

from __future__ import annotations

import msgspec

from isometron.document.edits import Edit
from isometron.document.lengths.expressions import slug
from isometron.document.lengths.given_places import middle_of
from isometron.document.lengths.sizes import diameter_of
from isometron.document.model import Document, DocumentError
from isometron.document.shapes.profiles import places_of, put_profile, whole_view
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.box import Box, box_corners
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner, ViewName, view_size
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.holds import Measured
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["ROOM", "cut_arches", "wheels_beside"]

ROOM = 0.57
"""Radius of a wheel arch, in wheels: a hand's breadth of room round the tyre."""


def wheels_beside(document: Document, volume_id: str) -> list[Turned]:
    """Return the round volumes that arches of a body can be cut about: those whose axle runs straight across it."""
    body = document.volume(volume_id)
    return [v for v in document.volumes if isinstance(v, Turned) and v.id != volume_id and _view(body, v) is not None]


def _view(body: AnyVolume, wheel: Turned) -> ViewName | None:
    """Return the view of a body that shows a wheel as a ring: seen along its axle."""
    _, (own, other) = box_corners([body, wheel])
    axle = own.T @ other[:, DIRECTIONS.index(wheel.axle)]
    across = next((k for k in (0, 1) if abs(float(axle[k])) > 1.0 - CLOSE), None)
    return None if across is None else ("front", "side")[across]


def cut_arches(document: Document, volume_id: str, wheel_id: str, room: float = ROOM) -> Edit:
    """Cut arches into a body's side view about a wheel and those in its first row; they follow it in place and size.

    room : radius of the arches, in wheels. An axle that lies below the body's edge there gives a flatter bow. Raises
    `DocumentError` where an arch would run over a corner of the outline, and for a body that is no box and no cut body.
    """
    body, wheel = document.volume(volume_id), document.volume(wheel_id)
    if not isinstance(body, Box | CutBody):
        raise DocumentError(tr("{volume} is not cut by profiles: make it a box first.", volume=body.name))
    view = _view(body, wheel) if isinstance(wheel, Turned) else None
    if view is None:
        raise DocumentError(
            tr("The axle of {wheel} does not run straight across {body}.", wheel=wheel.name, body=body.name)
        )
    profile: CutProfile = getattr(body, view, None) or whole_view()
    if profile.alike:
        raise DocumentError(tr("Both sides of this view are alike: switch that off first, then cut the arches."))
    for number in range(wheel.copies[0].count if wheel.copies and wheel.copies[0].along != "high" else 1):
        profile = _with_arch(profile, body, wheel, view, number, room)
    return put_profile(document, volume_id, view, profile, tr("cut arches into"))


def _with_arch(
    profile: CutProfile, body: AnyVolume, wheel: AnyVolume, view: ViewName, number: int, room: float
) -> CutProfile:
    """Return a profile with the arch about the wheel of a number in its row."""
    size, radius = view_size(body, view), room * diameter_of(wheel)
    middle, axle = _centre(body, wheel, view)
    shift = number * _pitch_along(body, wheel, view)
    at = _lowest_side(profile, size, middle + shift, radius)
    if at is None:
        raise DocumentError(
            tr("The arch about {wheel} would run over a corner of the outline of {body}, or beyond it. Move the corner, or the "
               "wheel, or take less room.", wheel=wheel.name, body=body.name)
        )  # fmt: skip
    floor = [_height(profile, size, at, middle + shift + sign * radius) for sign in (-1.0, 1.0)]
    name, count = slug(wheel.name), max(profile.next_n, 1 + max(c.n for c in profile.corners))
    row = _row_words(name, number, shift, wheel)
    if axle > max(floor) + HAIR:
        along = [
            Measured(mm=middle + shift + sign * radius, says=f"{row}{word} {room:g} {name}".strip(), thing=wheel.id)
            for sign, word in ((-1.0, "-"), (1.0, "+" if number else ""))
        ]
        up = Measured(mm=axle, thing=wheel.id)
        new = [
            ProfileCorner(n=count, at=(along[0], floor[0] / size[1])),
            ProfileCorner(n=count + 1, at=(along[0], up), bow=-1.0),
            ProfileCorner(n=count + 2, at=(along[1], up)),
            ProfileCorner(n=count + 3, at=(along[1], floor[1] / size[1])),
        ]
    else:
        new = _flat_bow(wheel, count, middle, shift, axle, radius, (floor[0] + floor[1]) / 2.0, size[1])
    corners = list(profile.corners)
    after = corners[(at + 1) % len(corners)]
    if places_of(after, size)[0] < places_of(corners[at], size)[0]:  # the outline goes round the other way
        bow = [corner.bow for corner in new]
        new = [msgspec.structs.replace(c, bow=b) for c, b in zip(new[::-1], [*bow[-2::-1], 0.0], strict=True)]
    corners[at + 1 : at + 1] = new
    return msgspec.structs.replace(profile, corners=tuple(corners), next_n=count + len(new))


def _row_words(name: str, number: int, shift: float, wheel: AnyVolume) -> str:
    """Return how far the wheel of a number stands from the first one, as an expression with a space behind it."""
    if number == 0:
        return ""
    against = "-" if shift * wheel.copies[0].pitch < 0.0 else ""
    return f"{against}{'' if number == 1 else f'{number} '}{name}.pitch "


def _flat_bow(
    wheel: AnyVolume, count: int, middle: float, shift: float, axle: float, radius: float, floor: float, high: float
) -> list[ProfileCorner]:
    """Return the two corners of the part of a round that stands above a floor over its centre."""
    below = floor - axle
    if below >= radius - HAIR:
        raise DocumentError(tr("{wheel} lies too far below the body for an arch about it.", wheel=wheel.name))
    half = (radius**2 - below**2) ** 0.5
    return [
        ProfileCorner(
            n=count + k, at=(Measured(mm=middle + shift + sign * half, thing=wheel.id, apart=shift + sign * half), floor / high),
            bow=-(radius - below) / half if k == 0 else 0.0,
        )
        for k, sign in enumerate((-1.0, 1.0))
    ]  # fmt: skip


def _centre(body: AnyVolume, wheel: AnyVolume, view: ViewName) -> tuple[float, float]:
    """Return the wheel's middle in a view of the body, mm."""
    corners, rotations = box_corners([body])
    own = (middle_of(wheel) - corners[0, 0]) @ rotations[0]
    a, b = VIEW_AXES[VIEWS.index(view)]
    return float(own[a]), float(own[b])


def _pitch_along(body: AnyVolume, wheel: AnyVolume, view: ViewName) -> float:
    """Return how far the next wheel of a row stands along the body's view, mm."""
    if not wheel.copies:
        return 0.0
    _, (own, other) = box_corners([body, wheel])
    step = wheel.copies[0].pitch * other[:, DIRECTIONS.index(wheel.copies[0].along)]
    return float(step @ own[:, VIEW_AXES[VIEWS.index(view)][0]])


def _lowest_side(profile: CutProfile, size: tuple[float, float], middle: float, radius: float) -> int | None:
    """Return the number of the lowest straight side that runs under the whole of an arch."""
    places = [places_of(corner, size) for corner in profile.corners]
    found = []
    for k, (x, _) in enumerate(places):
        to_x = places[(k + 1) % len(places)][0]
        if profile.corners[k].bow == 0.0 and min(x, to_x) < middle - radius and middle + radius < max(x, to_x):
            found.append((_height(profile, size, k, middle), k))
    return min(found)[1] if found else None


def _height(profile: CutProfile, size: tuple[float, float], side: int, x: float) -> float:
    """Return how high a straight side lies at a place along the view, mm."""
    (x0, y0), (x1, y1) = (places_of(profile.corners[k % len(profile.corners)], size) for k in (side, side + 1))
    return y0 + (y1 - y0) * (x - x0) / (x1 - x0)
