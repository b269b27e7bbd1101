"""The front door: hands the command line what needs a window, and imports the desk only when one is wanted."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

from isometron.cli.commands import Load, Windows, run

if TYPE_CHECKING:
    from isometron.document.model import Document

__all__ = ["main"]


def _show(load: Load, path: Path | None) -> int:
    from isometron.desk.frame.application import show

    return show(load, path)


def _shoot(document: Document, size: tuple[int, int]) -> bytes:
    from isometron.desk.frame.application import shoot

    return shoot(document, size)


def main() -> int:
    """Run the command line of this process."""
    return run(sys.argv[1:], Windows(_show, _shoot))


if __name__ == "__main__":
    sys.exit(main())
