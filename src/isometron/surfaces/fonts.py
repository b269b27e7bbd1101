"""The shipped fonts, made known to Qt. Imports nothing heavy: the first window waits for it."""

from __future__ import annotations

from functools import cache
from importlib import resources

from PyQt6.QtGui import QFontDatabase

__all__ = ["INTERFACE_FONT", "LETTERING_FONT", "load_fonts"]

INTERFACE_FONT = "Cabin"
LETTERING_FONT = "Routed Gothic"


@cache
def load_fonts() -> None:
    """Make the shipped fonts known to Qt; needs an application object."""
    folder = resources.files("isometron.assets").joinpath("fonts")
    for name in ("Cabin-Regular.otf", "Cabin-SemiBold.otf", "Cabin-Bold.otf", "RoutedGothic-Regular.ttf"):
        QFontDatabase.addApplicationFontFromData(folder.joinpath(name).read_bytes())
