"""Above, on or below the eye level, and which faces show."""

from __future__ import annotations

from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.solve.showing import level_words
from isometron.wording import tr

__all__ = ["Levels"]


class Levels(Section):
    """Above, on or below the eye level, and which faces show."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Above, below"), tr("Which faces show, and why"))
        self._words = self.words(quiet=False)

    def refresh(self) -> None:
        """Say it of the selected volumes, or of the first few."""
        document = self.session.document
        rows = [document.index_of(i) for i in self.session.selection] or list(range(len(document.volumes)))[:3]
        said = [level_words(self.session.drawing, row) for row in rows[:12] if row is not None]
        self._words.setText("\n\n".join(said) or tr("No volume yet. Pull a block (B), then raise and lower the eye."))
