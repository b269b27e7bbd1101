"""Openings pulled from corner to corner on a round side."""

from __future__ import annotations

from math import asin, degrees

import msgspec
import numpy as np

from isometron.document.lengths.units import format_length
from isometron.geometry.frames import Floats
from isometron.solve.pick import SideHit
from isometron.tools.form.on_face import size_words
from isometron.tools.marking import side_caught
from isometron.tools.pencil import Pencil, ToolContext
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import ARCH_FORMS, OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.side_shafts import side_turn
from isometron.volumes.openings.standing import stand_of
from isometron.wording import tr

__all__ = ["opening_on_side", "side_words"]

_WIDEST = 0.999
"""Of the side's diameter: what an opening is as wide as at most."""


def opening_on_side(
    context: ToolContext, begun: SideHit, pencil: Pencil, wish: OpeningMark, wide: float | None, high: float | None
) -> OpeningMark | None:
    """Return the opening between the place where it was begun and the pencil, or as large as it is typed; None without a size."""
    here = side_caught(context, pencil)
    if here is None or (here.owner, here.face) != (begun.owner, begun.face):
        return None
    side, up = begun.side, stand_of(context.drawing.document.volumes[begun.owner])[1][:, 2]
    whole = 2.0 * np.pi * side.around
    gap = np.array([here.at[0] - begun.at[0], here.at[1] - begun.at[1]])
    gap[1] -= whole * round(gap[1] / whole)  # the nearer way about the axle
    middle = np.array(begun.at) + gap / 2.0
    frame, upright = side_turn(side, float(middle[0]), float(middle[1]), up)
    ends = side.world(np.array([begun.at, np.array(begun.at) + gap]))
    sizes = [abs(float((ends[1] - ends[0]) @ frame[k : k + 3])) for k in (3, 6)]
    typed = [size if given is None else given for size, given in zip(sizes, (wide, high), strict=True)]
    if wish.form == "ring":
        typed = [wide, high] if wide is not None and high is not None else [max(typed) if wide is None else wide] * 2
    if min(typed) <= 0.0:
        return None
    lengths = (typed[1], typed[0]) if upright else (typed[0], typed[1])
    radius = max(float(side.radius(middle[:1])[0][0]), 1e-9)
    angle = 2.0 * asin(min(lengths[1] / (2.0 * radius), _WIDEST))
    steps = np.where(gap < 0.0, -1.0, 1.0) * np.array([lengths[0], angle * side.around])
    middle = np.array(begun.at) + steps / 2.0
    if wish.form in ARCH_FORMS:
        _to_foot(middle, steps, side_turn(side, float(middle[0]), float(middle[1]), up)[0], begun, upright=upright)
    along = Measured(mm=round(float(middle[0]), 6))
    held = 0.5 if abs(along.mm - side.long / 2.0) <= 1e-6 else along
    about = float(middle[1]) / side.reach[1]
    about = about % 1.0 if side.turn >= 2.0 * np.pi else about
    return msgspec.structs.replace(wish, face=begun.face, wide=typed[0], high=typed[1], at=(held, round(about, 9)))


def _to_foot(middle: Floats, steps: Floats, frame: Floats, begun: SideHit, *, upright: bool) -> None:
    """Move the middle of an arch to the middle of its foot."""
    column = 0 if upright else 1
    nudge = middle.copy()
    nudge[column] += 1e-3 * begun.side.around
    way = begun.side.world(nudge[None])[0] - begun.side.world(middle[None])[0]
    middle[column] -= abs(float(steps[column])) / 2.0 * (1.0 if float(way @ frame[6:9]) > 0.0 else -1.0)


def side_words(context: ToolContext, volume: AnyVolume, begun: SideHit, mark: OpeningMark) -> str:
    """Return an opening's size in words, and where it lies."""
    side, unit = begun.side, context.drawing.document.unit
    along = mark.at[0].mm if isinstance(mark.at[0], Measured) else mark.at[0] * side.long
    about = mark.at[1].mm if isinstance(mark.at[1], Measured) else mark.at[1] * side.reach[1]
    return tr(
        "{size} in the {face}, {far} along the axle, at {angle:.0f}°", size=size_words(context, mark.wide, mark.high),
        face=face_name(volume, mark.face), far=format_length(round(along, 1), unit), angle=degrees(about / side.around),
    )  # fmt: skip
