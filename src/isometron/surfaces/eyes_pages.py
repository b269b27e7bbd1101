"""All eyes of a document on paper: a page of small pictures with their names, or a sheet for each at true scale, as one PDF."""

from __future__ import annotations

from math import ceil, sqrt
from typing import Any

from isometron.document.eyes.keeping import eyes_of, seen_by
from isometron.document.model import Document, DocumentError
from isometron.progress import Tell, telling, unheard
from isometron.solve.drawing import solve
from isometron.surfaces.page import CAUTION, Page, sheet_page, with_check_bar
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.pdf import FONT, POINTS_PER_MM, PdfPainter, page_maker
from isometron.wording import tr

__all__ = ["EYES_PAGES", "eyes_page_pdf", "eyes_sheets_pdf"]

_PAGE = (297.0, 210.0)
_MARGIN, _GAP, _WORDS, _TITLE, _FOOT = 14.0, 8.0, 3.4, 6.0, 10.0
_INK, _QUIET, _RIM = "#1F2424", "#5C6663", "#C9C2B2"


def _pages(document: Document, tell: Tell, *, construction: bool) -> list[tuple[str, Page]]:
    """Return the sheet of each eye with its name; raises `DocumentError` where no eye is kept."""
    names = [kept.name for kept in eyes_of(document)]
    if not names:
        raise DocumentError(tr("No eye is kept yet. Keep this one under a name (Eye, Kept eyes)."))
    return [
        (name, sheet_page(solve(seen_by(document, name)), construction=construction)) for name in telling(names, tell)
    ]


def eyes_page_pdf(document: Document, *, construction: bool = False, tell: Tell = unheard) -> bytes:
    """Return an A4 page with a small picture for each eye, its name under it."""
    pages = _pages(document, tell, construction=construction)
    columns = ceil(sqrt(len(pages) * 1.2))
    rows = ceil(len(pages) / columns)
    wide = (_PAGE[0] - 2 * _MARGIN - (columns - 1) * _GAP) / columns
    top = _PAGE[1] - _MARGIN - _TITLE - 6.0
    high = (top - _MARGIN - _FOOT - (rows - 1) * _GAP) / rows
    canvas, out = page_maker(document.title, *_PAGE)
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    _write(canvas, document.title, _MARGIN, _PAGE[1] - _MARGIN - _TITLE, _TITLE, _INK)
    for number, (name, page) in enumerate(pages):
        left = _MARGIN + number % columns * (wide + _GAP)
        low = top - (number // columns + 1) * high - number // columns * _GAP
        _small(canvas, page, name, (left, low, wide, high))
    _write(canvas, CAUTION, _MARGIN, 8.0, 2.1, _QUIET)
    canvas.showPage()
    canvas.save()
    data: bytes = out.getvalue()
    return data


def _small(canvas: Any, page: Page, name: str, room: tuple[float, float, float, float]) -> None:
    """Paint a sheet small into a room (left, low, wide, high), its rim round it and its name below."""
    left, low, wide, high = room
    scale = min(wide / page.width, (high - _WORDS - 2.5) / page.height)
    left += (wide - scale * page.width) / 2
    low += high - scale * page.height
    canvas.saveState()
    canvas.translate(left, low)
    canvas.scale(scale, scale)
    clip = canvas.beginPath()
    clip.rect(0.0, 0.0, page.width, page.height)
    canvas.clipPath(clip, stroke=0)
    paint([page.marks], PdfPainter(canvas, (0.0, 0.0, page.width, page.height), scale))
    canvas.restoreState()
    canvas.setStrokeColor(_RIM)
    canvas.setLineWidth(0.18)
    canvas.rect(left, low, scale * page.width, scale * page.height)
    _write(canvas, name, left, low - _WORDS - 1.2, _WORDS, _INK)


def eyes_sheets_pdf(document: Document, *, construction: bool = True, tell: Tell = unheard) -> bytes:
    """Return a PDF with a sheet at true scale for each eye, each of its own format and with its check bar."""
    pages = _pages(document, tell, construction=construction)
    canvas, out = page_maker(document.title, pages[0][1].width, pages[0][1].height)
    for name, plain in pages:
        page = with_check_bar(plain)
        canvas.setPageSize((page.width * POINTS_PER_MM, page.height * POINTS_PER_MM))
        canvas.bookmarkPage(name)
        canvas.addOutlineEntry(name, name)
        canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
        paint([page.marks], PdfPainter(canvas, (0.0, 0.0, page.width, page.height)))
        canvas.showPage()
    canvas.save()
    data: bytes = out.getvalue()
    return data


def _write(canvas: Any, text: str, x: float, y: float, size: float, colour: str) -> None:
    canvas.setFillColor(colour)
    canvas.setFont(FONT, size)
    canvas.drawString(x, y, text)


EYES_PAGES = {"page": eyes_page_pdf, "each": eyes_sheets_pdf}
"""How all eyes are handed on, by the word on the command line."""
