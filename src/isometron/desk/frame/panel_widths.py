"""How wide the panels beside the board are: narrow enough that a sheet across has half of a small window."""

from __future__ import annotations

from isometron.desk.frame.theme import px

__all__ = ["BAR", "panel_widths"]

BAR = 44
"""Height of the bar above everything."""

_LEFT, _RIGHT = (0.158, 202, 240), (0.168, 214, 330)
"""Of the window's width, at least and at most, pixels at the usual text size."""


def panel_widths(window: int, figures: int = 0) -> tuple[int, int]:
    """Return the widths in pixels of the stages and of the figures, which need so many, in a window so many pixels wide."""
    left, right = (px(min(max(share * window, least), most)) for share, least, most in (_LEFT, _RIGHT))
    return left, max(right, min(figures, window // 3))
