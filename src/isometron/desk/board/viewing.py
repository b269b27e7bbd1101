"""Between paper millimetres and screen pixels: the only place that knows about y pointing down, and about turned paper."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from math import cos, radians, sin

import numpy as np

from isometron.geometry.frames import Floats, half_turn

__all__ = ["BoardView"]

_LEAST, _MOST = 0.02, 60.0


@dataclass(frozen=True)
class BoardView:
    """Where the paper lies on the board. ``scale`` in pixels per mm; ``turn_deg`` clockwise as it is seen; origin in pixels.

    x = origin_x + scale (u cos t + v sin t), y = origin_y + scale (u sin t - v cos t).
    """

    scale: float = 1.0
    origin_x: float = 0.0
    origin_y: float = 0.0
    turn_deg: float = 0.0

    @cached_property
    def _way(self) -> tuple[float, float]:
        """Cosine and sine of the turn."""
        return (cos(radians(self.turn_deg)), sin(radians(self.turn_deg))) if self.turn_deg else (1.0, 0.0)

    @property
    def matrix(self) -> Floats:
        """The homography (3, 3) from paper to pixels."""
        c, s = (self.scale * part for part in self._way)
        return np.array([[c, s, self.origin_x], [s, -c, self.origin_y], [0.0, 0.0, 1.0]])

    def to_screen(self, points: Floats) -> Floats:
        """Return pixels of paper coordinates in columns u, v or u1, v1, u2, v2."""
        c, s = (self.scale * part for part in self._way)
        u, v = points[:, 0::2], points[:, 1::2]
        pixels = np.empty_like(points)
        pixels[:, 0::2] = c * u + s * v + self.origin_x
        pixels[:, 1::2] = s * u - c * v + self.origin_y
        return pixels

    def point_to_screen(self, u: float, v: float) -> tuple[float, float]:
        """Return the pixel of one paper point."""
        c, s = self._way
        return self.origin_x + self.scale * (c * u + s * v), self.origin_y + self.scale * (s * u - c * v)

    def to_paper(self, x: float, y: float) -> tuple[float, float]:
        """Return the paper point of one pixel."""
        c, s = self._way
        dx, dy = (x - self.origin_x) / self.scale, (y - self.origin_y) / self.scale
        return c * dx + s * dy, s * dx - c * dy

    def bounds(self, left: float, lower: float, right: float, upper: float) -> tuple[float, float, float, float]:
        """Return left, top, right, bottom in pixels of what a rectangle of paper covers."""
        corners = [self.point_to_screen(u, v) for u in (left, right) for v in (lower, upper)]
        (x0, y0), (x1, y1) = (tuple(pick(c) for c in zip(*corners, strict=True)) for pick in (min, max))
        return x0, y0, x1, y1

    def paper_bounds(self, left: float, top: float, right: float, bottom: float) -> tuple[float, float, float, float]:
        """Return left, lower, right, upper in mm of the paper that lies under a rectangle of pixels."""
        corners = [self.to_paper(x, y) for x in (left, right) for y in (top, bottom)]
        (u0, v0), (u1, v1) = (tuple(pick(c) for c in zip(*corners, strict=True)) for pick in (min, max))
        return u0, v0, u1, v1

    def zoomed(self, factor: float, x: float, y: float) -> BoardView:
        """Return the view zoomed about a pixel that keeps its place."""
        scale = float(np.clip(self.scale * factor, _LEAST, _MOST))
        return replace(self, scale=scale)._holding(self.to_paper(x, y), x, y)

    def turned(self, by_deg: float, x: float, y: float) -> BoardView:
        """Return the view with the paper turned about a pixel, clockwise as it is seen."""
        turn = half_turn(self.turn_deg + by_deg)
        return replace(self, turn_deg=turn)._holding(self.to_paper(x, y), x, y)

    def _holding(self, paper: tuple[float, float], x: float, y: float) -> BoardView:
        """Return the view moved so that a paper point lies on a pixel."""
        now = self.point_to_screen(*paper)
        return self.moved(x - now[0], y - now[1])

    def moved(self, dx: float, dy: float) -> BoardView:
        """Return the view moved by pixels."""
        return replace(self, origin_x=self.origin_x + dx, origin_y=self.origin_y + dy)

    def enlarged(self, factor: float) -> BoardView:
        """Return the same view in pixels so many times smaller."""
        return BoardView(self.scale * factor, self.origin_x * factor, self.origin_y * factor, self.turn_deg)

    @staticmethod
    def fitting(
        rectangle: tuple[float, float, float, float],
        width: float,
        height: float,
        margin: float = 3.0,
        turn_deg: float = 0.0,
    ) -> BoardView:
        """Return the view that shows left, lower, right, upper (mm) whole, in the middle, with a margin of so many pixels."""
        left, lower, right, upper = rectangle
        x0, y0, x1, y1 = BoardView(turn_deg=turn_deg).bounds(left, lower, right, upper)
        room = max(width - 2 * margin, 1.0), max(height - 2 * margin, 1.0)
        scale = min(room[0] / (x1 - x0), room[1] / (y1 - y0))
        view = BoardView(float(np.clip(scale, _LEAST, _MOST)), turn_deg=turn_deg)
        return view._holding(((left + right) / 2, (lower + upper) / 2), width / 2, height / 2)
