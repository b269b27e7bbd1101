"""Between paper millimetres and screen pixels: the only place that knows about y pointing down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["BoardView"]

_LEAST, _MOST = 0.02, 60.0


@dataclass(frozen=True)
class BoardView:
    """x = origin_x + scale u, y = origin_y - scale v; ``scale`` in pixels per mm of paper."""

    scale: float = 1.0
    origin_x: float = 0.0
    origin_y: float = 0.0

    def to_screen(self, points: Floats) -> Floats:
        """Return pixels of paper coordinates in columns u, v or u1, v1, u2, v2."""
        pixels = points * self.scale
        pixels[:, 0::2] += self.origin_x
        pixels[:, 1::2] = self.origin_y - pixels[:, 1::2]
        return pixels

    def point_to_screen(self, u: float, v: float) -> tuple[float, float]:
        """Return the pixel of one paper point."""
        return self.origin_x + self.scale * u, self.origin_y - self.scale * v

    def to_paper(self, x: float, y: float) -> tuple[float, float]:
        """Return the paper point of one pixel."""
        return (x - self.origin_x) / self.scale, (self.origin_y - y) / self.scale

    def zoomed(self, factor: float, x: float, y: float) -> BoardView:
        """Return the view zoomed about a pixel that keeps its place."""
        scale = float(np.clip(self.scale * factor, _LEAST, _MOST))
        u, v = self.to_paper(x, y)
        return BoardView(scale, x - scale * u, y + scale * v)

    def moved(self, dx: float, dy: float) -> BoardView:
        """Return the view moved by pixels."""
        return BoardView(self.scale, self.origin_x + dx, self.origin_y + dy)

    def enlarged(self, factor: float) -> BoardView:
        """Return the same view in pixels so many times smaller."""
        return BoardView(self.scale * factor, self.origin_x * factor, self.origin_y * factor)

    @staticmethod
    def fitting(
        rectangle: tuple[float, float, float, float], width: float, height: float, margin: float = 0.045
    ) -> BoardView:
        """Return the view that shows left, lower, right, upper (mm) whole, in the middle, with a margin."""
        left, lower, right, upper = rectangle
        scale = min(width / (right - left), height / (upper - lower)) * (1 - 2 * margin)
        scale = float(np.clip(scale, _LEAST, _MOST))
        u, v = (left + right) / 2, (lower + upper) / 2
        return BoardView(scale, width / 2 - scale * u, height / 2 + scale * v)
