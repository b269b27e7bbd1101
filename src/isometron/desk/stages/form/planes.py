"""Planes that are kept, and what they cut."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.field_rows import AXIS_CHOICES, FieldRows, Row
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.lengths.typed_places import place_words, typed_place
from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.document.planes.plane_edits import change_plane, forget_plane, parallel_plane
from isometron.tools.form.plane import PlanePlan
from isometron.volumes.sections.lines import sections_of
from isometron.volumes.sections.plane import KeptPlane, leaning_about
from isometron.wording import count_words, tr

__all__ = ["Planes"]


class Planes(Section):
    """A list of planes, and the fields of the chosen one."""

    tool_names = ("plane",)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Planes"), tr("Planes of your own, and those that cut sections and belts"))
        self.square = QCheckBox(tr("square to a line"))
        self.square.setToolTip(
            tr("The next plane lies square to a line of two places, or to an edge, and goes through its end")
        )
        self.column.addWidget(self.square)
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Planes that are kept"))
        self.names.activated.connect(lambda _: self._show())
        self.column.addWidget(self.names)
        self.last = self.button(tr("Last line off"), tr("Of those drawn on the plane"), self._take_off)
        self.off = self.button(tr("Forget it"), tr("The chosen plane and its lines"), self._forget)
        self.beside(self.off, self.last)
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.said = self.words()
        grid = self.grid()
        self.apart = self.field(grid, tr("apart"), LengthField(tr("How far a parallel plane lies apart"), lambda: session.document, (-1e7, 1e7)),
                                tr("From the chosen plane; negative the other way"), lambda _: None)  # fmt: skip
        self.apart.show_value(100.0)
        self.parallel = self.button(tr("One parallel to it"), tr("So far from the chosen plane"), self._parallel)

    def _chosen(self) -> KeptPlane | None:
        number = self.names.currentIndex()
        planes = self.session.document.planes
        return planes[number] if 0 <= number < len(planes) else None

    def plan(self) -> PlanePlan:
        """Return how the next plane is set."""
        return PlanePlan(self.square.isChecked())

    def _parallel(self) -> None:
        plane = self._chosen()
        if plane is not None:
            self.session.attempt(parallel_plane, plane.id, self.apart.value or 0.0)
        self.refresh()

    def _take_off(self) -> None:
        plane = self._chosen()
        if plane is not None and plane.lines:
            self.session.attempt(change_plane, plane.id, lines=plane.lines[:-1])
        self.refresh()

    def _forget(self) -> None:
        plane = self._chosen()
        if plane is not None:
            self.session.attempt(forget_plane, plane.id)
        self.refresh()

    def refresh(self) -> None:
        """List the planes."""
        names = [plane.name for plane in self.session.document.planes]
        self.list_names(self.names, names)
        if self.names.currentIndex() < 0 and names:
            self.names.setCurrentIndex(len(names) - 1)
        for widget in (self.names, self.off, self.parallel):
            widget.setVisible(bool(names))
        self.show_field(self.apart, bool(names))
        self._show()

    def _show(self) -> None:
        plane, document = self._chosen(), self.session.document
        self.last.setVisible(plane is not None and bool(plane.lines))
        if plane is None:
            self.rows.show_rows(None, [])
            self.said.setText(tr("No plane is kept yet."))
            return
        self.rows.show_rows(
            (plane.id, plane.through is None, bool(plane.of), plane.across, bool(plane.leans_deg)),
            _rows(document, plane),
        )
        self.said.setText(_told(document, plane))


def _rows(document: Document, plane: KeptPlane) -> list[Row]:
    def write(name: str, now: Document, value: Any) -> Edit:
        return change_plane(now, plane.id, **{name: value})

    def length(name: str, words: str, tip: str) -> Row:
        return Row(words, tip, "length", partial(getattr, plane, name), partial(write, name))

    def switch(name: str, words: str, tip: str) -> Row:
        return Row(words, tip, "switch", partial(getattr, plane, name), partial(write, name))

    found: list[Row] = []
    if plane.through is None:
        about = [
            Row(tr("leans about"), tr("The direction that lies in it, however it leans"), "choice", lambda: leaning_about(plane)[1],
                partial(write, "leans_about"), [(words, way) for words, way in AXIS_CHOICES if way != plane.across])
        ] if plane.leans_deg else []  # fmt: skip
        found += [
            Row(tr("square to"), tr("The direction that it lies square to"), "choice", lambda: plane.across, partial(write, "across"),
                AXIS_CHOICES),
            Row(tr("leans by"), tr("From there, about the direction below, through the volume's middle; negative the other way"), "angle",
                lambda: plane.leans_deg, partial(write, "leans_deg")),
            *about,
            Row(tr("at"), tr("40 % for a share of the volume, or a length from where it starts"), "text",
                lambda: place_words(plane.at, document), lambda now, text: write("at", now, typed_place(text, plane.at, now))),
        ]  # fmt: skip
    found += [
        Row(
            tr("moved by"),
            tr("Square to itself; negative the other way"),
            "any length",
            lambda: plane.off,
            partial(write, "off"),
        ),
        switch("cuts", tr("its lines are drawn"), tr("Where it cuts what stands there")),
        length("every", tr("every"), tr("From one parallel plane to the next; 0 for this one alone")),
        length("band", tr("second line"), tr("How far a second line lies beside each; 0 for none")),
        switch("soft", tr("as construction"), tr("Drawn lightly")),
        switch("shown", tr("pane shown"), tr("The plane itself as a pale pane")),
    ]
    found.append(Row(tr("name"), tr("What it is called"), "text", lambda: plane.name, partial(write, "name")))
    if plane.of:
        found.append(Row(tr("only that volume"), tr("And not all that stands there"), "switch", lambda: bool(plane.only),
                         lambda now, on: write("only", now, (plane.of,) if on else ())))  # fmt: skip
    return found


def _told(document: Document, plane: KeptPlane) -> str:
    """Return how many lines a plane cuts, and how long they are in all."""
    found = sections_of(plane, document.volumes, document.cutting) if plane.cuts else ()
    drawn = (
        count_words("{count} line drawn on it", "{count} lines drawn on it", len(plane.lines)) if plane.lines else ""
    )
    if not found:
        return drawn or (tr("It cuts nothing now.") if plane.cuts else "")
    long = sum(outlined.length for outlined, _ in found)
    count = count_words("{count} section", "{count} sections", len(found))
    said = tr("{count}, outlines {long} long in all", count=count, long=format_length(round(long, 1), document.unit))
    return f"{said}, {drawn}" if drawn else said
