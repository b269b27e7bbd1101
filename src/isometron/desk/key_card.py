"""The card of keys (F1): short enough to read at a glance."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QLabel, QVBoxLayout, QWidget

__all__ = ["KEYS", "KeyCard"]

KEYS: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = (
    (
        "Drawing",
        (
            ("B", "pull a block: three pulls"),
            ("digits, Enter", "the running pull exactly so long"),
            ("arrows, Space", "the pencil by keys; Shift in small steps"),
            ("P", "point at volumes"),
            ("M", "measure between two points"),
            ("Shift", "move along one direction only"),
            ("Escape", "one step back, always"),
        ),
    ),
    (
        "Volumes",
        (
            ("Ctrl+D", "duplicate"),
            ("F6", "rename"),
            ("Ctrl+T", "see-through or solid"),
            ("Ctrl+C, Ctrl+X, Ctrl+V", "copy, cut, paste, also between windows"),
            ("Del", "delete"),
            ("Ctrl+A", "select all"),
            ("Alt+Up, Alt+Down", "earlier or later in the ledger"),
        ),
    ),
    (
        "Sheet",
        (
            ("F2 to F5", "stages Eye, Block, Check, Hand on"),
            ("wheel, Ctrl++, Ctrl+-", "larger, smaller"),
            ("middle button, Ctrl+arrows", "shift the sheet"),
            ("Ctrl+0, Ctrl+9", "whole sheet, also the vanishing points"),
            ("Ctrl+L", "day or night table"),
            ("arrows on a rail or the dial", "turn, tilt, pull; Shift finely"),
        ),
    ),
    (
        "Document",
        (
            ("Ctrl+N, Ctrl+O, Ctrl+S", "new sheet, open, save"),
            ("Ctrl+Shift+N", "another window"),
            ("Ctrl+P", "print"),
            ("Ctrl+Z, Ctrl+Shift+Z", "undo, redo"),
        ),
    ),
)


class KeyCard(QDialog):
    """Two columns of keys; Escape or F1 puts it away."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        outer = QGridLayout(self)
        outer.setContentsMargins(20, 16, 20, 16)
        outer.setHorizontalSpacing(32)
        outer.setVerticalSpacing(12)
        for place, (title, rows) in enumerate(KEYS):
            column = QVBoxLayout()
            head = QLabel(title)
            head.setObjectName("heading")
            column.addWidget(head)
            grid = QGridLayout()
            grid.setHorizontalSpacing(12)
            grid.setVerticalSpacing(6)
            grid.setColumnMinimumWidth(0, 170)
            for row, (key, words) in enumerate(rows):
                label = QLabel(key)
                label.setStyleSheet("font-weight: 600;")
                grid.addWidget(label, row, 0, Qt.AlignmentFlag.AlignTop)
                grid.addWidget(QLabel(words), row, 1)
            grid.setColumnStretch(1, 1)
            column.addLayout(grid)
            column.addStretch(1)
            outer.addLayout(column, place // 2, place % 2)
