"""The rounded edges of the selected body. Signal: ``tool_chosen`` with "rounded"."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.field_rows import FieldRows, Row
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.lengths.units import format_length
from isometron.document.marks.edge_edits import change_edge, round_edges, sharpen_edge
from isometron.document.model import Document
from isometron.tools.form.rounded import RoundPlan
from isometron.volumes.faces.names import edge_name
from isometron.volumes.openings.edges import outer_edges
from isometron.volumes.rounded import RoundedEdge
from isometron.wording import tr

__all__ = ["RoundedEdges"]


class RoundedEdges(Section):
    """The radius of the next ones, and a list of those that are rounded, each with its radius."""

    tool_names = ("rounded",)

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Edges"), tr("The radius of each, and where it grows"))
        grid, document = self.grid(), lambda: session.document
        self.radius = self.field(grid, tr("radius"), LengthField(tr("Radius of the next rounded edges"), document, (0.01, 1e7)),
                                 tr("Of edges that are rounded by a click"), lambda _: None)  # fmt: skip
        self.radius.show_value(20.0)
        self.button(
            tr("Round an edge\tS"), tr("Pull in from an edge, or click it"), lambda: self.tool_chosen.emit("rounded")
        )
        self.button(tr("Round them all"), tr("All outer edges of the selected body"), self._all)
        self.names = QComboBox()
        self.names.setAccessibleName(tr("Rounded edges of the selected volume"))
        self.names.activated.connect(lambda _: self._show())
        self.column.addWidget(self.names)
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)
        self.off = self.button(tr("Make it sharp"), tr("The chosen edge"), self._sharpen)

    def plan(self) -> RoundPlan:
        """Return how an edge is rounded by a click."""
        return RoundPlan(self.radius.value or 20.0)

    def _all(self) -> None:
        volume = self.session.active_volume
        if volume is None:
            self.session.say(tr("Select a volume first."), caution=True)
            return
        edges = {frozenset(edge.between): edge for edge in outer_edges(volume)}
        if not edges:
            self.session.say(
                tr("{volume} has no straight outer edges between flat faces.", volume=volume.name), caution=True
            )
            return
        radius = self.plan().radius
        self.session.attempt(
            round_edges, volume.id, [RoundedEdge(between=edge.between, radius=radius) for edge in edges.values()]
        )

    def _sharpen(self) -> None:
        volume = self.session.active_volume
        if volume is not None and self.names.currentIndex() >= 0:
            self.session.attempt(sharpen_edge, volume.id, self.names.currentIndex())
        self.refresh()

    def refresh(self) -> None:
        """List the selected volume's rounded edges."""
        volume = self.session.active_volume
        names = [] if volume is None else [self._words(edge_name(volume, edge), edge) for edge in volume.rounded]
        self.list_names(self.names, names)
        for widget in (self.names, self.off):
            widget.setVisible(bool(names))
        self._show()

    def _words(self, name: str, edge: RoundedEdge) -> str:
        unit = self.session.document.unit
        ends = [edge.radius] if edge.grows_to is None else [edge.radius, edge.grows_to]
        return f"{name}: {tr(' to ').join(format_length(round(radius, 3), unit) for radius in ends)}"

    def _show(self) -> None:
        volume, number = self.session.active_volume, self.names.currentIndex()
        if volume is None or not 0 <= number < len(volume.rounded):
            self.rows.show_rows(None, [])
            return
        edge = volume.rounded[number]

        def radius(document: Document, value: float) -> Edit:
            return change_edge(document, volume.id, number, value, edge.grows_to)

        def grows(document: Document, value: float) -> Edit:
            return change_edge(document, volume.id, number, edge.radius, value)

        rows = [
            Row(tr("radius"), tr("Of the round; where it grows at the end that comes first along the thing's length, width, height"), "length",
                lambda: edge.radius, radius),
            Row(tr("grows to"), tr("Radius at the other end"), "length",
                lambda: edge.radius if edge.grows_to is None else edge.grows_to, grows),
        ]  # fmt: skip
        self.rows.show_rows((volume.id, number), rows)
