"""What stands at all four corners of another thing: legs, posts, feet."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
import numpy as np

from isometron.document.edits import Edit, with_volumes
from isometron.document.joining import mates
from isometron.document.joins import extents_in
from isometron.document.model import Document, DocumentError
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Repeat
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["stand_at_four"]


def stand_at_four(document: Document, ids: Iterable[str], about: str) -> Edit:
    """Let volumes stand at all four corners of another one: each in two rows of two, as far from its middle on every side.

    They are copies, not mirror images: each stands as the first one does. Raises `DocumentError` for one that is not laid along the other's
    directions, or stands in its middle.
    """
    other = document.volume(about)
    changed: dict[str, AnyVolume] = {}
    for volume in (v for v in document.volumes if v.id in set(mates(document, ids)) - {about}):
        turn = box_corners([volume])[1][0].T @ box_corners([other])[1][0]
        low, high = extents_in(volume, other)
        rows = []
        for axis in (0, 1):
            own = int(np.argmax(np.abs(turn[:, axis])))
            gap = (other.size[axis] - low[axis] - high[axis]) * float(np.sign(turn[own, axis]))
            if abs(turn[own, axis]) < 1.0 - HAIR:
                raise DocumentError(
                    tr(
                        "{volume} is turned against {other}, so no rows of it stand at its four corners.",
                        volume=volume.name,
                        other=other.name,
                    )
                )
            if abs(gap) < 0.01:
                raise DocumentError(
                    tr(
                        "{volume} stands in the middle of {other}: move it towards a corner first.",
                        volume=volume.name,
                        other=other.name,
                    )
                )
            rows.append(Repeat(along=DIRECTIONS[own], count=2, pitch=round(gap, 6)))
        changed[volume.id] = msgspec.structs.replace(volume, copies=tuple(rows), mirror=None)
    if not changed:
        raise DocumentError(tr("Select what is to stand at the four corners first."))
    volumes = tuple(changed.get(volume.id, volume) for volume in document.volumes)
    return Edit(tr("stand at four corners"), with_volumes(document, volumes), asks=frozenset({"row", "mirror"}))
