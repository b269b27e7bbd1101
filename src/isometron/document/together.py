"""Deeds on several volumes as one: what is a group, or selected together, turns about its common middle and takes one size."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from math import radians

import msgspec
import numpy as np

from isometron.document.edits import Edit, held_length, turn_volume, with_volumes
from isometron.document.joining import mates
from isometron.document.model import Document, checked
from isometron.geometry.frames import Floats, box_rotation, half_turn
from isometron.volumes.box import box_corners
from isometron.volumes.copies import copies_of
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["change_all", "resize_all", "turn_together"]


def turn_together(document: Document, ids: Sequence[str], yaw_deg: float) -> Edit:
    """Turn volumes, with all in a group with one of them, until the last of ``ids`` is turned by ``yaw_deg``; about their common middle.

    What is joined to one of them goes along.
    """
    lead = document.volume(ids[-1])
    together = mates(document, ids)
    if len(together) == 1:
        return turn_volume(document, lead.id, yaw_deg)
    swing = yaw_deg - lead.yaw_deg
    volumes = [volume for volume in document.volumes if volume.id in together]
    free = {v.id for v in volumes if v.joined is None or v.joined.to not in together}
    turn, middle = box_rotation(radians(swing), 0.0, 0.0), _middle(volumes)
    turned = tuple(
        checked(_turned(volume, swing, turn, middle), tr("volume {name!r}", name=volume.name))
        if volume.id in free
        else volume
        for volume in document.volumes
    )
    return Edit(tr("turn {count} volumes", count=len(together)), with_volumes(document, turned, free))


def _middle(volumes: Iterable[AnyVolume]) -> Floats:
    """Return the middle (3,) of the bounds of volumes and of all in their rows."""
    rows = [copy for v in volumes for copy in copies_of(msgspec.structs.replace(v, mirror=None), dict)]
    corners = box_corners(rows)[0].reshape(-1, 3)
    middle: Floats = (corners.min(axis=0) + corners.max(axis=0)) / 2.0
    return middle


def _turned(volume: AnyVolume, swing: float, turn: Floats, middle: Floats) -> AnyVolume:
    x, y, _ = np.round(middle + turn @ (np.array(volume.corner) - middle), 6) + 0.0
    yaw = round(half_turn(volume.yaw_deg + swing), 9) + 0.0
    return msgspec.structs.replace(volume, corner=(float(x), float(y), volume.corner[2]), yaw_deg=yaw)


def resize_all(document: Document, ids: Sequence[str], axis: int, length: float) -> Edit:
    """Give all of some volumes one length (mm) along their own direction ``axis``."""

    length = held_length(length, document.volume(ids[-1]).name if ids else "")

    def resized(volume: AnyVolume) -> AnyVolume:
        size = (*volume.size[:axis], length, *volume.size[axis + 1 :])
        return msgspec.structs.replace(volume, size=size)

    return _each(document, ids, tr("resize"), resized)


def change_all(document: Document, ids: Sequence[str], what: str, **fields: object) -> Edit:
    """Give all of some volumes the same fields; ``what`` names the edit."""
    return _each(document, ids, what, lambda volume: msgspec.structs.replace(volume, **fields))


def _each(document: Document, ids: Sequence[str], what: str, change) -> Edit:  # type: ignore[no-untyped-def]
    wanted = set(ids)
    volumes = tuple(
        checked(change(volume), tr("volume {name!r}", name=volume.name)) if volume.id in wanted else volume
        for volume in document.volumes
    )
    names = [volume.name for volume in document.volumes if volume.id in wanted]
    named = names[0] if len(names) == 1 else tr("{count} volumes", count=len(names))
    return Edit(tr("{what} {name}", what=what, name=named), with_volumes(document, volumes))
