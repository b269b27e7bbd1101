"""The plan dial: the eye in plan as an instrument. Turn the set square, pull the station point."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
)
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.eyes.eye_edits import (
    pivot,
    set_viewing_distance,
    step_back_keeping_size,
    turn_object,
    turn_of,
    turn_view,
)
from isometron.geometry.frames import Floats, half_turn
from isometron.surfaces.painters.qt_strokes import draw_lines, line_pen
from isometron.view.plan import arm_angles, plan_points, snapped
from isometron.volumes.own_sides import front_ray
from isometron.wording import tr

__all__ = ["PLANE_Y", "PlanDial"]

PLANE_Y = 60.0
"""Pixels from the dial's upper edge to the picture plane."""

_BELOW = 20.0
_ANY_HEIGHT = 16777215
"""The toolkit's word for no bound."""
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


@dataclass(frozen=True)
class _Hold:
    """What is held (turn or distance), where it began, the value then, and the plan as it was drawn then."""

    part: str
    start: QPointF
    value: float
    place: _Place


class PlanDial(Instrument[_Hold]):
    """Picture plane, station point, set square, cone and footprints, drawn to scale; drag or use the arrow keys.

    ``turns_object``: turning the square walks round the object; otherwise the head is turned where it stands.
    ``keeps_size``: pulling the station point walks along, so that the object keeps its size on paper.
    """

    resized = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr("Left and right arrows turn the set square, up and down pull the station point.")
        super().__init__(session, tr("Plan dial"), words, parent)
        self.turns_object = True
        self.keeps_size = True
        self.folded = False
        self.fold(False)

    @staticmethod
    def least_height(folded: bool) -> int:
        """Return the pixels that its words and numbers need, folded or with the plan."""
        return px(48) if folded else round(PLANE_Y) + 14 + 2 * px(26)

    def fold(self, folded: bool) -> None:
        """Show only the numbers that lie on the dial, or the plan too."""
        self.folded = folded
        self.setMinimumHeight(self.least_height(folded))
        self.setMaximumHeight(self.least_height(folded) if folded else _ANY_HEIGHT)
        self.resized.emit()
        self.update()

    # --- geometry -------------------------------------------------------------------------------------------------

    def _place(self) -> _Place:
        if self._drag is not None:
            return self._drag.place
        document = self._session.document
        f = document.eye.viewing_distance
        room = self.height() - PLANE_Y - _BELOW
        scale = min(room / f, self.width() / (1.25 * document.sheet.width))
        return _Place(scale, self.width() / 2, PLANE_Y + f * scale)

    def _rotation(self) -> Floats:
        active = self._session.active
        return np.eye(3) if active is None else self._session.drawing.scene.rotations[active]

    def _part_at(self, at: QPointF) -> str:
        if self.folded:
            return ""
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

    def grip_at(self, at: QPointF) -> _Hold | None:
        """Return the hold on the station point or on an arm."""
        part = self._part_at(at)
        return _Hold(part, at, self._value(part), self._place()) if part else None

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """Show what can be turned and what can be pulled."""
        shapes = {"distance": Qt.CursorShape.SizeVerCursor, "turn": Qt.CursorShape.OpenHandCursor}
        return shapes.get(self._part_at(at), Qt.CursorShape.ArrowCursor)

    def follow(self, hold: _Hold, at: QPointF) -> None:
        """Turn or pull while the hand holds on."""
        if hold.part == "distance":
            self._pull(max(hold.value + (at.y() - hold.start.y()) / hold.place.scale, 20.0))
            return
        # Turning the object clockwise carries the arms to the right; so does turning the head to the left.
        swing = hold.place.bearing(at) - hold.place.bearing(hold.start)
        self._turn(hold.value - swing if self.turns_object else hold.value + swing)

    def _value(self, part: str) -> float:
        settled = self._session.settled
        if part == "distance":
            return settled.eye.viewing_distance
        return turn_of(settled) if self.turns_object else settled.eye.yaw_deg

    def _pull(self, distance: float) -> None:
        edit = step_back_keeping_size if self.keeps_size else set_viewing_distance
        self._session.preview(edit, float(round(distance)))

    def _turn(self, angle: float) -> None:
        angle = half_turn(angle)
        if self.turns_object:
            self._session.preview(turn_object, snapped(angle))
        else:
            self._session.preview(turn_view, angle)

    def step(self, key: int, size: float) -> bool:
        """Arrow keys turn by a degree and pull by ten millimetres."""
        turns = {Qt.Key.Key_Left: 1.0, Qt.Key.Key_Right: -1.0}
        pulls = {Qt.Key.Key_Up: -10.0, Qt.Key.Key_Down: 10.0}
        if key in turns:
            way = turns[Qt.Key(key)] * size
            self._turn_exactly(self._value("turn") + (way if self.turns_object else -way))
        elif key in pulls:
            self._pull(max(self._value("distance") + pulls[Qt.Key(key)] * size, 20.0))
            self._session.take_preview()
        return key in turns or key in pulls

    def _turn_exactly(self, angle: float) -> None:
        angle = round(half_turn(angle), 3)
        self._session.preview(turn_object if self.turns_object else turn_view, angle)
        self._session.take_preview()

    # --- paint ----------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the plan."""
        if self.folded:
            return
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
        self._front(painter, place)
        self._lettering(painter, place, plane)
        self.paint_focus(painter)
        painter.end()

    def _cone(self, painter: QPainter, place: _Place) -> None:
        eye = self._session.document.eye
        half, f = eye.cone_radius, eye.viewing_distance
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#E4D9C4"))
        corners = [place.pixel(0, 0), place.pixel(-half, f), place.pixel(half, f)]
        painter.drawPolygon(QPolygonF(corners))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _pixels(self, place: _Place, places: Floats) -> Floats | None:
        """Return places (K, 3) in plan as pixels (K, 2), at the scale at which the volumes' middle stands in the picture plane."""
        eye = self._session.document.eye
        middle = plan_points(eye, pivot(self._session.document)[None])[0]
        if not middle[1] > 0.0:
            return None
        scale = place.scale * eye.viewing_distance / middle[1]
        points: Floats = np.array([place.middle, place.eye_y]) + plan_points(eye, places) * (scale, -scale)
        return points

    def _footprints(self, painter: QPainter, place: _Place) -> None:
        """The volumes in plan."""
        scene = self._session.drawing.scene
        points = self._pixels(place, scene.vertices) if len(scene.vertices) else None
        if points is None:
            return
        i, j = scene.edges.T
        painter.save()
        painter.setClipRect(self.rect())
        draw_lines(painter, np.hstack([points[i], points[j]]), line_pen("#A59C8A", 1.0))
        painter.restore()

    def _front(self, painter: QPainter, place: _Place) -> None:
        """Say where the selected thing's own front is: an arrow out of it, and the word."""
        active = self._session.active_volume
        ray = None if active is None else self._pixels(place, front_ray(active))
        if ray is None:
            return
        (x, y), (to_x, to_y) = ray
        far = max(hypot(to_x - x, to_y - y), 1.0)
        ux, uy = (to_x - x) / far, (to_y - y) / far
        tip = QPointF(to_x + 9.0 * ux, to_y + 9.0 * uy)
        painter.setPen(QPen(QColor(Tone.ACCENT), 1.8))
        painter.drawLine(QPointF(x, y), tip)
        for side in (1.0, -1.0):
            back = QPointF(tip.x() - 6.0 * ux - 3.5 * side * uy, tip.y() - 6.0 * uy + 3.5 * side * ux)
            painter.drawLine(tip, back)
        painter.setFont(interface_font(11))
        painter.setPen(QColor(Tone.ACCENT_TEXT))
        word, metrics = tr("front"), painter.fontMetrics()
        wide, high = metrics.horizontalAdvance(word), metrics.ascent()
        left = tip.x() + (6.0 if ux > 0.3 else -wide - 6.0 if ux < -0.3 else -wide / 2.0)
        foot = tip.y() + (high + 3.0 if uy > 0.3 else -4.0 if uy < -0.3 else high / 2.0)
        left, foot = min(max(left, 2.0), self.width() - wide - 2.0), min(max(foot, high + 1.0), self.height() - 3.0)
        # Where a field or other lettering lies there, it stands over the picture plane instead, or under it.
        taken = [QRectF(field.geometry()) for field in self.findChildren(QWidget)]
        taken.append(QRectF(4.0, PLANE_Y - 6.0 - high, metrics.horizontalAdvance(tr("picture plane")), high + 4.0))
        for place_of in (foot, PLANE_Y - 6.0, PLANE_Y + high + 4.0, PLANE_Y - 10.0 - high):
            box = QRectF(left - 2.0, place_of - high, wide + 4.0, high + 3.0)
            if not any(box.intersects(other) for other in taken):
                painter.fillRect(box, QColor(Tone.PANEL))
                painter.drawText(QPointF(left, place_of), word)
                return

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
        painter.drawText(QPointF(4.0, plane - 6.0), tr("picture plane"))
