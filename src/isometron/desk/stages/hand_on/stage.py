"""The Hand on stage: the sheet to print or trace, and its measures, written to files at true scale."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QSpinBox

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.controls.words import Label, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Maker, Session
from isometron.desk.frame.settings import load_settings
from isometron.desk.stages.body import StageBody
from isometron.document.eyes.keeping import eyes_of
from isometron.document.model import Document
from isometron.home import home
from isometron.solve.drawing import Drawing, solve
from isometron.solve.template_list import has_rings
from isometron.surfaces.export import export_bytes
from isometron.surfaces.page import CAUTION
from isometron.surfaces.template_tables import TEMPLATE_ENDINGS, template_table
from isometron.surfaces.tiles import tiling
from isometron.wording import tr

__all__ = ["HandOnStage", "make"]


@dataclass(frozen=True)
class _Kind:
    """A button that writes a file. made : what it holds, a method of the stage; possible : whether there is anything to write."""

    words: str
    ending: str
    filter: str
    tip: str
    made: str = "_exported"
    possible: Callable[[Document], bool] = lambda document: True


def _larger_than_a_printer(document: Document) -> bool:
    return tiling(document.sheet.width, document.sheet.height).count > 1


_KINDS = (
    _Kind(tr("PDF sheet…"), ".pdf", tr("PDF page (*.pdf)"), tr("A page of the sheet's size with a 100 mm check bar")),
    _Kind(tr("PDF in A4 pages…"), ".pdf", tr("PDF pages (*.pdf)"), tr("The sheet in pages of A4 that overlap, with crosses to lay them together by"),
          "_tiled", _larger_than_a_printer),
    _Kind(tr("PNG picture…"), ".png", tr("PNG picture (*.png)"), tr("A picture at the resolution below")),
    _Kind(tr("SVG drawing…"), ".svg", tr("SVG drawing (*.svg)"), tr("Lines in mm, in layers by role and volume")),
    _Kind(tr("DXF drawing…"), ".dxf", tr("DXF drawing (*.dxf)"),
          tr("The sheet in mm of paper, a layer for each volume, hidden lines on layers of their own")),
    _Kind(tr("Template list, text…"), ".txt", tr("Text (*.txt)"), tr("Which template is laid where, ring by ring, to lay beside the sheet"),
          "_templates", has_rings),
    _Kind(tr("Template list, CSV…"), ".csv", tr("CSV table (*.csv)"), tr("The same, one row a ring, for a spreadsheet"), "_templates", has_rings),
    _Kind(tr("Measures, CSV…"), ".csv", tr("CSV table (*.csv)"), tr("One row an edge, for a spreadsheet")),
    _Kind(tr("Measures, JSON…"), ".json", tr("JSON report (*.json)"), tr("The whole report, see docs/report-keys.md")),
)  # fmt: skip


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
        for kind in _KINDS:
            button = word_button(kind.words, "tool", kind.tip)
            button.clicked.connect(lambda _, k=kind: self._ask(k))
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

    def _ask(self, kind: _Kind) -> None:
        folder = self.session.path.parent if self.session.path else home()
        stem = self.session.path.stem if self.session.path else self.session.document.title
        if kind.made == "_templates":
            stem = tr("{title} templates", title=stem)
        path = ask_path(self, tr("Hand on"), folder, stem, kind.ending, kind.filter)
        if path is not None:
            self._write(path, kind.made)

    def _show_what_there_is(self) -> None:
        """Offer what concerns pictures and kept eyes only where there are any."""
        document = self.session.document
        self._pictures.setVisible(bool(document.pictures))
        for button, kind in zip(self._buttons, _KINDS, strict=True):
            button.setVisible(kind.possible(document))
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

        folder = self.session.path.parent if self.session.path else home()
        stem = self.session.path.stem if self.session.path else self.session.document.title
        path = ask_path(self, tr("Hand on"), folder, tr("{title} eyes", title=stem), ".pdf", "PDF page (*.pdf)")
        if path is not None:
            document, construction = self._document(), self._construction.isChecked()
            self.session.hand_out(
                path, lambda tell, say: EYES_PAGES[which](document, construction=construction, tell=tell)
            )

    def write(self, path: Path) -> None:
        """Write the drawing as it is now to ``path``, in the format of its ending, beside the window."""
        self._write(path, "_exported")

    def _write(self, path: Path, made: str) -> None:
        document = self._document()
        drawing = self.session.drawing if document is self.session.document else solve(document)
        self.session.hand_out(path, getattr(self, made)(drawing, path))

    def _exported(self, drawing: Drawing, path: Path, **wishes: object) -> Maker:
        wishes |= {"construction": self._construction.isChecked()}
        wishes |= {"dpi": float(self._dpi.value()), "clear": self._clear.isChecked()}
        return lambda tell, say: export_bytes(drawing, path, tell=tell, say=say, **wishes)

    def _tiled(self, drawing: Drawing, path: Path) -> Maker:
        return self._exported(drawing, path, tiles="a4")

    def _templates(self, drawing: Drawing, path: Path) -> Maker:
        rack, form = load_settings().rack, TEMPLATE_ENDINGS[path.suffix.lower()]
        return lambda tell, say: template_table(drawing, form, rack).encode("utf-8-sig" if form == "csv" else "utf-8")

    def finish(self) -> None:
        """Wait for a file still being written: closing the window must not cut it short."""
        self.session.beside.finish()
