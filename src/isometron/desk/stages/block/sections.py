"""Sections of the Block stage that are made when they are first opened: shapes, joins, starters."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtWidgets import QComboBox, QLineEdit, QMenu

from isometron.desk.cards.squared_card import SquaredCard
from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import counted, shape_rows
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.edits import change_volume
from isometron.document.joining import change_hold, group, join, mirror, pull_apart, ungroup
from isometron.document.joins import join_words
from isometron.document.shaping import SHAPES, make_shape
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.prism import Counted
from isometron.volumes.relations import Hold
from isometron.wording import tr

__all__ = ["Joins", "Shapes", "Starting", "plain_line"]


class Shapes(Section):
    """Other shapes inside the bounding volume, and the numbers of the one it has."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Shape"), tr("Tapered, chamfered, counted off, framed"))
        self.names = self.menu(tr("Make it"), tr("Another shape inside the same bounding volume"))
        for name in SHAPES:
            self.names.addAction(tr(name), partial(self._make, name))
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.card = SquaredCard(session)
        self.column.addWidget(self.card)
        self.squares = FieldRows(session)
        self.column.addWidget(self.squares)
        self._hint = self.words()

    def _make(self, name: str) -> None:
        self.session.attempt(make_shape, self.session.selection, name)
        self.refresh()

    def refresh(self) -> None:
        """Show what the selected volume's shape is made by."""
        volume = self.session.active_volume
        self.rows.show_rows(*shape_rows(volume))
        card = counted(volume)
        self.card.setVisible(card is not None)
        self.card.update()
        self.squares.show_rows(*self._square_rows())
        hint = tr("Select a volume.") if volume is None else ""
        if volume is not None and volume.__struct_config__.tag == "tapered":
            hint = tr("Or pull the upper edges of its sides on the board.")
        self._hint.setText(hint)
        self._hint.setVisible(bool(hint))

    def _square_rows(self) -> tuple[object, list[Row]]:
        volume = counted(self.session.active_volume)
        if volume is None or not isinstance(volume.section, Counted):
            return None, []
        section = volume.section

        def write(name: str, document, value):
            return change_volume(
                document,
                volume.id,
                tr("count off"),
                section=msgspec.structs.replace(section, **{name: max(int(value), 1)}),
            )

        return (volume.id, "squares"), [
            Row(tr("units across"), tr("Squares of the card across"), "count", lambda: section.columns, partial(write, "columns")),
            Row(tr("units up"), tr("Squares of the card upward"), "count", lambda: section.rows, partial(write, "rows")),
        ]  # fmt: skip


_MOST_OTHERS = 60

_HOLDS = {
    "start": tr("from its start"),
    "middle": tr("centred"),
    "end": tr("from its end"),
    "before": tr("before it"),
    "after": tr("beyond it"),
}


class Joins(Section):
    """What the selected volumes go along with: joined, grouped, mirrored."""

    def __init__(self, session: Session, carry) -> None:
        super().__init__(session, tr("Join, group, mirror"), tr("What is joined to what"))
        self._said = self.words(quiet=False)
        self.others = self.menu(
            tr("Join it, as it lies, to"), tr("From now on it moves with that volume"), self._fill_others
        )
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.button(
            tr("Carry to a face\tJ"),
            tr("Drag it to a face of another volume; the relation is told before it is let go"),
            carry,
        )
        self.button(tr("Pull apart"), tr("It stays where it is and is joined to nothing"),
                    lambda: session.attempt(pull_apart, session.selection))  # fmt: skip
        self.button(
            tr("Group\tCtrl+G"),
            tr("Selected together from now on"),
            lambda: session.attempt(group, session.selection),
        )
        self.button(
            tr("Ungroup"), tr("Selected one by one again"), lambda: session.attempt(ungroup, session.selection)
        )
        self.planes = self.menu(
            tr("Mirror it about"), tr("A linked mirror image: one set of numbers, drawn twice"), self._fill_planes
        )

    def _fill_others(self, menu: QMenu) -> None:
        volume = self.session.active_volume
        for other in self._others():
            act = partial(self.session.attempt, join, "" if volume is None else volume.id, other.id)
            menu.addAction(other.name, act)
        if menu.isEmpty():
            menu.addSection(tr("nothing to join to"))

    def _fill_planes(self, menu: QMenu) -> None:
        def offer(words: str, about: str | None, across: str) -> None:
            menu.addAction(words, partial(self.session.attempt, mirror, self.session.selection, about, across))

        for other in self._others():
            for words, across in ((tr("across"), "wide"), (tr("lengthwise"), "long")):
                offer(tr("middle of {name}, {way}", name=other.name, way=words), other.id, across)
        offer(tr("the world's x = 0"), "", "long")
        offer(tr("the world's y = 0"), "", "wide")
        volume = self.session.active_volume
        if volume is not None and volume.mirror is not None:
            menu.addSeparator()
            offer(tr("no mirror image"), None, "wide")

    def _others(self) -> list[AnyVolume]:
        """The volumes that the selected one can go along with; a menu of more than these is no menu."""
        volume = self.session.active_volume
        if volume is None:
            return []
        return [v for v in self.session.document.volumes if v.id != volume.id][:_MOST_OTHERS]

    def refresh(self) -> None:
        """Show what the selected volume goes along with."""
        volume = self.session.active_volume
        if volume is None:
            self._said.setText(tr("Select a volume."))
            self.rows.show_rows(None, [])
            return
        self._said.setText(self._words(volume))
        self.rows.show_rows(*self._hold_rows(volume))

    def _words(self, volume: AnyVolume) -> str:
        document = self.session.document
        said = []
        if volume.joined is not None and document.index_of(volume.joined.to) is not None:
            said.append(
                f"{volume.name} {join_words(volume.joined, document.volume(volume.joined.to), document.unit)}."
            )
        if volume.group:
            count = sum(v.group == volume.group for v in document.volumes)
            said.append(tr("In a group of {count}.", count=count))
        if volume.mirror is not None:
            name = document.volume(volume.mirror.about).name if volume.mirror.about else tr("the world's plane")
            said.append(tr("Mirrored about {name}: the near side edits the far side.", name=name))
        return " ".join(said) or tr("{name} goes along with nothing.", name=volume.name)

    def _hold_rows(self, volume: AnyVolume) -> tuple[object, list[Row]]:
        if volume.joined is None:
            return None, []
        rows = []
        ways = (tr("lengthwise"), tr("crosswise"), tr("in height"))
        for axis, hold in enumerate(volume.joined.holds):
            choices = [(f"{ways[axis]}: {words}", how) for how, words in _HOLDS.items()]
            rows.append(
                Row(ways[axis], tr("How it is held along this direction of the other volume"), "choice",
                    partial(_how, hold), partial(_hold_how, volume.id, axis), choices)
            )  # fmt: skip
            rows.append(
                Row(tr("by"), tr("Inset, gap, or off the middle"), "any length", partial(_by, hold),
                    partial(_hold_by, volume.id, axis))
            )  # fmt: skip
        return (volume.id, "holds"), rows


def _how(hold: Hold) -> str:
    return hold.how


def _by(hold: Hold) -> float:
    return hold.by


def _hold_how(volume_id: str, axis: int, document, how):
    return change_hold(document, volume_id, axis, how)


def _hold_by(volume_id: str, axis: int, document, by):
    joined = document.volume(volume_id).joined
    return change_hold(document, volume_id, axis, joined.holds[axis].how, by)


class Starting(Section):
    """Starters: frameworks to begin with, sized by their module."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Starters"), tr("Frameworks to begin with, to be changed"))
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Starter"))
        for name, starter in STARTERS.items():
            self.names.addItem(tr(starter.title), name)
        self.names.setMaxVisibleItems(20)
        self.names.currentIndexChanged.connect(lambda _: self._module_of())
        self.column.addWidget(self.names)
        grid = self.grid()
        self._label = Label()
        self.module = LengthField(tr("Module of the starter"), lambda: session.document.unit, (1.0, 1e5))
        self._label.setBuddy(self.module)
        row = grid.rowCount()
        grid.addWidget(self._label, row, 0)
        grid.addWidget(self.module, row, 1)
        self.module.refused.connect(lambda words: session.say(words, caution=True))
        self.lay = self.button(tr("Lay it on the sheet"), tr("In the middle, or beside what is there"), self._lay)
        self.words().setText(tr("Its sizes follow the module; change any of them afterwards."))
        self._module_of()

    def _module_of(self) -> None:
        starter = STARTERS[self.names.currentData()]
        self._label.setText(tr(starter.module))
        self.module.show_value(starter.usual)

    def _lay(self) -> None:
        self.module.take()
        self.session.attempt(lay_starter, self.names.currentData(), self.module.value)

    def refresh(self) -> None:
        """Show the module in the document's unit."""
        self.module.show_value(self.module.value)


def plain_line(name: str, hint: str) -> QLineEdit:
    """Return a line for an expression, with a hint of what may stand there."""
    line = QLineEdit()
    line.setAccessibleName(name)
    line.setPlaceholderText(hint)
    return line
