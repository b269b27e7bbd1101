"""The worksheet: a page to set up by ruler distances, the steps two to a page, and a blank sheet to practise on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import hypot
from typing import Any

from isometron.construct.outcome import Construction, Spot, Step
from isometron.construct.ruler import Table
from isometron.document.lengths.units import format_length, format_number, format_paper
from isometron.document.model import Document
from isometron.geometry.tolerances import CLOSE
from isometron.solve.marks import Marks
from isometron.surfaces.page import CAUTION, check_bar
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.pdf import FONT, POINTS_PER_MM, PdfPainter, page_maker
from isometron.surfaces.plate import Frame, plate, set_up_frame, set_up_plate, step_frame, whole_plate
from isometron.wording import tr

__all__ = ["plate_pdf", "worksheet_pdf"]

_PAGE = (210.0, 297.0)
_MARGIN = 16.0
_BODY, _SMALL, _TITLE = 3.5, 2.7, 6.0
_LEADING = 1.45
_INK, _QUIET = "#1F2424", "#5C6663"


def worksheet_pdf(document: Document, constructions: Sequence[Construction]) -> bytes:
    """Return the worksheet as PDF: A4 pages to read, and last a page of the sheet's own size at true scale.

    One construction has two steps to a page. Several by one school have one page that sets up, then a page each; what they
    have in common is told once.
    """
    first = constructions[0]
    what = _name(document, first) if len(constructions) == 1 else tr("{count} volumes", count=len(constructions))
    canvas, out = page_maker(tr("{school}: {volume}", school=first.title, volume=what), *_PAGE)
    pages = 1 + (len(constructions) if len(constructions) > 1 else (len(first.steps) + 1) // 2)
    _begin(canvas, *_PAGE)
    _setting_up(canvas, document, constructions)
    _foot(canvas, 1, pages)
    if len(constructions) == 1:
        for start in range(0, len(first.steps), 2):
            _begin(canvas, *_PAGE)
            for k, number in enumerate(range(start, min(start + 2, len(first.steps)))):
                top = _PAGE[1] - _MARGIN - k * (_PAGE[1] - 2 * _MARGIN) / 2
                _step(canvas, document, first, number, top)
            _foot(canvas, 2 + start // 2, pages)
    else:
        for page, construction in enumerate(constructions, start=2):
            _begin(canvas, *_PAGE)
            _whole(canvas, document, construction, () if page == 2 else first.steps)
            _foot(canvas, page, pages)
    _practice(canvas, document, constructions)
    canvas.save()
    return out.getvalue()


def plate_pdf(document: Document, construction: Construction, room: tuple[float, float]) -> bytes:
    """Return the picture of a construction's last step alone as PDF, as a worksheet shows it, in a room so wide and high, mm."""
    canvas, out = page_maker(construction.title, *room)
    _begin(canvas, *room)
    frame = _lettered(step_frame(document, construction, len(construction.steps) - 1), room)
    _place(canvas, frame, whole_plate(document, construction, frame), 0.0, 0.0, room)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _whole(canvas: Any, document: Document, construction: Construction, told: Sequence[Step]) -> None:
    """Write one volume of several on a page: its steps but those that were told with the first one, and the whole picture."""
    y = _paragraph(canvas, _name(document, construction), _PAGE[1] - _MARGIN - _BODY, _TITLE * 0.75, _INK) - 1.0
    for number, step in enumerate(construction.steps, start=1):
        if not any(_alike(step, other) for other in told):
            y = _paragraph(canvas, f"{number}.  {step.sentence}", y, _SMALL, _INK) - 0.8
    last = len(construction.steps) - 1
    room = (_PAGE[0] - 2 * _MARGIN, max(y - 22.0, 60.0))
    frame = _lettered(step_frame(document, construction, last), room)
    _place(canvas, frame, whole_plate(document, construction, frame), _MARGIN, 16.0, room, high=1.0)


def _alike(one: Step, other: Step) -> bool:
    """Whether two steps are one and the same: the same words often lead to other places, for what they begin from differs."""
    mine, theirs = (*one.points, *one.used), (*other.points, *other.used)
    if one.sentence != other.sentence or len(mine) != len(theirs):
        return False
    pairs = zip(mine, theirs, strict=True)
    return all(hypot(a.u - b.u, a.v - b.v) < CLOSE for a, b in pairs)


def _name(document: Document, construction: Construction) -> str:
    return document.volume(construction.volume).name


def _begin(canvas: Any, width: float, height: float) -> None:
    canvas.setPageSize((width * POINTS_PER_MM, height * POINTS_PER_MM))
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    canvas.setLineCap(0)


def _foot(canvas: Any, page: int, pages: int) -> None:
    _write(canvas, CAUTION, _MARGIN, 8.0, 2.1, _QUIET)
    _write(canvas, f"{page} / {pages}", _PAGE[0] - _MARGIN, 8.0, _SMALL, _QUIET, anchor=1)
    canvas.showPage()


def _setting_up(canvas: Any, document: Document, constructions: Sequence[Construction]) -> None:
    construction = constructions[0]
    y = _PAGE[1] - _MARGIN - _TITLE
    _write(canvas, construction.title, _MARGIN, y, _TITLE, _INK)
    y -= 9.0
    y = _paragraph(canvas, "; ".join(_sized(document, constructions)), y, _BODY, _INK) - 1.0
    metre = format_paper(1000.0 * construction.scale, document.unit)
    words = tr("Scale on the true line of measure 1 : {ratio}; 1 m is {metre} of paper.", metre=metre,
               ratio=format_number(1.0 / construction.scale, 2))  # fmt: skip
    if len(constructions) > 1:
        words = tr("Each has its own leading edge, and its own scale on it. What is set up here is common to all.")
    _write(canvas, words, _MARGIN, y, _BODY, _INK)
    y -= 10.0
    y = _distances(canvas, document, constructions, y)
    frame = _lettered(set_up_frame(document, construction), _room(y))
    several = constructions if len(constructions) > 1 else ()
    marks = set_up_plate(document, construction, frame, _common(constructions), beside=several)
    _place(canvas, frame, marks, _MARGIN, 18.0, _room(y), high=1.0)


def _sized(document: Document, constructions: Sequence[Construction]) -> list[str]:
    """Return the volumes' names and sizes; those of one size are told together."""
    names: dict[str, list[str]] = {}
    for each in constructions:
        volume = document.volume(each.volume)
        size = " x ".join(format_length(s, document.unit, with_unit=False) for s in volume.size)
        names.setdefault(f"{size} {document.unit}", []).append(volume.name)
    return [f"{', '.join(of_size)}: {size}" for size, of_size in names.items()]


def _common(constructions: Sequence[Construction]) -> list[Spot]:
    """Return the points that set up all of some constructions."""
    each = [
        {spot.name: spot for step in done.steps[: done.setting_up] for spot in step.points} for done in constructions
    ]
    return [
        spot for name, spot in each[0].items()
        if all(name in other and hypot(other[name].u - spot.u, other[name].v - spot.v) < CLOSE for other in each)
    ]  # fmt: skip


def _room(top: float) -> tuple[float, float]:
    return _PAGE[0] - 2 * _MARGIN, top - 22.0


def _distances(canvas: Any, document: Document, constructions: Sequence[Construction], y: float) -> float:
    """Write the table of ruler distances, and return where it ends."""
    table = Table(document)
    heads = (tr("point"), tr("across"), tr("up"))
    columns = (_MARGIN, _MARGIN + 42.0, _MARGIN + 110.0)
    for x, head in zip(columns, heads, strict=True):
        _write(canvas, head, x, y, _SMALL, _QUIET)
    y -= 2.0
    _rule(canvas, _MARGIN, y, _PAGE[0] - _MARGIN)
    y -= 5.0
    for spot in _common(constructions):
        across, up = table.ruler(spot).split(", ")
        for x, words in zip(columns, (spot.name, across, up), strict=True):
            _write(canvas, words, x, y, _BODY, _INK)
        y -= 5.6
    return y


def _step(canvas: Any, document: Document, construction: Construction, number: int, top: float) -> None:
    step = construction.steps[number]
    y = _paragraph(canvas, f"{number + 1}.  {step.sentence}", top - _BODY, _BODY, _INK)
    y = _paragraph(canvas, step.why, y - 1.0, _SMALL, _QUIET)
    below = top - (_PAGE[1] - 2 * _MARGIN) / 2 + 8.0
    room = (_PAGE[0] - 2 * _MARGIN, y - below)
    frame = _lettered(step_frame(document, construction, number), room)
    _place(canvas, frame, plate(document, construction, number, frame), _MARGIN, below, room)


def _lettered(frame: Frame, room: tuple[float, float]) -> Frame:
    """Return the frame with lettering that comes out at its own size on the page."""
    return replace(frame, text=_SMALL / min(room[0] / frame.width, room[1] / frame.height))


def _place(
    canvas: Any, frame: Frame, marks: Marks, x: float, y: float, room: tuple[float, float], *, high: float = 0.5
) -> None:
    """Paint a plate into a room of the page, as large as it goes, in its middle or (``high`` 1) at its top."""
    scale = min(room[0] / frame.width, room[1] / frame.height)
    x += (room[0] - frame.width * scale) / 2
    y += (room[1] - frame.height * scale) * high
    canvas.saveState()
    canvas.translate(x - frame.left * scale, y - frame.lower * scale)
    canvas.scale(scale, scale)
    clip = canvas.beginPath()
    clip.rect(frame.left, frame.lower, frame.width, frame.height)
    canvas.clipPath(clip, stroke=0)
    paint([marks], PdfPainter(canvas, frame.sides, scale))
    canvas.restoreState()


def _practice(canvas: Any, document: Document, constructions: Sequence[Construction]) -> None:
    """The blank sheet at true scale: only what sets up, and the check bar."""
    sheet = document.sheet
    _begin(canvas, sheet.width, sheet.height)
    frame = Frame(*sheet.rectangle, 3.0)
    marks = set_up_plate(document, constructions[0], frame, _common(constructions), strong=False)
    _place(canvas, frame, marks, 0.0, 0.0, (sheet.width, sheet.height))
    paint([check_bar(sheet.width, sheet.height)], PdfPainter(canvas, (0.0, 0.0, sheet.width, sheet.height)))
    canvas.showPage()


def _rule(canvas: Any, x: float, y: float, right: float) -> None:
    canvas.setStrokeColor("#C9C2B2")
    canvas.setLineWidth(0.18)
    canvas.line(x, y, right, y)


def _paragraph(canvas: Any, text: str, y: float, size: float, colour: str) -> float:
    """Write a text in lines of the page's width, and return where the next one begins."""
    from reportlab.lib.utils import simpleSplit

    for line in simpleSplit(text, FONT, size, _PAGE[0] - 2 * _MARGIN):
        _write(canvas, line, _MARGIN, y, size, colour)
        y -= size * _LEADING
    return y


def _write(canvas: Any, text: str, x: float, y: float, size: float, colour: str, *, anchor: int = -1) -> None:
    canvas.setFillColor(colour)
    canvas.setFont(FONT, size)
    draw = {-1: canvas.drawString, 0: canvas.drawCentredString, 1: canvas.drawRightString}[anchor]
    draw(x, y, text)
