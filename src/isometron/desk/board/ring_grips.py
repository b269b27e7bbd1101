"""Rings pulled on the board: each ring of a selected turned body has a grip at its side that makes it wider or narrower."""

from __future__ import annotations

from math import hypot

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from isometron.desk.board.grips import Grips
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone
from isometron.document.model import Document
from isometron.document.shapes.rounding import change_round
from isometron.geometry.frames import Floats
from isometron.tools.pulling import paper_direction, pulled_length
from isometron.volumes.box import box_corners
from isometron.volumes.turned import ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["RingGrips"]

_REACH = 8.0


class RingGrips(Grips):
    """Grips on the rings of the profile, shown while their stage is open."""

    name = "rings"
    shape = Qt.CursorShape.SizeHorCursor

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._held = 0

    def _volume(self, document: Document) -> Turned | None:
        row = self._session.active
        volume = None if row is None else document.volumes[row]
        return volume if isinstance(volume, Turned) else None

    def _places(self, document: Document) -> list[tuple[Floats, Floats, float]]:
        """Return for each ring its centre, the half axis (3,) of the whole body that its grip lies on, and its width."""
        volume = self._volume(document)
        if volume is None or not self.shown:
            return []
        corners, rotations = box_corners([volume])
        k = DIRECTIONS.index(volume.axle)
        half = np.array(volume.size) / 2
        middle = corners[0, 0] + rotations[0] @ (half * (np.arange(3) != k))
        # Of the four half axes the one that leads most to the right on paper, clear of the other handles.
        halves = [
            sign * rotations[0][:, (k + step) % 3] * half[(k + step) % 3] for step in (1, 2) for sign in (1, -1)
        ]
        ways = [paper_direction(document.eye, middle, way) for way in halves]
        out = max(zip(halves, ways, strict=True), key=lambda pair: -2.0 if pair[1] is None else float(pair[1][0]))[0]
        return [(middle + r.at * volume.size[k] * rotations[0][:, k], out, r.wide) for r in volume.profile]

    def _ends(self, view: BoardView) -> list[QPointF | None]:
        document = self._session.document
        found: list[QPointF | None] = []
        for centre, out, wide in self._places(document):
            paper, depth = document.eye.project(centre + wide * out)
            found.append(QPointF(*view.point_to_screen(*map(float, paper[0]))) if depth[0] > 0.0 else None)
        return found

    def at(self, view: BoardView, size: tuple[int, int], at: QPointF) -> object | None:
        """Return the ring whose grip lies under a pixel."""
        for number, end in enumerate(self._ends(view)):
            if end is not None and hypot(end.x() - at.x(), end.y() - at.y()) <= _REACH:
                return number
        return None

    def take(self, hold: object, view: BoardView, at: QPointF) -> bool:
        """Take hold of a ring."""
        assert isinstance(hold, int)
        self._held = hold
        return True

    def drag(self, view: BoardView, at: QPointF) -> None:
        """Follow the hand along the ring's half axis."""
        settled = self._session.settled
        volume, places = self._volume(settled), self._places(settled)
        if volume is None or self._held >= len(places):
            return
        centre, out, _ = places[self._held]
        reach = float(np.sqrt(out @ out))
        length = pulled_length(settled.eye, centre, out / reach, *view.to_paper(at.x(), at.y()))
        if length is not None:
            rings = list(volume.profile)
            ring = rings[self._held]
            wide = round(min(max(length / reach, 0.0), 1.0), 3)
            rings[self._held] = ProfileRing(at=ring.at, wide=wide, then=ring.then)
            self._session.preview(change_round, volume.id, tr("change the profile of"), profile=tuple(rings))

    def paint(self, painter: QPainter, view: BoardView, size: tuple[int, int]) -> None:
        """Paint the grips as small rings."""
        painter.setPen(QPen(QColor(Tone.RING), 2.0))
        painter.setBrush(QColor(Tone.SHEET))
        for end in self._ends(view):
            if end is not None:
                painter.drawEllipse(end, 4.0, 4.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)
