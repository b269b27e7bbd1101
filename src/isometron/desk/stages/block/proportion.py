"""The Proportion section: what drives the sizes of a volume, its ratio, named lengths, and targets with what they lack."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from isometron.desk.controls.fields import plain_line
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label, Wrapped, word_button
from isometron.desk.frame.session import Session
from isometron.document.lengths.expressions import slug
from isometron.document.lengths.proportion import (
    RATIOS,
    add_target,
    drive,
    driven_text,
    in_modules,
    keep_ratio,
    parse_ratio,
    remove_length,
    remove_target,
    set_length,
    set_module,
)
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.targets import Met, mended, mending, targets_met
from isometron.document.lengths.units import format_length, format_number
from isometron.errors import IsometronError
from isometron.wording import mark, tr

__all__ = ["Proportion"]

_RATIO_WORDS = (
    mark("cube"), mark("square in plan"), mark("golden, long to wide"), mark("golden, long to high"), mark("1 : root 2"),
    mark("3 : 2"), mark("2 : 1"),
)  # fmt: skip
_DRIVES = ("long", "wide", "high", "pitch")


class Proportion(Section):
    """Everything that makes proportion something the document means."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Proportion"), tr("Modules, ratios, expressions, what is meant"))
        self._told = self.words()
        self._ratio_rows()
        self._drive_rows()
        self._heads()
        self._length_rows()
        self._target_rows()

    def _heading(self, words: str) -> None:
        label = Label(words)
        label.setObjectName("heading")
        self.column.addWidget(label)

    def _ratio_rows(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(6)
        self.ratio = plain_line(tr("Ratio long : wide : high"), "2 : 1 : 0.8")
        self.ratio.setToolTip(
            tr("long : wide : high; a part left out is free. One new number changes that one size.")
        )
        self.ratio.returnPressed.connect(self._take_ratio)
        self.lock = QCheckBox(tr("keep"))
        self.lock.setToolTip(tr("Changing one size changes the others with it"))
        self.lock.clicked.connect(self._lock)
        row.addWidget(self.ratio, 1)
        row.addWidget(self.lock)
        self.column.addLayout(row)
        self.presets = self.menu(tr("Take a ratio"), tr("The other sizes follow the first"))
        for name in RATIOS:
            self.presets.addAction(tr(name), partial(self._preset, name))

    def _drive_rows(self) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(1, 1)
        self.drives: dict[str, QLineEdit] = {}
        words = {"long": tr("long ="), "wide": tr("wide ="), "high": tr("high ="), "pitch": tr("pitch =")}
        self._drive_labels = {}
        for number, name in enumerate(_DRIVES):
            line = plain_line(tr("What drives {size}", size=words[name]), tr("2.5 wheel"))
            line.setToolTip(
                tr("An expression such as 2.5 wheel, cart.long - 2*150 or wheelbase/3; empty sets it free")
            )
            line.returnPressed.connect(partial(self._drive, name))
            label = Label(words[name])
            label.setBuddy(line)
            grid.addWidget(label, number, 0)
            grid.addWidget(line, number, 1)
            self.drives[name], self._drive_labels[name] = line, label
        self.column.addLayout(grid)

    def _heads(self) -> None:
        self._modules = QComboBox()
        self._modules.setAccessibleName(tr("Module"))
        self._modules.setToolTip(tr("The part that is taken as the unit of proportion"))
        self._modules.activated.connect(lambda index: self._attempt(set_module, self._modules.itemData(index)))
        self.column.addWidget(self._modules)

    def _length_rows(self) -> None:
        self._heading(tr("Lengths with a name"))
        self._lengths = QVBoxLayout()
        self._lengths.setSpacing(2)
        self.column.addLayout(self._lengths)
        self.length = plain_line(tr("A length with a name"), tr("wheelbase = 3 wheel"))
        self.length.returnPressed.connect(self._take_length)
        self.column.addWidget(self.length)

    def _target_rows(self) -> None:
        self._heading(tr("Meant against drawn"))
        self._targets = QVBoxLayout()
        self._targets.setSpacing(4)
        self.column.addLayout(self._targets)
        self.target = plain_line(tr("What is meant"), tr("wheel.pitch = 3 wheel"))
        self.target.setToolTip(tr("Two expressions with =, < or > between them"))
        self.target.returnPressed.connect(self._take_target)
        self.column.addWidget(self.target)

    # --- taking ---------------------------------------------------------------------------------------------------

    def _attempt(self, edit_of, *arguments, **fields) -> bool:
        taken = self.session.attempt(edit_of, *arguments, **fields)
        self.refresh()
        return taken

    def _take_ratio(self) -> None:
        volume = self.session.active_volume
        if volume is None or not self.ratio.isModified():
            return  # what is shown is rounded: taking it would change the sizes
        try:
            parts = parse_ratio(self.ratio.text())
        except IsometronError as error:
            self.session.say(str(error), caution=True)
            return
        self._attempt(keep_ratio, volume.id, parts, lock=self.lock.isChecked())

    def _lock(self, on: bool) -> None:
        volume = self.session.active_volume
        if volume is not None:
            parts = (volume.size[0] / volume.size[1], 1.0, volume.size[2] / volume.size[1]) if on else None
            self._attempt(keep_ratio, volume.id, parts)

    def _preset(self, name: str) -> None:
        volume = self.session.active_volume
        if volume is not None:
            self._attempt(keep_ratio, volume.id, RATIOS[name])

    def _drive(self, name: str) -> None:
        volume = self.session.active_volume
        if volume is not None and self.drives[name].isModified():
            self._attempt(drive, volume.id, name, self.drives[name].text())

    def _take_length(self) -> None:
        name, _, text = self.length.text().partition("=")
        if not text.strip():
            self.session.say(tr("Write a name, = and a length: wheelbase = 3 wheel."), caution=True)
        elif self._attempt(set_length, name.strip(), text):
            self.length.clear()

    def _take_target(self) -> None:
        if self._attempt(add_target, self.target.text()):
            self.target.clear()

    # --- showing --------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show what is meant."""
        document, volume = self.session.document, self.session.active_volume
        for widget in (self.ratio, self.lock, *self.drives.values()):
            widget.setEnabled(volume is not None)
        if volume is None:
            self._told.setText(tr("Select a volume."))
        else:
            self._told.setText(f"{volume.name}: {in_modules(document, volume)}")
        self._show_ratio(volume)
        for name, line in self.drives.items():
            if not (line.hasFocus() and line.isModified()):
                line.setText("" if volume is None else driven_text(volume, name))
                line.setModified(False)
        in_row = volume is not None and bool(volume.copies)
        for widget in (self.drives["pitch"], self._drive_labels["pitch"]):
            widget.setVisible(in_row)
        self._show_modules()
        self._show_lengths()
        self._show_targets()

    def _show_ratio(self, volume) -> None:
        self.lock.setChecked(volume is not None and volume.keep is not None)
        if volume is None:
            self.ratio.setText("")
        elif not (self.ratio.hasFocus() and self.ratio.isModified()):
            parts = volume.keep.parts if volume.keep is not None else [s / volume.size[1] for s in volume.size]
            self.ratio.setText(" : ".join(format_number(p, 3) if p else "–" for p in parts))
            self.ratio.setModified(False)

    def _show_modules(self) -> None:
        document = self.session.document
        names = [v.name for v in document.volumes[:60]] + [length.name for length in document.lengths]
        self._modules.clear()
        self._modules.addItem(tr("no module"), "")
        for name in names:
            self._modules.addItem(tr("module: {name}", name=name), name)
        sizes = Sizes(document.volumes, document.lengths)
        here = 0
        for index, name in enumerate(names, start=1):
            if document.module and sizes.known(document.module) and _same(name, document.module):
                here = index
        self._modules.setCurrentIndex(here)

    def _show_lengths(self) -> None:
        document = self.session.document
        _clear(self._lengths)
        sizes = Sizes(document.volumes, document.lengths)
        for length in document.lengths:
            try:
                value = format_length(round(sizes.value(length.name, length.unit), 3), document.unit)
            except IsometronError as error:
                value = f"⚠ {error}"
            words = tr("{name} = {text}: {value}", name=length.name, text=length.text, value=value)
            self._lengths.addWidget(
                _line(words, [(tr("✕"), tr("Take it away"), partial(self._attempt, remove_length, length.name))])
            )

    def _show_targets(self) -> None:
        document = self.session.document
        _clear(self._targets)
        for row, (target, found) in enumerate(zip(document.targets, targets_met(document), strict=True)):
            deeds = [(tr("✕"), tr("Drop this target"), partial(self._attempt, remove_target, row))]
            if isinstance(found, Met) and not found.is_met and mending(document, target) is not None:
                deeds.insert(
                    0, (tr("Mend"), tr("The smallest change that meets it"), partial(self._attempt, mended, target))
                )
            self._targets.addWidget(_line(self._target_words(target.text, found), deeds))

    def _target_words(self, text: str, found: Met | str) -> str:
        document = self.session.document
        if isinstance(found, str):
            return f"⚠ {text}: {found}"
        drawn, meant = (format_length(round(v, 2), document.unit) for v in (found.drawn, found.meant))
        if found.is_met:
            return tr("✓ {text}: {drawn}", text=text, drawn=drawn)
        words = tr("⚠ {text}: drawn {drawn}, meant {meant}", text=text, drawn=drawn, meant=meant)
        least = mending(document, found.target)
        if least is not None:
            words += tr(". Smallest change: {what} of {volume} to {new}", what=least.drives, volume=least.name,
                        new=format_length(round(least.new, 2), document.unit))  # fmt: skip
        return words


def _same(name: str, other: str) -> bool:
    return slug(name) == slug(other)


def _line(words: str, deeds) -> QWidget:
    """Return words with a small button at their right, or with several below them."""
    line = QWidget()
    layout = QGridLayout(line)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(4)
    layout.setColumnStretch(0, 1)
    label = Wrapped()
    label.setText(words)
    below = len(deeds) > 1
    layout.addWidget(label, 0, 0, 1, len(deeds) + 1 if below else 1)
    for column, (text, tip, act) in enumerate(deeds, start=1):
        button = word_button(text, "word", tip)
        button.clicked.connect(lambda _, a=act: a())
        layout.addWidget(button, int(below), column)
    return line


def _clear(layout: QVBoxLayout) -> None:
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
