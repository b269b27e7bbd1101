"""The Rounds stage: make volumes round, change their profile and the rings on their ends, read rings and templates."""

from __future__ import annotations

from functools import partial
from math import hypot
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
)

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.cards.profile_card import ProfileCard
from isometron.desk.controls.section import Section, Sections
from isometron.desk.controls.words import word_button
from isometron.desk.deeds.deed import OnDesk
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import load_settings, remember_rack
from isometron.desk.frame.theme import px
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.rounds.sections import OnFace, Wheel
from isometron.document.disk import read_text, shown_name
from isometron.document.model import DocumentError
from isometron.document.profile_svg import profile_from_svg
from isometron.document.rack import Rack, rack_from_csv, rack_to_csv
from isometron.document.rounding import (
    change_round,
    make_round,
    make_square,
    pair_across,
    profile_from_csv,
    profile_to_csv,
)
from isometron.document.template_eye import eye_for_template
from isometron.document.units import LengthError, format_length, format_number, format_paper, parse_percent
from isometron.errors import IsometronError
from isometron.solve.ring_facts import RingFact, ring_facts, rule_words
from isometron.view.templates import best_hole
from isometron.volumes.profile import width_at
from isometron.volumes.turned import PROFILES, ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import mark, tr

__all__ = ["RoundsStage", "make"]

_PROFILE_WORDS = (mark("cylinder"), mark("cone"), mark("frustum"), mark("ball"), mark("wheel"), mark("bottle"))
_AXLE_WORDS = (mark("long"), mark("wide"), mark("high"))
_THEN_WORDS = (mark("straight"), mark("round"), mark("smooth"))
_THENS: tuple[Literal["straight", "round", "smooth"], ...] = ("straight", "round", "smooth")


def make(desk: OnDesk) -> RoundsStage:
    """Return the stage's body."""
    return RoundsStage(desk.session)


class RoundsStage(StageBody):
    """Volumes made round, their profiles, rings on faces."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "Rounds")
        self.profile = _Profile(session)
        self.wheel, self.on_face = Wheel(session), OnFace(session)
        self.on_face.tool_chosen.connect(self.tool_chosen)
        self.sections = Sections(
            session, [_Make(session), self.profile, _Ends(session), _Told(session), self.wheel, self.on_face]
        )
        self.column.addWidget(self.sections)


def _active(session: Session) -> Turned | None:
    volume = session.active_volume
    return volume if isinstance(volume, Turned) else None


class _Make(Section):
    """Selected volumes become round, or boxes again."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Make it round"), tr("The selected volumes, inside their bounding volumes"))
        for words, name in zip(_PROFILE_WORDS, PROFILES, strict=True):
            self.button(tr(words), tr("Inside the same bounding volume"), partial(self._make, name))
        self.button(
            tr("the opposite wheel"), tr("A copy on the other side of the vehicle, on the same axle"), self._pair
        )
        self.button(tr("a box again"), tr("The bounding volume itself"), self._square)
        self._axle = QComboBox()
        self._axle.setAccessibleName(tr("Axle"))
        for words, axle in zip(_AXLE_WORDS, DIRECTIONS, strict=True):
            self._axle.addItem(tr("axle {direction}", direction=tr(words)), axle)
        self._axle.activated.connect(self._turn)
        self.column.addWidget(self._axle)

    def _make(self, name: str) -> None:
        self.session.attempt(make_round, self.session.selection, name)

    def _pair(self) -> None:
        volume = _active(self.session)
        if volume is None:
            self.session.say(tr("Select a round volume first."), caution=True)
        else:
            self.session.attempt(pair_across, volume.id)

    def _square(self) -> None:
        self.session.attempt(make_square, self.session.selection)

    def _turn(self, index: int) -> None:
        volume = _active(self.session)
        if volume is not None:
            self.session.attempt(change_round, volume.id, tr("turn the axle of"), axle=self._axle.itemData(index))

    def refresh(self) -> None:
        """Show the axle of the selected round."""
        volume = _active(self.session)
        self._axle.setEnabled(volume is not None)
        if volume is not None:
            self._axle.setCurrentIndex(DIRECTIONS.index(volume.axle))


class _Profile(Section):
    """The profile as a small table: height, diameter and how the side runs on."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Profile"), tr("Rings along the axle, and how the side runs between them"))
        self._hint = self.words()
        self.card = ProfileCard(session)
        self.column.addWidget(self.card)
        self.table = QTableWidget(0, 3)
        self.table.setAccessibleName(tr("Profile of the round volume"))
        self.table.setHorizontalHeaderLabels([tr("height"), tr("width"), tr("then")])
        header, rows = self.table.horizontalHeader(), self.table.verticalHeader()
        assert header is not None and rows is not None
        for column in (0, 1):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
            self.table.setColumnWidth(column, px(50))
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
        volume = _active(self.session)
        if volume is not None:
            ordered = tuple(sorted(rings, key=lambda ring: ring.at))
            self.session.attempt(change_round, volume.id, tr("change the profile of"), profile=ordered)
        self.refresh()

    def _edited(self, item: QTableWidgetItem) -> None:
        volume = _active(self.session)
        if self._filling or volume is None:
            return
        rings = list(volume.profile)
        ring = rings[item.row()]
        try:
            part = parse_percent(item.text()) / 100.0
        except LengthError as error:
            self.session.say(str(error), caution=True)
            self.refresh()
            return
        at, wide = (part, ring.wide) if item.column() == 0 else (ring.at, part)
        rings[item.row()] = ProfileRing(at=at, wide=wide, then=ring.then)
        self._put(rings)

    def _run_on(self, row: int, then: Literal["straight", "round", "smooth"]) -> None:
        volume = _active(self.session)
        if volume is not None:
            rings = list(volume.profile)
            rings[row] = ProfileRing(at=rings[row].at, wide=rings[row].wide, then=then)
            self._put(rings)

    def _add(self) -> None:
        volume = _active(self.session)
        if volume is not None:
            rings = list(volume.profile)
            k = max(range(len(rings) - 1), key=lambda n: rings[n + 1].at - rings[n].at)
            one, two = rings[k], rings[k + 1]
            at = (one.at + two.at) / 2
            rings.append(ProfileRing(at=at, wide=width_at(volume.profile, at), then=one.then))
            self._put(rings)

    def _remove(self) -> None:
        volume, row = _active(self.session), self.table.currentRow()
        if volume is not None and 0 <= row < len(volume.profile):
            if len(volume.profile) == 2:
                self.session.say(tr("A profile needs two rings."), caution=True)
            else:
                self._put([ring for k, ring in enumerate(volume.profile) if k != row])

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Profile"), str(Path.home()), tr("Profile (*.csv *.svg)"))
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take the profile of a CSV or SVG file; what is wrong is said with its place."""
        volume = _active(self.session)
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
        volume = _active(self.session)
        if volume is None:
            self.session.say(tr("Select a round volume first."), caution=True)
            return
        path = ask_path(self, tr("Profile"), Path.home(), volume.name, ".csv", tr("Profile (*.csv)"))
        if path is not None:
            self.session.hand_out(path, lambda _, say: profile_to_csv(volume).encode())

    def refresh(self) -> None:
        """Show the selected round's profile."""
        volume = _active(self.session)
        self._hint.setText(
            tr("Select a round volume.") if volume is None else tr("Of {volume}, in percent.", volume=volume.name)
        )
        self._filling = True
        rings = () if volume is None else volume.profile
        self.table.setRowCount(len(rings))
        for row, ring in enumerate(rings):
            for column, part in enumerate((ring.at, ring.wide)):
                item = QTableWidgetItem(format_number(100.0 * part, 1))
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


class _Ends(Section):
    """Concentric rings on both ends, and spokes between the widest and the narrowest."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Rings on its ends"), tr("Rim, disc, hub: concentric rings, and spokes"))
        self._rings = QLineEdit()
        self._rings.setAccessibleName(tr("Diameters of the rings in percent"))
        self._rings.setPlaceholderText(tr("70, 30, 15"))
        self._rings.editingFinished.connect(self._take)
        self.column.addWidget(self._rings)
        self._spokes = QSpinBox()
        self._spokes.setAccessibleName(tr("Number of spokes"))
        self._spokes.setRange(0, 60)
        self._spokes.setPrefix(tr("spokes "))
        self._spokes.valueChanged.connect(self._take_spokes)
        self.column.addWidget(self._spokes)
        self.words().setText(tr("Diameters in percent of the whole, parted by commas."))

    def _take(self) -> None:
        volume = _active(self.session)
        if volume is None:
            return
        try:
            parts = tuple(
                parse_percent(word) / 100.0
                for word in self._rings.text().replace(";", ",").split(",")
                if word.strip()
            )
        except LengthError as error:
            self.session.say(str(error), caution=True)
            self.refresh()
            return
        if parts != volume.face_rings:
            self.session.attempt(change_round, volume.id, tr("change the rings of"), face_rings=parts)
            self.refresh()

    def _take_spokes(self, count: int) -> None:
        volume = _active(self.session)
        if volume is not None and volume.spokes != count:
            self.session.attempt(change_round, volume.id, tr("change the spokes of"), spokes=count)

    def refresh(self) -> None:
        """Show the selected round's rings and spokes."""
        volume = _active(self.session)
        for widget in (self._rings, self._spokes):
            widget.setEnabled(volume is not None)
        self._rings.setText("" if volume is None else ", ".join(format_number(100 * p, 1) for p in volume.face_rings))
        blocked = self._spokes.blockSignals(True)
        self._spokes.setValue(0 if volume is None else volume.spokes)
        self._spokes.blockSignals(blocked)


class _Told(Section):
    """Each ring's degree and axes, the rule's error, and the best template of the person's rack."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Rings and templates"), tr("Degree, axes, and the template that fits best"))
        self._words = self.words(quiet=False)
        self._degree = QComboBox()
        self._degree.setAccessibleName(tr("Degree of the template"))
        self._degree.activated.connect(lambda _: self.refresh())
        self.column.addWidget(self._degree)
        self._cost = self.words()
        self._height, self._distance = QCheckBox(tr("eye height may change")), QCheckBox(tr("distance may change"))
        for box in (self._height, self._distance):
            self.column.addWidget(box)
        self.find_eye = self.button(
            tr("Choose the eye for it"),
            tr("The smallest change that brings the selected rounds to this degree"),
            self._find,
        )
        self.button(tr("My templates from CSV…"), tr("A row of degrees and a row of majors"), self._import)
        self.button(tr("My templates to CSV…"), tr("To change the list in a spreadsheet"), self._export)

    def refresh(self) -> None:
        """Tell the rings of the selected volume."""
        volume, row = _active(self.session), self.session.active
        rack = load_settings().rack
        self._fill_degrees(rack)
        for widget in (self._degree, self._height, self._distance, self.find_eye):
            widget.setEnabled(volume is not None)
        self._cost.setText(self._one_degree(rack))
        if volume is None or row is None:
            self._words.setText(tr("Select a round volume."))
            return
        facts = ring_facts(self.session.drawing, row, rack.degrees, rack.majors)
        self._words.tell("", [self._fact(fact) for fact in facts], "<br><br>")

    def _fill_degrees(self, rack: Rack) -> None:
        if [self._degree.itemData(k) for k in range(self._degree.count())] != list(rack.degrees):
            self._degree.clear()
            for degree in rack.degrees:
                self._degree.addItem(tr("one degree for all: {degree:g}°", degree=degree), degree)

    def _chosen(self) -> list[int]:
        """The rows of the selected rounds."""
        rows = [self.session.document.index_of(i) for i in self.session.selection]
        return [r for r in rows if r is not None and isinstance(self.session.document.volumes[r], Turned)]

    def _one_degree(self, rack: Rack) -> str:
        """Say what one degree for all selected rounds costs, one by one."""
        degree, said = self._degree.currentData(), []
        for row in self._chosen():
            facts = [
                f for f in ring_facts(self.session.drawing, row) if f.picture.kind == "ellipse" and f.true_circle
            ]
            if facts and degree is not None:
                picture = max(facts, key=lambda f: f.diameter).picture
                hole, gap = best_hole(picture.semi_major, picture.semi_minor, degree, rack.majors)
                unit = self.session.document.unit
                said.append(
                    tr("{volume}: {exact}°, hole {hole}, off by {gap}", volume=self.session.document.volumes[row].name,
                       exact=f"{picture.degree:.1f}", hole=format_paper(hole, unit), gap=format_paper(gap, unit, decimals=2))
                )  # fmt: skip
        return "\n".join(said)

    def _find(self) -> None:
        try:
            proposal = eye_for_template(
                self.session.document, self._chosen(), self._degree.currentData(),
                height=self._height.isChecked(), distance=self._distance.isChecked(),
            )  # fmt: skip
        except IsometronError as error:
            self.session.say(str(error), caution=True)
            return
        self.session.do(proposal.edit)
        self.session.say(
            tr("Degrees before: {before}; now: {after}. Ctrl+Z goes back.",
               before=", ".join(f"{d:.1f}°" for d in proposal.before), after=", ".join(f"{d:.1f}°" for d in proposal.after))
        )  # fmt: skip

    def _fact(self, fact: RingFact) -> tuple[str, str]:
        unit, picture = self.session.document.unit, fact.picture
        head = f"⌀ {format_length(round(fact.diameter, 3), unit)}"
        if picture.kind != "ellipse":
            return head, rule_words(fact)
        axes = tr(
            "degree {degree}°, {major} x {minor}", degree=f"{picture.degree:.1f}",
            major=format_paper(2 * picture.semi_major, unit), minor=format_paper(2 * picture.semi_minor, unit),
        )  # fmt: skip
        lines = [axes, rule_words(fact)]
        offset = picture.centre_offset
        if offset is not None:
            lines.append(
                tr("true centre {far} off the ellipse's", far=format_paper(hypot(*offset), unit, decimals=2))
            )
        if fact.fit is not None:
            lines.append(
                tr("template {degree:g}°, hole {hole}, off by {gap}", degree=fact.fit.degree,
                   hole=format_paper(fact.fit.major, unit), gap=format_paper(fact.fit.gap, unit, decimals=2))
            )  # fmt: skip
        return head, "\n".join(lines)

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Templates"), str(Path.home()), tr("Templates (*.csv)"))
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take the person's templates from a CSV file."""
        try:
            remember_rack(rack_from_csv(read_text(path)))
        except IsometronError as error:
            self.session.say(f"{shown_name(path.name)}: {error}", caution=True)
            return
        self.session.say(tr("Your templates are kept in the settings."))
        self.refresh()

    def _export(self) -> None:
        path = ask_path(self, tr("Templates"), Path.home(), tr("templates"), ".csv", tr("Templates (*.csv)"))
        if path is not None:
            self.session.hand_out(path, lambda _, say: rack_to_csv(load_settings().rack).encode())
