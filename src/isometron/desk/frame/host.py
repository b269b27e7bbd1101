"""The window that a desk stands in, as the desk knows it."""

from __future__ import annotations

from abc import abstractmethod

from PyQt6.QtWidgets import QMainWindow

__all__ = ["Host"]


class Host(QMainWindow):
    """A window that can open another one, and lay its desk out anew."""

    @abstractmethod
    def another(self) -> QMainWindow:
        """Show a second window with an empty sheet."""

    @abstractmethod
    def lay_out_anew(self) -> None:
        """Put a new desk in for the same session."""
