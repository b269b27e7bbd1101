"""Asking where to write: the ending is put on for the person, and nothing is replaced that was not agreed to."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from isometron.desk.controls.words import Question
from isometron.document.store.disk import shown_name
from isometron.wording import tr

__all__ = ["ask_path"]


def ask_path(over: QWidget, title: str, folder: Path, stem: str, ending: str, kind: str) -> Path | None:
    """Return a path with the ending, or None when the person thought better of it.

    Whether a file that is there may be replaced is asked here, about the name with its ending.
    """
    start = folder / f"{stem.replace('/', '-')[:80]}{ending}"
    name, _ = QFileDialog.getSaveFileName(
        over, title, str(start), kind, options=QFileDialog.Option.DontConfirmOverwrite
    )
    if not name:
        return None
    typed = Path(name)
    path = typed if typed.suffix.lower() == ending else typed.with_name(f"{typed.name}{ending}")
    return path if not path.exists() or _may_replace(over, path) else None


def _may_replace(over: QWidget, path: Path) -> bool:
    question = Question(over, tr("Replace the file?"), tr("{path} is there already.", path=shown_name(path.name)))
    replace = question.addButton(tr("Replace it"), QMessageBox.ButtonRole.DestructiveRole)
    keep = question.addButton(tr("Keep it"), QMessageBox.ButtonRole.RejectRole)
    question.setDefaultButton(keep)
    question.setEscapeButton(keep)
    question.exec()
    return question.clickedButton() is replace
