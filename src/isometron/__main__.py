"""The front door: hands the command line what needs a window, and imports the desk only when one is wanted."""

from __future__ import annotations

import sys
from pathlib import Path

from isometron.cli.commands import Windows, run
from isometron.document.model import Document

__all__ = ["main"]


def _show(document: Document | None, path: Path | None) -> int:
    from isometron.desk.application import show

    return show(document, path)


def _shoot(document: Document, out: Path, size: tuple[int, int]) -> None:
    from isometron.desk.application import shoot

    shoot(document, out, size)


def main() -> int:
    """Run the command line of this process."""
    return run(sys.argv[1:], Windows(_show, _shoot))


if __name__ == "__main__":
    sys.exit(main())
