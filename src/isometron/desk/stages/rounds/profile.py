"""The profile as a small table: how far along the axle, diameter, and how the side runs on."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
)

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.cards.profile_card import ProfileCard
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import word_button
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import px
from isometron.desk.stages.rounds.active import active_round
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import LengthError, format_length
from isometron.document.model import DocumentError
from isometron.document.shapes.profile_svg import profile_from_svg
from isometron.document.shapes.rounding import (
    change_round,
    profile_from_csv,
    profile_to_csv,
)
from isometron.document.store.disk import read_text, shown_name
from isometron.errors import IsometronError
from isometron.home import home
from isometron.volumes.profile import width_at
from isometron.volumes.turned import ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import mark, tr

__all__ = ["ProfileSection"]


_THEN_WORDS = (mark("straight"), mark("round"), mark("smooth"))


_THENS: tuple[Literal["straight", "round", "smooth"], ...] = ("straight", "round", "smooth")


def _whole(volume: Turned, column: int) -> float:
    """Return what a column of the table is a part of, mm: the length along the axle, or the greatest diameter."""
    k = DIRECTIONS.index(volume.axle)
    return volume.size[k] if column == 0 else max(volume.size[(k + 1) % 3], volume.size[(k + 2) % 3])


class ProfileSection(Section):
    """The profile as a small table: how far along the axle, diameter, and how the side runs on."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Profile"), tr("Rings along the axle, and how the side runs between them"))
        self._hint = self.words()
        self.card = ProfileCard(session)
        self.column.addWidget(self.card)
        self.table = QTableWidget(0, 3)
        self.table.setAccessibleName(tr("Profile of the round volume"))
        self.table.setHorizontalHeaderLabels([tr("along"), tr("diameter"), tr("then")])
        header, rows = self.table.horizontalHeader(), self.table.verticalHeader()
        assert header is not None and rows is not None
        for column, wide in ((0, 50), (1, 64)):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
            self.table.setColumnWidth(column, px(wide))
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        rows.hide()
        rows.setDefaultSectionSize(px(26))
        self.table.setMinimumHeight(px(150))
        self.table.itemChanged.connect(self._edited)
        self.column.addWidget(self.table)
        row = QHBoxLayout()
        for words, tip, act in (
            (tr("Add"), tr("A ring in the middle of the widest gap"), self._add),
            (tr("Remove"), tr("The ring of the chosen row"), self._remove),
        ):
            button = word_button(words, "deed", tip)
            button.clicked.connect(act)
            row.addWidget(button)
        self.column.addLayout(row)
        self.button(
            tr("From CSV or SVG…"), tr("Rows of height and diameter, or a path of half the side view"), self._import
        )
        self.button(tr("To CSV…"), tr("Heights and diameters in mm"), self._export)
        self._filling = False

    def _put(self, rings: list[ProfileRing]) -> None:
        volume = active_round(self.session)
        if volume is not None:
            ordered = tuple(sorted(rings, key=lambda ring: ring.at))
            self.session.attempt(change_round, volume.id, tr("change the profile of"), profile=ordered)
        self.refresh()

    def _edited(self, item: QTableWidgetItem) -> None:
        volume = active_round(self.session)
        if self._filling or volume is None:
            return
        rings, row, column = list(volume.profile), item.row(), item.column()
        ring = rings[row]
        try:
            part = self._part(item.text(), volume, column)
        except LengthError as error:
            self.session.say(str(error), caution=True)
            self.refresh()
            return
        at, wide = (part, ring.wide) if column == 0 else (ring.at, part)
        changed = rings[row] = ProfileRing(at=at, wide=wide, then=ring.then)
        self._put(rings)
        # The hand goes along with its ring where that passes another.
        now = active_round(self.session)
        if now is not None and changed in now.profile:
            self.table.setCurrentCell(now.profile.index(changed), column)

    def _part(self, text: str, volume: Turned, column: int) -> float:
        """Return what is typed, a length or a share such as 40 %, as a part of the whole."""
        whole = _whole(volume, column)
        return read_length(text, self.session.document, whole) / whole

    def _run_on(self, row: int, then: Literal["straight", "round", "smooth"]) -> None:
        volume = active_round(self.session)
        if volume is not None:
            rings = list(volume.profile)
            rings[row] = ProfileRing(at=rings[row].at, wide=rings[row].wide, then=then)
            self._put(rings)

    def _add(self) -> None:
        volume = active_round(self.session)
        if volume is not None:
            rings = list(volume.profile)
            k = max(range(len(rings) - 1), key=lambda n: rings[n + 1].at - rings[n].at)
            one, two = rings[k], rings[k + 1]
            at = (one.at + two.at) / 2
            rings.append(ProfileRing(at=at, wide=width_at(volume.profile, at), then=one.then))
            self._put(rings)

    def _remove(self) -> None:
        volume, row = active_round(self.session), self.table.currentRow()
        if volume is not None and 0 <= row < len(volume.profile):
            if len(volume.profile) == 2:
                self.session.say(tr("A profile needs two rings."), caution=True)
            else:
                self._put([ring for k, ring in enumerate(volume.profile) if k != row])

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Profile"), str(home()), tr("Profile (*.csv *.svg)"))
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take the profile of a CSV or SVG file; what is wrong is said with its place."""
        volume = active_round(self.session)
        try:
            if volume is None:
                raise DocumentError(tr("Select a round volume first."))
            if path.suffix.lower() == ".svg":
                self._put(list(profile_from_svg(path)))
            else:
                self._put(list(profile_from_csv(read_text(path))))
        except IsometronError as error:
            self.session.say(f"{shown_name(path.name)}: {error}", caution=True)

    def _export(self) -> None:
        volume = active_round(self.session)
        if volume is None:
            self.session.say(tr("Select a round volume first."), caution=True)
            return
        path = ask_path(self, tr("Profile"), home(), volume.name, ".csv", tr("Profile (*.csv)"))
        if path is not None:
            self.session.hand_out(path, lambda _, say: profile_to_csv(volume).encode())

    def refresh(self) -> None:
        """Show the selected round's profile."""
        volume = active_round(self.session)
        self._hint.setText(
            tr("Select a round volume.")
            if volume is None
            else tr(
                "{volume}: {unit} along the axle, and across; 40 % for a share.",
                volume=volume.name,
                unit=self.session.document.unit,
            )
        )
        self._filling = True
        rings = () if volume is None else volume.profile
        self.table.setRowCount(len(rings))
        for row, ring in enumerate(rings):
            for column, part in enumerate((ring.at, ring.wide)):
                assert volume is not None
                words = format_length(part * _whole(volume, column), self.session.document.unit, with_unit=False)
                item = QTableWidgetItem(words)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(row, column, item)
            then = QComboBox()
            then.setAccessibleName(tr("How the side runs on"))
            for words, name in zip(_THEN_WORDS, _THENS, strict=True):
                then.addItem(tr(words), name)
            then.setCurrentIndex(_THENS.index(ring.then))
            then.activated.connect(lambda index, r=row: self._run_on(r, _THENS[index]))
            then.setEnabled(row < len(rings) - 1)
            self.table.setCellWidget(row, 2, then)
        self._filling = False
