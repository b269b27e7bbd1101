"""What planes cut out of what stands, by one click: centre line, section lines, belts, rolled rims."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.planes.plane_edits import belt, centre_line, section_family
from isometron.document.shapes.rolled_rims import rolled_rim
from isometron.wording import tr

__all__ = ["SectionLines"]


class SectionLines(Section):
    """Each deed under the figures that it takes."""

    def __init__(self, session: Session) -> None:
        super().__init__(
            session, tr("Sections, belts"), tr("Centre line, section lines every so far, belts, rolled rims")
        )
        self.button(
            tr("Centre line"),
            tr("Over all that stands, by the middle plane of the selected volume"),
            partial(self._made, centre_line),
        )
        grid = self.grid()
        self.every = self.waiting_length(grid, tr("every"), tr("From one section line to the next"), 200.0)
        self.button(
            tr("Section lines"),
            tr("Across the selected volume, every so far from its front to its rear"),
            lambda: self._made(section_family, self.every.value or 200.0),
        )
        grid = self.grid()
        self.high = self.waiting_length(grid, tr("height"), tr("Over the foot of the selected volume"), 400.0)
        self.band = self.waiting_length(grid, tr("width"), tr("Of a band; 0 for a single line"), 0.0)
        self.button(
            tr("Belt"),
            tr("A line carried all round the selected volume"),
            lambda: self._made(belt, self.high.value or 0.0, self.band.value or 0.0),
        )
        grid = self.grid()
        self.rim = self.waiting_length(
            grid, tr("radius"), tr("Of a rolled rim; its middle lies at the height of the belt"), 20.0
        )
        self.button(
            tr("Rolled rim"),
            tr("A bead round the selected volume, as a body of its own"),
            lambda: self._made(rolled_rim, self.high.value or 0.0, self.rim.value or 0.0),
        )

    def _made(self, edit: Callable[..., Edit], *given: Any) -> None:
        volume = self.session.active_volume
        if volume is None:
            self.session.say(tr("Select a volume first."), caution=True)
        else:
            self.session.attempt(edit, volume.id, *given)
