"""It is too long: one deed makes what is selected shorter or longer, with all that goes along with it."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.fields import plain_line
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.joining import descendants
from isometron.document.model import Document
from isometron.document.shapes.lengthening import beside, lengthen, rows_said, typed_factor
from isometron.errors import IsometronError
from isometron.volumes.own_sides import side_names
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Lengthening"]

_MIDDLE = 0.5


class Lengthening(Section):
    """A ratio or a new length; the board shows what comes of it while it is typed, Enter takes it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Too long"), tr("Or too short: with all that goes along with it, as one step"))
        grid = self.grid()
        self.way, self.stays = QComboBox(), QComboBox()
        self.how = plain_line(tr("New length, or how many times as long"), tr("0.9, 90 %, 3800"))
        for row, (words, widget) in enumerate(
            ((tr("direction"), self.way), (tr("stays"), self.stays), (tr("make it"), self.how))
        ):
            label = Label(words)
            label.setBuddy(widget)
            widget.setAccessibleName(words)
            grid.addWidget(label, row, 0)
            grid.addWidget(widget, row, 1)
        for name in DIRECTIONS:
            self.way.addItem(tr(name), name)
        self.rows, self._rows_label = QComboBox(), Label(tr("row"))
        self.rows.setAccessibleName(tr("row"))
        self._rows_label.setBuddy(self.rows)
        grid.addWidget(self._rows_label, 3, 0)
        grid.addWidget(self.rows, 3, 1)
        self.along = QCheckBox(tr("what is not joined too"))
        self.along.setChecked(True)
        self.column.addWidget(self.along)
        self._said = self.words()
        self.way.currentIndexChanged.connect(lambda _: self.refresh())
        self.along.toggled.connect(lambda _: self._preview())
        self.stays.currentIndexChanged.connect(lambda _: self._preview())
        self.rows.currentIndexChanged.connect(lambda _: self._preview())
        self.how.textEdited.connect(lambda _: self._preview())
        self.how.returnPressed.connect(self._take)
        self.how.editingFinished.connect(self._let_go)

    def _edit(self, document: Document) -> Edit:
        ids, axis = self.session.selection, self.way.currentIndex()
        volume = document.volume(ids[-1])
        factor = typed_factor(self.how.text(), document, volume.size[axis])
        loose = [each.id for each in beside(document, ids, axis)] if self.along.isChecked() else []
        return lengthen(document, ids, axis, factor, stays=self.stays.currentData() or 0.0, along=loose,
                        rows=self.rows.currentData() or "said")  # fmt: skip

    def _preview(self) -> None:
        """Show what would come of it; what is half typed shows nothing."""
        if not self.how.text().strip() or not self.session.selection or not self.how.isModified():
            self.session.drop_preview()
            return
        try:
            self.session.show(self._edit(self.session.settled))
        except (IsometronError, ZeroDivisionError):
            self.session.drop_preview()

    def _take(self) -> None:
        if self.session.selection and self.how.text().strip():
            self.session.drop_preview()
            self.how.setModified(False)
            if self.session.attempt(self._edit):
                self.how.clear()
                if not self.session.given_up:
                    self.session.say(self.session.undo_name or "")

    def _let_go(self) -> None:
        if self.how.isModified():
            self.session.drop_preview()
            self.how.setModified(False)

    def refresh(self) -> None:
        """Say what goes along and what would be left behind."""
        volume = self.session.active_volume
        for widget in (self.way, self.stays, self.how, self.along):
            widget.setEnabled(volume is not None)
        if volume is None:
            self._said.setText(tr("Select a volume."))
            return
        if self.session.moving:
            return
        document, axis = self.session.document, self.way.currentIndex()
        start, end = side_names(volume, axis)
        ends = ((tr("its {side}", side=start), 0.0), (tr("its middle"), _MIDDLE), (tr("its {side}", side=end), 1.0))
        if [self.stays.itemText(k) for k in range(self.stays.count())] != [words for words, _ in ends]:
            here = self.stays.currentIndex()
            self.stays.blockSignals(True)
            self.stays.clear()
            for words, part in ends:
                self.stays.addItem(words, part)
            self.stays.setCurrentIndex(max(here, 0))
            self.stays.blockSignals(False)
        ids = self.session.selection
        self._offer_rows(rows_said(document, ids), end)
        joined = {name for each in ids for name in descendants(document, each)} - set(ids)
        loose = beside(document, ids, axis)
        self.along.setVisible(bool(loose))
        said = (
            [tr("joined: {names}", names=", ".join(v.name for v in document.volumes if v.id in joined))]
            if joined
            else []
        )
        said += [tr("not joined: {names}", names=", ".join(v.name for v in loose))] if loose else []
        self._said.setText("\n".join(said) or tr("Nothing else goes along."))

    def _offer_rows(self, said: str, end: str) -> None:
        """Where a row keeps a pitch that was said, that and its place to the far end cannot both stay: the choice stands here."""
        for widget in (self.rows, self._rows_label):
            widget.setVisible(bool(said))
        self.rows.setToolTip(
            tr("The row keeps its pitch as it was said, {said}; or its last one keeps its place to the {end}",
               said=said, end=end)
        )  # fmt: skip
        choices = ((tr("pitch as said"), "said"), (tr("ends stay"), "ends"))
        if [self.rows.itemText(k) for k in range(self.rows.count())] == [words for words, _ in choices]:
            return
        here = max(self.rows.currentIndex(), 0)
        self.rows.blockSignals(True)
        self.rows.clear()
        for words, choice in choices:
            self.rows.addItem(words, choice)
        self.rows.setCurrentIndex(here)
        self.rows.blockSignals(False)
