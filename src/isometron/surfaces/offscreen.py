"""A Qt application for painting without a display."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtGui import QGuiApplication

__all__ = ["with_application"]


@contextmanager
def with_application() -> Iterator[None]:
    """Use the running application, or an offscreen one for as long as the block lasts."""
    if QGuiApplication.instance() is not None:
        yield
        return
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    application = QGuiApplication(["isometron"])
    yield
    del application
