"""New sheet: paper, unit and eye, with a small true preview of a one-metre cube on it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHBoxLayout,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from isometron.desk.board.kept_picture import BoardPicture
from isometron.desk.board.viewing import BoardView
from isometron.desk.controls.fields import AngleField, PaperField, ValueField
from isometron.desk.controls.words import Label
from isometron.desk.frame.theme import px
from isometron.document.edits import add_volume
from isometron.document.fresh import new_document, paper_size, usual_distance
from isometron.document.lengths.units import UNITS, UnitName, paper_unit
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.solve.drawing import Drawing, solve
from isometron.solve.standing import standing_words
from isometron.view.sheet import PAPERS
from isometron.volumes.box import Box
from isometron.wording import mark, tr

__all__ = ["NewSheetDialog"]

_OWN = tr("own size")


class _Preview(QWidget):
    """The sheet as it will be, with a cube to judge it by."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(380, 330)
        self.setAccessibleName(tr("Preview of the new sheet"))
        self._drawing: Drawing | None = None
        self._picture = BoardPicture()

    def show_drawing(self, drawing: Drawing | None) -> None:
        self._drawing = drawing
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._drawing is not None:
            view = BoardView.fitting(
                self._drawing.document.sheet.rectangle, self.width(), self.height(), 0.09 * self.height()
            )
            painter.drawImage(
                0,
                0,
                self._picture.of(self._drawing, view, self.width(), self.height(), ratio=self.devicePixelRatioF()),
            )
        painter.end()


class NewSheetDialog(QDialog):
    """Asks for what a sketcher decides first. ``document`` holds the result after it was accepted."""

    def __init__(self, unit: str, paper: str = "A3", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("New sheet"))
        self.document: Document | None = None
        self._fields: dict[str, ValueField] = {}
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.setVerticalSpacing(8)
        form.setHorizontalSpacing(12)
        self._paper_rows(form, unit, paper)
        self._eye_rows(form)
        self._words = Label()
        self._words.setWordWrap(True)
        self._words.setMinimumHeight(px(52))
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._preview = _Preview()
        buttons = QDialogButtonBox()
        self._accept = QPushButton(tr("Lay the sheet down"))
        buttons.addButton(self._accept, QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton(tr("Keep the old one"), QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        right = QVBoxLayout()
        right.addWidget(self._preview, 1)
        right.addWidget(self._words)
        columns = QHBoxLayout()
        columns.setSpacing(20)
        columns.addLayout(form)
        columns.addLayout(right, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 20, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(columns, 1)
        layout.addWidget(buttons)
        self.resize(820, 520)
        self._paper_chosen()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter lays the sheet only from its button: in a field it takes what was typed there."""
        enter = event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if not enter or isinstance(self.focusWidget(), QPushButton):
            super().keyPressEvent(event)

    @property
    def paper(self) -> str:
        """The paper that was chosen, by name."""
        return self._paper.currentText()

    def _paper_rows(self, form: QFormLayout, unit: str, paper: str) -> None:
        self._unit = QComboBox()
        self._unit.addItems(UNITS)
        self._unit.setCurrentText(unit)
        self._paper = QComboBox()
        self._paper.addItems([*PAPERS, _OWN])
        self._paper.setCurrentText(paper)
        self._landscape, self._portrait = QRadioButton(tr("landscape")), QRadioButton(tr("portrait"))
        self._landscape.setChecked(True)
        group = QButtonGroup(self)
        row = QHBoxLayout()
        for button in (self._landscape, self._portrait):
            group.addButton(button)
            row.addWidget(button)
        form.addRow(tr("paper"), self._paper)
        form.addRow("", row)
        self._length(form, mark("width"), tr("Paper width"), 420.0, (20.0, 5000.0), paper=True)
        self._length(form, mark("height"), tr("Paper height"), 297.0, (20.0, 5000.0), paper=True)
        form.addRow(tr("unit"), self._unit)
        self._paper.currentTextChanged.connect(self._paper_chosen)
        self._landscape.toggled.connect(self._paper_chosen)
        self._unit.currentTextChanged.connect(self._unit_chosen)
        for name, widget in ((tr("Paper"), self._paper), (tr("Unit"), self._unit)):
            widget.setAccessibleName(name)

    def _eye_rows(self, form: QFormLayout) -> None:
        self._length(form, mark("eye height"), tr("Eye height"), 1500.0, (-1e6, 1e6))
        self._length(form, mark("away"), tr("Distance from the eye to the start"), 4500.0, (10.0, 1e6))
        self._angle(form, mark("turn"), tr("Turn of the object"), -35.0, (-180.0, 180.0))
        self._angle(form, mark("tilt"), tr("Tilt of the view"), 0.0, (-89.0, 89.0))
        self._length(form, mark("viewing distance"), tr("Viewing distance on paper"), 450.0, (1.0, 1e6), paper=True)
        self._length(form, mark("horizon at"), tr("Horizon above the lower edge"), 184.0, (-9e4, 9e4), paper=True)

    def _length(self, form, words: str, name: str, value: float, bounds: tuple, *, paper: bool = False) -> None:
        def unit() -> UnitName:
            chosen = UNITS[self._unit.currentIndex()]
            return paper_unit(chosen) if paper else chosen

        self._add(form, words, PaperField(name, unit, bounds), value)

    def _angle(self, form, words: str, name: str, value: float, bounds: tuple) -> None:
        self._add(form, words, AngleField(name, bounds), value)

    def _add(self, form, words: str, field: ValueField, value: float) -> None:
        field.show_value(value)
        field.committed.connect(self._changed)
        field.refused.connect(self._refused)
        self._fields[words] = field
        form.addRow(tr(words), field)

    def _paper_chosen(self, *_) -> None:
        own = self._paper.currentText() == _OWN
        for key in ("width", "height"):
            self._fields[key].setEnabled(own)
        self._landscape.setEnabled(not own)
        self._portrait.setEnabled(not own)
        if not own:
            old = self._fields["height"].value or 297.0
            width, height = paper_size(self._paper.currentText(), landscape=self._landscape.isChecked())
            part = (self._fields["horizon at"].value or 0.0) / old
            distance = self._fields["viewing distance"]
            if distance.value == usual_distance(old):
                distance.show_value(usual_distance(height))
            self._fields["width"].show_value(width)
            self._fields["height"].show_value(height)
            self._fields["horizon at"].show_value(round(part * height, 1))
        self._changed()

    def _unit_chosen(self, *_) -> None:
        for field in self._fields.values():
            field.show_value(field.value)
        self._changed()

    def _made(self) -> Document:
        value = {key: field.value or 0.0 for key, field in self._fields.items()}
        return new_document(
            width=value["width"],
            height=value["height"],
            unit=UNITS[self._unit.currentIndex()],
            eye_height=value["eye height"],
            away=value["away"],
            turn_deg=value["turn"],
            tilt_deg=value["tilt"],
            viewing_distance=value["viewing distance"],
            horizon=value["horizon at"],
        )

    def _changed(self, *_) -> None:
        try:
            document = self._made()
            side = 1000.0
            cube = Box(id="cube", name=tr("Cube"), corner=(-side / 2, -side / 2, 0.0), size=(side, side, side))
            drawing = solve(add_volume(document, cube).document)
        except IsometronError as error:
            self._refused(str(error))
            self._accept.setEnabled(False)
            return
        self._accept.setEnabled(True)
        self._preview.show_drawing(drawing)
        self._words.setObjectName("")
        self._words.setStyleSheet("")
        self._words.setText(
            standing_words(document.eye, drawing.scene.rotations[0])
            + tr(" The cube is a metre each way; it is not kept.")
        )

    def _refused(self, words: str) -> None:
        self._words.setObjectName("caution")
        self._words.setStyleSheet("color: #B3261E;")
        self._words.setText(f"⚠ {words}")

    def _take(self) -> None:
        self.setFocus()  # takes what is still being typed
        if self._accept.isEnabled() and self._words.objectName() != "caution":
            self.document = self._made()
            self.accept()
