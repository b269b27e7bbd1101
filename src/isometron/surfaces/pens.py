"""The pens, as pencil hardness would: one table for every surface."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Floats
from isometron.solve.marks import Role

__all__ = ["PENS", "Pen", "tone_colour", "tone_colours"]


@dataclass(frozen=True)
class Pen:
    """Width in mm of paper, colour on the sheet, colour on the dark table, dash and gap in mm (None: solid)."""

    width: float
    colour: str
    on_table: str
    dash: tuple[float, float] | None = None


PENS: dict[Role, Pen] = {
    Role.CONE: Pen(0.13, "#B9C4C4", "#8FA3A2", (2.4, 1.6)),
    Role.GRID: Pen(0.13, "#B4C0BC", "#6F8582"),
    Role.GUIDE: Pen(0.13, "#9BB0B5", "#7F9896"),
    Role.TICK: Pen(0.18, "#6B8288", "#8FB3B8"),
    Role.PHOTOGRAPH: Pen(0.13, "#9BB0B5", "#7F9896"),
    Role.TONE: Pen(0.05, "#9BB0B5", "#7F9896"),
    Role.HORIZON: Pen(0.25, "#6F9AA6", "#8FB3B8"),
    Role.RIM: Pen(0.18, "#9A9485", "#9A9485"),
    Role.EARLIER: Pen(0.13, "#B7C2C3", "#B7C2C3"),
    Role.EARLIER_EDGE: Pen(0.3, "#7E8684", "#7E8684"),
    Role.HIDDEN: Pen(0.18, "#A79F92", "#8C8A80", (2.0, 1.3)),
    Role.CONSTRUCTION: Pen(0.18, "#8BA5AB", "#86A09E"),
    Role.STEP: Pen(0.28, "#2F4A52", "#2F4A52"),
    Role.STEP_EDGE: Pen(0.55, "#1F2424", "#1F2424"),
    Role.SURFACE: Pen(0.2, "#565F5F", "#B4B6AC"),
    Role.OBJECT: Pen(0.5, "#1F2424", "#E4E2D8"),
    Role.NOTE: Pen(0.18, "#1F2424", "#D8DAD2"),
    Role.LETTERING: Pen(0.25, "#3E4A49", "#D8DAD2"),
    Role.CAUTION: Pen(0.25, "#B3261E", "#E58A80"),
}


def tone_colour(tone: float, paper: str = "#FFFFFF") -> str:
    """Return the colour of a tone from 0, the bare paper, to 1, the darkest pencil."""
    return f"#{int(tone_colours(np.array([tone]), paper)[0]):06X}"


def tone_colours(tones: Floats, paper: str = "#FFFFFF") -> NDArray[np.uint32]:
    """Return the colours 0xRRGGBB of tones (N,), see `tone_colour`."""
    dark, light = (
        np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)]) for colour in (PENS[Role.OBJECT].colour, paper)
    )
    parts = np.rint(light + np.clip(tones, 0.0, 1.0)[:, None] * (dark - light)).astype(np.uint32)
    found: NDArray[np.uint32] = parts[:, 0] << 16 | parts[:, 1] << 8 | parts[:, 2]
    return found
