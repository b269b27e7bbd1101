"""The space inside a hollow volume, as parts in its own axes."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.faces.insets import inset
from isometron.geometry.shell.parts import block
from isometron.geometry.shell.spun import Side
from isometron.geometry.shell.united import NoShellError, Put, united
from isometron.volumes.arch import Arch
from isometron.volumes.cut.body import used_outlines
from isometron.volumes.cut.faces import side_names
from isometron.volumes.cut.profiles import VIEWS, CutBody
from isometron.volumes.framed import Framed
from isometron.volumes.shells.outside import BOX_NAMES, chord_of, cut_by_outlines, spun_body
from isometron.volumes.shells.turned_inside import inner_stretches
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = ["inside_of"]


def inside_of(volume: Volume) -> Put | None:
    """Return the space that a wall leaves; None of a solid body. Raises `IsometronError` in words where it leaves no room."""
    wall = volume.wall
    if wall <= 0.0:
        return None
    if isinstance(volume, Arch | Framed):
        raise NoShellError(tr("A body of this kind is always solid."))
    if isinstance(volume, Turned):
        return _turned(volume)
    if min(volume.size) <= 2.0 * wall:
        raise NoShellError(tr("A wall of {wall:.4g} mm leaves no room inside: take less.", wall=wall))
    if isinstance(volume, CutBody):
        outlines = used_outlines(volume.size, (volume.side, volume.plan, volume.front))
        names = [side_names(volume, view) for view in VIEWS]
        inner = [inset(outline, wall) if len(own) else outline for outline, own in zip(outlines, names, strict=True)]
        own = [
            [f"wall.{k}" for k in range(len(outline.corners))] if len(name) else []
            for outline, name in zip(inner, names, strict=True)
        ]
        return cut_by_outlines(volume.size, inner, own, wall)
    return united(
        block(np.full(3, wall), np.array(volume.size) - wall, tuple(f"inside.{name}" for name in BOX_NAMES))
    )


def _turned(volume: Turned) -> Put:
    stretches = inner_stretches(volume)
    k = DIRECTIONS.index(volume.axle)
    half, axes = np.array(volume.size) / 2.0, np.eye(3)
    first, second = (half[(k + step) % 3] * axes[(k + step) % 3] for step in (1, 2))
    long, broad = volume.size[k], float(half[(k + 1) % 3])
    sides = [
        Side((at / long, wide / broad), (on / long, broader / broad), name=f"inside.{number}")
        for number, line in enumerate(stretches)
        for (at, wide), (on, broader) in pairwise(line.tolist())
        if on > at or broader != wide
    ]
    return spun_body(sides, half * (np.arange(3) != k), volume.size[k] * axes[k], first, second, chord_of(volume))
