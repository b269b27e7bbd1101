"""Grips that lie on the board beside the tools: each kind says where it can be held and what dragging it does to the eye."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter

from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.geometry.frames import Floats

__all__ = ["Grips", "GripsOnBoard"]


class Grips:
    """One kind of grip. A drag is shown by the session and taken as one step.

    shape : the cursor over a grip; holds_sheet : whether the sheet stays on the table while the centre of vision moves;
    name : by which they must be asked for, empty for grips that always stand there.
    """

    name = ""

    shape = Qt.CursorShape.SizeAllCursor
    holds_sheet = False

    def __init__(self, session: Session) -> None:
        self._session = session
        self.shown = not self.name

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return what a hand at a pixel would hold, or None."""
        raise NotImplementedError

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold; False (with words) when it cannot be dragged now."""
        raise NotImplementedError

    def add(self, view: BoardView, size: tuple[int, int], at: QPointF) -> bool:
        """Add something where a hand presses with Shift; False when there is nothing to add to."""
        return False

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Show where the hand leads."""
        raise NotImplementedError

    def let_go(self, *, keep: bool) -> None:
        """Take what is shown as one step, or drop it."""
        if keep:
            self._session.take_preview()
        else:
            self._session.drop_preview()

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint the grips."""

    def boxes(self, view: BoardView, size: tuple[int, int]) -> Floats:
        """Return left, top, right, bottom in pixels (N, 4) of what the grips cover."""
        return np.zeros((0, 4))

    @property
    def words(self) -> tuple[str, str]:
        """Prompt and refusal while one is dragged."""
        return "", ""


class GripsOnBoard:
    """All kinds on one board; at most one is held."""

    def __init__(self, session: Session, kinds: list[Grips]) -> None:
        self._session, self._kinds = session, kinds
        self.held: Grips | None = None

    def ask(self, names: frozenset[str]) -> None:
        """Show the grips that are asked for, and those that always stand there."""
        for kind in self._kinds:
            kind.shown = not kind.name or kind.name in names

    def _found(self, view: BoardView, size: tuple[int, int], at: QPointF) -> tuple[Grips, object] | None:
        for kind in self._kinds:
            hold = kind.at(view, size, at)
            if hold is not None:
                return kind, hold
        return None

    def shape_at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> Qt.CursorShape | None:
        """Return the cursor over a grip at a pixel, or None."""
        found = self._found(view, size, at)
        return None if found is None else found[0].shape

    def add(self, view: BoardView, size: tuple[int, int], at: QPointF) -> bool:
        """Add something where a hand presses with Shift; False when there is nothing to add to."""
        return any(kind.add(view, size, at) for kind in self._kinds)

    def take(self, view: BoardView, size: tuple[int, int], at: QPointF) -> bool:
        """Take hold of a grip at a pixel; False when there is none."""
        found = self._found(view, size, at)
        if found is not None and found[0].take(found[1], view, at):
            self.held = found[0]
        return found is not None

    def drag(self, view: BoardView, at: QPointF) -> BoardView:
        """Follow the hand, and return the view to go on with."""
        assert self.held is not None
        before = self._session.document.sheet.centre_of_vision
        self.held.drag(view, at)
        return self._steadied(self.held, view, before)

    def let_go(self, view: BoardView, *, keep: bool) -> BoardView:
        """Let go, and return the view to go on with."""
        assert self.held is not None
        held, self.held = self.held, None
        before = self._session.document.sheet.centre_of_vision
        held.let_go(keep=keep)
        return self._steadied(held, view, before)

    def _steadied(self, kind: Grips, view: BoardView, before: tuple[float, float]) -> BoardView:
        """Keep the sheet where it lies on the table while the centre of vision moves on it."""
        after = self._session.document.sheet.centre_of_vision
        if not kind.holds_sheet or after == before:
            return view
        now, then = view.point_to_screen(*before), view.point_to_screen(*after)
        return view.moved(then[0] - now[0], then[1] - now[1])

    def boxes(self, view: BoardView, size: tuple[int, int]) -> Floats:
        """Return what all grips cover, pixels (N, 4)."""
        return np.concatenate([kind.boxes(view, size) for kind in self._kinds])

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint all grips."""
        for kind in self._kinds:
            kind.paint(painter, view, size)
