"""The object fills a part of the sheet, by scale or by distance."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.fields import PaperField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.eye.units import on_paper
from isometron.document.edits import Edit
from isometron.document.eyes.eye_wishes import (
    fit_sheet_part,
)
from isometron.document.eyes.fresh_sheet import drawn_width, fresh_sheet
from isometron.document.model import Document, DocumentError
from isometron.view.sheet import PAPERS
from isometron.wording import mark, tr

__all__ = ["ByFit"]


_PARTS = ((mark("the whole"), 1.0), (mark("three quarters"), 0.75), (mark("half"), 0.5))


class ByFit(Section):
    """The object fills a part of the sheet, by scale or by distance."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Fill the sheet"), tr("As large as a part of the sheet, in its middle"))
        self._by = "perspective"
        paper = on_paper(session)
        grid = self.grid()
        self._part = QComboBox()
        self._part.setAccessibleName(tr("Part of the sheet"))
        for words, part in _PARTS:
            self._part.addItem(tr(words), part)
        self.column.addWidget(self._part)
        self._margin = self.field(
            grid,
            tr("margin"),
            PaperField(tr("Margin"), paper, (0.0, 1000.0)),
            tr("Left free at every edge"),
            lambda _: None,
        )
        self._margin.show_value(15.0)
        self.button(
            tr("By scale"),
            tr("The perspective stays; the picture is enlarged or reduced"),
            lambda: self._fit("perspective"),
        )
        self._wide = self.field(
            grid,
            tr("as wide as"),
            PaperField(tr("Width of the object on paper"), paper, (1.0, 5000.0)),
            tr("The object's width on paper; the perspective stays"),
            self._take_width,
        )
        self._papers = QComboBox()
        self._papers.setAccessibleName(tr("Fresh sheet"))
        self._papers.setToolTip(
            tr("A sheet of another format for the same object under the same eye; keep this eye first to come back")
        )
        self._papers.addItem(tr("Fresh sheet…"), None)
        for name, (short, long) in PAPERS.items():
            self._papers.addItem(tr("{paper} landscape", paper=name), (long, short))
            self._papers.addItem(tr("{paper} portrait", paper=name), (short, long))
        self._papers.activated.connect(lambda _: self._take_sheet())
        self.column.addWidget(self._papers)
        self.button(
            tr("By distance"),
            tr("The viewing distance stays; the eye walks nearer or back"),
            lambda: self._fit("distance"),
        )

        self.keeps = QCheckBox(tr("keep it filling the sheet"))
        self.keeps.setToolTip(
            tr(
                "After every change of a size, the turn, the eye's height or the tilt: by scale or by distance, as was chosen last"
            )
        )
        self.keeps.toggled.connect(self._keep)
        self.column.addWidget(self.keeps)

    def _keep(self, on: bool) -> None:
        self.session.along = self._filled if on else None
        if on:
            self._fit(self._by)

    def _filled(self, before: Document, edit: Edit) -> Edit:
        """Return an edit with the sheet filled again, where it changes what is seen; a kept eye, and one over a photograph, stay."""
        after = edit.document
        seen = after.volumes != before.volumes or after.eye != before.eye
        kept = after.eye != before.eye and any(each.eye == after.eye for each in after.eyes)
        if not seen or kept or after.pictures or not after.volumes:
            return edit
        try:
            filled = fit_sheet_part(after, self._part.currentData(), self._margin.value or 0.0, keep=self._by)
        except DocumentError as error:
            self.session.say(tr("It does not fill the sheet now: {error}", error=error), caution=True)
            return edit
        return replace(edit, document=filled.document)

    def _take_width(self, mm: float) -> None:
        sheet = self.session.document.sheet
        self.session.attempt(fresh_sheet, sheet.width, sheet.height, mm)

    def _take_sheet(self) -> None:
        """Lay a fresh sheet; an object that would not fit on it is drawn as wide as it allows."""
        paper = self._papers.currentData()
        self._papers.setCurrentIndex(0)
        if paper is not None:
            wide = drawn_width(self.session.document)
            room = 0.9 * paper[0]
            self.session.attempt(fresh_sheet, *paper, None if wide is None or wide <= room else room)
            self.refresh()

    def refresh(self) -> None:
        """Show how wide the object is drawn."""
        wide = drawn_width(self.session.document)
        self._wide.setEnabled(wide is not None)
        self._wide.show_value(None if wide is None else round(wide, 2))

    def _fit(self, keep: str) -> None:
        self._by = keep

        def edit(document: Document) -> Edit:
            return fit_sheet_part(document, self._part.currentData(), self._margin.value or 0.0, keep=keep)

        self.session.attempt(edit)
