"""Edits of a cut body's profiles: corners moved, added, taken out, rounded, and held otherwise."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from isometron.document.edits import Edit, change_volume, with_volumes
from isometron.document.lengths.typed_places import HoldKind, following, held_as, typed_place
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.renumbering import numbered_like
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.cut.profiles import (
    MOST_CORNERS,
    VIEWS,
    CutBody,
    CutProfile,
    ProfileCorner,
    ViewName,
    mirror_column,
    profile_corners,
    profile_outline,
    view_size,
)
from isometron.volumes.marks.held_places import Way
from isometron.volumes.marks.holds import Held, held_at, reheld
from isometron.volumes.own_sides import view_word
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = [
    "add_corner",
    "begin_profile",
    "both_alike",
    "change_corner",
    "drop_profile",
    "follow_middle",
    "hold_corner",
    "move_corner",
    "places_of",
    "put_profile",
    "take_corner",
    "type_coordinate",
    "whole_view",
]

_SHARED = Volume.__struct_fields__


def whole_view() -> CutProfile:
    """Return a profile that cuts nothing: the four corners of its view, as shares."""
    return CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))


def put_profile(
    document: Document, volume_id: str, view: ViewName, profile: CutProfile | None, what: str, *, anew: bool = False
) -> Edit:
    """Give a box or a cut body another profile; raises `DocumentError` for one that makes no outline.

    anew : its corners have no numbers yet: those that stand where one stood get its number.
    """
    volume = document.volume(volume_id)
    if profile is not None:
        profile = numbered_like(getattr(volume, view, None), profile, view_size(volume, view)) if anew else profile
        try:
            profile_outline(profile, view, view_size(volume, view))
        except OutlineError as error:
            raise DocumentError(str(error)) from error
    if isinstance(volume, CutBody):
        return change_volume(document, volume_id, what, **{view: profile})
    fields = {name: getattr(volume, name) for name in _SHARED} | {view: profile}
    new = checked(CutBody(**fields), f"volume {volume.name!r}")
    volumes = tuple(new if each.id == volume_id else each for each in document.volumes)
    words = tr("{what} {name}", what=what, name=volume.name)
    return Edit(words, with_volumes(document, volumes), asks=frozenset({"outline", "corner"}))


def begin_profile(document: Document, volume_id: str, view: ViewName) -> Edit:
    """Let a view cut a volume: it begins with the whole view."""
    return put_profile(
        document,
        volume_id,
        view,
        whole_view(),
        tr("begin the {view} of", view=view_word(document.volume(volume_id), view)),
    )


def drop_profile(document: Document, volume_id: str, view: ViewName) -> Edit:
    """Let a view cut nothing any more."""
    return put_profile(
        document, volume_id, view, None, tr("drop the {view} of", view=view_word(document.volume(volume_id), view))
    )


def _profile(document: Document, volume_id: str, view: ViewName) -> tuple[CutBody, CutProfile]:
    volume = document.volume(volume_id)
    profile = getattr(volume, view) if isinstance(volume, CutBody) else None
    if profile is None:
        raise DocumentError(
            tr(
                "{volume} has no {view} to change.",
                volume=volume.name,
                view=view_word(document.volume(volume_id), view),
            )
        )
    assert isinstance(volume, CutBody)
    return volume, profile


def _changed(
    document: Document, volume_id: str, view: ViewName, number: int, what: str, change: Callable[..., ProfileCorner]
) -> Edit:
    """Change the corner of a number; ``change`` is given it and how far the view reaches."""
    volume, profile = _profile(document, volume_id, view)
    size = view_size(volume, view)
    if all(corner.n != number for corner in profile.corners):
        raise DocumentError(tr("{volume} has no such corner any more.", volume=volume.name))
    corners = tuple(change(corner, size) if corner.n == number else corner for corner in profile.corners)
    return put_profile(document, volume_id, view, msgspec.structs.replace(profile, corners=corners), what)


def move_corner(document: Document, volume_id: str, view: ViewName, number: int, place: tuple[float, float]) -> Edit:
    """Bring a corner to a place in its view, mm; it stays held as it is, and within the bounding volume."""

    def moved(corner: ProfileCorner, size: tuple[float, float]) -> ProfileCorner:
        at = [
            own if abs(held_at(own, far) - p) <= HAIR else reheld(own, far, min(max(p, 0.0), far))
            for own, p, far in zip(corner.at, place, size, strict=True)
        ]
        return msgspec.structs.replace(corner, at=(at[0], at[1]))

    return _changed(document, volume_id, view, number, tr("move a corner of"), moved)


def add_corner(document: Document, volume_id: str, view: ViewName, after: int, place: tuple[float, float]) -> Edit:
    """Add a corner behind the one of a number, at a place in the view, mm; it is held as shares."""
    volume, profile = _profile(document, volume_id, view)
    if len(profile.corners) >= MOST_CORNERS:
        raise DocumentError(tr("A profile has at most {most} corners.", most=MOST_CORNERS))
    size = view_size(volume, view)
    number = max(profile.next_n, 1 + max(corner.n for corner in profile.corners))
    new = ProfileCorner(n=number, at=(place[0] / size[0], place[1] / size[1]))
    corners: list[ProfileCorner] = []
    for corner in profile.corners:
        corners.append(msgspec.structs.replace(corner, bow=0.0) if corner.n == after else corner)
        if corner.n == after:
            corners.append(new)
    changed = msgspec.structs.replace(profile, corners=tuple(corners), next_n=number + 1)
    return put_profile(document, volume_id, view, changed, tr("add a corner to"))


def take_corner(document: Document, volume_id: str, view: ViewName, number: int) -> Edit:
    """Take a corner out; its number is never given to another one."""
    _, profile = _profile(document, volume_id, view)
    least = 2 if profile.alike else 3
    if len(profile.corners) <= least:
        raise DocumentError(tr("An outline keeps {least} corners: drop the profile instead.", least=least))
    corners = tuple(corner for corner in profile.corners if corner.n != number)
    highest = max(profile.next_n, 1 + max(corner.n for corner in profile.corners))
    changed = msgspec.structs.replace(profile, corners=corners, next_n=highest)
    return put_profile(document, volume_id, view, changed, tr("take a corner out of"))


def change_corner(document: Document, volume_id: str, view: ViewName, number: int, **fields: float) -> Edit:
    """Set a corner's radius, its chamfer, or the bow of its side; a round corner is not chamfered, and the other way."""
    if fields.get("round"):
        fields["chamfer"] = 0.0
    elif fields.get("chamfer"):
        fields["round"] = 0.0
    return _changed(
        document, volume_id, view, number, tr("shape a corner of"),
        lambda corner, _: checked(msgspec.structs.replace(corner, **fields), tr("corner")),
    )  # fmt: skip


def hold_corner(document: Document, volume_id: str, view: ViewName, number: int, column: int, how: HoldKind) -> Edit:
    """Hold a coordinate of a corner otherwise; nothing moves."""
    return _changed(
        document, volume_id, view, number, tr("hold a corner of"),
        lambda corner, size: _with(corner, column, held_as(how, corner.at[column], size[column])),
    )  # fmt: skip


def both_alike(document: Document, volume_id: str, view: ViewName, on: bool) -> Edit:
    """Switch *both sides alike*: on, the first half is kept and mirrored; off, the mirror image becomes corners of its own."""
    volume, profile = _profile(document, volume_id, view)
    size = view_size(volume, view)
    if on == profile.alike:
        raise DocumentError(tr("It is so already."))
    corners = _half(profile, view, size) if on else _expanded(profile, view, size)
    changed = msgspec.structs.replace(CutProfile.through(corners), alike=on)
    what = tr("make both sides alike of") if on else tr("free both sides of")
    return put_profile(document, volume_id, view, changed, what, anew=True)


def _half(profile: CutProfile, view: ViewName, size: tuple[float, float]) -> list[ProfileCorner]:
    """Return the corners of the first half, in their order round the outline, with the places where it meets the middle."""
    column, corners = mirror_column(view), profile.corners
    middle = size[column] / 2.0
    places = [(held_at(c.at[0], size[0]), held_at(c.at[1], size[1])) for c in corners]
    count = len(corners)
    inside = [place[column] <= middle + HAIR for place in places]
    if all(inside) or not any(inside):
        raise DocumentError(tr("All corners lie on one side of the middle: there is no half to mirror."))
    first = next(k for k in range(count) if inside[k] and not inside[k - 1])
    found = [_crossing(places[first - 1], places[first], column, size)]
    k = first
    while inside[k % count]:
        found.append(corners[k % count])
        k += 1
    found.append(_crossing(places[(k - 1) % count], places[k % count], column, size))
    if any(inside[n % count] for n in range(k, first + count)):
        raise DocumentError(tr("The outline crosses its middle more than twice: it has no half to mirror."))
    return [
        c
        for n, c in enumerate(found)
        if 0 < n < len(found) - 1
        or abs(places_of(c, size)[column] - places_of(found[1 if n == 0 else -2], size)[column]) > HAIR
    ]


def places_of(corner: ProfileCorner, size: tuple[float, float]) -> tuple[float, float]:
    """Return where a corner lies in its view, mm."""
    return held_at(corner.at[0], size[0]), held_at(corner.at[1], size[1])


def _crossing(
    one: tuple[float, float], two: tuple[float, float], column: int, size: tuple[float, float]
) -> ProfileCorner:
    """Return the corner where the side between two places meets the middle."""
    middle = size[column] / 2.0
    t = (middle - one[column]) / (two[column] - one[column])
    place = [one[n] + t * (two[n] - one[n]) for n in (0, 1)]
    place[column] = middle
    return ProfileCorner(at=(place[0] / size[0], place[1] / size[1]))


def _expanded(profile: CutProfile, view: ViewName, size: tuple[float, float]) -> list[ProfileCorner]:
    """Return all corners as corners of their own: those of the mirror image as shares."""
    whole = profile_corners(profile, view, size)
    own = list(profile.corners)
    for corner in whole[len(own) :]:
        own.append(
            ProfileCorner(
                at=(corner.x / size[0], corner.y / size[1]),
                round=corner.round,
                chamfer=corner.chamfer,
                bow=corner.bow,
            )
        )
    return own


def follow_middle(document: Document, volume_id: str, view: ViewName, number: int, column: int, thing: str) -> Edit:
    """Let a coordinate of a corner follow the middle of another volume, as far from it as it is now."""
    volume, _ = _profile(document, volume_id, view)
    axis = VIEW_AXES[VIEWS.index(view)][column]
    corners, rotations = box_corners([volume])

    def followed(corner: ProfileCorner, size: tuple[float, float]) -> ProfileCorner:
        way = Way(corners[0, 0], rotations[0][:, axis], size[column])
        return _with(corner, column, following(document, thing, volume_id, corner.at[column], way))

    return _changed(document, volume_id, view, number, tr("hold a corner of"), followed)


def type_coordinate(document: Document, volume_id: str, view: ViewName, number: int, column: int, text: str) -> Edit:
    """Set a coordinate of a corner as it is typed, see `typed_place`."""
    return _changed(
        document, volume_id, view, number, tr("place a corner of"),
        lambda corner, _: _with(corner, column, typed_place(text, corner.at[column], document)),
    )  # fmt: skip


def _with(corner: ProfileCorner, column: int, held: Held) -> ProfileCorner:
    at = (held, corner.at[1]) if column == 0 else (corner.at[0], held)
    return msgspec.structs.replace(corner, at=at)
