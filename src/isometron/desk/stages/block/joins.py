"""What the selected volumes go along with: joined, grouped, mirrored."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QMenu

from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.joining import change_hold, group, join, mirror, pull_apart, ungroup
from isometron.document.joins import join_words
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Hold
from isometron.wording import tr

__all__ = ["Joins"]


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
