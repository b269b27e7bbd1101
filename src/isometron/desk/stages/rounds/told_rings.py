"""Each ring's degree and axes, the rule's error, and the best template of the person's rack."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
)

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import load_settings, remember_rack
from isometron.desk.stages.rounds.active import active_round
from isometron.desk.stages.rounds.ring_table import RingTable
from isometron.document.eyes.template_eye import eye_for_template
from isometron.document.lengths.units import format_paper
from isometron.document.rack import Rack, rack_from_csv, rack_to_csv
from isometron.document.store.disk import read_text, shown_name
from isometron.errors import IsometronError
from isometron.home import home
from isometron.solve.ring_facts import ring_facts
from isometron.view.templates import best_hole
from isometron.volumes.turned import Turned
from isometron.wording import tr

__all__ = ["ToldRings"]


class ToldRings(Section):
    """Each ring's degree and axes, the rule's error, and the best template of the person's rack."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Rings and templates"), tr("Degree, axes, and the template that fits best"))
        self.table = RingTable()
        self.column.addWidget(self.table)
        self._words = self.words()
        self.table.told.connect(self._words.setText)
        self.table.cellClicked.connect(lambda row, _: self._pick(row))
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
        row, rack = self.session.active, load_settings().rack
        self._fill_degrees(rack)
        for widget in (self._degree, self._height, self._distance, self.find_eye):
            widget.setEnabled(active_round(self.session) is not None)
        self._cost.setText(self._one_degree(rack))
        facts = [] if row is None else ring_facts(self.session.drawing, row, rack.degrees, rack.majors)
        self.table.show_rings(facts, self.session.document.unit)
        if row is None:
            self._words.setText(tr("Select what has rings: a round, or a face with one."))
        elif not facts:
            name = self.session.document.volumes[row].name
            self._words.setText(
                tr("{name} has no whole ring. Make it round, or lay a ring on a face of it.", name=name)
            )

    def _pick(self, row: int) -> None:
        """A ring that is clicked is the one that ring schools construct."""
        volume = self.session.active_volume
        if volume is not None:
            self.session.pick_ring(volume.id, row)

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

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Templates"), str(home()), tr("Templates (*.csv)"))
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
        path = ask_path(self, tr("Templates"), home(), tr("templates"), ".csv", tr("Templates (*.csv)"))
        if path is not None:
            self.session.hand_out(path, lambda _, say: rack_to_csv(load_settings().rack).encode())
