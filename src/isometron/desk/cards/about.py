"""About the program: its version and those of what it stands on, whether its loops are compiled, its licence."""

from __future__ import annotations

import platform
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path

from PyQt6.QtCore import PYQT_VERSION_STR, Qt, qVersion
from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from isometron import __version__
from isometron.desk.controls.words import Label, word_button
from isometron.wording import tr

__all__ = ["About", "about_rows", "compiled_loops"]

_HOME = Path(__file__).parents[2]


def compiled_loops() -> tuple[int, int]:
    """Return how many of the loops that a frame is made of are compiled, and how many there are: what is named so, or has its types
    beside it."""
    files = {*_HOME.rglob("*_loops.py"), *(file.with_suffix(".py") for file in _HOME.rglob("*.pxd"))}
    found = [find_spec(".".join(("isometron", *file.relative_to(_HOME).with_suffix("").parts))) for file in files]
    compiled = sum(spec is not None and not str(spec.origin).endswith(".py") for spec in found)
    return compiled, len(files)


def _version(name: str) -> str:
    try:
        return version(name)
    except PackageNotFoundError:
        return tr("not installed")


def about_rows() -> list[tuple[str, str]]:
    """Return what is told, name and words."""
    compiled, whole = compiled_loops()
    loops = (
        tr("compiled")
        if compiled == whole
        else tr("{compiled} of {whole} compiled: a C compiler at installation makes the program quick",
                compiled=compiled, whole=whole)
    )  # fmt: skip
    return [
        (tr("Isometron"), __version__),
        (tr("Loops"), loops),
        (tr("Python"), platform.python_version()),
        (tr("Qt, PyQt"), f"{qVersion()}, {PYQT_VERSION_STR}"),
        (tr("NumPy, SciPy"), f"{_version('numpy')}, {_version('scipy')}"),
        (tr("System"), platform.platform(terse=True)),
        (tr("Licence"), tr("GPL-3.0-or-later; the fonts Cabin and Routed Gothic: SIL Open Font License")),
    ]


class About(QDialog):
    """A small card; its words can be copied, for a report of a fault."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("About Isometron"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        title = Label(tr("Frameworks in true perspective"))
        title.setObjectName("title")
        layout.addWidget(title)
        self.told = Label("\n".join(f"{name}: {words}" for name, words in about_rows()))
        self.told.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(self.told)
        close = word_button(tr("Close"), "deed")
        close.clicked.connect(self.accept)
        layout.addWidget(close, alignment=Qt.AlignmentFlag.AlignRight)
