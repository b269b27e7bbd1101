"""Vanishing points as beads on the board that the hand places: two on a level horizon, or three anywhere."""

from __future__ import annotations

from math import hypot

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from isometron.desk.board_view import BoardView
from isometron.desk.session import Session
from isometron.document.edits import Edit
from isometron.document.eye_setting import (
    by_three_points,
    by_two_points,
    no_eye_words,
    points_on_sheet,
    view_words,
)
from isometron.document.model import Document, DocumentError
from isometron.tools.pencil import Note, Preview
from isometron.view.recover import NoEye, eye_from_three, eye_from_two
from isometron.wording import tr

__all__ = ["BeadGrips"]

_REACH = 9.0

Place = tuple[float, float]


class BeadGrips(QObject):
    """What a bead under the hand does to the eye.

    Signals: ``wished`` with three points (on the sheet) when they were let go where no eye sees a box so.
    """

    wished = pyqtSignal(tuple)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._held: int | None = None
        self._start: list[Place | None] = []
        self._at: Place = (0.0, 0.0)
        self._row: int | None = None
        self._refused = False
        self.preview: Preview | None = None

    @property
    def held(self) -> bool:
        """Whether a bead is being dragged."""
        return self._held is not None

    def at(self, view: BoardView, x: float, y: float) -> int | None:
        """Return which direction's bead lies under a pixel, or None."""
        document = self._session.document
        for k, point in enumerate(points_on_sheet(document, self._session.active)):
            if point is not None:
                u, v = point[0] - document.sheet.centre_of_vision[0], point[1] - document.sheet.centre_of_vision[1]
                px, py = view.point_to_screen(u, v)
                if hypot(px - x, py - y) <= _REACH:
                    return k
        return None

    def take(self, bead: int) -> bool:
        """Take hold of a bead; False with words where it cannot be placed by hand."""
        document = self._session.settled
        self._row = self._session.active
        self._start = points_on_sheet(document, self._row)
        count = sum(point is not None for point in self._start)
        if count < 2 or (count == 2 and not _level(document)):
            words = tr("A single vanishing point is where the eye looks: move the sheet or the eye instead.")
            self._session.say(words, caution=True)
            return False
        self._held, self._refused = bead, False
        return True

    def drag(self, view: BoardView, x: float, y: float) -> None:
        """Follow the hand: the eye that sees the points so, or why there is none and the nearest triangle."""
        assert self._held is not None
        settled = self._session.settled
        u, v = view.to_paper(x, y)
        # The hand is on the sheet as it lies now; the points are told from the settled sheet's corner.
        shown = self._session.document.sheet.centre_of_vision
        self._at = (u + shown[0], v + shown[1])
        level = sum(point is not None for point in self._start) == 2
        edit, words, triangle = self._two(settled) if level else self._three(settled)
        self._refused = edit is None
        if edit is not None:
            self._session.show(edit)
        else:
            self._session.drop_preview()
        centre = self._session.document.sheet.centre_of_vision
        at = (self._at[0] - centre[0], self._at[1] - centre[1])
        lines = [(p[0] - centre[0], p[1] - centre[1]) for p in triangle]
        guides = np.array([[*lines[k - 1], *lines[k]] for k in range(len(lines))]).reshape(-1, 4)
        self.preview = Preview(
            words, guides=guides, notes=(Note(words, *at),), refusal=words if self._refused else ""
        )

    def _two(self, document: Document) -> tuple[Edit | None, str, tuple[Place, ...]]:
        held = self._held
        other = next(k for k, point in enumerate(self._start) if point is not None and k != held)
        fixed = self._start[other]
        assert fixed is not None
        left, right = sorted((self._at[0], fixed[0]))
        view = eye_from_two(left, right, document.sheet.centre_of_vision[0])
        try:
            edit = by_two_points(document, self._row, left, right)
        except DocumentError as error:
            return None, str(error), ()
        return edit, "" if isinstance(view, NoEye) else view_words(view), ()

    def _wish(self) -> tuple[Place, Place, Place]:
        points = [self._at if k == self._held else point for k, point in enumerate(self._start)]
        a, b, c = (point if point is not None else (0.0, 0.0) for point in points)
        return a, b, c

    def _three(self, document: Document) -> tuple[Edit | None, str, tuple[Place, ...]]:
        wish = self._wish()
        view = eye_from_three(*wish)
        if isinstance(view, NoEye):
            return None, no_eye_words(view), view.nearest
        try:
            return by_three_points(document, self._row, wish), view_words(view), wish
        except DocumentError as error:
            return None, str(error), ()

    def let_go(self, *, keep: bool) -> None:
        """Take the drag as one step; where no eye is, leave the eye and tell the wish."""
        three = sum(point is not None for point in self._start) == 3
        refused, wish = self._refused, self._wish() if three else None
        self._held, self.preview = None, None
        if keep and not refused:
            self._session.take_preview()
        else:
            self._session.drop_preview()
            if keep and wish is not None:
                self.wished.emit(wish)


def _level(document: Document) -> bool:
    return document.eye.pitch_deg == 0.0 and document.eye.roll_deg == 0.0
