"""Slopes read off a subject with a pencil, at the selected volume's leading edge."""

from __future__ import annotations

from isometron.desk.controls.fields import AngleField, PaperField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.eye.units import PAPER_RANGE, on_paper
from isometron.document.eyes.eye_setting import (
    Slopes,
    by_slopes,
    read_slopes,
)
from isometron.document.lengths.units import format_length
from isometron.wording import tr

__all__ = ["BySlopes"]


class BySlopes(Section):
    """Slopes read off a subject with a pencil, at the selected volume's leading edge."""

    shows = "slopes"

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Slopes"), tr("Slopes read off a subject at its nearest upright"))
        paper = on_paper(session)
        self._hint = self.words()
        grid = self.grid()
        tip = tr("Slope of the ground edge from the horizontal, rising away from the upright positive")
        self._right = self.field(
            grid, tr("right edge"), AngleField(tr("Slope of the right ground edge")), tip, self._take
        )
        self._left = self.field(
            grid, tr("left edge"), AngleField(tr("Slope of the left ground edge")), tip, self._take
        )
        self._top = self.field(
            grid, tr("upper right"), AngleField(tr("Slope of the upper right edge")),
            tr("Slope of the upper right edge; typing it sets the eye's height too"), self._take_top,
        )  # fmt: skip
        self._centre = self.field(
            grid, tr("centre"), PaperField(tr("Centre of vision for the slopes"), paper, PAPER_RANGE),
            tr("The freedom that two slopes leave: where the centre of vision lies, from the sheet's left edge"),
            self._take,
        )  # fmt: skip
        self._free = self.words()

    def _take(self, _: float, *, top: float | None = None) -> None:
        row = self.session.active
        if row is None or self._right.value is None or self._left.value is None:
            self.session.say(
                tr("Select a volume in a two-point view; its leading edge is the upright."), caution=True
            )
            return
        slopes = Slopes(self._right.value, self._left.value, top)
        self.session.attempt(by_slopes, row, slopes, self._centre.value)

    def _take_top(self, value: float) -> None:
        self._take(value, top=value)

    def refresh(self) -> None:
        """Show the slopes as they are drawn, and what they leave free."""
        document, row = self.session.document, self.session.active
        slopes = None if row is None else read_slopes(document, row)
        for field in (self._right, self._left, self._top, self._centre):
            field.setEnabled(slopes is not None)
        self._centre.show_value(round(document.sheet.centre_of_vision[0], 4))
        values = (None, None, None) if slopes is None else (slopes.right, slopes.left, slopes.top_right)
        for field, value in zip((self._right, self._left, self._top), values, strict=True):
            field.show_value(None if value is None else round(value, 4))
        if row is None or slopes is None:
            self._hint.setText(tr("Select a volume in a two-point view; its leading edge is the upright."))
            self._free.setText("")
            return
        self._hint.setText(
            tr("At the leading edge of {volume}, which stays where it is.", volume=document.volumes[row].name)
        )
        self._free.setText(
            tr(
                "Still free: the eye's height (now {height}), and the centre of vision anywhere between the points.",
                height=format_length(round(document.eye.position[2], 3), document.unit),
            )
        )
