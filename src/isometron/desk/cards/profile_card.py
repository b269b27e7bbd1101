"""The side-view card: a turned body's profile with its rings as points that are pulled up, down and wide."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.shapes.rounding import change_round
from isometron.volumes.profile import profile_sides, sampled
from isometron.volumes.turned import ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["ProfileCard"]

_MARGIN, _REACH = 14.0, 9.0
_APART = 0.005
"""Two rings keep at least this part of the height between them."""


class ProfileCard(Instrument[int]):
    """A hold is the number of a ring; dragging sets its height and width, the arrows the ring that was held last."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr("Pull a ring up, down or wide; the arrows move the ring that was touched last.")
        super().__init__(session, tr("Side view of the profile"), words, parent)
        self.setMinimumHeight(px(190))
        self._last = 0

    def _volume(self) -> Turned | None:
        volume = self._session.active_volume
        return volume if isinstance(volume, Turned) else None

    def _frame(self) -> QRectF:
        """Where the bounding volume's side view lies, in its true proportion."""
        volume = self._volume()
        room = QRectF(self.rect()).adjusted(_MARGIN, _MARGIN, -_MARGIN, -_MARGIN)
        if volume is None:
            return room
        k = DIRECTIONS.index(volume.axle)
        tall, wide = volume.size[k], volume.size[(k + 1) % 3]
        scale = min(room.width() / wide, room.height() / tall)
        frame = QRectF(0.0, 0.0, max(wide * scale, 30.0), max(tall * scale, 30.0))
        frame.moveCenter(room.center())
        return frame

    def point_of(self, at: float, wide: float) -> QPointF:
        """Return the pixel of a ring's right end."""
        frame = self._frame()
        return QPointF(frame.center().x() + wide * frame.width() / 2, frame.bottom() - at * frame.height())

    def grip_at(self, at: QPointF) -> int | None:
        """Return the ring under the hand."""
        volume = self._volume()
        if volume is None:
            return None
        gaps = [(self.point_of(r.at, r.wide) - at).manhattanLength() for r in volume.profile]
        nearest = min(range(len(gaps)), key=lambda k: gaps[k])
        if gaps[nearest] > _REACH:
            return None
        self._last = nearest
        return nearest

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """A ring can be pulled."""
        return Qt.CursorShape.SizeAllCursor if self.grip_at(at) is not None else Qt.CursorShape.ArrowCursor

    def follow(self, hold: int, at: QPointF) -> None:
        """Pull a ring to the hand."""
        frame = self._frame()
        self._move(
            hold,
            (frame.bottom() - at.y()) / max(frame.height(), 1.0),
            2.0 * (at.x() - frame.center().x()) / max(frame.width(), 1.0),
            show=True,
        )

    def step(self, key: int, size: float) -> bool:
        """Arrows move the last ring by a hundredth."""
        steps = {Qt.Key.Key_Left: (0.0, -0.01), Qt.Key.Key_Right: (0.0, 0.01), Qt.Key.Key_Up: (0.01, 0.0),
                 Qt.Key.Key_Down: (-0.01, 0.0)}  # fmt: skip
        volume = self._volume()
        if key not in steps or volume is None or self._last >= len(volume.profile):
            return False
        ring, by = volume.profile[self._last], steps[Qt.Key(key)]
        self._move(self._last, ring.at + by[0] * size, ring.wide + by[1] * size, show=False)
        return True

    def _move(self, number: int, at: float, wide: float, *, show: bool) -> None:
        row = self._session.active
        volume = None if row is None else self._session.settled.volumes[row]
        if not isinstance(volume, Turned) or number >= len(volume.profile):
            return
        rings = list(volume.profile)
        low = 0.0 if number == 0 else rings[number - 1].at + _APART
        high = 1.0 if number == len(rings) - 1 else rings[number + 1].at - _APART
        # The ends stay at the ends: the bounding volume's height is changed by its own handles.
        at = rings[number].at if number in (0, len(rings) - 1) else min(max(at, low), max(low, high))
        rings[number] = ProfileRing(at=round(at, 4), wide=round(min(max(wide, 0.0), 1.0), 4), then=rings[number].then)
        act = self._session.preview if show else self._session.attempt
        act(change_round, volume.id, tr("change the profile of"), profile=tuple(rings))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the bounding volume, the axle, the body and its rings."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.FIELD))
        volume, frame = self._volume(), self._frame()
        if volume is not None:
            painter.setPen(QPen(QColor(Tone.RULE), 1.0))
            painter.drawRect(frame)
            painter.setPen(QPen(QColor(Tone.RULE), 1.0, Qt.PenStyle.DashLine))
            painter.drawLine(
                QPointF(frame.center().x(), frame.top() - 6), QPointF(frame.center().x(), frame.bottom() + 6)
            )
            sides = np.concatenate([sampled(side)[::4, :2] for side in profile_sides(volume.profile)])
            right = [self.point_of(at, wide) for at, wide in sides.tolist()]
            left = [QPointF(2 * frame.center().x() - p.x(), p.y()) for p in reversed(right)]
            painter.setPen(QPen(QColor(Tone.TEXT), 1.6))
            painter.drawPolygon(QPolygonF([*right, *left]))
            for number, ring in enumerate(volume.profile):
                end = self.point_of(ring.at, ring.wide)
                painter.setPen(QPen(QColor(Tone.RING), 1.0))
                painter.drawLine(QPointF(2 * frame.center().x() - end.x(), end.y()), end)
                painter.setPen(QPen(QColor(Tone.RING), 2.0))
                painter.setBrush(QColor(Tone.RING if number == self._last and self.hasFocus() else Tone.FIELD))
                painter.drawEllipse(end, 4.5, 4.5)
                painter.setBrush(Qt.BrushStyle.NoBrush)
        self.paint_focus(painter)
        painter.end()
