"""Where a body stands whose openings are cut at rest."""

from __future__ import annotations

import msgspec

from isometron.geometry.frames import Floats
from isometron.volumes.box import box_corners
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import Volume

__all__ = ["stand_of", "upright"]


def stand_of(volume: Volume) -> tuple[Floats, Floats]:
    """Return the corner (3,) and the rotation (3, 3) of a body: of a turned one as it is steered and leant."""
    if isinstance(volume, Turned):
        return turned_frame(volume)
    corners, rotations = box_corners([volume])
    return corners[0, 0], rotations[0]


def upright(volume: Volume) -> Volume:
    """Return a volume in its own axes, neither steered nor leant."""
    volume = msgspec.structs.replace(volume, corner=(0.0, 0.0, 0.0), yaw_deg=0.0, pitch_deg=0.0, roll_deg=0.0)
    return msgspec.structs.replace(volume, steer_deg=0.0, lean_deg=0.0) if isinstance(volume, Turned) else volume
