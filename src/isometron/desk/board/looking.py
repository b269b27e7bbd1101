"""Looking at the sheet: fitted, zoomed, turned, moved."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from isometron.construct.outcome import Construction
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.solve.measures import off_sheet
from isometron.view.vanishing import box_vanishing

__all__ = ["Looking"]

_FARTHEST = 20_000.0
"""mm off the sheet to which vanishing points are shown with it."""


class Looking:
    """The board's view. Until a person has zoomed or moved it, the sheet stays fitted.

    size : tells the board's, pixels; changed : called after the view is another one.
    """

    def __init__(self, session: Session, size: Callable[[], tuple[int, int]], changed: Callable[[], None]) -> None:
        self.view = BoardView()
        self._session, self._size, self._changed, self._fitted = session, size, changed, False
        self._centre = session.document.sheet.centre_of_vision

    def steady(self) -> None:
        """An edit was taken: the sheet stays where it lies on the table, wherever its centre of vision is now."""
        centre = self._session.document.sheet.centre_of_vision
        if centre != self._centre:
            if self._fitted:
                self._centre = centre
                self.fit_sheet()
                return
            # Paper places count from the centre of vision.
            now = self.view.point_to_screen(*self._centre)
            then = self.view.point_to_screen(*centre)
            self._centre = centre
            self._take(self.view.moved(then[0] - now[0], then[1] - now[1]))

    def steadied(self) -> None:
        """Whoever moved the centre of vision has kept the sheet where it should be."""
        self._centre = self._session.document.sheet.centre_of_vision

    def fit_sheet(self) -> None:
        """Show the whole sheet."""
        self._fitted = True
        self._take(
            BoardView.fitting(self._session.document.sheet.rectangle, *self._size(), turn_deg=self.view.turn_deg)
        )

    def fit_everything(self, construction: Construction | None) -> None:
        """Show the sheet, every vanishing point of the active volume or of the world's directions, and a construction."""
        document, active = self._session.document, self._session.active
        rotation = np.eye(3) if active is None else self._session.drawing.scene.rotations[active]
        points = [point.at for point in box_vanishing(document.eye, rotation) if point.at is not None]
        points = [at for at in points if off_sheet(document, at) < _FARTHEST]
        if construction is not None:
            points += [spot.at for step in construction.steps for spot in step.points]
        left, lower, right, upper = document.sheet.rectangle
        all_points = np.array([(left, lower), (right, upper), *points])
        (u0, v0), (u1, v1) = all_points.min(axis=0).tolist(), all_points.max(axis=0).tolist()
        self._fitted = False
        self._take(BoardView.fitting((u0, v0, u1, v1), *self._size(), 0.08 * min(self._size()), self.view.turn_deg))

    def zoom(self, factor: float, x: float | None = None, y: float | None = None) -> None:
        """Zoom about a pixel, the board's middle without one."""
        self._fitted = False
        self._take(self.view.zoomed(factor, *self._pixel(x, y)))

    def turn(self, by_deg: float) -> None:
        """Turn the sheet on the table about the middle of the board, clockwise as it is seen."""
        self._fitted = False
        self._take(self.view.turned(by_deg, *self._pixel(None, None)))

    def move(self, dx: float, dy: float) -> None:
        """Move the sheet by pixels."""
        self._fitted = False
        self._take(self.view.moved(dx, dy))

    def resized(self, first: bool) -> None:
        """The board has another size."""
        if self._fitted or first:
            self.fit_sheet()

    def _pixel(self, x: float | None, y: float | None) -> tuple[float, float]:
        width, height = self._size()
        return (width / 2 if x is None else x), (height / 2 if y is None else y)

    def _take(self, view: BoardView) -> None:
        if view != self.view:
            self.view = view
            self._changed()
