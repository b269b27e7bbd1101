"""What leaves the sheet: how far, and over which edge."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.solve.picture import Picture
from isometron.view.sheet import Sheet
from isometron.wording import tr

__all__ = ["Leaving", "beyond", "leaving"]

_AROUND = np.linspace(0.0, 2.0 * np.pi, 24, endpoint=False)
_LEAST = 0.1
"""mm of paper."""
_EDGES = (tr("left edge"), tr("lower edge"), tr("right edge"), tr("upper edge"))


@dataclass(frozen=True)
class Leaving:
    """A volume that reaches beyond the sheet: its row, by how many mm, over which edge, and where (2,) on the paper."""

    row: int
    by: float
    edge: str
    at: tuple[float, float]


def leaving(document: Document, picture: Picture) -> Iterator[Leaving]:
    """Yield what of each volume leaves the sheet farthest, told by its corners and its rings; what has no picture is passed over."""
    scene, sheet = picture.scene, document.sheet
    u, v = sheet.centre_of_vision
    low, high = np.array([-u, -v]), np.array([sheet.width - u, sheet.height - v])
    outer = np.flatnonzero(scene.outer_vertices & ~scene.turned[scene.vertex_owner])
    rounds = scene.unit_rounds
    rings = rounds.rings
    turns = (
        rings[:, None, :3]
        + np.cos(_AROUND)[:, None] * rings[:, None, 3:6]
        + np.sin(_AROUND)[:, None] * rings[:, None, 6:]
    ).reshape(-1, 3)
    places: Floats = np.concatenate([picture.paper[outer], _projected(picture, turns)])
    owner = np.concatenate([scene.vertex_owner[outer], np.repeat(scene.unit_owner[rounds.ring_owner], len(_AROUND))])
    over = np.column_stack([low - places, places - high])
    over = np.where(np.isfinite(over), over, -np.inf)
    most = over.max(axis=1)
    for row in range(len(document.volumes)):
        own = np.flatnonzero(owner == row)
        if not len(own) or document.volumes[row].put_away:
            continue
        far = own[int(np.argmax(most[own]))]
        if most[far] > _LEAST:
            x, y = np.clip(places[far], low, high)
            yield Leaving(row, float(most[far]), _EDGES[int(np.argmax(over[far]))], (float(x), float(y)))


def beyond(sheet: Sheet, places: Floats) -> tuple[float, str] | None:
    """Return by how many mm the farthest of some paper places (N, 2) leaves a sheet, and over which edge; None where none does."""
    left, lower, right, upper = sheet.rectangle
    over = np.column_stack([np.array([left, lower]) - places, places - np.array([right, upper])])
    if not len(places) or not over.max() > _LEAST:
        return None
    return float(over.max()), _EDGES[int(np.argmax(over.max(axis=0)))]


def _projected(picture: Picture, places: Floats) -> Floats:
    found: Floats = picture.eye.project(places)[0] if len(places) else np.zeros((0, 2))
    return found
