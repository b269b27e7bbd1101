"""What shapes a volume's body: the only list of it."""

from __future__ import annotations

import msgspec

from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["shape_of"]


def shape_of(volume: Volume) -> Volume:
    """Return a volume with nothing left but what shapes its body: two that give the same have the same shell.

    It has no name and stands at the origin in its own axes, neither steered nor leant; of its marks only openings are left, without their fittings, which are bodies of their own; copies and mirror
    images are placings of it. Which way it stands stays where an opening in a round side asks for it.
    """
    openings = tuple(
        msgspec.structs.replace(mark, name="", frame=0.0, sill=0.0, bars=(0, 0), bar=0.0, back=0.0, pane=False)
        for mark in volume.marks
        if isinstance(mark, OpeningMark)
    )
    shape = msgspec.structs.replace(
        volume, id="shape", name="shape", corner=(0.0, 0.0, 0.0), yaw_deg=0.0, pitch_deg=0.0, roll_deg=0.0, see_through=False,
        put_away=False, locked=False, hangs=False, marks=openings, copies=(), mirror=None, joined=None, says=(), keep=None, group="",
        quiet=(),
    )  # fmt: skip
    if isinstance(shape, Turned):
        return msgspec.structs.replace(
            shape,
            face_rings=(),
            spokes=0,
            sections=0,
            sections_about="high",
            squared=False,
            steer_deg=0.0,
            lean_deg=0.0,
        )
    return shape
