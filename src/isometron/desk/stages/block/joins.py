"""What the selected volumes go along with: joined, grouped, mirrored."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QMenu

from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.offered import offer, picture_tip
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.joining import (
    both_of_a_pair,
    change_hold,
    group,
    hold_words,
    join_all,
    mirror,
    pull_apart,
    type_hold,
    ungroup,
)
from isometron.document.joins import HeldBy, join_words
from isometron.document.model import Document
from isometron.document.shapes.at_corners import stand_at_four
from isometron.solve.seen_ways import seen_way
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import side_names
from isometron.volumes.relations import Direction, Hold, How
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Joins"]


_MOST_OTHERS = 60


_ACROSS: tuple[Direction, ...] = ("wide", "long")


class Joins(Section):
    """What the selected volumes go along with: joined, grouped, mirrored."""

    def __init__(self, session: Session, carry) -> None:
        super().__init__(session, tr("Join, mirror"), tr("What is joined to what"))
        self._said = self.words(quiet=False)
        self.others = self.menu(
            tr("Join it, as it lies, to"), tr("From now on it moves with that volume"), self._fill_others
        )
        self.planes = self.menu(
            tr("Mirror it about"), tr("A linked mirror image: one set of numbers, drawn twice"), self._fill_planes
        )
        carried = self.button(
            tr("Carry to a face\tJ"),
            tr("Drag it to a face of another volume; the relation is told before it is let go"),
            carry,
        )
        apart = self.button(tr("Pull apart"), tr("It stays where it is and is joined to nothing"),
                            lambda: session.attempt(pull_apart, session.selection))  # fmt: skip
        grouped = self.button(
            tr("Group\tCtrl+G"),
            tr("Selected together from now on"),
            lambda: session.attempt(group, session.selection),
        )
        parted = self.button(
            tr("Ungroup"), tr("Selected one by one again"), lambda: session.attempt(ungroup, session.selection)
        )
        self.alike = self.button(
            tr("Both alike"),
            tr("Of two selected: the second becomes the mirror image of the first, one set of numbers from now on"),
            lambda: session.attempt(both_of_a_pair, session.selection),
        )
        self.beside(carried, apart, self.alike, grouped, parted)
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)

    def _fill_others(self, menu: QMenu) -> None:
        for other in self._others():
            offer(menu, other.name, self.session, join_all, self.session.selection, other.id)
        if menu.isEmpty():
            menu.addSection(tr("nothing to join to"))

    def _fill_planes(self, menu: QMenu) -> None:
        def mirrored(words: str, about: str | None, across: str) -> None:
            offer(menu, words, self.session, mirror, self.session.selection, about, across)

        for other in self._others():
            for across in _ACROSS:
                way = self._image_lies(other, across)
                mirrored(tr("middle of {name}: image {way}", name=other.name, way=way), other.id, across)
            words = tr("middle of {name}, both ways: four in all", name=other.name)
            offer(menu, words, self.session, stand_at_four, self.session.selection, other.id)
        mirrored(tr("the world's x = 0"), "", "long")
        mirrored(tr("the world's y = 0"), "", "wide")
        volume = self.session.active_volume
        if volume is not None and volume.mirror is not None:
            menu.addSeparator()
            mirrored(tr("no mirror image"), None, "wide")

    def _image_lies(self, other: AnyVolume, across: Direction) -> str:
        """Say where on the sheet the mirror image of the selected volume comes to lie, seen from it."""
        volume = self.session.active_volume
        assert volume is not None
        middle, rotation = box_corners([other])[0][0].mean(axis=0), box_corners([other])[1][0]
        mine, way = box_corners([volume])[0][0].mean(axis=0), rotation[:, DIRECTIONS.index(across)]
        return seen_way(self.session.document.eye, mine, float((middle - mine) @ way) * way)

    def _others(self) -> list[AnyVolume]:
        """The volumes that the selected one can go along with; a menu of more than these is no menu."""
        volume = self.session.active_volume
        if volume is None:
            return []
        return [v for v in self.session.document.volumes if v.id != volume.id][:_MOST_OTHERS]

    def refresh(self) -> None:
        """Show what the selected volume goes along with."""
        volume = self.session.active_volume
        self.alike.setEnabled(len(self.session.selection) == 2)
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
        document = self.session.document
        if volume.joined is None or document.index_of(volume.joined.to) is None:
            return None, []
        parent, rows = document.volume(volume.joined.to), []
        for axis, hold in enumerate(volume.joined.holds):
            start, end = side_names(parent, axis)
            way = tr("{start} to {end}", start=start, end=end)
            rows += [
                Row(way, picture_tip(tr("How it is held along this direction of the other volume; changing it moves nothing"), f"hold-{hold.how}"),
                    "choice", partial(_how, hold), partial(_hold_how, volume.id, axis), _choices(way, start, end)),
                Row(tr("by"), tr("A length, an expression such as wheel / 2, or 40 % for a share; 0 is flush"), "text",
                    partial(hold_words, hold, document), partial(_hold_by, volume.id, axis)),
            ]  # fmt: skip
        return (volume.id, "holds", parent.id, parent.ahead), rows


def _choices(way: str, start: str, end: str) -> list[tuple[str, tuple[str, str]]]:
    """Return words and values of the ways a volume is held along a direction of the other one, from its own sides."""
    said = [
        (tr("its middle at a share"), ("share", "edge")),
        (tr("its middle off the middle"), ("middle", "edge")),
        (tr("its edge inside the {face}", face=start), ("start", "edge")),
        (tr("its edge inside the {face}", face=end), ("end", "edge")),
        (tr("its middle inside the {face}", face=start), ("start", "middle")),
        (tr("its middle inside the {face}", face=end), ("end", "middle")),
        (tr("outside the {face}", face=start), ("before", "edge")),
        (tr("outside the {face}", face=end), ("after", "edge")),
    ]
    return [(tr("{way}: {hold}", way=way, hold=words), value) for words, value in said]


def _how(hold: Hold) -> tuple[str, str]:
    return hold.how, hold.to if hold.how in ("start", "end") else "edge"


def _hold_how(volume_id: str, axis: int, document: Document, how: tuple[How, HeldBy]) -> Edit:
    return change_hold(document, volume_id, axis, *how)


def _hold_by(volume_id: str, axis: int, document: Document, text: str) -> Edit:
    return type_hold(document, volume_id, axis, text)
