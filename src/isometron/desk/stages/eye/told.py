"""Sections of the Eye stage that tell: the cone of vision, the points off the page, the grid, above and below eye level."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.fields import AngleField, LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_document
from isometron.document.eye_setting import rotation_of
from isometron.document.eye_wishes import step_back_until_inside
from isometron.document.model import with_fields
from isometron.document.units import format_paper
from isometron.solve.layers.ticks import LETTERS
from isometron.solve.measures import going
from isometron.solve.ruler_words import across_words, up_words
from isometron.solve.showing import level_words
from isometron.view.vanishing import vanishing
from isometron.volumes.box import FACE_NAMES
from isometron.wording import tr

__all__ = ["Cone", "Grid", "Levels", "OffPage"]


class Cone(Section):
    """The cone of vision and what lies outside it."""

    shows = "stretch"

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Cone of vision"), tr("What lies outside it is drawn stretched"))
        grid = self.grid()
        self._angle = self.field(
            grid, tr("angle"), AngleField(tr("Angle of the cone of vision"), (5.0, 170.0)),
            tr("Full angle; 60° is usual"), lambda value: session.attempt(_set_cone, value),
        )  # fmt: skip
        self._words = self.words()
        self._back = self.button(
            tr("Step back until it fits"),
            tr("Keeps the object's size on paper"),
            lambda: session.attempt(step_back_until_inside),
        )

    def refresh(self) -> None:
        """Say which volumes reach outside and how far they are stretched."""
        document = self.session.document
        self._angle.show_value(document.eye.cone_deg)
        found = [f for f in self.session.drawing.findings if f.code == "outside-cone"]
        radius = tr("Radius on paper {radius}.", radius=format_paper(document.eye.cone_radius, document.unit))
        said = [finding.message.partition(". ")[0] + "." for finding in found[:4]]
        if len(found) > 4:
            said.append(tr("And {count} more.", count=len(found) - 4))
        self._words.setText("\n".join([radius, *(said or [tr("Every corner is inside.")])]))
        self._back.setEnabled(bool(found))


def _set_cone(document, angle: float):
    return change_document(document, tr("set the cone of vision"), eye=with_fields(document.eye, cone_deg=angle))


class OffPage(Section):
    """Ruler distances of the vanishing points, ticks on the sheet's edges, and the fan."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Points off the page"), tr("Ruler distances, edge ticks, fan of guide lines"))
        self._words = self.words()
        self._ticks = QCheckBox(tr("edge ticks"))
        self._ticks.setToolTip(tr("A ruler laid across equal numbers on both edges runs to the point"))
        self._fan = QCheckBox(tr("fan of guide lines"))
        self._fan.setToolTip(tr("The lines through every second pair of ticks"))
        for box, name in ((self._ticks, "edge_ticks"), (self._fan, "fan")):
            box.clicked.connect(lambda on, n=name: self._switch(n, on))
            self.column.addWidget(box)

    def _switch(self, name: str, on: bool) -> None:
        row, show = self.session.active, self.session.document.show
        of = "" if row is None else self.session.document.volumes[row].id
        changed = msgspec.structs.replace(show, **{name: on}, guides_of=of if on else show.guides_of)
        words = {"edge_ticks": tr("edge ticks"), "fan": tr("fan")}[name]
        self.session.attempt(
            change_document, tr("show {name}", name=words) if on else tr("leave out {name}", name=words), show=changed
        )

    def refresh(self) -> None:
        """Show where a ruler finds each point."""
        document, row = self.session.document, self.session.active
        rotation = rotation_of(document, row)
        lines = []
        for k in range(3):
            point = vanishing(document.eye, rotation[:, k])
            if point.at is not None:
                letter = LETTERS.get(going(point), "V")
                across, up = across_words(document, point.at[0]), up_words(document, point.at[1])
                lines.append((f"VP {letter}", f"{across},\n{up}"))
        whose = tr("the world's directions") if row is None else document.volumes[row].name
        self._words.tell(tr("Of {whose}:", whose=whose), lines)
        self._ticks.setChecked(document.show.edge_ticks)
        self._fan.setChecked(document.show.fan)


class Grid(Section):
    """The grid of module squares."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Grid"), tr("Module squares on the ground or on a face"))
        grid = self.grid()
        self._module = self.field(
            grid, tr("module"), LengthField(tr("Module of the grid"), lambda: session.document.unit, (0.0, 1e6)),
            tr("Side of a square; 0 for no grid"), lambda value: self._set(grid_module=value),
        )  # fmt: skip
        self._on = QComboBox()
        self._on.setAccessibleName(tr("Where the grid lies"))
        self._on.activated.connect(lambda index: self._set(grid_on=self._on.itemData(index)))
        self.column.addWidget(self._on)
        self._words = self.words()
        self._words.setText(tr("Stair-stepped from the 45-degree point it is played by C, school “45-degree point”."))

    def _set(self, **fields: object) -> None:
        show = msgspec.structs.replace(self.session.document.show, **fields)
        self.session.attempt(change_document, tr("set the grid"), show=show)

    def refresh(self) -> None:
        """Show the grid's module and where it lies; faces of the selected volume are on offer."""
        document, row = self.session.document, self.session.active
        self._module.show_value(document.show.grid_module)
        self._on.clear()
        self._on.addItem(tr("on the ground"), "")
        if row is not None:
            volume = document.volumes[row]
            for number in (5, 2, 3, 0, 1, 4):
                self._on.addItem(
                    tr("{face} of {volume}", face=FACE_NAMES[number], volume=volume.name), f"{volume.id}:{number}"
                )
        here = self._on.findData(document.show.grid_on)
        if here < 0:
            self._on.addItem(document.show.grid_on, document.show.grid_on)
            here = self._on.count() - 1
        self._on.setCurrentIndex(here)


class Levels(Section):
    """Above, on or below the eye level, and which faces show."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Above, on, below"), tr("Which faces show, and why"))
        self._words = self.words(quiet=False)

    def refresh(self) -> None:
        """Say it of the selected volumes, or of the first few."""
        document = self.session.document
        rows = [document.index_of(i) for i in self.session.selection] or list(range(len(document.volumes)))[:3]
        said = [level_words(self.session.drawing, row) for row in rows[:4] if row is not None]
        self._words.setText("\n\n".join(said) or tr("No volume yet. Pull a block (B), then raise and lower the eye."))
