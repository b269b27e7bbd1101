"""What an overlay is, and what it is given to paint by."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import hypot

import numpy as np
from PyQt6.QtGui import QPainter

from isometron.construct.outcome import Construction
from isometron.desk.board.grips import GripsOnBoard
from isometron.desk.board.tool_in_hand import ToolInHand
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.instruments.player import Player
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.tools.handles import Handle, handles

__all__ = ["OnBoard", "Overlay", "no_boxes"]

_EDGE_MARGIN = 4.0
_NEAR = 80.0
"""Pixels within which a handle is near the hand."""


@dataclass(frozen=True)
class OnBoard:
    """What stands on the board now. asked : overlays that are painted only when they are asked for, by name.

    pencil : its pixel while keys carry it; hand : the pixel where it is, however it came there.
    """

    session: Session
    view: BoardView
    size: tuple[int, int]
    tool: ToolInHand
    grips: GripsOnBoard
    player: Player | None
    asked: frozenset[str]
    pencil: tuple[float, float] | None
    hand: tuple[float, float] = (-1e9, -1e9)

    @property
    def drawing(self) -> Drawing:
        """What is drawn under it all."""
        return self.session.drawing

    @property
    def construction(self) -> Construction | None:
        """The construction that is shown, if any."""
        return None if self.player is None else self.player.construction

    @property
    def window(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom in pixels, a little more than is seen."""
        width, height = self.size
        return -_EDGE_MARGIN, -_EDGE_MARGIN, width + _EDGE_MARGIN, height + _EDGE_MARGIN

    @cached_property
    def selected(self) -> list[int]:
        """Rows of the selected volumes; none while a construction or a half done stroke is shown."""
        if self.construction is not None or (self.tool.busy and not self.tool.edits):
            return []
        rows = [self.session.document.index_of(i) for i in self.session.selection]
        return [row for row in rows if row is not None]

    @cached_property
    def handles(self) -> list[Handle]:
        """The handles of the active volume; none while a tool is in use."""
        active = self.session.active
        if active is None or self.tool.lasting or (self.player is not None and self.player.open):
            return []
        return handles(self.drawing, active, 1.0 / self.view.scale)

    @cached_property
    def near(self) -> frozenset[int]:
        """The numbers of the handles that the hand is near."""
        at = (self.view.point_to_screen(*handle.at) for handle in self.handles)
        return frozenset(k for k, (x, y) in enumerate(at) if hypot(x - self.hand[0], y - self.hand[1]) <= _NEAR)


def no_boxes(on: OnBoard) -> Floats:
    """Take no place that lettering should keep clear of."""
    return np.zeros((0, 4))


@dataclass(frozen=True)
class Overlay:
    """What lies over the drawing. boxes : left, top, right, bottom in pixels (N, 4) that lettering keeps clear of."""

    paint: Callable[[QPainter, OnBoard], None]
    boxes: Callable[[OnBoard], Floats] = no_boxes
