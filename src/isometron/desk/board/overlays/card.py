"""A picture that was seen by another eye, as a small card at the side of the board."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen

from isometron.desk.board.overlays.overlay import OnBoard, Overlay
from isometron.desk.board.overlays.tags import interface_font
from isometron.desk.frame.theme import Tone
from isometron.document.pictures.placing import in_place
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats
from isometron.pictures.rasters import pixels_of

__all__ = ["CARD"]

_SIDE, _GAP, _WORDS = 140.0, 12.0, 20.0
_SMALL = 480
"""Pixels of the longer side that a card's picture is decoded at: three times as many as it shows at first."""


def _card(on: OnBoard) -> tuple[SheetPicture, QRectF] | None:
    """Return the picture that lies at the side, and where, pixels."""
    document = on.session.document
    picture = next((p for p in reversed(document.pictures) if not p.hidden and not in_place(document, p)), None)
    width, height = on.size
    if picture is None or on.construction is not None or width < 3 * _SIDE:
        return None
    scale = _SIDE / max(picture.width, picture.height)
    wide, high = scale * picture.width, scale * picture.height
    return picture, QRectF(_GAP, height - _GAP - _WORDS - high, wide, high + _WORDS)


def _paint(painter: QPainter, on: OnBoard) -> None:
    found = _card(on)
    if found is None:
        return
    picture, place = found
    pixels = pixels_of(picture, on.session.document.file_of(picture), _SMALL)
    painter.setPen(QPen(QColor(Tone.SHADOW), 1.0))
    painter.setBrush(QColor(Tone.PANEL))
    painter.drawRoundedRect(place.adjusted(-5.0, -5.0, 5.0, 3.0), 3.0, 3.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    inner = place.adjusted(0.0, 0.0, 0.0, -_WORDS)
    if pixels is not None:
        whole = np.ascontiguousarray(pixels)
        height, width = whole.shape[:2]
        image = QImage(whole.data, width, height, 3 * width, QImage.Format.Format_RGB888)  # type: ignore[call-overload]
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(inner, image)
    font = interface_font(11)
    painter.setFont(font)
    painter.setPen(QColor(Tone.TEXT))
    words = QFontMetricsF(font).elidedText(f"{picture.name}  (N)", Qt.TextElideMode.ElideMiddle, place.width())
    painter.drawText(place.adjusted(0.0, inner.height() + 2.0, 0.0, 0.0), Qt.AlignmentFlag.AlignVCenter, words)


def _boxes(on: OnBoard) -> Floats:
    found = _card(on)
    return np.zeros((0, 4)) if found is None else np.array([found[1].getCoords()])


CARD = Overlay(_paint, _boxes)
"""Where a matched picture lies while another eye is set."""
