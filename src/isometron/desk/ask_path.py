"""Asking where to write: the ending is put on for the person, and nothing is replaced that was not agreed to."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from isometron.wording import tr

__all__ = ["ask_path"]


def ask_path(over: QWidget, title: str, folder: Path, stem: str, ending: str, kind: str) -> Path | None:
    """Return a path with the ending, or None when the person thought better of it.

    The file dialog asks about replacing the name that was typed; when the ending makes that another name, it is
    asked about here.
    """
    start = folder / f"{stem.replace('/', '-')}{ending}"
    name, _ = QFileDialog.getSaveFileName(over, title, str(start), kind)
    if not name:
        return None
    typed = Path(name)
    if typed.suffix.lower() == ending:
        return typed
    path = typed.with_name(f"{typed.name}{ending}")
    return path if not path.exists() or _may_replace(over, path) else None


def _may_replace(over: QWidget, path: Path) -> bool:
    question = QMessageBox(over)
    question.setWindowTitle(tr("Replace the file?"))
    question.setText(tr("{path} is there already.", path=path.name))
    replace = question.addButton(tr("Replace it"), QMessageBox.ButtonRole.DestructiveRole)
    keep = question.addButton(tr("Keep it"), QMessageBox.ButtonRole.RejectRole)
    question.setDefaultButton(keep)
    question.setEscapeButton(keep)
    question.exec()
    return question.clickedButton() is replace
