"""The marks laid on the selected volume: listed, changed, taken off."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.field_rows import FieldRows
from isometron.desk.controls.mark_rows import MarkRows, mark_words
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.marks.dividing import lay_mark, remove_mark
from isometron.document.marks.splitting import can_split, split_mark
from isometron.wording import tr

__all__ = ["Marks"]


class Marks(Section):
    """The marks laid on the selected volume: listed, changed, taken off."""

    lists_laid = True

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Marks"), tr("Divisions, rings, arches and lines laid on the volume"))
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Marks on the selected volume"))
        self.names.activated.connect(lambda _: self._show())
        self.column.addWidget(self.names)
        off = self.button(tr("Take it off"), tr("The chosen mark"), self._off)
        again = self.button(tr("Once more"), tr("A copy of the mark in the same place, to be moved"), self._again)
        self.parted = self.button(
            tr("One by one"),
            tr("Each of its row, and its mirror image, becomes a line of its own in the list"),
            self._part,
        )
        self.beside(off, again, self.parted)
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)

    def _off(self) -> None:
        volume = self.session.active_volume
        if volume is not None and self.names.currentIndex() >= 0 and volume.marks:
            self.session.attempt(remove_mark, volume.id, self.names.currentIndex())
        self.refresh()

    def _part(self) -> None:
        volume = self.session.active_volume
        if volume is not None:
            self.session.attempt(split_mark, volume.id, self.names.currentIndex())
        self.refresh()

    def _again(self) -> None:
        volume = self.session.active_volume
        if volume is not None and volume.marks and self.names.currentIndex() >= 0:
            self.session.attempt(lay_mark, volume.id, volume.marks[self.names.currentIndex()])
        self.refresh()

    def refresh(self) -> None:
        """List the selected volume's marks."""
        volume = self.session.active_volume
        marks = () if volume is None else volume.marks
        names = [mark_words(volume, m, self.session.document) for m in marks] if volume is not None else []
        self.list_names(self.names, _told_apart(names))
        self.names.setEnabled(bool(names))
        self._show()

    def _show(self) -> None:
        volume, number = self.session.active_volume, self.names.currentIndex()
        self.parted.setVisible(volume is not None and can_split(volume, number))
        if volume is None or not 0 <= number < len(volume.marks):
            self.rows.show_rows(None, [])
            return
        chosen = volume.marks[number]
        document = self.session.document
        rows = MarkRows(document, volume, number).rows()
        key = (
            volume.id,
            number,
            type(chosen).__name__,
            getattr(chosen, "form", ""),
            volume.ahead,
            tuple(each.id for each in document.volumes),
        )
        self.rows.show_rows(key, rows)


def _told_apart(names: list[str]) -> list[str]:
    """Return names of which no two are alike: those that are get a number."""
    alike = {name for name in names if names.count(name) > 1}
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append(f"{name} · {seen[name]}" if name in alike else name)
    return found
