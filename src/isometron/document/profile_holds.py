"""Corners of profiles that an expression or another volume gives: worked out anew after every edit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from isometron.document.model import DocumentError, NamedLength
from isometron.document.sizes import Sizes
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner
from isometron.volumes.holds import Held, Measured
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["follows_others", "middle_in", "profiles_followed"]


def follows_others(volume: AnyVolume) -> bool:
    """Whether a corner of a volume's profiles goes by an expression or by another volume."""
    return isinstance(volume, CutBody) and any(
        _is_given(held)
        for profile in (volume.side, volume.plan, volume.front)
        if profile is not None
        for corner in profile.corners
        for held in corner.at
    )


def _is_given(held: Held) -> bool:
    return isinstance(held, Measured) and bool(held.says or held.thing)


def profiles_followed(
    volumes: list[AnyVolume], lengths: Sequence[NamedLength], here_before: Mapping[str, AnyVolume]
) -> list[AnyVolume]:
    """Return the volumes with every corner where its expression, or the middle of what it follows, says.

    What follows a volume that is gone, or a name that is, keeps the place that it had; an expression that cannot be worked
    out raises `DocumentError` while it is new.
    """
    if not any(map(follows_others, volumes)):
        return volumes
    sizes = Sizes(volumes, lengths)
    things = {volume.id: volume for volume in volumes}
    return [
        _followed(volume, sizes, things, here_before.get(volume.id)) if isinstance(volume, CutBody) else volume
        for volume in volumes
    ]


def _followed(volume: CutBody, sizes: Sizes, things: Mapping[str, AnyVolume], before: AnyVolume | None) -> AnyVolume:
    fields = {}
    for view, axes in zip(VIEWS, VIEW_AXES, strict=True):
        profile: CutProfile | None = getattr(volume, view)
        if profile is None:
            continue
        corners = tuple(_corner(corner, volume, axes, sizes, things, before) for corner in profile.corners)
        if corners != profile.corners:
            fields[view] = msgspec.structs.replace(profile, corners=corners)
    return msgspec.structs.replace(volume, **fields) if fields else volume


def _corner(
    corner: ProfileCorner, volume: CutBody, axes: tuple[int, int], sizes: Sizes, things: Mapping[str, AnyVolume],
    before: AnyVolume | None,
) -> ProfileCorner:  # fmt: skip
    at = [_worked_out(held, volume, axis, sizes, things, before) for held, axis in zip(corner.at, axes, strict=True)]
    return corner if tuple(at) == corner.at else msgspec.structs.replace(corner, at=(at[0], at[1]))


def _worked_out(
    held: Held, volume: CutBody, axis: int, sizes: Sizes, things: Mapping[str, AnyVolume], before: AnyVolume | None
) -> Held:
    if not isinstance(held, Measured) or not (held.says or held.thing):
        return held
    mm = held.apart
    if held.thing:
        thing = things.get(held.thing)
        if thing is None:
            return msgspec.structs.replace(held, thing="", apart=0.0)
        mm += middle_in(thing, volume, axis)
    if held.says:
        try:
            mm += sizes.value(held.says, held.unit)
        except DocumentError as error:
            if before is not None and follows_others(before):
                return msgspec.structs.replace(held, says="")
            raise DocumentError(tr("{volume}: {error}", volume=volume.name, error=error)) from error
    return held if abs(mm - held.mm) <= HAIR else msgspec.structs.replace(held, mm=round(mm, 6))


def middle_in(thing: AnyVolume, volume: CutBody, axis: int) -> float:
    """Return where a thing's middle lies along a volume's own direction, mm from its start."""
    middle = box_corners([thing])[0][0].mean(axis=0)
    corners, rotations = box_corners([volume])
    return float((middle - corners[0, 0]) @ rotations[0][:, axis])
