"""What a volume says of others: ids of those it is joined to, mirrored about or follows, and names in its expressions."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.held_places import follows_others, with_held
from isometron.volumes.marks.holds import Apart, Measured

__all__ = ["with_mentions"]

Text = Callable[[str], str]
Other = Callable[[str], str | None]


def with_mentions(volume: AnyVolume, text: Text, other: Other) -> AnyVolume:
    """Return a volume with each of its expressions, and each id of another volume, changed.

    text : gives an expression anew; other : gives the new id of a volume, None for one that is not there: what followed it
    stays where it is.
    """
    fields: dict[str, Any] = {}
    if volume.says:
        fields["says"] = tuple(msgspec.structs.replace(says, text=text(says.text)) for says in volume.says)
    if volume.joined is not None:
        to = other(volume.joined.to)
        holds = tuple(msgspec.structs.replace(h, says=text(h.says)) if h.says else h for h in volume.joined.holds)
        fields["joined"] = None if to is None else msgspec.structs.replace(volume.joined, to=to, holds=holds)
    if volume.mirror is not None and volume.mirror.about:
        about = other(volume.mirror.about)
        fields["mirror"] = None if about is None else msgspec.structs.replace(volume.mirror, about=about)

    def held_anew(held: Measured | Apart, _: object) -> Measured | Apart:
        says = text(held.says) if held.says else ""
        if isinstance(held, Apart) or not held.thing:
            return msgspec.structs.replace(held, says=says)
        thing = other(held.thing)
        if thing is None:
            return msgspec.structs.replace(held, says="", thing="", apart=0.0)
        return msgspec.structs.replace(held, says=says, thing=thing)

    if follows_others(volume):
        volume = with_held(volume, held_anew)
    changed = {name: value for name, value in fields.items() if value != getattr(volume, name)}
    return msgspec.structs.replace(volume, **changed) if changed else volume
