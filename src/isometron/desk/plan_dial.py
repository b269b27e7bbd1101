"""The plan dial: the eye in plan as an instrument. Turn the set square, pull the station point."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
)
from PyQt6.QtWidgets import QWidget

from isometron.desk.board_paint import interface_font
from isometron.desk.session import Session
from isometron.desk.theme import DIRECTION_COLOURS, Tone
from isometron.document.eye_edits import (
    pivot,
    set_viewing_distance,
    step_back_keeping_size,
    turn_object,
    turn_of,
    turn_view,
)
from isometron.geometry.frames import Floats
from isometron.surfaces.painter import draw_lines, line_pen
from isometron.view.plan import arm_angles, plan_points, snapped

__all__ = ["PLANE_Y", "PlanDial"]

PLANE_Y = 56.0
"""Pixels from the dial's upper edge to the picture plane."""

_BELOW = 20.0
_REACH = 12.0
_LEFT, _RIGHT = DIRECTION_COLOURS["left"][1], DIRECTION_COLOURS["right"][1]


@dataclass(frozen=True)
class _Place:
    """Pixels of plan places: mm of paper to the right of the line of sight and away from the eye."""

    scale: float
    middle: float
    eye_y: float

    def pixel(self, across: float, away: float) -> QPointF:
        return QPointF(self.middle + across * self.scale, self.eye_y - away * self.scale)

    def bearing(self, at: QPointF) -> float:
        """The angle in degrees at the station point from straight ahead to ``at``, right is positive."""
        return degrees(atan2(at.x() - self.middle, self.eye_y - at.y()))


class PlanDial(QWidget):
    """Picture plane, station point, set square, cone and footprints, drawn to scale; drag or use the arrow keys.

    ``turns_object``: turning the square walks round the object; otherwise the head is turned where it stands.
    ``keeps_size``: pulling the station point walks along, so that the object keeps its size on paper.
    """

    resized = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.turns_object = True
        self.keeps_size = True
        self._drag: tuple[str, QPointF, float, _Place] | None = None
        self.setMinimumHeight(178)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Plan dial")
        self.setAccessibleDescription(
            "Left and right arrows turn the set square, up and down pull the station point."
        )
        for signal in (session.document_changed, session.previewed, session.selection_changed):
            signal.connect(self.update)

    # --- geometry -------------------------------------------------------------------------------------------------

    def _place(self) -> _Place:
        if self._drag is not None:
            return self._drag[3]
        document = self._session.document
        f = document.eye.viewing_distance
        room = self.height() - PLANE_Y - _BELOW
        scale = min(room / f, self.width() / (1.25 * document.sheet.width))
        return _Place(scale, self.width() / 2, PLANE_Y + f * scale)

    def _rotation(self) -> Floats:
        active = self._session.active
        return np.eye(3) if active is None else self._session.drawing.scene.rotations[active]

    def _part_at(self, at: QPointF) -> str:
        place = self._place()
        if hypot(at.x() - place.middle, at.y() - place.eye_y) <= _REACH:
            return "distance"
        angle = place.bearing(at)
        away = hypot(at.x() - place.middle, at.y() - place.eye_y)
        arms = arm_angles(self._session.document.eye, self._rotation())
        near = min(abs(angle - arm) for arm in arms)
        return "turn" if near < 90.0 and away * sin(radians(near)) <= _REACH and at.y() <= place.eye_y + 4 else ""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Tell whoever has laid numbers on the dial."""
        self.resized.emit()

    # --- hands ----------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the station point or of an arm."""
        assert event is not None
        part = self._part_at(event.position())
        if event.button() != Qt.MouseButton.LeftButton or not part:
            return
        self._drag = (part, event.position(), self._value(part), self._place())

    def _value(self, part: str) -> float:
        settled = self._session.settled
        if part == "distance":
            return settled.eye.viewing_distance
        return turn_of(settled) if self.turns_object else settled.eye.yaw_deg

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn or pull while the hand holds on; otherwise show what can be held."""
        assert event is not None
        if self._drag is None:
            shapes = {"distance": Qt.CursorShape.SizeVerCursor, "turn": Qt.CursorShape.OpenHandCursor}
            self.setCursor(shapes.get(self._part_at(event.position()), Qt.CursorShape.ArrowCursor))
            return
        part, start, value, place = self._drag
        if part == "distance":
            self._pull(max(value + (event.position().y() - start.y()) / place.scale, 20.0))
        else:
            # Turning the object clockwise carries the arms to the right; so does turning the head to the left.
            swing = place.bearing(event.position()) - place.bearing(start)
            self._turn(value - swing if self.turns_object else value + swing)

    def _pull(self, distance: float) -> None:
        edit = step_back_keeping_size if self.keeps_size else set_viewing_distance
        self._session.preview(edit, float(round(distance)))

    def _turn(self, angle: float) -> None:
        angle = (angle + 180.0) % 360.0 - 180.0
        if self.turns_object:
            self._session.preview(turn_object, snapped(angle))
        else:
            self._session.preview(turn_view, angle)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: what is shown becomes one step."""
        if self._drag is not None:
            self._drag = None
            self._session.take_preview()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrow keys turn and pull, Shift more finely; Escape drops what is being dragged."""
        assert event is not None
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        turns = {Qt.Key.Key_Left: 1.0, Qt.Key.Key_Right: -1.0}
        pulls = {Qt.Key.Key_Up: -10.0, Qt.Key.Key_Down: 10.0}
        if event.key() == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self._session.drop_preview()
        elif event.key() in turns:
            step = turns[Qt.Key(event.key())] * (0.1 if fine else 1.0)
            self._turn_exactly(self._value("turn") + (step if self.turns_object else -step))
        elif event.key() in pulls:
            step = pulls[Qt.Key(event.key())] * (0.1 if fine else 1.0)
            self._pull(max(self._value("distance") + step, 20.0))
            self._session.take_preview()
        else:
            super().keyPressEvent(event)

    def _turn_exactly(self, angle: float) -> None:
        angle = round((angle + 180.0) % 360.0 - 180.0, 3)
        self._session.preview(turn_object if self.turns_object else turn_view, angle)
        self._session.take_preview()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the focus."""
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Show that the focus has gone."""
        self.update()

    # --- paint ----------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the plan."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        place, document = self._place(), self._session.document
        eye = document.eye
        self._cone(painter, place)
        self._footprints(painter, place)
        painter.setPen(QPen(QColor(Tone.TEXT), 1.4))
        plane = place.pixel(0.0, eye.viewing_distance).y()
        painter.drawLine(QPointF(0.0, plane), QPointF(self.width(), plane))
        left, _, right, _ = document.sheet.rectangle
        painter.setPen(QPen(QColor(Tone.TEXT), 4.0, cap=Qt.PenCapStyle.FlatCap))
        painter.drawLine(place.pixel(left, eye.viewing_distance), place.pixel(right, eye.viewing_distance))
        self._square(painter, place)
        self._lettering(painter, place, plane)
        if self.hasFocus():
            painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 3.0, 3.0)
        painter.end()

    def _cone(self, painter: QPainter, place: _Place) -> None:
        eye = self._session.document.eye
        half, f = eye.cone_radius, eye.viewing_distance
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#E4D9C4"))
        corners = [place.pixel(0, 0), place.pixel(-half, f), place.pixel(half, f)]
        painter.drawPolygon(QPolygonF(corners))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _footprints(self, painter: QPainter, place: _Place) -> None:
        """The volumes in plan, at the scale at which their middle stands in the picture plane."""
        document, scene = self._session.document, self._session.drawing.scene
        if len(scene.vertices) == 0:
            return
        middle = plan_points(document.eye, pivot(document)[None])[0]
        if not middle[1] > 0.0:
            return
        points = plan_points(document.eye, scene.vertices) * (document.eye.viewing_distance / middle[1])
        i, j = scene.edges.T
        lines = np.hstack([points[i], points[j]]) * place.scale
        lines[:, 0::2] += place.middle
        lines[:, 1::2] = place.eye_y - lines[:, 1::2]
        painter.save()
        painter.setClipRect(self.rect())
        draw_lines(painter, lines, line_pen("#A59C8A", 1.0))
        painter.restore()

    def _square(self, painter: QPainter, place: _Place) -> None:
        """The arms run from the station point through the picture plane; the small square marks the right angle."""
        far = 3.0 * (self.width() + self.height()) / place.scale
        arms = arm_angles(self._session.document.eye, self._rotation())
        station = place.pixel(0.0, 0.0)
        painter.setClipRect(self.rect())
        for angle, colour in zip(arms, (_LEFT, _RIGHT), strict=True):
            painter.setPen(QPen(QColor(colour), 2.0))
            painter.drawLine(station, place.pixel(far * sin(radians(angle)), far * cos(radians(angle))))
        middle = radians(sum(arms) / 2)
        painter.setPen(QPen(QColor(Tone.QUIET), 1.0, Qt.PenStyle.DashLine))
        painter.drawLine(station, place.pixel(far * sin(middle), far * cos(middle)))
        side = 12.0 / place.scale
        tips = [(side * sin(radians(a)), side * cos(radians(a))) for a in arms]
        outer = (tips[0][0] + tips[1][0], tips[0][1] + tips[1][1])
        painter.setPen(QPen(QColor(Tone.TEXT), 1.2))
        painter.drawPolyline(QPolygonF([place.pixel(*tips[0]), place.pixel(*outer), place.pixel(*tips[1])]))
        painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
        painter.setBrush(QColor(Tone.ACCENT))
        painter.drawEllipse(station, 6.0, 6.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _lettering(self, painter: QPainter, place: _Place, plane: float) -> None:
        painter.setFont(interface_font(11))
        painter.setPen(QColor(Tone.QUIET))
        painter.drawText(QPointF(4.0, plane - 6.0), "picture plane")
