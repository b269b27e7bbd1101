"""Sections of the Rounds stage that lay rings and arches on faces, and set what a wheel and a ball have."""

from __future__ import annotations

from functools import partial

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.field_rows import AXIS_CHOICES, FieldRows, Row
from isometron.desk.controls.fields import AngleField, LengthField
from isometron.desk.controls.section import Section
from isometron.desk.controls.shape_rows import FORMS
from isometron.desk.frame.session import Session
from isometron.desk.stages.block.sections import plain_line
from isometron.document.edits import change_volume
from isometron.document.model import Document
from isometron.document.rounding import change_round, make_oblong
from isometron.document.units import LengthError, parse_percent
from isometron.tools.marking import LayPlan
from isometron.volumes.box import box_corners
from isometron.volumes.turned import PROFILES, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["OnFace", "Wheel"]

_KINDS = (
    (tr("ring"), ("ring", 0.0, 0)),
    (tr("hole"), ("ring", 1.0, 0)),
    (tr("button or knob"), ("ring", -1.0, 0)),
    (tr("dial"), ("ring", -1.0, 24)),
    (tr("arch"), ("arch", 0.0, 0)),
)


class OnFace(Section):
    """What is laid on a face next. Signal: ``tool_chosen`` with "lay"."""

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Ring or arch on a face"), tr("Ring, hole, button, dial, arch"))
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("What is laid on a face"))
        for words, data in _KINDS:
            self.kind.addItem(words, data)
        self.kind.activated.connect(lambda _: self._chosen())
        self.column.addWidget(self.kind)
        grid = self.grid()
        unit = lambda: session.document.unit  # noqa: E731
        self.deep = self.field(grid, tr("depth"), LengthField(tr("Depth"), unit, (0.0, 1e6)),
                                tr("How far a hole is sunk or a button is raised"), lambda _: None)  # fmt: skip
        self.deep.show_value(20.0)
        self.band = self.field(grid, tr("band"), LengthField(tr("Band round an arch"), unit, (0.0, 1e6)),
                               tr("Thickness drawn round an arch"), lambda _: None)  # fmt: skip
        self.band.show_value(0.0)
        self.sweep = self.field(grid, tr("sweep"), AngleField(tr("Part of the ring"), (1.0, 360.0)),
                                tr("The part of the ring that is drawn; 360 for all of it"), lambda _: None)  # fmt: skip
        self.sweep.show_value(360.0)
        self.inner = plain_line(tr("Concentric rings in percent"), tr("rings inside: 70, 30"))
        self.inner.setToolTip(tr("Diameters of concentric rings, in percent of the whole"))
        self.column.addWidget(self.inner)
        self.form = QComboBox()
        self.form.setAccessibleName(tr("Form of the arch"))
        for words, form in FORMS:
            self.form.addItem(words, form)
        self.column.addWidget(self.form)
        self.button(tr("Lay it\tA"), tr("Press on a face and pull it open"), lambda: self.tool_chosen.emit("lay"))
        self.words().setText(tr("It lies on the volume and goes with it; 3 Divide lists it under “Marks on it”."))
        self._chosen()

    def _chosen(self) -> None:
        kind, depth, _ = self.kind.currentData()
        self.deep.setEnabled(depth != 0.0)
        for widget in (self.band, self.form):
            widget.setEnabled(kind == "arch")
        for each in (self.sweep, self.inner):
            each.setEnabled(kind == "ring")

    def plan(self) -> LayPlan:
        """Return what is laid by the next pull."""
        kind, sign, divisions = self.kind.currentData()
        inner = []
        for cell in self.inner.text().replace(";", ",").split(","):
            try:
                part = parse_percent(cell) / 100.0
            except LengthError:
                continue
            if 0.0 < part < 1.0:
                inner.append(part)
        return LayPlan(
            kind, sign * (self.deep.value or 0.0), tuple(inner), divisions, self.sweep.value or 360.0,
            self.form.currentData(), self.band.value or 0.0,
        )  # fmt: skip


class Wheel(Section):
    """What a wheel, a ball or any round has beside its profile: diameter, tyre width, steering, lean, square, sections."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Wheel and ball"), tr("Diameter, tyre width, steering, lean, square, sections"))
        self._hint = self.words()
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)

    def refresh(self) -> None:
        """Show the numbers of the selected round."""
        row = self.session.active
        volume = None if row is None else self.session.document.volumes[row]
        round_ = volume if isinstance(volume, Turned) else None
        self._hint.setText(tr("Select a round volume.") if round_ is None else round_.name)
        if round_ is None:
            self.rows.show_rows(None, [])
        else:
            self.rows.show_rows((round_.id, round_.profile == PROFILES["ball"]), _rows(round_))


def _rows(volume: Turned) -> list[Row]:
    k = DIRECTIONS.index(volume.axle)

    def write(name: str, document: Document, value):
        return change_round(document, volume.id, tr("change"), **{name: value})

    def wide(document: Document, diameter: float):
        """Its middle stays where it stands: over the same place, on the same ground."""
        size = [volume.size[k] if axis == k else diameter for axis in range(3)]
        return _resized(document, volume, size)

    def deep(document: Document, width: float):
        size = list(volume.size)
        size[k] = width
        return _resized(document, volume, size)

    rows = [
        Row(tr("diameter"), tr("Its foot and its middle stay where they are"), "length", lambda: volume.size[(k + 1) % 3], wide),
        Row(tr("oblong"), tr("The other width, where the sections are meant to be ellipses; the diameter makes it round again"),
            "length", lambda: volume.size[(k + 2) % 3], lambda document, width: make_oblong(document, volume.id, width)),
        Row(tr("along the axle"), tr("Tyre width, or height of an upright body"), "length", lambda: volume.size[k], deep),
        Row(tr("steer"), tr("Turned about the upright through its middle"), "angle", lambda: volume.steer_deg,
            partial(write, "steer_deg")),
        Row(tr("lean"), tr("Its top leant over, about its way of travel"), "angle", lambda: volume.lean_deg,
            partial(write, "lean_deg")),
        Row(tr("square round its ends"), tr("The squares that stand round the rings on its ends"), "switch",
            lambda: volume.squared, partial(write, "squared")),
    ]  # fmt: skip
    if volume.profile == PROFILES["ball"]:
        rows += [
            Row(tr("sections"), tr("Ellipses round the ball, evenly spaced"), "count", lambda: volume.sections,
                partial(write, "sections"), most=24),
            Row(tr("about"), tr("The direction the sections lie square to"), "choice", lambda: volume.sections_about,
                partial(write, "sections_about"), AXIS_CHOICES),
        ]  # fmt: skip
    return rows


def _resized(document: Document, volume: Turned, size: list[float]):
    """Change sizes about the middle, but keep the foot on its ground."""
    corners, rotations = box_corners([volume])
    change = (np.array(volume.size) - np.array(size)) / 2
    shift = rotations[0] @ change
    if volume.upright:
        shift[2] = 0.0
    x, y, z = np.round(corners[0, 0] + shift, 6)
    return change_volume(document, volume.id, tr("resize"), size=tuple(size), corner=(float(x), float(y), float(z)))
