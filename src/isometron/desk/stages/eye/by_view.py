"""A wish for how much of each side and of the top shows."""

from __future__ import annotations

from isometron.desk.controls.fields import PercentField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.eyes.eye_wishes import (
    Showing,
    showing,
    wished_view,
)
from isometron.wording import tr

__all__ = ["ByView"]


class ByView(Section):
    """A wish for how much of each side and of the top shows."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("What shows"), tr("How much of each side and of the top is seen"))
        self._hint = self.words()
        grid = self.grid()
        self._wishes = [
            self.field(grid, words, PercentField(name, bounds), tip, lambda _: self._keep())
            for words, name, bounds, tip in (
                (tr("right side"), tr("Share of the right side"), (3.0, 97.0),
                 tr("The right side's part of the drawn width; the left side has the rest")),
                (tr("top"), tr("Depth of the top"), (-200.0, 200.0),
                 tr("The top's drawn depth as a part of the leading edge; negative for the underside")),
                (tr("back upright"), tr("Height of the back upright"), (20.0, 99.0),
                 tr("The back upright's height as a part of the leading edge: small is near, large is far")),
            )
        ]  # fmt: skip
        self._edited = False
        self._go = self.button(
            tr("Find the eye"), tr("Sets turn, eye height and distance so that it shows so"), self._find
        )

    def _keep(self) -> None:
        self._edited = True

    def _find(self) -> None:
        row = self.session.active
        values = [field.value for field in self._wishes]
        if row is None or None in values:
            return
        right, top, back = (value / 100.0 for value in values if value is not None)
        self._edited = False
        self.session.attempt(wished_view, row, Showing(right, top, back))
        self.refresh()

    def refresh(self) -> None:
        """Show how the selected volume shows now, unless a wish is being typed."""
        row = self.session.active
        now = None if row is None else showing(self.session.document, row)
        self._go.setEnabled(now is not None)
        for field in self._wishes:
            field.setEnabled(now is not None)
        if row is None or now is None:
            self._hint.setText(tr("Select a volume that is turned before a level eye."))
            return
        self._hint.setText(tr("Of {volume}; type what it shall be.", volume=self.session.document.volumes[row].name))
        if not self._edited:
            for field, value in zip(self._wishes, (now.right, now.top, now.back), strict=True):
                field.show_value(round(100.0 * value, 1))
