"""Places that an expression or another volume gives, in profiles, marks and joins: worked out anew after every edit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from isometron.document.lengths.sizes import Sizes
from isometron.document.model import DocumentError, NamedLength
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.held_places import Way, follows_others, with_held
from isometron.volumes.marks.holds import Apart, Measured
from isometron.wording import tr

__all__ = ["holds_followed", "middle_of", "places_followed"]


def places_followed(
    volumes: list[AnyVolume], lengths: Sequence[NamedLength], here_before: Mapping[str, AnyVolume]
) -> list[AnyVolume]:
    """Return the volumes with every place where its expression, or the middle of what it follows, says.

    What follows a volume that is gone, or a name that is, keeps the place that it had; an expression that cannot be worked
    out raises `DocumentError` while it is new.
    """
    if not any(map(follows_others, volumes)):
        return volumes
    sizes = Sizes(volumes, lengths)
    things = {volume.id: volume for volume in volumes}

    def given(volume: AnyVolume) -> AnyVolume:
        before = here_before.get(volume.id)
        lenient = before is not None and follows_others(before)

        def worked_out(held: Measured | Apart, way: Way) -> Measured | Apart:
            try:
                return _worked_out(held, way, sizes, things)
            except DocumentError as error:
                if lenient:
                    return msgspec.structs.replace(held, says="")
                raise DocumentError(tr("{volume}: {error}", volume=volume.name, error=error)) from error

        return with_held(volume, worked_out)

    return [given(volume) if follows_others(volume) else volume for volume in volumes]


def holds_followed(
    volumes: list[AnyVolume], lengths: Sequence[NamedLength], here_before: Mapping[str, AnyVolume]
) -> list[AnyVolume]:
    """Return the volumes with every hold of a join that an expression gives as it says; as in `places_followed`."""
    if not any(hold.says for volume in volumes if volume.joined is not None for hold in volume.joined.holds):
        return volumes
    sizes = Sizes(volumes, lengths)
    return [_with_holds(volume, sizes, here_before.get(volume.id)) for volume in volumes]


def _with_holds(volume: AnyVolume, sizes: Sizes, before: AnyVolume | None) -> AnyVolume:
    join = volume.joined
    if join is None:
        return volume
    holds = []
    for hold in join.holds:
        if hold.says:
            try:
                hold = msgspec.structs.replace(hold, by=round(sizes.value(hold.says, hold.unit), 6))
            except DocumentError as error:
                if before is None or before.joined != join:
                    raise DocumentError(tr("{volume}: {error}", volume=volume.name, error=error)) from error
                hold = msgspec.structs.replace(hold, says="")
        holds.append(hold)
    joined = msgspec.structs.replace(join, holds=(holds[0], holds[1], holds[2]))
    return volume if joined == join else msgspec.structs.replace(volume, joined=joined)


def _worked_out(held: Measured | Apart, way: Way, sizes: Sizes, things: Mapping[str, AnyVolume]) -> Measured | Apart:
    mm = 0.0
    if isinstance(held, Measured):
        mm = held.apart
        if held.thing:
            thing = things.get(held.thing)
            if thing is None:
                return msgspec.structs.replace(held, thing="", apart=0.0)
            mm += way.to(middle_of(thing))
    if held.says:
        mm += sizes.value(held.says, held.unit)
    return held if abs(mm - held.mm) <= HAIR else msgspec.structs.replace(held, mm=round(mm, 6))


def middle_of(thing: AnyVolume) -> Floats:
    """Return the middle (3,) of a volume in the world, mm."""
    middle: Floats = box_corners([thing])[0][0].mean(axis=0)
    return middle
