"""Roofs over the selected block."""

from __future__ import annotations

from functools import partial

from isometron.desk.controls.fields import AngleField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.shapes.roofs import RoofKind, roof_over
from isometron.wording import tr

__all__ = ["Roofs"]

_WORDS: tuple[tuple[RoofKind, str, str], ...] = (
    ("gabled", tr("Gabled roof"), tr("Two slopes; the walls go up to them")),
    ("hipped", tr("Hipped roof"), tr("Four slopes that meet in a ridge")),
    ("lean-to", tr("Lean-to roof"), tr("One slope; the walls go up to it")),
)


class Roofs(Section):
    """The slope, the overhangs and the thickness of a roof, and its kinds."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Roof"), tr("Over the selected block"))
        grid = self.grid()
        self.slope = self.field(
            grid, tr("slope"), AngleField(tr("Slope of the roof")), tr("Against the level"), lambda _: None
        )
        self.slope.show_value(40.0)
        self.eaves = self.waiting_length(grid, tr("eaves"), tr("How far the roof hangs over at its eaves"), 300.0)
        self.gable = self.waiting_length(grid, tr("gables"), tr("How far it hangs over at its gables"), 200.0)
        self.thick = self.waiting_length(grid, tr("thickness"), tr("Of the roof, square to its slope"), 120.0)
        self.buttons = [self.button(words, tip, partial(self._roof, kind)) for kind, words, tip in _WORDS]
        self.said = self.words()

    def _roof(self, kind: RoofKind) -> None:
        volume = self.session.active_volume
        if volume is None:
            self.session.say(tr("Select a block first: the roof is laid over it."), caution=True)
            return
        self.session.attempt(
            lambda document, name: roof_over(
                document, name, kind, slope_deg=self.slope.value or 0.0, eaves=self.eaves.value or 0.0,
                gable=self.gable.value or 0.0, thick=self.thick.value or 0.0,
            ),
            volume.id,
        )  # fmt: skip

    def refresh(self) -> None:
        """Roofs are laid over something."""
        there = self.session.active_volume is not None
        for button in self.buttons:
            button.setEnabled(there)
        self.said.setText("" if there else tr("Select a block: the roof is laid over it."))
