"""The Hand on stage: the sheet to print or trace, and its measures, written to files at true scale."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSpinBox

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.controls.words import Label, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.stages.body import StageBody
from isometron.document.eyes.keeping import eyes_of
from isometron.document.model import Document
from isometron.solve.drawing import solve
from isometron.surfaces.export import export_bytes
from isometron.surfaces.page import CAUTION
from isometron.wording import tr

__all__ = ["HandOnStage", "make"]

_KINDS = (
    (tr("PDF sheet…"), ".pdf", "PDF page (*.pdf)", tr("A page of the sheet's size with a 100 mm check bar")),
    (tr("PNG picture…"), ".png", "PNG picture (*.png)", tr("A picture at the resolution below")),
    (tr("SVG drawing…"), ".svg", "SVG drawing (*.svg)", tr("Lines in mm, grouped by role and volume")),
    (tr("Measures, CSV…"), ".csv", "CSV table (*.csv)", tr("One row an edge, for a spreadsheet")),
    (tr("Measures, JSON…"), ".json", "JSON report (*.json)", tr("The whole report, see docs/report-keys.md")),
)


_EYES = (
    (tr("All eyes on a page…"), "page", tr("A small picture for each kept eye, with its name, as a PDF")),
    (tr("A sheet for each eye…"), "each", tr("One PDF with a page at true scale for each kept eye")),
)


def make(desk: OnDesk) -> HandOnStage:
    """Return the stage's body."""
    return HandOnStage(desk.session)


class HandOnStage(StageBody):
    """Asks for a file name and writes in the background; one file at a time."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Hand on")
        layout = self.column
        self._buttons = []
        for words, ending, kind, tip in _KINDS:
            button = word_button(words, "tool", tip)
            button.clicked.connect(lambda _, e=ending, k=kind: self._ask(e, k))
            layout.addWidget(button)
            self._buttons.append(button)
        self._eyes = []
        for words, which, tip in _EYES:
            button = word_button(words, "tool", tip)
            button.clicked.connect(lambda _, w=which: self._ask_eyes(w))
            layout.addWidget(button)
            self._eyes.append(button)
        layout.addSpacing(6)
        self._construction = QCheckBox(tr("with construction lines"))
        self._construction.setChecked(True)
        layout.addWidget(self._construction)
        self._pictures = QCheckBox(tr("with the picture under it"))
        self._pictures.setChecked(True)
        layout.addWidget(self._pictures)
        session.document_changed.connect(self._show_what_there_is)
        self._show_what_there_is()
        row = QHBoxLayout()
        label = Label(tr("PNG resolution"))
        self._dpi = QSpinBox()
        self._dpi.setRange(10, 1200)
        self._dpi.setValue(300)
        self._dpi.setSuffix(tr(" dpi"))
        self._dpi.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self._dpi.setAccessibleName(tr("PNG resolution in dots per inch"))
        label.setBuddy(self._dpi)
        row.addWidget(label)
        row.addWidget(self._dpi)
        layout.addLayout(row)
        self._clear = QCheckBox(tr("PNG on a clear ground"))
        self._clear.setToolTip(tr("Transparent, to lay over something else"))
        layout.addWidget(self._clear)
        caution = Label(CAUTION)
        caution.setObjectName("quiet")
        caution.setWordWrap(True)
        layout.addSpacing(4)
        layout.addWidget(caution)

    def _ask(self, ending: str, kind: str) -> None:
        folder = self.session.path.parent if self.session.path else Path.home()
        stem = self.session.path.stem if self.session.path else self.session.document.title
        path = ask_path(self, "Hand on", folder, stem, ending, kind)
        if path is not None:
            self.write(path)

    def _show_what_there_is(self) -> None:
        """Offer what concerns pictures and kept eyes only where there are any."""
        document = self.session.document
        self._pictures.setVisible(bool(document.pictures))
        for button in self._eyes:
            button.setVisible(bool(eyes_of(document)))

    def _document(self) -> Document:
        """Return what is handed on, its pictures left out where they are not wanted."""
        document = self.session.document
        if self._pictures.isChecked() or not document.pictures:
            return document
        hidden = tuple(msgspec.structs.replace(picture, hidden=True) for picture in document.pictures)
        return msgspec.structs.replace(document, pictures=hidden)

    def _ask_eyes(self, which: str) -> None:
        from isometron.surfaces.eyes_pages import EYES_PAGES

        folder = self.session.path.parent if self.session.path else Path.home()
        stem = self.session.path.stem if self.session.path else self.session.document.title
        path = ask_path(self, tr("Hand on"), folder, tr("{title} eyes", title=stem), ".pdf", "PDF page (*.pdf)")
        if path is not None:
            document, construction = self._document(), self._construction.isChecked()
            self.session.hand_out(
                path, lambda tell, say: EYES_PAGES[which](document, construction=construction, tell=tell)
            )

    def write(self, path: Path) -> None:
        """Write the drawing as it is now to ``path``, in the format of its ending, beside the window."""
        document, construction = self._document(), self._construction.isChecked()
        drawing = self.session.drawing if document is self.session.document else solve(document)
        dpi, clear = float(self._dpi.value()), self._clear.isChecked()
        self.session.hand_out(
            path,
            lambda tell, say: export_bytes(
                drawing, path, construction=construction, dpi=dpi, clear=clear, tell=tell, say=say
            ),
        )

    def finish(self) -> None:
        """Wait for a file still being written: closing the window must not cut it short."""
        self.session.beside.finish()
