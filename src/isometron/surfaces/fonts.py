"""The shipped fonts, made known to Qt. Imports nothing heavy: the first window waits for it."""

from __future__ import annotations

from importlib import resources
from weakref import ref

from PyQt6.QtCore import QCoreApplication
from PyQt6.QtGui import QFontDatabase, QGuiApplication

__all__ = ["INTERFACE_FONT", "LETTERING_FONT", "load_fonts"]

INTERFACE_FONT = "Cabin"
LETTERING_FONT = "Routed Gothic"


_LOADED: list[ref[QCoreApplication]] = []
"""The application that they were made known to: another one, as of a second export without a window, has to be told anew."""


def load_fonts() -> None:
    """Make the shipped fonts known to Qt; needs an application object."""
    application = QGuiApplication.instance()
    assert application is not None
    if _LOADED and _LOADED[0]() is application:
        return
    _LOADED[:] = [ref(application)]
    folder = resources.files("isometron.assets").joinpath("fonts")
    for name in ("Cabin-Regular.otf", "Cabin-SemiBold.otf", "Cabin-Bold.otf", "RoutedGothic-Regular.ttf"):
        QFontDatabase.addApplicationFontFromData(folder.joinpath(name).read_bytes())
