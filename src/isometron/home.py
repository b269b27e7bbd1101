"""The person's own folder: where dialogs begin and caches lie."""

from __future__ import annotations

from pathlib import Path

__all__ = ["home"]


def home() -> Path:
    """Return the home folder; where the system knows none, the one that the program was started in."""
    try:
        return Path.home()
    except RuntimeError:
        return Path.cwd()
