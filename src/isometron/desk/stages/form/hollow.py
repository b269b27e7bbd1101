"""Whether the selected body is solid or hollow."""

from __future__ import annotations

from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.marks.opening_edits import make_hollow
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.turned import Turned
from isometron.wording import tr

__all__ = ["Hollow"]


class Hollow(Section):
    """The wall of the selected body: none for a solid one."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Hollow"), tr("The thickness of the selected body's wall"))
        grid = self.grid()
        self.wall = self.field(
            grid, tr("wall"), LengthField(tr("Thickness of the wall"), lambda: session.document, (0.0, 1e7)),
            tr("0 for a solid body"), self._set,
        )  # fmt: skip
        self.said = self.words()

    def _set(self, wall: float) -> None:
        volume = self.session.active_volume
        if volume is not None:
            self.session.attempt(make_hollow, volume.id, wall)

    def refresh(self) -> None:
        """Show the selected volume's wall."""
        volume = self.session.active_volume
        can = isinstance(volume, Box | CutBody | Turned)
        self.wall.setEnabled(can)
        self.wall.show_value(volume.wall if volume is not None and can else 0.0)
        if volume is None:
            self.said.setText(tr("Select a block, a cut body or a turned body."))
        elif not can:
            self.said.setText(tr("{volume} is of a kind that is always solid.", volume=volume.name))
        elif volume.wall > 0.0:
            self.said.setText(tr("Hollow: its inside shows through openings that go through one wall."))
        else:
            self.said.setText(tr("Solid. Give it a wall, and openings show its inside."))
