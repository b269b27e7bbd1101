"""Vanishing points as beads on the board that the hand places: two on a level horizon, or three anywhere."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.overlays.slips import paint_preview
from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS
from isometron.document.edits import Edit
from isometron.document.eyes.eye_setting import (
    by_three_points,
    by_two_points,
    no_eye_words,
    points_on_sheet,
    view_words,
)
from isometron.document.eyes.point_names import point_word
from isometron.document.lengths.units import format_paper
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.solve.drawing import Drawing
from isometron.solve.measures import going, off_sheet
from isometron.tools.pencil import Note, Preview
from isometron.view.recover import NoEye, eye_from_three, eye_from_two
from isometron.view.vanishing import box_vanishing
from isometron.wording import tr

__all__ = ["BeadGrips"]

_REACH = 9.0

Place = tuple[float, float]


class BeadGrips(Grips):
    """What a bead under the hand does to the eye.

    when_wished : told three points (on the sheet) that were let go where no eye sees a box so.
    """

    holds_sheet = True

    def __init__(self, session: Session, when_wished: Callable[[tuple], None]) -> None:
        super().__init__(session)
        self._when_wished = when_wished
        self._held = 0
        self._start: list[Place | None] = []
        self._at: Place = (0.0, 0.0)
        self._row: int | None = None
        self._refused = False
        self._preview: Preview | None = None

    @property
    def words(self) -> tuple[str, str]:
        """What was understood, or why there is no such eye."""
        return ("", "") if self._preview is None else (self._preview.prompt, self._preview.refusal)

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return which direction's bead lies under a pixel, or None."""
        document = self._session.document
        if not document.show.construction:
            return None
        for k, point in enumerate(points_on_sheet(document, self._session.active)):
            if point is not None:
                u, v = point[0] - document.sheet.centre_of_vision[0], point[1] - document.sheet.centre_of_vision[1]
                x, y = view.point_to_screen(u, v)
                if hypot(x - at.x(), y - at.y()) <= _REACH:
                    return k
        return None

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold of a bead; False with words where it cannot be placed by hand."""
        document = self._session.settled
        self._row = self._session.active
        self._start = points_on_sheet(document, self._row)
        count = sum(point is not None for point in self._start)
        if count < 2 or (count == 2 and not _level(document)):
            words = tr("A single vanishing point is where the eye looks: move the sheet or the eye instead.")
            self._session.say(words, caution=True)
            return False
        assert isinstance(hold, int)
        self._held, self._refused = hold, False
        return True

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand: the eye that sees the points so, or why there is none and the nearest triangle."""
        settled = self._session.settled
        u, v = view.to_paper(at.x(), at.y())
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
        place = (self._at[0] - centre[0], self._at[1] - centre[1])
        lines = [(p[0] - centre[0], p[1] - centre[1]) for p in triangle]
        guides = np.array([[*lines[k - 1], *lines[k]] for k in range(len(lines))]).reshape(-1, 4)
        self._preview = Preview(
            words, guides=guides, notes=(Note(words, *place),), refusal=words if self._refused else ""
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
        self._preview = None
        if keep and not refused:
            self._session.take_preview()
        else:
            self._session.drop_preview()
            if keep and wish is not None:
                self._when_wished(wish)

    def boxes(self, view: BoardView, size: tuple[int, int]) -> Floats:
        """Return what the beads on the board cover, pixels."""
        document = self._session.document
        if not document.show.construction:
            return np.zeros((0, 4))
        centre = np.array(document.sheet.centre_of_vision)
        points = [np.array(p) - centre for p in points_on_sheet(document, self._session.active) if p is not None]
        at = np.array([view.point_to_screen(*map(float, point)) for point in points]).reshape(-1, 2)
        return np.hstack([at - np.array([22.0, 26.0]), at + np.array([22.0, _REACH])])

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint the beads, and while one is dragged the triangle and what it means."""
        if self._session.document.show.construction:
            _paint_beads(painter, self._session.drawing, view, self._session.active, *size)
        if self._preview is not None:
            paint_preview(painter, self._preview, "", view, *size)


def _level(document: Document) -> bool:
    return document.eye.pitch_deg == 0.0 and document.eye.roll_deg == 0.0


def _paint_beads(
    painter: QPainter, drawing: Drawing, view: BoardView, owner: int | None, width: int, height: int
) -> None:
    """Paint the vanishing points of a volume's directions, or of the world's, as beads.

    One out of the window becomes a tag at the window's rim that says how far off the sheet it lies.
    """
    document = drawing.document
    rotation = np.eye(3) if owner is None else drawing.scene.rotations[owner]
    points = box_vanishing(document.eye, rotation)
    axis_level = np.abs(rotation[2]) < CLOSE
    for row, (point, word) in enumerate(zip(points, map(going, points), strict=True)):
        if point.at is None:
            continue
        letter, colour = DIRECTION_COLOURS[word]
        x, y = view.point_to_screen(*point.at)
        if 0 <= x <= width and 0 <= y <= height:
            painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
            painter.setBrush(QColor(colour))
            painter.drawEllipse(QPointF(x, y), 5.0, 5.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            paint_tag(
                painter,
                min(max(x, 16.0), width - 16.0),
                y - 16.0,
                tr("VP {letter}", letter=point_word(document, point.at, letter)),
                colour,
            )
            continue
        if axis_level[row]:
            continue  # the horizon rail shows how far it lies
        far = format_paper(off_sheet(document, point.at), document.unit)
        side = min(max(x, 58.0), width - 58.0)
        across = max(-x, x - width) >= max(-y, y - height)
        arrow = ("◂ " if x < 0 else "▸ ") if across else ("▴ " if y < 0 else "▾ ")
        paint_tag(
            painter,
            side,
            min(max(y - 14.0, 14.0), height - 14.0),
            tr("{arrow}VP {letter}  {far} off", arrow=arrow, letter=point_word(document, point.at, letter), far=far),
            colour,
        )
