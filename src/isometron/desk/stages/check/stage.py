"""The Check stage: what is worth a warning, listed; choosing one selects what it concerns."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QCheckBox, QListWidget, QListWidgetItem

from isometron.desk.controls.words import Label, plain_tip, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.document.edits import Edit
from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.flush import make_flush
from isometron.document.hushing import hush
from isometron.solve.findings import Finding
from isometron.wording import mark, tr

__all__ = ["CheckStage", "make"]

_PAUSE_MS = 120
_MARGIN = 15.0
"""mm of paper that a filled sheet leaves free at every edge."""
_MENDS: dict[str, tuple[str, str, Callable[..., Edit]]] = {
    "nearly-flush": (
        mark("Make them flush"),
        mark("The second is moved until its side meets that of the first"),
        make_flush,
    ),
    "off-sheet": (
        mark("Fill the sheet"),
        mark("All that stands is drawn on the sheet, by scale: the perspective stays"),
        lambda document, *_: fit_sheet_part(document, 1.0, _MARGIN, keep="perspective"),
    ),
    "behind-eye": (
        mark("Step back until all is seen"),
        mark("The eye walks back, until all that stands lies before it and on the sheet"),
        lambda document, *_: fit_sheet_part(document, 1.0, _MARGIN, keep="distance"),
    ),
}
"""Deeds that mend warnings, by their code: words, tip, and the edit of the document and the volumes that the warning concerns."""


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
        self._list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self._list.setResizeMode(QListWidget.ResizeMode.Adjust)  # words wrap anew where the scroll bar takes its room
        self._list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self._list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._list.setMinimumHeight(360)
        self._list.currentRowChanged.connect(self._chosen)
        layout.addWidget(self._words)
        layout.addWidget(self._list, 1)
        self._meant = word_button(
            tr("Be quiet about it"), "deed", tr("This warning is not told of this volume any more")
        )
        self._meant.clicked.connect(self._switch)
        layout.addWidget(self._meant)
        self._mend = word_button("", "deed", "")
        self._mend.clicked.connect(self._mended)
        self._mend.setVisible(False)
        layout.addWidget(self._mend)
        self._quiet = QCheckBox(tr("show what is quiet"))
        self._quiet.setToolTip(tr("The warnings that volumes are told to be quiet about, instead of the others"))
        self._quiet.toggled.connect(lambda _: self.refresh())
        layout.addWidget(self._quiet)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_PAUSE_MS)
        self._timer.timeout.connect(self.refresh)
        session.document_changed.connect(self._timer.start)
        self._timer.start()

    def _told(self) -> tuple[Finding, ...]:
        """The warnings that are listed: the quiet ones while those are wanted."""
        drawing = self.session.drawing
        return drawing.quiet_findings if self._quiet.isChecked() else drawing.findings

    def refresh(self) -> None:
        """List the drawing's warnings now."""
        quiet = any(volume.quiet or volume.hangs for volume in self.session.document.volumes)
        if not quiet and self._quiet.isChecked():
            self._quiet.setChecked(False)  # and comes back here
            return
        self._quiet.setVisible(quiet)
        found = self._told()
        self._list.blockSignals(True)
        self._list.clear()
        for finding in found:
            item = QListWidgetItem(f"⚠ {finding.message}")
            item.setToolTip(plain_tip(finding.message))
            self._list.addItem(item)
        self._list.blockSignals(False)
        self._list.setVisible(bool(found))
        told = tr("Marked on the sheet with a triangle. Choose one to select its volume.")
        if self._quiet.isChecked():
            told = tr("These are quiet. Choose one to let it speak again.")
        self._words.setText(told if found else tr("No warnings."))
        self._meant.setVisible(False)
        self._mend.setVisible(False)
        self.counted.emit(len(self.session.drawing.findings))

    def _chosen(self, row: int) -> None:
        found = self._told()
        if 0 <= row < len(found):
            self.session.select(found[row].volumes)
            self._meant.setText(tr("Let it speak again") if self._quiet.isChecked() else tr("Be quiet about it"))
            self._meant.setVisible(bool(found[row].volumes))
            mend = _MENDS.get(found[row].code)
            self._mend.setVisible(mend is not None)
            if mend is not None:
                self._mend.setText(tr(mend[0]))
                self._mend.setToolTip(tr(mend[1]))

    def _mended(self) -> None:
        """Do what mends the chosen warning."""
        found, row = self._told(), self._list.currentRow()
        if 0 <= row < len(found) and found[row].code in _MENDS:
            self.session.attempt(_MENDS[found[row].code][2], found[row].volumes)

    def _switch(self) -> None:
        """Let the chosen warning be quiet of its first volume, or speak again of all that it concerns."""
        found, row = self._told(), self._list.currentRow()
        if 0 <= row < len(found) and found[row].volumes:
            self.session.attempt(hush, found[row].code, found[row].volumes, quiet=not self._quiet.isChecked())
            self.refresh()
