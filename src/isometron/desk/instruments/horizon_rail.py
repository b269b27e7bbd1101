"""The horizon rail: the horizon as an angle scale from -90 to +90 degrees, so that far points are in reach."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.eyes.eye_edits import turn_object, turn_of
from isometron.document.eyes.point_names import point_word
from isometron.document.lengths.units import format_paper
from isometron.geometry.frames import half_turn
from isometron.solve.measures import off_sheet
from isometron.view.plan import arm_angles, snapped
from isometron.view.vanishing import vanishing
from isometron.wording import tr

__all__ = ["HorizonRail"]

_MARGIN = 26.0
_BEADS = (("L", "#D9B23C"), ("45", "#EDE6D6"), ("R", "#6FB7DD"))
_REACH = 11.0


class HorizonRail(Instrument[tuple[float, float]]):
    """Beads for the two vanishing points and the 45-degree point; dragging one turns the object, by the same angle.

    A hold is the bearing where it began and the object's turn then.
    """

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr("Drag a vanishing point along the horizon, or use the left and right arrows.")
        super().__init__(session, tr("Horizon rail"), words, parent)
        self.setFixedHeight(px(46))

    def angles(self) -> tuple[float, float, float]:
        """Bearings in degrees of the left point, the 45-degree point and the right point."""
        active = self._session.active
        rotation = np.eye(3) if active is None else self._session.drawing.scene.rotations[active]
        left, right = arm_angles(self._session.document.eye, rotation)
        return left, (left + right) / 2, right

    def x_of(self, angle: float) -> float:
        """Return the pixel of a bearing in degrees."""
        return _MARGIN + (angle + 90.0) / 180.0 * (self.width() - 2 * _MARGIN)

    def _angle_at(self, x: float) -> float:
        return (x - _MARGIN) / (self.width() - 2 * _MARGIN) * 180.0 - 90.0

    def _held(self, x: float) -> bool:
        return min(abs(x - self.x_of(angle)) for angle in self.angles()) <= _REACH

    def grip_at(self, at: QPointF) -> tuple[float, float] | None:
        """Return the hold on a bead."""
        return (self._angle_at(at.x()), turn_of(self._session.settled)) if self._held(at.x()) else None

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """A bead can be slid."""
        return Qt.CursorShape.SizeHorCursor if self._held(at.x()) else Qt.CursorShape.ArrowCursor

    def follow(self, hold: tuple[float, float], at: QPointF) -> None:
        """Slide the bead: the object turns by as much the other way."""
        start, turn = hold
        self._session.preview(turn_object, snapped(half_turn(turn - (self._angle_at(at.x()) - start))))

    def step(self, key: int, size: float) -> bool:
        """Left and right arrows slide the beads by a degree."""
        steps = {Qt.Key.Key_Left: 1.0, Qt.Key.Key_Right: -1.0}
        if key not in steps:
            return False
        turn = turn_of(self._session.settled) + steps[Qt.Key(key)] * size
        self._session.attempt(turn_object, round(half_turn(turn), 3))
        return True

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the scale, the cone, the sheet's extent and the beads."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.RAIL))
        document = self._session.document
        half = document.eye.cone_deg / 2
        cone = QRectF(self.x_of(-half), 0, self.x_of(half) - self.x_of(-half), self.height())
        painter.fillRect(cone, QColor(Tone.RAIL_CONE))
        left, _, right, _ = document.sheet.rectangle
        a, b = (self.x_of(document.eye.lens.bearing_deg(u)) for u in (left, right))
        painter.fillRect(QRectF(a, self.height() - 4.0, b - a, 4.0), QColor(Tone.SHEET))
        self._scale(painter)
        taken: list[QRectF] = []
        for (letter, colour), angle in zip(_BEADS, self.angles(), strict=True):
            self._bead(painter, letter, colour, angle, taken)
        self.paint_focus(painter)
        painter.end()

    def _scale(self, painter: QPainter) -> None:
        painter.setFont(interface_font(11))
        for angle in range(-90, 91, 10):
            x = self.x_of(angle)
            long = angle % 30 == 0
            painter.setPen(QPen(QColor("#A9B7B1"), 1.0))
            painter.drawLine(QPointF(x, self.height() - 6.0), QPointF(x, self.height() - (14.0 if long else 10.0)))
            if long:
                painter.setPen(QColor("#D6DDD8"))
                box = QRectF(x - 24.0, self.height() - 29.0, 48.0, 14.0)
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{angle}°")

    def _bead(self, painter: QPainter, letter: str, colour: str, angle: float, taken: list[QRectF]) -> None:
        """Paint a bead and its words: all of them where there is room, else its letter, else the bead alone."""
        x = self.x_of(angle)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour))
        painter.drawPolygon(QPolygonF([QPointF(x - 7, 3), QPointF(x + 7, 3), QPointF(x, 15)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QColor(colour))
        painter.setFont(interface_font(11, bold=True))
        word = point_word(self._session.document, self._point(angle), letter)
        for words in (f"{word} {self._far(angle)}".strip(), word, letter):
            width = painter.fontMetrics().horizontalAdvance(words)
            for begin in (x + 11.0, x - 11.0 - width):
                box = QRectF(begin, 2.0, width, 14.0)
                clear = begin > 2 and begin + width < self.width() - 2 and not any(box.intersects(t) for t in taken)
                if clear and not any(
                    box.intersects(QRectF(self.x_of(a) - 7, 2.0, 14.0, 14.0)) for a in self.angles()
                ):
                    painter.drawText(QPointF(begin, px(12) + 1.0), words)
                    taken.append(box)
                    return

    def _point(self, angle: float) -> tuple[float, float] | None:
        """Return the paper place of the point of a bearing, None where there is none."""
        eye = self._session.document.eye
        azimuth = np.radians(eye.yaw_deg - angle)
        return vanishing(eye, np.array([-np.sin(azimuth), np.cos(azimuth), 0.0])).at

    def _far(self, angle: float) -> str:
        """How far off the sheet the point of this bearing lies; nothing for one on the sheet."""
        document, at = self._session.document, self._point(angle)
        if at is None:
            return tr("nowhere")
        far = off_sheet(document, at)
        return tr("{far} off", far=format_paper(far, document.unit)) if far else ""
