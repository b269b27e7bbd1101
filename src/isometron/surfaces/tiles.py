"""A sheet larger than the printer's paper, as pages of that paper: they overlap, and crosses say how to lay them together."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise, product
from math import ceil
from typing import Any

from isometron.progress import Tell, telling, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.page import sheet_page, with_check_bar
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.pdf import FONT, POINTS_PER_MM, PdfPainter, page_maker
from isometron.wording import tr

__all__ = ["TILE_PAPERS", "Tiling", "tiled_pdf", "tiling"]

TILE_PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
"""Papers of printers, mm upright."""

_MARGIN = 10.0
"""mm along each edge that a printer may leave white."""
_OVERLAP = 12.0
"""mm that neighbours share at least."""
_ARM = 3.0
_WORDS = 2.6
_INK, _FAINT = "#5C6663", "#9BB0B5"


@dataclass(frozen=True)
class Tiling:
    """How a sheet is parted. paper : a page, (width, height) in mm; margin : mm along its edges that stay white; lefts, lowers : where
    each column and row begins on the sheet, mm."""

    paper: tuple[float, float]
    margin: float
    lefts: tuple[float, ...]
    lowers: tuple[float, ...]

    @property
    def seen(self) -> tuple[float, float]:
        """What of a page is drawn on, mm."""
        return self.paper[0] - 2 * self.margin, self.paper[1] - 2 * self.margin

    @property
    def count(self) -> int:
        """How many pages there are."""
        return len(self.lefts) * len(self.lowers)


def tiling(width: float, height: float, paper: str = "a4") -> Tiling:
    """Return how a sheet (mm) is parted into the fewest pages of a paper of `TILE_PAPERS`, laid upright or across; one that fits on a page has
    it to itself, up to the edge."""
    narrow, long = TILE_PAPERS[paper]
    found = [_parted((width, height), size) for size in ((long, narrow), (narrow, long))]
    return min(found, key=lambda each: each.count)


def _parted(sheet: tuple[float, float], paper: tuple[float, float]) -> Tiling:
    margin = 0.0 if all(whole <= part for whole, part in zip(sheet, paper, strict=True)) else _MARGIN
    lefts, lowers = (_starts(whole, part - 2 * margin) for whole, part in zip(sheet, paper, strict=True))
    return Tiling(paper, margin, lefts, lowers)


def _starts(whole: float, part: float) -> tuple[float, ...]:
    """Return where parts begin that cover a length: neighbours share just what they must, and the length lies in the middle of them all."""
    count = 1 if whole <= part else ceil((whole - _OVERLAP) / (part - _OVERLAP))
    spare = count * part - (count - 1) * _OVERLAP - whole
    return tuple(k * (part - _OVERLAP) - spare / 2.0 for k in range(count))


def tiled_pdf(drawing: Drawing, *, construction: bool = True, paper: str = "a4", tell: Tell = unheard) -> bytes:
    """Return the sheet at true scale on pages of a paper of `TILE_PAPERS`, row by row from the upper left."""
    page = with_check_bar(sheet_page(drawing, construction=construction))
    laid = tiling(page.width, page.height, paper)
    canvas, out = page_maker(page.title, *laid.paper)
    # Painted once, shown on every page.
    canvas.beginForm("sheet", 0, 0, page.width, page.height)
    paint([page.marks], PdfPainter(canvas, (0.0, 0.0, page.width, page.height)))
    canvas.setStrokeColor(_FAINT)
    canvas.setLineWidth(0.13)
    canvas.rect(0.0, 0.0, page.width, page.height)
    canvas.endForm()
    rows = tuple(reversed(laid.lowers))
    places = list(enumerate(product(enumerate(rows, start=1), enumerate(laid.lefts, start=1)), start=1))
    for number, ((row, lower), (column, left)) in telling(places, tell):
        canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
        _window(canvas, laid, left, lower)
        _crosses(canvas, laid, left, lower)
        words = tr("{title}: page {number} of {count}, row {row}, column {column}. Lay cross on cross.", title=page.title,
                   number=number, count=laid.count, row=row, column=column)  # fmt: skip
        if laid.count > 1:
            _write(canvas, words)
        canvas.showPage()
    canvas.save()
    data: bytes = out.getvalue()
    return data


def _window(canvas: Any, laid: Tiling, left: float, lower: float) -> None:
    """Show what of the sheet a page has."""
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(laid.margin, laid.margin, *laid.seen)
    canvas.clipPath(clip, stroke=0)
    canvas.translate(laid.margin - left, laid.margin - lower)
    canvas.doForm("sheet")
    canvas.restoreState()


def _crosses(canvas: Any, laid: Tiling, left: float, lower: float) -> None:
    """Draw the crosses that lie within a page: two in each strip that neighbours share, at the same place of the sheet on both."""
    canvas.setStrokeColor(_INK)
    canvas.setLineWidth(0.13)
    across, up = _shared(laid.lefts, laid.seen[0]), _shared(laid.lowers, laid.seen[1])
    columns = [start + part * laid.seen[0] for start in laid.lefts for part in (0.15, 0.85)]
    rows = [start + part * laid.seen[1] for start in laid.lowers for part in (0.15, 0.85)]
    for x, y in {*product(across, rows), *product(columns, up)}:
        u, v = x - left, y - lower
        if 0.0 <= u <= laid.seen[0] and 0.0 <= v <= laid.seen[1]:
            u, v = u + laid.margin, v + laid.margin
            canvas.line(u - _ARM, v, u + _ARM, v)
            canvas.line(u, v - _ARM, u, v + _ARM)


def _shared(starts: tuple[float, ...], part: float) -> list[float]:
    """Return the middles of the strips that neighbours share."""
    return [(first + part + second) / 2 for first, second in pairwise(starts)]


def _write(canvas: Any, words: str) -> None:
    canvas.setFillColor(_INK)
    canvas.setFont(FONT, _WORDS)
    canvas.drawString(_MARGIN, 5.0, words)
