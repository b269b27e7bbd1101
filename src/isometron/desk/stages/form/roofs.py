"""Roofs over the selected block, and fences: ways to begin them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.fields import AngleField
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.shapes.roofs import RoofKind, fence, roof_over
from isometron.wording import tr

__all__ = ["Roofs"]

_WORDS: tuple[tuple[RoofKind, str, str], ...] = (
    ("gabled", tr("Gabled roof"), tr("Two slopes; the walls go up to them")),
    ("hipped", tr("Hipped roof"), tr("Four slopes that meet in a ridge")),
    ("lean-to", tr("Lean-to roof"), tr("One slope; the walls go up to it")),
)


class Roofs(Section):
    """The slope, the overhangs and the thickness of a roof; the posts and rails of a fence."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Roof and fence"), tr("Over the selected block; posts and rails"))
        grid = self.grid()
        self.slope = self.field(
            grid, tr("slope"), AngleField(tr("Slope of the roof")), tr("Against the level"), lambda _: None
        )
        self.slope.show_value(40.0)
        self._grid = grid
        self.eaves = self.waiting_length(
            self._grid, tr("eaves"), tr("How far the roof hangs over at its eaves"), 300.0
        )
        self.gable = self.waiting_length(self._grid, tr("gables"), tr("How far it hangs over at its gables"), 200.0)
        self.thick = self.waiting_length(self._grid, tr("thickness"), tr("Of the roof, square to its slope"), 120.0)
        self.buttons = [self.button(words, tip, partial(self._roof, kind)) for kind, words, tip in _WORDS]
        self._grid = self.grid()
        self.long = self.waiting_length(self._grid, tr("fence"), tr("How long it is"), 6000.0)
        self.high = self.waiting_length(self._grid, tr("height"), tr("Of its posts"), 1100.0)
        self.spacing = QComboBox()
        self.spacing.setAccessibleName(tr("Posts by"))
        for words, by in ((tr("pitch"), "pitch"), (tr("gap"), "gap"), (tr("how many posts"), "posts")):
            self.spacing.addItem(words, by)
        self._by = Label(tr("posts by"))
        row = self._grid.rowCount()
        self._grid.addWidget(self._by, row, 0)
        self._grid.addWidget(self.spacing, row, 1)
        self.apart = self.waiting_length(
            self._grid, tr("apart"), tr("From post to post, or clear between two"), 2000.0
        )
        self.count = self.waiting_count(self._grid, tr("posts"), 400)
        self.count.setValue(4)
        self.spacing.currentIndexChanged.connect(lambda _: self._spaced())
        self._spaced()
        self.post = self.waiting_length(self._grid, tr("post"), tr("How thick a post is"), 90.0)
        self.rail = self.waiting_length(self._grid, tr("rail"), tr("How thick a rail is"), 35.0)
        self.rails = self.waiting_count(self._grid, tr("rails"), 40)
        self.rails.setValue(2)
        self.before = QCheckBox(tr("rails before the posts"))
        self.before.setToolTip(tr("And not through them"))
        self.column.addWidget(self.before)
        self.button(tr("Lay a fence"), tr("In front of all that stands"), self._fence)

    def _spaced(self) -> None:
        """Only the figure that is asked for can be typed."""
        self.count.setEnabled(self.spacing.currentData() == "posts")
        self.apart.setEnabled(self.spacing.currentData() != "posts")

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

    def _fence(self) -> None:
        self.session.attempt(
            lambda document: fence(
                document, long=self.long.value or 0.0, high=self.high.value or 0.0,
                by=self.spacing.currentData(),
                apart=self.count.value() if self.spacing.currentData() == "posts" else self.apart.value or 0.0,
                post=self.post.value or 0.0, rails=self.rails.value(), thick=self.rail.value or 0.0,
                before=self.before.isChecked(),
            )
        )  # fmt: skip

    def refresh(self) -> None:
        """Roofs are laid over something."""
        for button in self.buttons:
            button.setEnabled(self.session.active_volume is not None)
