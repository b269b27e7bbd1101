"""The outline card: one view of a cut body's profile; its corners are pulled, added and taken out."""

from __future__ import annotations

from math import hypot

import msgspec
import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.desk.instruments.instrument import Instrument
from isometron.document.edits import Edit
from isometron.document.joins import extents_in
from isometron.document.lengths.proportion import module_mm
from isometron.document.model import Document, DocumentError
from isometron.document.shapes.profiles import add_corner, begin_profile, move_corner, places_of, take_corner
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import flattened
from isometron.tools.plain_views import places_every
from isometron.tools.pulling import round_step, rounded
from isometron.volumes.box import Box
from isometron.volumes.copies import copies_of
from isometron.volumes.cut.profiles import (
    VIEWS,
    CutBody,
    CutProfile,
    ViewName,
    mirror_column,
    profile_outline,
    view_size,
)
from isometron.wording import tr

__all__ = ["OutlineCard"]

_MARGIN, _REACH = 16.0, 9.0
_MOST_OTHERS, _MOST_COPIES = 40, 8
"""Volumes, and copies of each, that are shown and catch corners."""
_QUARTERS = (0.0, 0.25, 0.5, 0.75, 1.0)


class OutlineCard(Instrument[int]):
    """A hold is the number of a corner. A press on a side adds a corner there; a double click on one takes it out.

    Signal: ``corner_chosen`` when another corner is. view : the view that is shown; corner : the number of the one chosen.
    """

    corner_chosen = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        words = tr(
            "Pull a corner; press on a side for a new one, double click to take one out. Arrows move the chosen one."
        )
        super().__init__(session, tr("Outline of the view"), words, parent)
        self.setToolTip(words)
        self.setMinimumHeight(px(190))
        self.view: ViewName = "side"
        self.corner: int | None = None
        self._new: tuple[int, int] | None = None

    def show_view(self, view: ViewName) -> None:
        """Show another view."""
        self.view, self.corner = view, None
        self.update()

    def _volume(self) -> Box | CutBody | None:
        volume = self._session.active_volume
        return volume if isinstance(volume, Box | CutBody) else None

    def _profile(self) -> CutProfile | None:
        return getattr(self._volume(), self.view, None)

    # --- places -------------------------------------------------------------------------------------------------------

    def _frame(self) -> QRectF:
        """Where the view lies, in its true proportion."""
        room = QRectF(self.rect()).adjusted(_MARGIN, _MARGIN, -_MARGIN, -_MARGIN)
        volume = self._volume()
        if volume is None:
            return room
        wide, high = view_size(volume, self.view)
        scale = min(room.width() / wide, room.height() / high)
        frame = QRectF(0.0, 0.0, wide * scale, high * scale)
        frame.moveCenter(room.center())
        return frame

    def point_of(self, x: float, y: float) -> QPointF:
        """Return the pixel of a place in the view, mm."""
        volume, frame = self._volume(), self._frame()
        assert volume is not None
        wide, high = view_size(volume, self.view)
        return QPointF(frame.left() + x / wide * frame.width(), frame.bottom() - y / high * frame.height())

    def _place(self, at: QPointF) -> tuple[float, float]:
        volume, frame = self._volume(), self._frame()
        assert volume is not None
        wide, high = view_size(volume, self.view)
        x = (at.x() - frame.left()) / max(frame.width(), 1.0) * wide
        y = (frame.bottom() - at.y()) / max(frame.height(), 1.0) * high
        return min(max(x, 0.0), wide), min(max(y, 0.0), high)

    def _corners(self) -> list[tuple[int, float, float]]:
        volume, profile = self._volume(), self._profile()
        if volume is None or profile is None:
            return []
        size = view_size(volume, self.view)
        return [(corner.n, *places_of(corner, size)) for corner in profile.corners]

    def _corner_at(self, at: QPointF) -> int | None:
        gaps = [
            (hypot(self.point_of(x, y).x() - at.x(), self.point_of(x, y).y() - at.y()), n)
            for n, x, y in self._corners()
        ]
        return min(gaps)[1] if gaps and min(gaps)[0] <= _REACH else None

    def _side_at(self, at: QPointF) -> int | None:
        """Return the corner whose side to the next one is under the hand."""
        corners = self._corners()
        profile = self._profile()
        last = len(corners) - 1 if profile is not None and profile.alike else len(corners)
        for k in range(last):
            one, two = self.point_of(*corners[k][1:]), self.point_of(*corners[(k + 1) % len(corners)][1:])
            way = two - one
            size = way.x() ** 2 + way.y() ** 2
            t = 0.0 if size == 0.0 else ((at.x() - one.x()) * way.x() + (at.y() - one.y()) * way.y()) / size
            foot = one + min(max(t, 0.0), 1.0) * way
            if hypot(foot.x() - at.x(), foot.y() - at.y()) <= 0.7 * _REACH:
                return corners[k][0]
        return None

    # --- hands --------------------------------------------------------------------------------------------------------

    def grip_at(self, at: QPointF) -> int | None:
        """Return the corner under the hand; a press on a side makes one there first."""
        volume = self._volume()
        if volume is None:
            return None
        if self._profile() is None:
            if not self._frame().adjusted(-_REACH, -_REACH, _REACH, _REACH).contains(at):
                return None
            self._session.attempt(begin_profile, volume.id, self.view)
        found = self._corner_at(at)
        self._new = None
        if found is None:
            side = self._side_at(at)
            profile = self._profile()
            if side is None or profile is None:
                return None
            found = max(profile.next_n, 1 + max(corner.n for corner in profile.corners))
            self._new = side, found
            self._session.preview(self._pulled_edit, found, self._place(at))
        self.corner = found
        self.corner_chosen.emit()
        return found

    def _pulled_edit(self, document: Document, number: int, place: tuple[float, float]) -> Edit:
        """Return the edit of a pull: a corner that is new is added where the hand is."""
        volume = self._volume()
        if volume is None:
            raise DocumentError(tr("Select a volume first."))
        if self._new is not None and self._new[1] == number:
            return add_corner(document, volume.id, self.view, self._new[0], place)
        return move_corner(document, volume.id, self.view, number, place)

    def follow(self, hold: int, at: QPointF) -> None:
        """Pull a corner to the hand; levels of other corners, quarters and the module's squares catch it."""
        self._session.preview(self._pulled_edit, hold, self._caught(self._place(at), hold))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: what is shown becomes one step."""
        super().mouseReleaseEvent(event)
        self._new = None
        self.corner_chosen.emit()

    def _caught(self, place: tuple[float, float], moving: int) -> tuple[float, float]:
        volume = self._volume()
        assert volume is not None
        size = view_size(volume, self.view)
        scale = size[0] / max(self._frame().width(), 1.0)
        step, module = round_step(scale, self._session.document.unit), module_mm(self._session.document)
        found = []
        for k in (0, 1):
            targets = [part * size[k] for part in _QUARTERS]
            targets += [corner[1 + k] for corner in self._corners() if corner[0] != moving]
            targets += [place for ends in self._others() for place in ends[k] if 0.0 <= place <= size[k]]
            targets += places_every(0.0, size[k], module, 8.0 * scale)
            near = min(targets, key=lambda t: abs(t - place[k]))
            found.append(near if abs(near - place[k]) <= 0.55 * _REACH * scale else rounded(place[k], step))
        return found[0], found[1]

    def _others(self) -> list[tuple[tuple[float, float, float], tuple[float, float, float]]]:
        """Where other volumes begin, have their middle and end along both directions of the view, mm."""
        volume = self._volume()
        if volume is None:
            return []
        axes, found = VIEW_AXES[VIEWS.index(self.view)], []
        for other in self._session.document.volumes[:_MOST_OTHERS]:
            if other.id == volume.id or other.put_away:
                continue
            for copy in copies_of(msgspec.structs.replace(other, mirror=None), dict)[:_MOST_COPIES]:
                low, high = extents_in(copy, volume)
                a, b = ((float(low[k]), float(low[k] + high[k]) / 2.0, float(high[k])) for k in axes)
                found.append((a, b))
        return found

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Take a corner out; three stay."""
        assert event is not None
        self._session.drop_preview()
        self._drag = self._new = None
        volume, found = self._volume(), self._corner_at(event.position())
        if volume is not None and found is not None:
            self._session.attempt(take_corner, volume.id, self.view, found)
            self.corner = None
            self.corner_chosen.emit()

    def shape_at(self, at: QPointF) -> Qt.CursorShape:
        """A corner can be pulled, a side can get one."""
        if self._corner_at(at) is not None:
            return Qt.CursorShape.SizeAllCursor
        return Qt.CursorShape.CrossCursor if self._side_at(at) is not None else Qt.CursorShape.ArrowCursor

    def step(self, key: int, size: float) -> bool:
        """Arrows move the chosen corner, Delete takes it out."""
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        volume = self._volume()
        here = next((corner for corner in self._corners() if corner[0] == self.corner), None)
        if volume is None or here is None:
            return False
        if key == Qt.Key.Key_Delete:
            self._session.attempt(take_corner, volume.id, self.view, here[0])
            return True
        if key not in steps:
            return False
        by = (
            10.0
            * size
            * round_step(
                view_size(volume, self.view)[0] / max(self._frame().width(), 1.0), self._session.document.unit
            )
        )
        dx, dy = steps[Qt.Key(key)]
        self._session.attempt(move_corner, volume.id, self.view, here[0], (here[1] + dx * by, here[2] + dy * by))
        return True

    # --- paint --------------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the bounding view with its quarters, the outline and its corners."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.FIELD))
        volume = self._volume()
        if volume is not None:
            self._paint_frame(painter, volume)
            self._paint_outline(painter, volume)
        self.paint_focus(painter)
        painter.end()

    def _paint_frame(self, painter: QPainter, volume: Box | CutBody) -> None:
        wide, high = view_size(volume, self.view)
        painter.setPen(QPen(QColor(Tone.RULE), 1.0))
        for part in _QUARTERS:
            painter.drawLine(self.point_of(part * wide, 0.0), self.point_of(part * wide, high))
            painter.drawLine(self.point_of(0.0, part * high), self.point_of(wide, part * high))

    def _paint_outline(self, painter: QPainter, volume: Box | CutBody) -> None:
        profile, size = self._profile(), view_size(volume, self.view)
        self._paint_others(painter)
        if profile is None:
            painter.setPen(QColor(Tone.QUIET))
            words = tr("This view cuts nothing.\nPress on the card to begin.")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            return
        try:
            points = flattened(profile_outline(profile, self.view, size))
        except OutlineError:
            points = np.array([place for _, *place in self._corners()])
        fill = QColor(Tone.RING)
        fill.setAlpha(38)
        painter.setBrush(fill)
        painter.setPen(QPen(QColor(Tone.TEXT), 1.8))
        painter.drawPolygon(self._polygon(points))
        if profile.alike:
            self._paint_middle(painter, size)
        for number, x, y in self._corners():
            at = self.point_of(x, y)
            painter.setPen(QPen(QColor(Tone.RING), 2.0))
            painter.setBrush(QColor(Tone.RING if number == self.corner else Tone.FIELD))
            painter.drawRect(QRectF(at.x() - 4.0, at.y() - 4.0, 8.0, 8.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_others(self, painter: QPainter) -> None:
        """Show the extents of other volumes, whose edges and middles catch corners."""
        painter.save()
        painter.setClipRect(self.rect())
        painter.setPen(QPen(QColor(Tone.QUIET), 1.0, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for (left, _, right), (low, _, high) in self._others():
            painter.drawRect(QRectF(self.point_of(left, high), self.point_of(right, low)))
        painter.restore()

    def _paint_middle(self, painter: QPainter, size: tuple[float, float]) -> None:
        ends = np.array([[0.0, 0.0], list(size)])
        ends[:, mirror_column(self.view)] = size[mirror_column(self.view)] / 2.0
        painter.setPen(QPen(QColor(Tone.ACCENT), 1.2, Qt.PenStyle.DashDotLine))
        painter.drawLine(self.point_of(*ends[0]), self.point_of(*ends[1]))

    def _polygon(self, points: Floats) -> QPolygonF:
        return QPolygonF([self.point_of(float(x), float(y)) for x, y in points])
