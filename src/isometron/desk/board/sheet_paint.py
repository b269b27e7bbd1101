"""Painting table, sheet and marks into the pixels of an image: fine lines by compiled loops, the rest by Qt."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from math import radians
from typing import ClassVar, TypeVar

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF, QRegion

from isometron.desk.board.overlays.tags import paint_tag
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.theme import Tone
from isometron.geometry.frames import Floats, Ints
from isometron.solve.layers.labels import label_box
from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Marks, Raster, Role, Singles
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.qt_strokes import (
    EVERYWHERE,
    draw_label,
    draw_lines,
    draw_raster,
    line_pen,
)
from isometron.surfaces.pens import PENS, tone_colours
from isometron.surfaces.raster_loops import Raster as Pixels
from isometron.surfaces.stroke_loops import Strokes
from isometron.volumes.keeping import Kept

__all__ = ["LEAST_LETTERING", "paint_marks", "sheet_polygon", "strokes_in"]

LEAST_LETTERING = 11.0
"""Pixels of a desktop; lettering that would be smaller is set larger."""
_CHORD = 0.05
"""Pixels that chords of a fill's bent side may lie off it."""
_LEAST_PIXELS = {Role.OBJECT: 1.35, Role.HORIZON: 1.0}
_FINE = 6.0
"""Pixels of a desktop; a wider pen is painted by Qt, which cuts its ends square however it slants."""
_EDGE_MARGIN = 4.0
_LARGEST = 4000
"""Pixels of a picture's side on the board up to which it is kept scaled."""
_ROOM = 16384
"""Lines of a full sheet that there is room for at once."""

S = TypeVar("S", Raster, Label)
Rectangle = tuple[float, float, float, float]


def paint_marks(
    image: QImage,
    stream: Sequence[Marks],
    sheet: Rectangle,
    view: BoardView,
    *,
    ratio: float = 1.0,
    part: QRect | None = None,
) -> None:
    """Paint table, sheet and all marks; what runs off the sheet goes on over the table in the table's colours.

    ``image``: RGB32, with a device pixel ratio of 1; ``sheet``: left, lower, right, upper in mm; ``view`` and ``part``, the
    only rectangle to be painted, are in its pixels. ``ratio``: how many of them a pixel of the desktop is wide.
    """
    # A part without any pixels is one too: what was dragged is out of sight.
    in_part, part = part is not None, image.rect() if part is None else part
    window = QRectF(part).adjusted(-_EDGE_MARGIN, -_EDGE_MARGIN, _EDGE_MARGIN, _EDGE_MARGIN).getCoords()
    painter = BoardPainter(view, window, sheet, ratio, room=1024 if in_part else _ROOM)
    # Few of many: they are looked through once, and not again for every role.
    paint([painter.near(marks) for marks in stream] if in_part else stream, painter)
    inks = _Inks(image, part, ratio)
    paper = sheet_polygon(sheet, view)
    inks.lay_table(paper)
    for stroke in painter.strokes_made:
        inks.draw(painter.strokes.leaving[stroke.off], PENS[stroke.role].on_table, stroke.width)
    inks.lay_sheet(paper)
    for deed in painter.made:
        if isinstance(deed, _Stroke):
            inks.draw(painter.strokes.all[deed.lines], PENS[deed.role].colour, deed.width)
        elif isinstance(deed, _Filled):
            inks.fill(deed)
        else:
            deed(inks.painter)
    inks.painter.end()


def strokes_in(view: BoardView, window: Rectangle, sheet: Rectangle = EVERYWHERE, *, room: int = 1024) -> Strokes:
    """Return strokes that turn marks in mm into lines in pixels of a view."""
    return Strokes(view.scale, view.origin_x, view.origin_y, window, sheet, room, radians(view.turn_deg))


@dataclass(frozen=True)
class _Stroke:
    """Where lines of a role are, among all and among those that leave the sheet, and how wide they are drawn, pixels."""

    role: Role
    lines: slice
    off: slice
    width: float


@dataclass(frozen=True)
class _Filled:
    """Regions in pixels, as `Pixels.fill` takes them."""

    points: Floats
    ring_first: Ints
    fill_first: Ints
    colours: NDArray[np.uint32]


class BoardPainter:
    """Turns marks into lines in pixels, clipped to the window and dashed; what is no line is kept to be painted by Qt."""

    notes: ClassVar[dict[str, str]] = {}
    picks: ClassVar[bool] = True

    def __init__(self, view: BoardView, window: Rectangle, sheet: Rectangle, ratio: float, *, room: int) -> None:
        self.strokes = strokes_in(view, window, sheet, room=room)
        self.made: list[_Stroke | _Filled | Callable[[QPainter], None]] = []
        self._view, self._window, self._ratio = view, window, ratio

    @property
    def strokes_made(self) -> list[_Stroke]:
        """What is drawn as lines."""
        return [deed for deed in self.made if isinstance(deed, _Stroke)]

    def near(self, marks: Marks) -> Marks:
        """Return the marks without lines and arcs that leave nothing in the window."""
        lines, arcs = marks.lines, marks.arcs
        if len(lines):
            lines = lines.select(self.strokes.lines_near(lines.points))
        if len(arcs):
            arcs = arcs.select(self.strokes.arcs_near(arcs.shape))
        return replace(marks, lines=lines, arcs=arcs)

    def _stroke(self, role: Role, add: Callable[[], None]) -> None:
        strokes, scale, ratio = self.strokes, self._view.scale, self._ratio
        first, first_off = strokes.count, strokes.off_count
        strokes.set_dash(*_dash_pixels(role, scale, ratio))
        add()
        width = max(PENS[role].width * scale, _LEAST_PIXELS.get(role, 1.0) * ratio)
        self.made.append(_Stroke(role, slice(first, strokes.count), slice(first_off, strokes.off_count), width))

    def lines(self, role: Role, marks: Lines) -> None:
        """Draw straight marks."""
        self._stroke(role, lambda: self.strokes.add_lines(marks.points, marks.role, role))

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Draw arcs as chords."""
        self._stroke(role, lambda: self.strokes.add_arcs(marks.shape, marks.role, role))

    def curves(self, role: Role, marks: Curves) -> None:
        """Draw cubic pieces as chords."""
        self._stroke(role, lambda: self.strokes.add_curves(marks.points, marks.role, role))

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Keep pictures to be painted on the sheet."""
        for raster in _own(role, marks):
            self.made.append(partial(_draw_picture, raster=raster, to_device=self._view.matrix))

    def fills(self, role: Role, marks: Fills) -> None:
        """Keep filled polygons to be painted on the sheet."""
        own = marks.select(marks.role == role).straightened(_CHORD * self._ratio / self._view.scale)
        to_device = self._view.matrix
        points = own.points @ to_device[:2, :2].T + to_device[:2, 2]
        self.made.append(_Filled(points, own.ring_first, own.fill_first, tone_colours(own.tone, Tone.SHEET)))

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Keep lettering that may reach into the window."""
        for label in _own(role, marks):
            left, top, right, bottom = self._view.bounds(*map(float, label_box(label)))
            wanted = QRectF(left, top, right - left, bottom - top).adjusted(-4.0, -4.0, 4.0, 4.0)
            x0, y0, x1, y1 = self._window
            if wanted.intersects(QRectF(x0, y0, x1 - x0, y1 - y0)):
                self.made.append(partial(self._letter, label=label))

    def _letter(self, painter: QPainter, label: Label) -> None:
        x, y = self._view.point_to_screen(label.u, label.v)
        if label.role is Role.CAUTION:
            paint_tag(painter, x, y, label.text, Tone.CAUTION)
            return
        painter.save()
        painter.translate(x, y)
        painter.rotate(self._view.turn_deg)
        draw_label(painter, label, 0.0, 0.0, self._view.scale, PENS[label.role].colour)
        painter.restore()


_SCALED: Kept[dict[tuple[int, int], QImage]] = Kept(4)
"""Pictures at the size that they have on the board: scaling one takes as long as all else in a frame."""


def _draw_picture(painter: QPainter, raster: Raster, to_device: Floats) -> None:
    """Paint a picture on the sheet; one that lies upright is scaled once for as long as it keeps its size, and set to whole pixels."""
    place = to_device @ raster.place
    place = place / place[2, 2]
    upright = abs(place[0, 1]) + abs(place[1, 0]) + np.abs(place[2, :2]).sum() < 1e-9
    height, width = raster.pixels.shape[:2]
    wide, high = round(width * float(place[0, 0])), round(height * float(place[1, 1]))
    if raster.within or not upright or not (0 < wide <= _LARGEST and 0 < high <= _LARGEST):
        draw_raster(painter, raster, to_device)
        return
    sizes = _SCALED.of((raster.pixels,), dict)
    if (wide, high) not in sizes:
        sizes.clear()
        pixels = np.ascontiguousarray(raster.pixels)
        whole = QImage(pixels.data, width, height, 3 * width, QImage.Format.Format_RGB888)  # type: ignore[call-overload]
        how = Qt.TransformationMode.SmoothTransformation
        scaled = whole.scaled(wide, high, Qt.AspectRatioMode.IgnoreAspectRatio, how)
        sizes[wide, high] = scaled.convertToFormat(QImage.Format.Format_RGB32)
    painter.setOpacity(raster.strength)
    painter.drawImage(QPoint(round(float(place[0, 2])), round(float(place[1, 2]))), sizes[wide, high])
    painter.setOpacity(1.0)


def _own(role: Role, marks: Singles[S]) -> list[S]:
    return [mark for mark in marks if mark.role == role]


class _Inks:
    """Colours an image: fine lines pixel by pixel, all else with Qt's painter."""

    def __init__(self, image: QImage, part: QRect, ratio: float) -> None:
        self._part, self._ratio = part, ratio
        bits = image.bits()
        assert bits is not None
        bits.setsize(image.sizeInBytes())
        self._pixels = Pixels(np.frombuffer(bits, dtype=np.uint32), image.bytesPerLine() // 4)  # type: ignore[call-overload]
        self.painter = QPainter(image)
        self.painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        self._clip_to(part)

    def _clip_to(self, part: QRect) -> None:
        self.painter.setClipRect(part)
        self._pixels.clip_to(part.left(), part.top(), part.left() + part.width(), part.top() + part.height())

    def lay_table(self, sheet: QPolygonF) -> None:
        """Paint the table where the sheet does not cover it."""
        if _upright(sheet):
            # Whole pixels: the rims are crisp, and filling them smoothly would cost as much as hundreds of lines.
            whole = sheet.boundingRect().toRect()
            if whole.contains(self._part):
                return
            self.painter.setClipRegion(QRegion(self._part).subtracted(QRegion(whole)))
        self.painter.fillRect(self._part, QColor(Tone.TABLE))
        self._clip_to(self._part)

    def lay_sheet(self, sheet: QPolygonF) -> None:
        """Paint the sheet with its shadow; from here on nothing else is painted on."""
        if _upright(sheet):
            whole = sheet.boundingRect().toRect()
            if not whole.contains(self._part):
                for strip in self._shadow(whole):
                    self.painter.fillRect(strip, QColor(Tone.SHADOW))
            self.painter.fillRect(whole, QColor(Tone.SHEET))
            self._clip_to(whole.intersected(self._part))
            return
        self.painter.setPen(Qt.PenStyle.NoPen)
        for polygon, tone in ((sheet.translated(4 * self._ratio, 5 * self._ratio), Tone.SHADOW), (sheet, Tone.SHEET)):
            self.painter.setBrush(QColor(tone))
            self.painter.drawPolygon(polygon)
        self.painter.setBrush(Qt.BrushStyle.NoBrush)

    def _shadow(self, sheet: QRect) -> tuple[QRect, QRect]:
        """Return what is seen of the sheet's shadow: a strip at its right and one below."""
        wide, high = round(4 * self._ratio), round(5 * self._ratio)
        right = QRect(sheet.x() + sheet.width(), sheet.y() + high, wide, sheet.height())
        below = QRect(sheet.x() + wide, sheet.y() + sheet.height(), sheet.width() - wide, high)
        return right, below

    def fill(self, regions: _Filled) -> None:
        """Fill regions."""
        self._pixels.fill(
            np.ascontiguousarray(regions.points), regions.ring_first, regions.fill_first, regions.colours
        )

    def draw(self, lines: Floats, colour: str, width: float) -> None:
        """Draw lines (N, 4), pixels."""
        if width > _FINE * self._ratio:
            draw_lines(self.painter, lines, line_pen(colour, width))
        elif len(lines):
            self._pixels.draw(lines, QColor(colour).rgb() & 0xFFFFFF, width)


def sheet_polygon(sheet: Rectangle, view: BoardView) -> QPolygonF:
    """Return the sheet's corners in pixels."""
    left, lower, right, upper = sheet
    corners = ((left, upper), (right, upper), (right, lower), (left, lower))
    return QPolygonF([QPointF(*view.point_to_screen(*corner)) for corner in corners])


def _upright(sheet: QPolygonF) -> bool:
    return sheet[0].y() == sheet[1].y()


def _dash_pixels(role: Role, scale: float, ratio: float) -> tuple[float, float]:
    """Return dash and gap of a role, so long that they can still be told apart on the screen; 0 and 0 for whole lines."""
    dash = PENS[role].dash
    return (0.0, 0.0) if dash is None else (max(dash[0] * scale, 4.0 * ratio), max(dash[1] * scale, 3.0 * ratio))
