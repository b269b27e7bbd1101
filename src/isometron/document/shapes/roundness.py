"""Turned bodies stay round: whatever changes one of the two widths of one that was round changes the other with it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

import msgspec

from isometron.geometry.tolerances import HAIR
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS

__all__ = ["is_oblong", "kept_round", "widths_of"]

_SAME = HAIR
"""Of a size."""


def widths_of(volume: Turned) -> tuple[int, int]:
    """Return the two own directions across the axle."""
    k = DIRECTIONS.index(volume.axle)
    return (k + 1) % 3, (k + 2) % 3


def is_oblong(volume: Turned) -> bool:
    """Whether its two widths differ: its sections are ellipses, because somebody has said so."""
    a, b = (volume.size[k] for k in widths_of(volume))
    return abs(a - b) > _SAME * max(a, b)


def kept_round(
    old: Mapping[str, AnyVolume], volumes: Sequence[AnyVolume], oblong: Collection[str] = ()
) -> list[AnyVolume]:
    """Return the volumes with every turned one round that was round before, but those in ``oblong``.

    Of two widths the one that has changed counts, of two that have changed the larger change. A body that has come to be
    turned now takes the smaller of its widths.
    """
    found = []
    for volume in volumes:
        before = old.get(volume.id)
        if (
            before is volume
            or before is None
            or not isinstance(volume, Turned)
            or volume.id in oblong
            or not is_oblong(volume)
            or (isinstance(before, Turned) and before.axle == volume.axle and is_oblong(before))
        ):
            found.append(volume)
            continue
        found.append(_round(before, volume))
    return found


def _round(before: AnyVolume, volume: Turned) -> AnyVolume:
    a, b = widths_of(volume)
    size = list(volume.size)
    if isinstance(before, Turned) and before.axle == volume.axle:
        lead = a if abs(size[a] - before.size[a]) >= abs(size[b] - before.size[b]) else b
    else:
        lead = a if size[a] <= size[b] else b
    size[a] = size[b] = size[lead]
    driven = {DIRECTIONS[b if lead == a else a]}
    says = (
        tuple(each for each in volume.says if each.drives not in driven)
        if before.says == volume.says
        else volume.says
    )
    return msgspec.structs.replace(volume, size=tuple(size), says=says)
