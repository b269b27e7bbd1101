"""The card of keys (F1): short enough to read at a glance."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from isometron.desk.controls.words import Label
from isometron.desk.stages.register import STAGES
from isometron.wording import tr

__all__ = ["KEYS", "KeyCard"]

KEYS: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = (
    (
        tr("Drawing"),
        (
            ("B", tr("pull a block: three pulls")),
            (tr("digits, Enter"), tr("the running pull exactly so long")),
            (tr("arrows, Space"), tr("the pencil by keys; Shift in small steps")),
            ("P", tr("point at volumes")),
            ("R", tr("pull a round: ring, then height")),
            ("E", tr("a cube by eye, judged")),
            ("D", tr("divide faces and edges by a click")),
            ("A", tr("lay a ring or an arch on a face")),
            ("J", tr("carry a volume to a face: it is joined")),
            ("V", tr("side, front and plan")),
            ("M", tr("measure between two points")),
            (tr("C, PgUp, PgDown, F8"), tr("construct: back, on, play")),
            (tr("Shift"), tr("move along one direction only")),
            (tr("Escape"), tr("one step back, always")),
        ),
    ),
    (
        tr("Volumes"),
        (
            ("Ctrl+D", tr("duplicate")),
            ("Ctrl+E", tr("rename")),
            ("Ctrl+T", tr("see-through or solid")),
            ("Ctrl+C, Ctrl+X, Ctrl+V", tr("copy, cut, paste, also between windows")),
            (tr("Del"), tr("delete")),
            ("Ctrl+A", tr("select all")),
            ("Ctrl+G", tr("group")),
            (tr("Alt+Up, Alt+Down"), tr("earlier or later in the ledger")),
        ),
    ),
    (
        tr("Sheet"),
        (
            (
                tr("{first} to {last}", first=STAGES[0].key, last=STAGES[-1].key),
                tr("stages {names}", names=", ".join(tr(stage.name) for stage in STAGES)),
            ),
            (tr("wheel, Ctrl++, Ctrl+-"), tr("larger, smaller")),
            (tr("middle button, Ctrl+arrows"), tr("shift the sheet")),
            ("Ctrl+0, Ctrl+9", tr("whole sheet, also the vanishing points")),
            ("Ctrl+L", tr("day or night table")),
            (tr("arrows on a rail or the dial"), tr("turn, tilt, pull; Shift finely")),
        ),
    ),
    (
        tr("Document"),
        (
            ("Ctrl+N, Ctrl+O, Ctrl+S", tr("new sheet, open, save")),
            ("Ctrl+Shift+N", tr("another window")),
            ("Ctrl+P", tr("print")),
            ("Ctrl+Z, Ctrl+Shift+Z", tr("undo, redo")),
        ),
    ),
)


class KeyCard(QDialog):
    """Two columns of keys; Escape or F1 puts it away."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        outer = QGridLayout(self)
        outer.setContentsMargins(20, 16, 20, 16)
        outer.setHorizontalSpacing(32)
        outer.setVerticalSpacing(12)
        for place, (title, rows) in enumerate(KEYS):
            column = QVBoxLayout()
            head = Label(title)
            head.setObjectName("heading")
            column.addWidget(head)
            grid = QGridLayout()
            grid.setHorizontalSpacing(12)
            grid.setVerticalSpacing(6)
            grid.setColumnMinimumWidth(0, 170)
            for row, (key, words) in enumerate(rows):
                label = Label(key)
                label.setStyleSheet("font-weight: 600;")
                grid.addWidget(label, row, 0, Qt.AlignmentFlag.AlignTop)
                grid.addWidget(Label(words), row, 1)
            grid.setColumnStretch(1, 1)
            column.addLayout(grid)
            column.addStretch(1)
            outer.addLayout(column, place // 2, place % 2)
