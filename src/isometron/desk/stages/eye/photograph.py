"""The Photograph section: a picture under the sheet, what is marked on it, what that says of the eye, and its scale."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QMenu,
    QSlider,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from isometron.desk.board.picked_mark import PickedMark
from isometron.desk.controls.deed_button import deed_tip
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label, word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.deeds.tools import TOOLS
from isometron.desk.frame.theme import px
from isometron.desk.stages.body import tool_buttons
from isometron.desk.stages.eye.units import on_paper
from isometron.document.lengths.units import format_paper
from isometron.document.pictures.picture_edits import change_picture, fitted, move_picture, remove_picture, show_only
from isometron.document.pictures.placing import in_place
from isometron.document.pictures.sheet_picture import SheetPicture, TrueLength
from isometron.match.marking import set_kind, set_size, set_thing, set_true, set_whole
from isometron.match.picture_eye import answer_of
from isometron.match.scale import true_length
from isometron.match.told import eye_facts, told_marks, too_few_words, wanting
from isometron.match.told_sizes import sure_sizes, sure_words
from isometron.tools.picture_marks import direction_words
from isometron.wording import mark, tr

__all__ = ["Photograph"]

_PALE = 100
_LINE_KINDS = (
    (mark("right-going"), ("long", "")),
    (mark("left-going"), ("wide", "")),
    (mark("upright"), ("high", "")),
)
_RING_KINDS = (
    (mark("level"), ("high", "")),
    (mark("level, round the upright axle"), ("high", "axle")),
    (mark("on an upright face, its axle right-going"), ("long", "")),
    (mark("on an upright face, its axle left-going"), ("wide", "")),
)
"""What a mark may be: words, and the direction that it runs in or is square to, with the name of its axle."""


class Photograph(Section):
    """Signal: ``tool_chosen`` with a tool's name."""

    tool_names = ("edge", "ring", "corner")

    shows = "photograph"
    tool_chosen = pyqtSignal(str)

    def __init__(self, desk: OnDesk, picked: PickedMark) -> None:
        super().__init__(
            desk.session, tr("Photograph"), tr("A picture under the drawing: its eye is found from marks on it")
        )
        self._desk, self._picked = desk, picked
        self._paper = on_paper(desk.session)
        self._about = self.words(quiet=False)
        self._open = self.button(
            tr("Lay a picture…"), deed_tip("picture", tr("PNG, JPEG, TIFF, WebP or a page of a PDF; drop or paste one as well")),
            lambda: desk.actions_by_deed.do("picture"),
        )  # fmt: skip
        self._with_picture = QWidget()
        self.column.addWidget(self._with_picture)
        self._lay_out(self._with_picture)
        picked.changed.connect(self.refresh)

    # --- layout ---------------------------------------------------------------------------------------------------

    def _lay_out(self, place: QWidget) -> None:
        outer, self.column = self.column, self._column_of(place)
        self._lay_out_looks()
        own = [tool for tool in TOOLS.values() if tool.section == self.shows]
        self.tools = tool_buttons(own)
        self.tools.chosen.connect(self.tool_chosen)
        self.column.addWidget(self.tools)
        grid = self.grid()
        self._true = self.field(
            grid, tr("is truly"), LengthField(tr("True length of the mark"), lambda: self.session.document, (0.01, 1e7)),
            tr("The true length of the picked edge, or a ring's diameter: it gives the scale"), self._take_true,
        )  # fmt: skip
        self._own = [
            self.field(
                grid, tr("its {size} is", size=words), LengthField(tr("The volume's {size} is truly", size=words), lambda: self.session.document, (0.01, 1e7)),
                tr("The true length of the selected volume: everything grows along with it"),
                partial(self._take_size, axis),
            )
            for axis, words in enumerate((tr("length"), tr("width"), tr("height")))
        ]  # fmt: skip
        self._height = self.field(
            grid, tr("eye height"), LengthField(tr("The photograph's eye height"), lambda: self.session.document, (0.01, 1e6)),
            tr("How high the camera stood over the ground: it gives the scale too"), self._take_height,
        )  # fmt: skip
        self._facts = self.words(quiet=False)
        self._wanting = self.words()
        self._lay_out_marks()
        self._sizes = self.words()
        self.column = outer

    @staticmethod
    def _column_of(place: QWidget) -> QVBoxLayout:
        column = QVBoxLayout(place)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        return column

    def _lay_out_looks(self) -> None:
        row = QHBoxLayout()
        label = Label(tr("pale"))
        self._pale = QSlider(Qt.Orientation.Horizontal)
        self._pale.setRange(0, _PALE)
        self._pale.setAccessibleName(tr("How pale the picture is"))
        self._pale.setToolTip(tr("How pale the picture is; H hides it"))
        self._pale.valueChanged.connect(self._take_pale)
        self._more = word_button(f"{tr('more')} ▾", "deed", tr("Crop, move, turn, take it off the sheet"))
        self._more.clicked.connect(self._show_more)
        row.addWidget(label)
        row.addWidget(self._pale, 1)
        row.addWidget(self._more)
        self.column.addLayout(row)
        self._whole = QComboBox()
        self._whole.setAccessibleName(tr("Whole picture, or cut out"))
        self._whole.addItem(tr("whole picture"), True)
        self._whole.addItem(tr("cut out of a larger one"), False)
        self._whole.setToolTip(
            tr("Of a whole picture the centre of vision is the middle; of a cut-out it is to be found")
        )
        self._whole.activated.connect(lambda _: self._take_whole())
        self.column.addWidget(self._whole)

    def _lay_out_marks(self) -> None:
        self.marks = QTableWidget(0, 3)
        self.marks.setAccessibleName(tr("Marks, the worst first"))
        self.marks.setHorizontalHeaderLabels([tr("mark"), tr("mm"), tr("°")])
        header, rows = self.marks.horizontalHeader(), self.marks.verticalHeader()
        assert header is not None and rows is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        rows.hide()
        rows.setDefaultSectionSize(px(22))
        self.marks.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.marks.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.marks.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.marks.setToolTip(tr("The worst first. X: another direction; Delete takes the picked mark away"))
        self.marks.setFixedHeight(px(132))
        self.marks.currentCellChanged.connect(self._pick_row)
        self.column.addWidget(self.marks)
        self._kind = QComboBox()
        self._kind.setAccessibleName(tr("Direction of the mark"))
        self._kind.setToolTip(
            deed_tip("mark_kind", tr("The direction of the picked edge, or what a ring is square to"))
        )
        self._kind.activated.connect(lambda _: self._take_kind())
        self.column.addWidget(self._kind)
        self._thing = QComboBox()
        self._thing.setAccessibleName(tr("Thing of the mark"))
        self._thing.setToolTip(tr("Things stand upright, each turned as it likes; edges of one share its directions"))
        self._thing.activated.connect(lambda _: self._take_thing())
        self.column.addWidget(self._thing)

    # --- what is done ---------------------------------------------------------------------------------------------

    @property
    def picture(self) -> SheetPicture | None:
        """The picture that is worked on, also while it is hidden or another eye is set."""
        pictures = self.session.document.pictures
        return self._picked.picture or next(
            (p for p in reversed(pictures) if not p.hidden), pictures[-1] if pictures else None
        )

    def _take_pale(self, value: int) -> None:
        picture = self.picture
        if picture is not None and round(_PALE * picture.pale) != value:
            self.session.attempt(
                change_picture, picture.id, tr("pale the picture"), merges=f"pale {picture.id}", pale=value / _PALE
            )

    def _take_whole(self) -> None:
        picture = self.picture
        if picture is not None:
            self.session.attempt(set_whole, picture, whole=bool(self._whole.currentData()))

    def _take_kind(self) -> None:
        picture, mark = self.picture, self._picked.mark
        if picture is not None and mark is not None:
            along, axle = self._kind.currentData()
            self.session.attempt(set_kind, picture, *mark, along, axle)

    def _take_thing(self) -> None:
        picture, mark = self.picture, self._picked.mark
        if picture is not None and mark is not None:
            self.session.attempt(set_thing, picture, *mark, self._thing.currentData())

    def _take_true(self, mm: float) -> None:
        picture, mark = self.picture, self._picked.mark
        if picture is None or mark is None:
            self.session.say(tr("Pick a mark first: click on it on the picture, or in the table."), caution=True)
            return
        self.session.attempt(
            set_true, picture, TrueLength(of="line" if mark[0] == "line" else "ring", number=mark[1], mm=mm)
        )

    def _take_size(self, axis: int, mm: float) -> None:
        picture, volume = self.picture, self.session.active_volume
        if picture is not None and volume is not None:
            self.session.attempt(set_size, picture, volume.id, axis, mm)

    def _take_height(self, mm: float) -> None:
        picture = self.picture
        if picture is not None:
            self.session.attempt(set_true, picture, TrueLength(of="eye", mm=mm))

    def _pick_row(self, row: int, *_: int) -> None:
        item = self.marks.item(row, 0) if row >= 0 else None
        if item is not None:
            self._picked.pick(item.data(Qt.ItemDataRole.UserRole))

    def _show_more(self) -> None:
        picture = self.picture
        if picture is None:
            return
        menu = QMenu(self)
        doc = self.session.document
        menu.addAction(tr("Another picture…"), lambda: self._desk.actions_by_deed.do("picture"))
        menu.addAction(tr("Crop it on paper…"), self._crop)
        menu.addAction(tr("Place it…"), self._place)
        menu.addAction(tr("Fill the sheet with it"), lambda: self._fill(picture))
        upright = menu.addAction(
            tr("Turn it upright"), lambda: self.session.attempt(move_picture, picture.id, turn_deg=0.0)
        )
        assert upright is not None
        upright.setEnabled(picture.turn_deg != 0.0)
        others = [p for p in doc.pictures if p.id != picture.id]
        if others:
            menu.addSeparator()
            for other in others:
                menu.addAction(
                    tr("Work on {name}", name=other.name.replace("&", "&&")), lambda o=other: self._work_on(o)
                )
        menu.addSeparator()
        menu.addAction(tr("Take it off the sheet"), lambda: self.session.attempt(remove_picture, picture.id))
        menu.popup(self._more.mapToGlobal(self._more.rect().bottomLeft()))

    def _fill(self, picture: SheetPicture) -> None:
        middle, pixel = fitted(self.session.document, picture.width, picture.height)
        self.session.attempt(move_picture, picture.id, middle=middle, pixel=pixel)

    def _work_on(self, picture: SheetPicture) -> None:
        self.session.attempt(show_only, picture.id)

    def _crop(self) -> None:
        from isometron.desk.cards.picture_card import CropCard

        if self.picture is not None:
            CropCard(self.session, self.picture, self).exec()

    def _place(self) -> None:
        from isometron.desk.cards.picture_card import PlaceCard

        if self.picture is not None:
            PlaceCard(self.session, self.picture, self).exec()

    # --- what is shown --------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the picture that is worked on, its marks and what they say."""
        picture, document = self.picture, self.session.document
        self._with_picture.setVisible(picture is not None)
        self._open.setVisible(picture is None)
        if picture is None:
            self._about.setText(
                tr("Open, drop or paste a photograph; mark a few edges, and the eye that saw it is found.")
            )
            return
        under = in_place(document, picture)
        self._about.setText(self._about_words(picture, under=under))
        blocked = self._pale.blockSignals(True)
        self._pale.setValue(round(_PALE * picture.pale))
        self._pale.blockSignals(blocked)
        self._whole.setCurrentIndex(0 if picture.whole else 1)
        answer = answer_of(picture, moving=self.session.moving)
        if isinstance(answer, str):
            self._facts.setText("")
            self._wanting.setText(too_few_words(picture) or answer)
        else:
            self._facts.tell("", eye_facts(picture, answer, document.unit))
            self._wanting.setText("\n".join(wanting(answer)))
        self._facts.setVisible(not isinstance(answer, str))
        self._wanting.setVisible(bool(self._wanting.text()))
        self._show_marks(picture, answer)
        self._show_scale(picture)

    def _about_words(self, picture: SheetPicture, *, under: bool) -> str:
        if not self.session.document.file_of(picture):
            return tr("{name}: its file is missing. Take it off the sheet, or lay it anew.", name=picture.name)
        if picture.hidden:
            return tr("{name}, hidden. H shows it.", name=picture.name)
        if not under:
            return tr(
                "{name} was seen by another eye: it lies at the side. N goes back to its eye.", name=picture.name
            )
        size = format_paper(picture.width * picture.pixel, self.session.document.unit, decimals=0)
        return tr("{name}, {size} wide on the sheet", name=picture.name, size=size)

    def _show_marks(self, picture: SheetPicture, answer) -> None:
        told = told_marks(picture, answer)
        blocked = self.marks.blockSignals(True)
        self.marks.setRowCount(len(told))
        for row, one in enumerate(told):
            words = _mark_words(one.kind, one.number, one.along, one.thing)
            silent = isinstance(answer, str)
            cells = [f"⚠ {words}" if one.against else words, "" if silent else f"{one.off_mm:.2f}",
                     "" if silent or one.kind == "ring" else f"{one.off_deg:.2f}"]  # fmt: skip
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setData(Qt.ItemDataRole.UserRole, (one.kind, one.number))
                if column:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if one.against:
                    item.setToolTip(tr("This mark contradicts the others: no eye sees them all so."))
                self.marks.setItem(row, column, item)
        place = next((row for row, one in enumerate(told) if (one.kind, one.number) == self._picked.mark), -1)
        self.marks.setCurrentCell(place, 0)
        if place < 0:
            self.marks.clearSelection()
        self.marks.blockSignals(blocked)
        self.marks.setVisible(bool(told))
        if place < 0:
            self.marks.scrollToTop()

    def _show_sizes(self, picture: SheetPicture) -> None:
        """Say how sure the selected volume's sizes are, and offer to type the true ones."""
        volume, answer = self.session.active_volume, answer_of(picture, moving=self.session.moving)
        sure = None if volume is None or isinstance(answer, str) else sure_sizes(picture, answer, volume)
        self._sizes.setVisible(sure is not None)
        if sure is not None and volume is not None:
            self._sizes.setText(f"{volume.name}: {sure_words(sure, self.session.document.unit)}")
        for axis, field in enumerate(self._own):
            self.show_field(field, sure is not None)
            if volume is not None:
                field.show_value(round(volume.size[axis], 2))
        self.show_field(self._true, sure is None)

    def _show_kinds(self, picture: SheetPicture) -> None:
        """Offer the directions of an edge, or what a ring may be."""
        mark = self._picked.mark
        marks = [] if mark is None else [*(picture.lines if mark[0] == "line" else picture.rings)]
        there = mark is not None and mark[1] < len(marks)
        self._kind.setVisible(there)
        if mark is None or not there:
            return
        blocked = self._kind.blockSignals(True)
        self._kind.clear()
        for words, value in _LINE_KINDS if mark[0] == "line" else _RING_KINDS:
            self._kind.addItem(tr(words), value)
        own = marks[mark[1]]
        now = (own.along, "") if mark[0] == "line" else (own.square_to, own.axle)
        values = [self._kind.itemData(n) for n in range(self._kind.count())]
        self._kind.setCurrentIndex(values.index(now) if now in values else -1)
        self._kind.blockSignals(blocked)

    def _show_things(self, picture: SheetPicture) -> None:
        mark = self._picked.mark
        marks = [*picture.lines] if mark is not None and mark[0] == "line" else [*picture.rings]
        self._thing.setVisible(mark is not None and mark[1] < len(marks))
        if mark is None or mark[1] >= len(marks):
            return
        things = sorted({line.object for line in picture.lines} | {""})
        free = next(f"{n}" for n in range(2, len(things) + 3) if f"{n}" not in things)
        blocked = self._thing.blockSignals(True)
        self._thing.clear()
        for thing in things:
            self._thing.addItem(tr("of thing {name}", name=thing) if thing else tr("of the first thing"), thing)
        self._thing.addItem(tr("of another thing"), free)
        self._thing.setCurrentIndex(things.index(marks[mark[1]].object) if marks[mark[1]].object in things else -1)
        self._thing.blockSignals(blocked)

    def _show_scale(self, picture: SheetPicture) -> None:
        camera, mark = picture.camera, self._picked.mark
        self._show_kinds(picture)
        self._show_things(picture)
        self._height.setEnabled(camera is not None)
        self._true.setEnabled(camera is not None and mark is not None)
        self._show_sizes(picture)
        self._height.show_value(None if camera is None else round(camera.position[2], 2))
        length = None if camera is None or mark is None else true_length(picture, camera, *mark)
        self._true.show_value(None if length is None or camera is None else round(length * camera.position[2], 2))


def _mark_words(kind: str, number: int, along: str, thing: str) -> str:
    """Return what a mark is called in the table."""
    if kind == "line" and thing:
        return tr("{number} {direction} ({thing})", number=number + 1, direction=direction_words(along), thing=thing)
    if kind == "line":
        return tr("{number} {direction}", number=number + 1, direction=direction_words(along))
    if along == "high":
        return tr("ring {number}, level", number=number + 1)
    return tr("ring {number}, upright", number=number + 1)
