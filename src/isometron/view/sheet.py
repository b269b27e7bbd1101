"""The sheet: a rectangle of paper laid on the picture plane, its centre of vision anywhere on it or off it."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta

from isometron.wording import tr

__all__ = ["PAPERS", "Sheet", "paper_name"]

PAPERS: dict[str, tuple[float, float]] = {
    "A5": (148.0, 210.0),
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "A2": (420.0, 594.0),
    "letter": (215.9, 279.4),
    "tabloid": (279.4, 431.8),
    "12 x 18 in": (304.8, 457.2),
}
"""Short side and long side of the papers by name, mm (ISO 216, ANSI/ASME Y14.1)."""

Side = Annotated[float, Meta(ge=20.0, le=5000.0, description="mm of paper, 20 to 5000")]
Place = Annotated[float, Meta(ge=-1e5, le=1e5, description="mm of paper")]


class Sheet(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Width and height in mm, and where the centre of vision lies from the sheet's lower left corner."""

    width: Side
    height: Side
    centre_of_vision: tuple[Place, Place]

    @property
    def rectangle(self) -> tuple[float, float, float, float]:
        """Left, lower, right, upper in paper coordinates (origin at the centre of vision), mm."""
        x, y = self.centre_of_vision
        return -x, -y, self.width - x, self.height - y

    @property
    def landscape(self) -> bool:
        """Whether the sheet is wider than high."""
        return self.width > self.height

    @property
    def diagonal(self) -> float:
        """Length of the sheet's diagonal, mm."""
        return float((self.width**2 + self.height**2) ** 0.5)

    def from_corner(self, u: float, v: float) -> tuple[float, float]:
        """Return where a paper point lies from the sheet's left and lower edges, as a ruler measures it."""
        return u + self.centre_of_vision[0], v + self.centre_of_vision[1]


def paper_name(width: float, height: float) -> str:
    """Return the paper's name with its orientation, or its size in mm."""
    for name, (short, long) in PAPERS.items():
        if abs(min(width, height) - short) < 0.05 and abs(max(width, height) - long) < 0.05:
            return tr("{paper} landscape", paper=name) if width > height else tr("{paper} portrait", paper=name)
    return f"{width:g} x {height:g} mm"
