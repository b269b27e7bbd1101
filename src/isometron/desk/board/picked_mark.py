"""Which mark of a picture the hand works on."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from isometron.desk.frame.session import Session
from isometron.document.pictures.placing import picture_under
from isometron.document.pictures.sheet_picture import SheetPicture

__all__ = ["PickedMark"]


class PickedMark(QObject):
    """``line`` or ``ring`` and its number on the picture under the drawing; the latest one that was made. Signal: ``changed``."""

    changed = pyqtSignal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._picked: tuple[str, int] | None = None
        self._counts = self._counted()
        session.document_changed.connect(self._follow)
        session.selection_changed.connect(self._make_way)

    @property
    def picture(self) -> SheetPicture | None:
        """The picture that is worked on."""
        return picture_under(self._session.document)

    @property
    def mark(self) -> tuple[str, int] | None:
        """The mark, or None."""
        return self._picked

    def pick(self, mark: tuple[str, int] | None) -> None:
        """Work on a mark; volumes are not selected at the same time."""
        if mark is not None:
            self._session.select(())
        if mark != self._picked:
            self._picked = mark
            self.changed.emit()

    def _counted(self) -> tuple[str, int, int]:
        picture = self.picture
        return ("", 0, 0) if picture is None else (picture.id, len(picture.lines), len(picture.rings))

    def _follow(self) -> None:
        """Pick what was just marked; let go of what is gone."""
        before, self._counts = self._counts, self._counted()
        _, lines, rings = self._counts
        if before[0] == self._counts[0] and lines == before[1] + 1:
            self.pick(("line", lines - 1))
        elif before[0] == self._counts[0] and rings == before[2] + 1:
            self.pick(("ring", rings - 1))
        elif before != self._counts:
            self.pick(None)

    def _make_way(self) -> None:
        if self._session.selection:
            self.pick(None)
