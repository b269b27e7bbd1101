"""The pens, as pencil hardness would: one table for every surface."""

from __future__ import annotations

from dataclasses import dataclass

from isometron.solve.marks import Role

__all__ = ["PENS", "Pen"]


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
    Role.HORIZON: Pen(0.25, "#6F9AA6", "#8FB3B8"),
    Role.HIDDEN: Pen(0.18, "#A79F92", "#8C8A80", (2.0, 1.3)),
    Role.CONSTRUCTION: Pen(0.18, "#8BA5AB", "#86A09E"),
    Role.OBJECT: Pen(0.5, "#1F2424", "#E4E2D8"),
    Role.LETTERING: Pen(0.25, "#3E4A49", "#D8DAD2"),
}
