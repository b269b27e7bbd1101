"""Small cards for a picture: which part of it shows on paper, and where and how large it lies."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from isometron.desk.controls.fields import AngleField, PaperField, PercentField, ValueField
from isometron.desk.controls.words import Wrapped
from isometron.desk.frame.session import Session
from isometron.document.lengths.units import paper_unit
from isometron.document.pictures.picture_edits import crop_picture, move_picture
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.wording import tr

__all__ = ["CropCard", "PlaceCard"]


class _Card(QDialog):
    """A dialog of a few fields over a picture."""

    def __init__(self, session: Session, picture: SheetPicture, title: str, words: str, over: QWidget) -> None:
        super().__init__(over)
        self.setWindowTitle(title)
        self._session, self._picture = session, picture
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        lead = Wrapped()
        lead.setText(words)
        layout.addWidget(lead)
        self.form = QFormLayout()
        layout.addLayout(self.form)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self.setMinimumWidth(340)

    def add(self, words: str, field: ValueField, value: float) -> ValueField:
        """Add a field with its value."""
        field.show_value(value)
        field.refused.connect(lambda said: self._session.say(said, caution=True))
        self.form.addRow(words, field)
        return field

    def _edit(self) -> bool:
        raise NotImplementedError

    def _take(self) -> None:
        for field in self.findChildren(ValueField):
            field.take()
        if self._edit():
            self.accept()


class CropCard(_Card):
    """What is cut off at each side, in shares; the eye stays what it is."""

    def __init__(self, session: Session, picture: SheetPicture, over: QWidget) -> None:
        words = tr(
            "Cut off at each side, as a share of the picture. Only what is seen changes: its eye and marks stay."
        )
        super().__init__(session, picture, tr("Crop the picture"), words, over)
        left, top, right, lower = picture.shown
        names = (tr("left"), tr("top"), tr("right"), tr("below"))
        values = (left, top, 1.0 - right, 1.0 - lower)
        self.fields = [
            self.add(name, PercentField(tr("Cut off {side}", side=name), (0.0, 99.0)), 100.0 * value)
            for name, value in zip(names, values, strict=True)
        ]

    def _edit(self) -> bool:
        left, top, right, lower = ((field.value or 0.0) / 100.0 for field in self.fields)
        return self._session.attempt(crop_picture, self._picture.id, (left, top, 1.0 - right, 1.0 - lower))


class PlaceCard(_Card):
    """Where its middle lies, how wide it is, how it is turned; a matched picture takes its eye along."""

    def __init__(self, session: Session, picture: SheetPicture, over: QWidget) -> None:
        words = tr(
            "The middle is measured from the sheet's left and lower edges. Its eye goes along, and all that was drawn from it."
        )
        super().__init__(session, picture, tr("Place the picture"), words, over)

        def paper():
            return paper_unit(session.document.unit)

        self.across = self.add(
            tr("middle, from the left"), PaperField(tr("Middle from the left"), paper), picture.middle[0]
        )
        self.up = self.add(tr("middle, from below"), PaperField(tr("Middle from below"), paper), picture.middle[1])
        self.wide = self.add(tr("width"), PaperField(tr("Width of the picture"), paper, (5.0, 5000.0)),
                             picture.width * picture.pixel)  # fmt: skip
        self.turn = self.add(tr("turned"), AngleField(tr("Turned, counter-clockwise")), picture.turn_deg)

    def _edit(self) -> bool:
        picture = self._picture
        return self._session.attempt(
            move_picture, picture.id, middle=(self.across.value or 0.0, self.up.value or 0.0),
            pixel=(self.wide.value or picture.width * picture.pixel) / picture.width, turn_deg=self.turn.value or 0.0,
        )  # fmt: skip
