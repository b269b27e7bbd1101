"""The squared card: a prism's outline counted off in units; its corners are pulled from crossing to crossing."""

from __future__ import annotations

from math import hypot

import msgspec
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.controls.shape_rows import counted
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.edits import change_volume
from isometron.volumes.prism import Counted, Prism, plane_axes
from isometron.wording import tr

__all__ = ["SquaredCard"]

_MARGIN, _REACH = 14.0, 9.0

Points = tuple[tuple[float, float], ...]


class SquaredCard(Instrument[int]):
    """A hold is the number of a corner. A press on a side adds a corner there; a double click on one takes it away."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr(
            "Pull a corner to another crossing; press on a side for a new corner, double click to take one away."
        )
        super().__init__(session, tr("Squared card"), words, parent)
        self.setToolTip(words)
        self.setMinimumHeight(px(170))
        self._last = 0

    def _volume(self) -> Prism | None:
        return counted(self._session.active_volume)

    def _section(self) -> Counted | None:
        volume = self._volume()
        return volume.section if volume is not None and isinstance(volume.section, Counted) else None

    def _frame(self) -> QRectF:
        """Where the card lies, in the true proportion of the volume."""
        room = QRectF(self.rect()).adjusted(_MARGIN, _MARGIN, -_MARGIN, -_MARGIN)
        volume = self._volume()
        if volume is None:
            return room
        a, b, _ = plane_axes(volume.through)
        scale = min(room.width() / volume.size[a], room.height() / volume.size[b])
        frame = QRectF(0.0, 0.0, max(volume.size[a] * scale, 40.0), max(volume.size[b] * scale, 40.0))
        frame.moveCenter(room.center())
        return frame

    def point_of(self, x: float, y: float) -> QPointF:
        """Return the pixel of a place in units."""
        section, frame = self._section(), self._frame()
        assert section is not None
        return QPointF(
            frame.left() + x / section.columns * frame.width(), frame.bottom() - y / section.rows * frame.height()
        )

    def _units(self, at: QPointF) -> tuple[float, float]:
        section, frame = self._section(), self._frame()
        assert section is not None
        x = (at.x() - frame.left()) / frame.width() * section.columns
        y = (frame.bottom() - at.y()) / frame.height() * section.rows
        return float(min(max(round(x), 0), section.columns)), float(min(max(round(y), 0), section.rows))

    def grip_at(self, at: QPointF) -> int | None:
        """Return the corner under the hand; a press on a side makes a corner there first."""
        section = self._section()
        if section is None:
            return None
        gaps = [hypot(self.point_of(*p).x() - at.x(), self.point_of(*p).y() - at.y()) for p in section.points]
        nearest = min(range(len(gaps)), key=lambda k: gaps[k])
        if gaps[nearest] <= _REACH:
            self._last = nearest
            return nearest
        side = self._side_at(at, section)
        if side is None:
            return None
        points = (*section.points[: side + 1], self._units(at), *section.points[side + 1 :])
        self._last = side + 1
        self._put(points, show=True)
        return side + 1

    def _side_at(self, at: QPointF, section: Counted) -> int | None:
        for k in range(len(section.points)):
            one, two = (
                self.point_of(*section.points[k]),
                self.point_of(*section.points[(k + 1) % len(section.points)]),
            )
            way = two - one
            size = way.x() ** 2 + way.y() ** 2
            t = 0.0 if size == 0.0 else ((at.x() - one.x()) * way.x() + (at.y() - one.y()) * way.y()) / size
            foot = one + min(max(t, 0.0), 1.0) * way
            if hypot(foot.x() - at.x(), foot.y() - at.y()) <= 0.7 * _REACH:
                return k
        return None

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """A corner can be pulled."""
        section = self._section()
        if section is None:
            return Qt.CursorShape.ArrowCursor
        near = any(
            hypot(self.point_of(*p).x() - at.x(), self.point_of(*p).y() - at.y()) <= _REACH for p in section.points
        )
        return Qt.CursorShape.SizeAllCursor if near else Qt.CursorShape.CrossCursor

    def follow(self, hold: int, at: QPointF) -> None:
        """Pull a corner to the crossing nearest to the hand."""
        row = self._session.active
        volume = None if row is None else counted(self._session.document.volumes[row])
        if volume is None or not isinstance(volume.section, Counted) or hold >= len(volume.section.points):
            return
        points = list(volume.section.points)
        points[hold] = self._units(at)
        self._put(tuple(points), show=True)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Take a corner away; three stay."""
        assert event is not None
        section = self._section()
        hold = self.grip_at(event.position())
        self._session.drop_preview()
        self._drag = None
        if section is not None and hold is not None and hold < len(section.points) > 3:
            self._put(tuple(p for k, p in enumerate(section.points) if k != hold), show=False)

    def step(self, key: int, size: float) -> bool:
        """Arrows move the corner that was touched last by one unit."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        section = self._section()
        if key not in steps or section is None or self._last >= len(section.points):
            return False
        dx, dy = steps[Qt.Key(key)]
        x, y = section.points[self._last]
        points = list(section.points)
        points[self._last] = (
            min(max(x + dx, 0.0), float(section.columns)),
            min(max(y + dy, 0.0), float(section.rows)),
        )
        self._put(tuple(points), show=False)
        return True

    def _put(self, points: Points, *, show: bool) -> None:
        volume, section = self._volume(), self._section()
        if volume is None or section is None:
            return
        act = self._session.preview if show else self._session.attempt
        act(change_volume, volume.id, tr("count off"), section=msgspec.structs.replace(section, points=points))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the squares, the outline and its corners."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.FIELD))
        section = self._section()
        if section is not None:
            painter.setPen(QPen(QColor(Tone.RULE), 1.0))
            for column in range(section.columns + 1):
                painter.drawLine(self.point_of(column, 0), self.point_of(column, section.rows))
            for row in range(section.rows + 1):
                painter.drawLine(self.point_of(0, row), self.point_of(section.columns, row))
            corners = [self.point_of(*p) for p in section.points]
            fill = QColor(Tone.RING)
            fill.setAlpha(38)
            painter.setBrush(fill)
            painter.setPen(QPen(QColor(Tone.TEXT), 1.8))
            painter.drawPolygon(QPolygonF(corners))
            for number, corner in enumerate(corners):
                painter.setPen(QPen(QColor(Tone.RING), 2.0))
                painter.setBrush(QColor(Tone.RING if number == self._last and self.hasFocus() else Tone.FIELD))
                painter.drawRect(QRectF(corner.x() - 4.0, corner.y() - 4.0, 8.0, 8.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        self.paint_focus(painter)
        painter.end()
