"""The Check stage: what is worth a warning, listed; choosing one selects what it concerns."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QListWidget, QListWidgetItem

from isometron.desk.controls.words import Label, plain_tip, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.document.edits import change_volume
from isometron.wording import tr

__all__ = ["CheckStage", "make"]

_PAUSE_MS = 120


def make(desk: OnDesk) -> CheckStage:
    """Return the stage's body."""
    return CheckStage(desk.session)


class CheckStage(StageBody):
    """Looks at the drawing once the hand rests. Signals: ``counted`` with the number of warnings."""

    counted = pyqtSignal(int)

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Check")
        layout = self.column
        self._words = Label()
        self._words.setWordWrap(True)
        self._list = QListWidget()
        self._list.setAccessibleName(tr("Warnings"))
        self._list.setWordWrap(True)
        self._list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self._list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._list.setMinimumHeight(360)
        self._list.currentRowChanged.connect(self._chosen)
        layout.addWidget(self._words)
        layout.addWidget(self._list, 1)
        self._meant = word_button(tr("It is meant to float"), "word", tr("Stop warning that it floats"))
        self._meant.clicked.connect(self._mean_it)
        layout.addWidget(self._meant)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_PAUSE_MS)
        self._timer.timeout.connect(self.refresh)
        session.document_changed.connect(self._timer.start)
        self._timer.start()

    def refresh(self) -> None:
        """List the drawing's warnings now."""
        found = self.session.drawing.findings
        self._list.blockSignals(True)
        self._list.clear()
        for finding in found:
            item = QListWidgetItem(f"⚠ {finding.message}")
            item.setToolTip(plain_tip(finding.message))
            self._list.addItem(item)
        self._list.blockSignals(False)
        self._list.setVisible(bool(found))
        self._words.setText(
            tr("No warnings.")
            if not found
            else tr("Marked on the sheet with a triangle. Choose one to select its volume.")
        )
        self._meant.setVisible(False)
        self.counted.emit(len(found))

    def _chosen(self, row: int) -> None:
        found = self.session.drawing.findings
        if 0 <= row < len(found):
            self.session.select(found[row].volumes)
            self._meant.setVisible(found[row].code == "floating")

    def _mean_it(self) -> None:
        found, row = self.session.drawing.findings, self._list.currentRow()
        if 0 <= row < len(found) and found[row].code == "floating":
            self.session.attempt(change_volume, found[row].volumes[0], tr("let float"), hangs=True)
            self.refresh()
