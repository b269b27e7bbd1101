"""Sections of a stage: heads of words, always in sight, that open a place under them; one is open at a time, beside that of the tool in use."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QMenu, QSpinBox, QVBoxLayout, QWidget

from isometron.desk.controls.fields import LengthField, ValueField
from isometron.desk.controls.flow import Flow
from isometron.desk.controls.steady_scroll import SteadyScroll
from isometron.desk.controls.words import Label, WordButton, Wrapped, word_button
from isometron.desk.frame.session import Session

__all__ = ["LazySection", "Section", "Sections"]


class Section(QWidget):
    """A place that is filled by its kind; `refresh` is called while it is open and the document changes.

    shows : what the board shows while it is open, ``slopes``, ``stretch`` or nothing; tool_names : the tools whose settings it has;
    lists_laid : whether it has the fields of what such a tool has laid.
    """

    shows = ""
    tool_names: tuple[str, ...] = ()
    lists_laid = False

    def __init__(self, session: Session, words: str, tip: str) -> None:
        super().__init__()
        self.session = session
        self.head = word_button(words, "section", tip)
        self.head.setCheckable(True)
        self.title = Label(words)
        self.title.setObjectName("section_title")
        self.title.setVisible(False)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(5, 2, 0, 8)
        self.column.setSpacing(4)
        self.column.addWidget(self.title)
        self.setVisible(False)

    def refresh(self) -> None:
        """Show the document."""

    def show_open(self, on: bool) -> None:
        """Open or close it."""
        self.head.setChecked(on)
        self.setVisible(on)
        if on:
            self.refresh()

    def words(self, *, quiet: bool = True) -> Wrapped:
        """Add a line of words."""
        label = Wrapped()
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        if quiet:
            label.setObjectName("quiet")
        self.column.addWidget(label)
        return label

    def grid(self) -> QGridLayout:
        """Add a grid of labels and fields."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        self.column.addLayout(grid)
        return grid

    def field(
        self, grid: QGridLayout, words: str, field: ValueField, tip: str, commit: Callable[[float], object]
    ) -> ValueField:
        """Add a field to a grid; ``commit`` takes a typed value."""
        label = Label(words)
        label.setBuddy(field)
        for widget in (label, field):
            widget.setToolTip(tip)
        row = grid.rowCount()
        grid.addWidget(label, row, 0)
        grid.addWidget(field, row, 1)

        def committed(value: float) -> None:
            commit(value)
            self.refresh()

        field.committed.connect(committed)
        field.refused.connect(lambda said: self.session.say(said, caution=True))
        return field

    @staticmethod
    def show_field(field: QWidget, on: bool) -> None:
        """Show a field with its words, or neither: what does not count now takes no room."""
        around = field.parentWidget()
        labels = [] if around is None else [one for one in around.findChildren(Label) if one.buddy() is field]
        for widget in (field, *labels):
            widget.setVisible(on)

    @staticmethod
    def list_names(box: QComboBox, names: list[str]) -> None:
        """Show other names in a list; what came last is what the hand wants to change next."""
        here = box.currentIndex()
        if [box.itemText(k) for k in range(box.count())] == names:
            return
        more = len(names) > box.count()
        box.clear()
        box.addItems(names)
        box.setCurrentIndex(len(names) - 1 if more else min(max(here, 0), len(names) - 1))

    def waiting_length(self, grid: QGridLayout, words: str, tip: str, first: float) -> ValueField:
        """Add a field for a length that waits until it is used, and show a first one, mm."""
        field = LengthField(words, lambda: self.session.document, (0.0, 1e6))
        made = self.field(grid, words, field, tip, lambda _: None)
        made.show_value(first)
        return made

    def waiting_count(self, grid: QGridLayout, words: str, most: int) -> QSpinBox:
        """Add a field for a count that waits until it is used."""
        box = QSpinBox()
        box.setRange(0, most)
        box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        box.setAccessibleName(words)
        label = Label(words)
        label.setBuddy(box)
        row = grid.rowCount()
        grid.addWidget(label, row, 0)
        grid.addWidget(box, row, 1)
        return box

    def button(self, words: str, tip: str, act: Callable[[], object] | None = None) -> WordButton:
        """Add a button of words; whoever gives it nothing to do says what it does."""
        button = word_button(words, "deed", tip)
        if act is not None:
            button.clicked.connect(lambda: act())
        self.column.addWidget(button)
        return button

    def beside(self, *buttons: QWidget) -> None:
        """Lay buttons beside each other, as many as have room in a line, where the last of them lies."""
        line = QWidget()
        flow = Flow(line, 4)
        for button in buttons:
            flow.addWidget(button)
        self.column.addWidget(line)

    def menu(self, words: str, tip: str, fill: Callable[[QMenu], None] | None = None) -> QMenu:
        """Add a button of words that opens a menu below it; ``fill`` fills the menu anew each time it opens."""
        button = word_button(f"{words}\t▾", "deed", tip)
        menu = QMenu(button)
        if fill is not None:

            def refilled() -> None:
                menu.clear()
                fill(menu)

            menu.aboutToShow.connect(refilled)
        button.clicked.connect(lambda: menu.popup(button.mapToGlobal(button.rect().bottomLeft())))
        self.column.addWidget(button)
        return menu


class LazySection(Section):
    """A section whose contents are made when it is first opened: a window opens without waiting for them."""

    def __init__(self, session: Session, words: str, tip: str, make: Callable[[], Section]) -> None:
        super().__init__(session, words, tip)
        self._make = make
        self._made: Section | None = None
        self.column.setContentsMargins(0, 0, 0, 0)

    @property
    def place(self) -> Section:
        """The contents, made now if they are not there yet."""
        if self._made is None:
            self._made = self._make()
            self.shows = self._made.shows
            self.column.addWidget(self._made)
            self._made.setVisible(True)
        return self._made

    def show_open(self, on: bool) -> None:
        """Open or close it."""
        if on:
            _ = self.place
        super().show_open(on)

    def refresh(self) -> None:
        """Show the document in the contents."""
        self.place.refresh()


class Sections(QWidget):
    """The heads of sections, and under them what is open, which scrolls where it is long.

    Signal: ``opened`` with the one that is open, or None.
    """

    opened = pyqtSignal(object)

    def __init__(self, session: Session, sections: list[Section]) -> None:
        super().__init__()
        self.all = sections
        self.in_use: Section | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        heads, place = QWidget(), QWidget()
        flow, column = Flow(heads), QVBoxLayout(place)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for section in sections:
            section.head.clicked.connect(lambda on, s=section: self.open(s if on else None))
            flow.addWidget(section.head)
            column.addWidget(section)
        column.addStretch(1)
        self._place = SteadyScroll(place)
        layout.addWidget(heads)
        layout.addWidget(self._place, 1)
        for signal in (session.document_changed, session.previewed_calmly, session.selection_changed):
            signal.connect(self.refresh)
        self.open(sections[0])

    def open(self, chosen: Section | None) -> None:
        """Open one section and close the others, but not the one whose tool is in use."""
        if chosen is None and self.in_use is not None and not self.in_use.head.isChecked():
            self.in_use = None  # its own head was clicked
        shown = [section for section in self.all if section in (chosen, self.in_use)]
        for section in self.all:
            section.title.setVisible(len(shown) > 1)
            section.show_open(section in shown)
        if chosen is not None:
            self._place.bring(chosen)
        self.opened.emit(chosen)

    def use(self, tool: str) -> None:
        """Open the section of a tool that is taken up at the top, and keep it open while it is in hand."""
        self.in_use = next((section for section in self.all if tool in section.tool_names), None)
        if self.in_use is not None:
            self.open(self.in_use)

    def open_laid(self) -> None:
        """Open the section with the fields of what has just been laid, if there is one."""
        found = next((section for section in self.all if section.lists_laid), None)
        if found is not None:
            self.open(found)

    @property
    def chosen(self) -> Section | None:
        """The section that is open."""
        return next((section for section in self.all if section.head.isChecked()), None)

    def refresh(self) -> None:
        """Show the document in the section that is open."""
        for section in self.all:
            if section.head.isChecked():
                section.refresh()
