"""The board of the plain views: side, front and plan, in which volumes are pulled and lines are drawn."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import hypot

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import Tone, px
from isometron.document.edits import move_volumes, reshape_volume
from isometron.document.lengths.proportion import module_mm
from isometron.document.lengths.units import format_length
from isometron.document.marks.dividing import lay_mark
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.solve.plain_views import VIEWS, PlainView, plain_view, view_axes
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.qt_page import QtPagePainter
from isometron.surfaces.plain_sheet import lay_out
from isometron.tools.plain_views import (
    caught,
    extents,
    path_mark,
    places_every,
    profile_view,
    pulled,
    quarter_places,
    volume_at,
)
from isometron.tools.pulling import round_step, rounded
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import front_ray, side_seen
from isometron.wording import tr

__all__ = ["ViewsBoard"]

_REACH = 9.0
_PEN_PIXELS = 3.0
"""Pixels that a millimetre of a pen is wide."""
_NAMES = {"side": tr("Side"), "front": tr("Front"), "plan": tr("Plan")}


@dataclass(frozen=True)
class _Hold:
    """What is held: the view, the volume, which edges of its extents (-1, 0 or 1 across and up), and where it began."""

    view: int
    volume: AnyVolume
    sides: tuple[int, int]
    start: Floats


class ViewsBoard(QWidget):
    """Paints the three views; a press selects, edges and corners of the selected volume are pulled, the middle moves it.

    Signals: ``told`` with words about what is under the hand; ``opened`` with the profile's view of a volume that shall be
    shown alone and large.
    """

    told = pyqtSignal(str)
    opened = pyqtSignal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setMinimumSize(px(620), px(420))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Side, front and plan"))
        self.setAccessibleDescription(tr("Press on a volume to select it; pull its edges or its middle."))
        self.draws = False
        self.quarters: float | None = None
        self._path: tuple[int, list[Floats]] | None = None
        self._at: Floats | None = None
        self._hold: _Hold | None = None
        self._views: list[PlainView] = []
        self._frozen: tuple[float, list[tuple[float, float]]] | None = None
        for signal in (session.document_changed, session.previewed, session.selection_changed):
            signal.connect(self._changed)
        self._changed()

    def _changed(self) -> None:
        if self.isVisible() or not self._views:
            self._views = [plain_view(self._session.document, name) for name in VIEWS]
            self.update()

    def showEvent(self, event: object) -> None:
        """Bring the views up to date."""
        self._views = [plain_view(self._session.document, name) for name in VIEWS]

    # --- places ---------------------------------------------------------------------------------------------------

    def _layout(self) -> tuple[float, list[tuple[float, float]]]:
        """Return mm of the object to a pixel, and where each view's zero lies, in pixels; a drag keeps them."""
        if self._frozen is not None:
            return self._frozen
        views = dict(zip(VIEWS, self._views, strict=True))
        sizes = [v.high - v.low for v in self._views]
        across, up = float(sizes[0][0] + sizes[1][0]), float(sizes[0][1] + sizes[2][1])
        scale = max(across / max(self.width() - 130.0, 50.0), up / max(self.height() - 130.0, 50.0), HAIR)
        placed = lay_out(views, float(self.width()), float(self.height()), scale)
        return scale, [p.offset for p in placed]

    def pixel(self, view: int, place: Floats) -> QPointF:
        """Return the pixel of a place (2,) in a view."""
        scale, offsets = self._layout()
        x, y = offsets[view]
        return QPointF(x + float(place[0]) / scale, self.height() - (y + float(place[1]) / scale))

    def _place(self, view: int, at: QPointF) -> Floats:
        scale, offsets = self._layout()
        x, y = offsets[view]
        place: Floats = np.array([(at.x() - x) * scale, (self.height() - at.y() - y) * scale])
        return place

    def _view_at(self, at: QPointF) -> int | None:
        for k, view in enumerate(self._views):
            low, high = self.pixel(k, view.low), self.pixel(k, view.high)
            if QRectF(low, high).normalized().adjusted(-28, -28, 28, 28).contains(at):
                return k
        return None

    def _extents(self, view: int, volume: AnyVolume) -> tuple[Floats, Floats]:
        return extents(VIEWS[view], volume)

    def _step(self) -> float:
        return round_step(self._layout()[0], self._session.document.unit)

    def _caught(self, view: int, place: Floats, moving: str) -> Floats:
        quarters = [self._quarter_places(view, axis) for axis in (0, 1)]
        return caught(
            self._session.document, VIEWS[view], place, reach=_REACH * self._layout()[0], step=self._step(),
            moving=moving, quarters=quarters,
        )  # fmt: skip

    def _quarter_places(self, view: int, axis: int) -> list[float]:
        """Places of the quarter lines, from the start of what is selected or of everything."""
        volume, shown = self._session.active_volume, self._views[view]
        low, high = (shown.low, shown.high) if volume is None else self._extents(view, volume)
        return quarter_places(float(low[axis]), float(high[axis]), self.quarters)

    # --- hands ----------------------------------------------------------------------------------------------------

    def _grip(self, at: QPointF) -> _Hold | None:
        volume, view = self._session.active_volume, self._view_at(at)
        if volume is None or view is None or volume.locked:
            return None
        low, high = self._extents(view, volume)
        one, two = self.pixel(view, low), self.pixel(view, high)
        box = QRectF(one, two).normalized()
        if not box.adjusted(-_REACH, -_REACH, _REACH, _REACH).contains(at):
            return None
        sides = []
        for value, first, last in ((at.x(), one.x(), two.x()), (at.y(), one.y(), two.y())):
            sides.append(-1 if abs(value - first) <= _REACH else 1 if abs(value - last) <= _REACH else 0)
        if sides == [0, 0] and hypot(at.x() - box.center().x(), at.y() - box.center().y()) > 2 * _REACH:
            return None
        return _Hold(view, volume, (sides[0], sides[1]), self._place(view, at))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Draw a point, take hold, or select."""
        assert event is not None
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self.draws:
            self._add_point(at)
            return
        self._hold = self._grip(at)
        if self._hold is not None:
            self._frozen = self._layout()
        else:
            self._select(at)

    def _select(self, at: QPointF) -> None:
        view = self._view_at(at)
        found = None if view is None else volume_at(self._session.document, VIEWS[view], self._place(view, at))
        self._session.select(() if found is None else (found,))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pull, or show what can be pulled and where the hand is."""
        assert event is not None
        view = self._drawn_in(event.position())
        if self._hold is not None:
            self._pull(self._hold, event.position())
        elif view is not None:
            self._at = self._caught(view, self._place(view, event.position()), "") if self.draws else None
            grip = None if self.draws else self._grip(event.position())
            self.setCursor(_shape(grip, draws=self.draws))
            place = self._place(view, event.position())
            unit = self._session.document.unit
            across, up = (format_length(rounded(float(p), self._step()), unit) for p in place)
            self.told.emit(tr("{view}: {across}, {up}", view=_NAMES[VIEWS[view]], across=across, up=up))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: what is shown becomes one step."""
        if self._hold is not None:
            self._hold = None
            self._session.take_preview()
            self._frozen = None
            self.update()

    def _pull(self, hold: _Hold, at: QPointF) -> None:
        volume, axes = hold.volume, view_axes(VIEWS[hold.view])
        low, _ = self._extents(hold.view, volume)
        place = self._place(hold.view, at)
        if hold.sides == (0, 0):
            start = self._caught(hold.view, low + place - hold.start, volume.id)
            shift = (start - low) @ axes
            self._session.preview(move_volumes, (volume.id,), shift)
            return
        target = self._caught(hold.view, place, volume.id)
        edit = pulled(volume, axes, hold.sides, target)
        if edit is not None:
            self._session.preview(reshape_volume, volume.id, *edit)
            self.told.emit(" x ".join(format_length(round(s, 3), self._session.document.unit) for s in edit[1]))

    # --- lines ----------------------------------------------------------------------------------------------------

    def _drawn_in(self, at: QPointF) -> int | None:
        """Return the view of a place; lines stay in the one they were begun in."""
        return self._view_at(at) if self._path is None else self._path[0]

    def _add_point(self, at: QPointF) -> None:
        view = self._drawn_in(at)
        if view is None or self._session.active_volume is None:
            self.told.emit(tr("Select the volume that the lines shall lie in, then draw."))
            return
        place = self._caught(view, self._place(view, at), "")
        if self._path is None:
            self._path = (view, [])
        points = self._path[1]
        closed = (
            len(points) > 2 and (self.pixel(view, place) - self.pixel(view, points[0])).manhattanLength() <= _REACH
        )
        if closed:
            self._finish(closed=True)
        else:
            points.append(place)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """End the lines here; otherwise show the volume under the hand alone and large."""
        assert event is not None
        if self.draws:
            self._finish(closed=False)
            return
        self._select(event.position())
        view, volume = self._view_at(event.position()), self._session.active_volume
        if view is not None and isinstance(volume, Box | CutBody):
            self.opened.emit(profile_view(VIEWS[view], volume))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter ends the lines, Escape steps back; elsewhere Escape closes the card."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._path is not None:
            self._finish(closed=False)
        elif event.key() == Qt.Key.Key_Escape and self._hold is not None:
            self._hold, self._frozen = None, None
            self._session.drop_preview()
        elif event.key() == Qt.Key.Key_Escape and self._path is not None:
            self._path[1].pop()
            if not self._path[1]:
                self._path = None
            self.update()
        else:
            super().keyPressEvent(event)

    def _finish(self, *, closed: bool) -> None:
        path, self._path = self._path, None
        volume = self._session.active_volume
        if path is None or volume is None or not path[1]:
            return
        view, points = path
        mark = path_mark(volume, VIEWS[view], points, closed=closed)
        if isinstance(mark, str):
            self._session.say(mark, caution=True)
        else:
            self._session.attempt(lay_mark, volume.id, mark)
        self.update()

    # --- paint ----------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the views on a lit sheet."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(Tone.SHEET))
        for number, view in enumerate(self._views):
            self._grid(painter, number, view)
            self._marks(painter, number, view)
            self._name(painter, number, view)
        self._selected(painter)
        self._drawn(painter)
        if self.hasFocus():
            painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _grid(self, painter: QPainter, number: int, view: PlainView) -> None:
        module = module_mm(self._session.document)
        scale = self._layout()[0]
        for step, colour in ((module, Tone.RULE), (None, "#B9CBC2")):
            for axis in (0, 1):
                places = (
                    self._quarter_places(number, axis)
                    if step is None
                    else places_every(float(view.low[axis]), float(view.high[axis]), step, 8.0 * scale)
                )
                for place in places:
                    start, end = view.low.copy(), view.high.copy()
                    start[axis] = end[axis] = place
                    painter.setPen(QPen(QColor(colour), 1.0))
                    painter.drawLine(self.pixel(number, start), self.pixel(number, end))

    def _marks(self, painter: QPainter, number: int, view: PlainView) -> None:
        scale, offsets = self._layout()
        marks = view.marks.placed(np.array(offsets[number]), 1.0 / scale)
        paint([marks], QtPagePainter(painter, self.height(), 1.0, pen_scale=_PEN_PIXELS, least=1.0))

    def _name(self, painter: QPainter, number: int, view: PlainView) -> None:
        unit = self._session.document.unit
        across, up = (format_length(round(float(s), 2), unit) for s in view.high - view.low)
        corner, far = self.pixel(number, view.low), self.pixel(number, view.high)
        painter.setFont(interface_font(11, bold=True))
        painter.setPen(QColor(Tone.TEXT))
        painter.drawText(QPointF(corner.x(), far.y() - 10.0), _NAMES[view.name])
        after = painter.fontMetrics().horizontalAdvance(_NAMES[view.name]) + 8.0
        painter.setFont(interface_font(11))
        painter.setPen(QColor(Tone.QUIET))
        volume = self._session.active_volume
        if volume is not None:
            right, up_way = view_axes(view.name)
            seen = side_seen(volume, np.cross(up_way, right))
            words = tr("{side} of {volume}", side=seen, volume=volume.name)
            room = self.width() - corner.x() - after - 8.0
            words = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(max(room, 60.0)))
            painter.drawText(QPointF(corner.x() + after, far.y() - 10.0), words)
        painter.drawText(
            QRectF(corner.x() - 60, corner.y() + 6, far.x() - corner.x() + 120, 18),
            Qt.AlignmentFlag.AlignHCenter,
            across,
        )
        painter.save()
        painter.translate(corner.x() - 8.0, (corner.y() + far.y()) / 2)
        painter.rotate(-90.0)
        painter.drawText(QRectF(-100.0, -16.0, 200.0, 16.0), Qt.AlignmentFlag.AlignCenter, up)
        painter.restore()

    def _selected(self, painter: QPainter) -> None:
        volume = self._session.active_volume
        if volume is None:
            return
        for number in range(len(self._views)):
            low, high = self._extents(number, volume)
            box = QRectF(self.pixel(number, low), self.pixel(number, high)).normalized()
            painter.setPen(QPen(QColor(Tone.ACCENT), 1.2, Qt.PenStyle.DashLine))
            painter.drawRect(box)
            if self.draws:
                continue
            painter.setPen(QPen(QColor(Tone.ACCENT), 1.6))
            painter.setBrush(QColor(Tone.SHEET))
            for x in (box.left(), box.center().x(), box.right()):
                for y in (box.top(), box.center().y(), box.bottom()):
                    painter.drawRect(QRectF(x - 3.0, y - 3.0, 6.0, 6.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        self._front(painter, volume)

    def _front(self, painter: QPainter, volume: AnyVolume) -> None:
        """Write where the selected thing's own front is, on its plan."""
        number = next(n for n, view in enumerate(self._views) if view.name == "plan")
        middle, end = (self.pixel(number, place) for place in front_ray(volume) @ view_axes("plan").T)
        painter.setFont(interface_font(11, bold=True))
        painter.setPen(QColor(Tone.ACCENT_TEXT))
        word, metrics = tr("front"), painter.fontMetrics()
        way = end - middle
        far = max(float(np.hypot(way.x(), way.y())), 1.0)
        wide, high = metrics.horizontalAdvance(word), metrics.height()
        out = end + QPointF(way.x() / far * (wide / 2.0 + 14.0), way.y() / far * (high / 2.0 + 8.0))
        tag = QRectF(out.x() - wide / 2.0 - 3.0, out.y() - high / 2.0, wide + 6.0, float(high))
        painter.fillRect(tag, QColor(Tone.SHEET))  # what is drawn there stays under the word
        painter.drawText(
            QRectF(out.x() - wide, out.y() - high, 2.0 * wide, 2.0 * high), Qt.AlignmentFlag.AlignCenter, word
        )

    def _drawn(self, painter: QPainter) -> None:
        if self._path is None:
            return
        view, points = self._path
        pixels = [self.pixel(view, p) for p in points]
        if self._at is not None:
            pixels.append(self.pixel(view, self._at))
        painter.setPen(QPen(QColor(Tone.ACCENT), 2.0))
        for one, two in pairwise(pixels):
            painter.drawLine(one, two)
        for pixel in pixels:
            painter.drawEllipse(pixel, 3.0, 3.0)


def _shape(grip: _Hold | None, *, draws: bool) -> Qt.CursorShape:
    if draws:
        return Qt.CursorShape.CrossCursor
    if grip is None:
        return Qt.CursorShape.ArrowCursor
    if grip.sides == (0, 0):
        return Qt.CursorShape.SizeAllCursor
    if 0 in grip.sides:
        return Qt.CursorShape.SizeHorCursor if grip.sides[0] else Qt.CursorShape.SizeVerCursor
    return Qt.CursorShape.SizeBDiagCursor if grip.sides[0] == grip.sides[1] else Qt.CursorShape.SizeFDiagCursor
