"""The sheet of plain views: side, front and plan at a ruler's scale, with their dimensions; also as SVG and DXF."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from isometron.document.lengths.proportion import module_mm
from isometron.document.lengths.units import format_length, format_number
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.progress import Tell, telling, unheard
from isometron.solve.layers.labels import lay_labels
from isometron.solve.marks import NOBODY, NOTHING, Label, Lines, Marks, Role, Singles
from isometron.solve.plain_views import VIEWS, PlainView, ViewName, plain_view
from isometron.surfaces.page import Page, named_owners, with_check_bar
from isometron.surfaces.painters.painting import paint, said_of
from isometron.surfaces.painters.rasters import STRAIGHTENED
from isometron.wording import tr

__all__ = ["PLAIN_EXPORTS", "Placed", "PlainSheetError", "lay_out", "plain_export", "plain_page", "scale_for"]

Say = Callable[[str], None]
SCALES = (
    1.0,
    2.0,
    2.5,
    5.0,
    10.0,
    15.0,
    20.0,
    25.0,
    50.0,
    75.0,
    100.0,
    200.0,
    500.0,
    1000.0,
    2000.0,
    5000.0,
    10_000.0,
)
"""Scales 1 : n that rulers have."""

_MARGIN, _GAP, _DIMENSION = 14.0, 26.0, 7.0
_TEXT, _ARROW = 2.6, 1.6
_FREE = (12.0, 4.0)
"""mm by which a dimension or a name may be moved to stand clear."""


class PlainSheetError(IsometronError, ValueError):
    """A file ending that names no format of the plain views."""


@dataclass(frozen=True)
class Placed:
    """A view on the sheet: paper = offset + view mm / scale."""

    view: PlainView
    offset: tuple[float, float]

    def at(self, place: Floats, scale: float) -> tuple[float, float]:
        """Return the paper place of a place (2,) in the view."""
        return self.offset[0] + float(place[0]) / scale, self.offset[1] + float(place[1]) / scale


def _views(document: Document, *, hidden: bool = True) -> dict[ViewName, PlainView]:
    return {name: plain_view(document, name, hidden=hidden) for name in VIEWS}


def scale_for(views: dict[ViewName, PlainView], width: float, height: float) -> float:
    """Return the largest scale 1 : n of a ruler at which all three views lie on a sheet, n."""
    across, up = _room(views)
    free = (width - 2 * _MARGIN - _GAP - _DIMENSION, height - 2 * _MARGIN - _GAP - _DIMENSION)
    least = max(across / max(free[0], 1.0), up / max(free[1], 1.0))
    return next((s for s in SCALES if s >= least), least)


def _room(views: dict[ViewName, PlainView]) -> tuple[float, float]:
    sizes = {name: view.high - view.low for name, view in views.items()}
    return float(sizes["side"][0] + sizes["front"][0]), float(sizes["side"][1] + sizes["plan"][1])


def lay_out(views: dict[ViewName, PlainView], width: float, height: float, scale: float) -> list[Placed]:
    """Return the views on a sheet: the plan over the side view, the front beside it, all in line."""
    across, up = _room(views)
    left = (width - (across / scale + _GAP)) / 2
    low = (height - (up / scale + _GAP)) / 2
    side, front, plan = (views[name] for name in VIEWS)
    tall, long = float(side.high[1] - side.low[1]) / scale, float(side.high[0] - side.low[0]) / scale
    starts = {
        "side": (left, low),
        "front": (left + long + _GAP, low),
        "plan": (left, low + tall + _GAP),
    }
    return [
        Placed(v, (starts[v.name][0] - float(v.low[0]) / scale, starts[v.name][1] - float(v.low[1]) / scale))
        for v in (side, front, plan)
    ]


def plain_page(document: Document, width: float, height: float, scale: float | None = None) -> Page:
    """Return the sheet of plain views of a document on paper of a size, mm."""
    views = _views(document)
    scale = scale_for(views, width, height) if scale is None else scale
    title = tr("{title}, scale 1 : {scale}", title=document.title, scale=format_number(scale, 2))
    heading = Label(title, _MARGIN, height - 10.0, Role.LETTERING, NOBODY, size=3.5, free=(20.0, 6.0))
    parts = [Marks(labels=Singles((heading,)))]
    for placed in lay_out(views, width, height, scale):
        seen = placed.view.marks.placed(np.array(placed.offset), 1.0 / scale)
        parts += [_grid(document, placed, scale), seen, _dimensions(document, placed, scale)]
    marks = Marks.joined(parts)
    labels = lay_labels(marks.labels.items, [marks], (0.0, 0.0, width, height))
    return Page(width, height, document.title, replace(marks, labels=Singles(labels)), named_owners(document))


def _grid(document: Document, placed: Placed, scale: float) -> Marks:
    """The module grid under a view, counted from its lower left corner."""
    module = module_mm(document)
    if module is None or module / scale < 1.5:
        return NOTHING
    low, high = placed.view.low, placed.view.high
    found = []
    for axis in (0, 1):
        for place in np.arange(low[axis], high[axis] + HAIR, module):
            start, end = low.copy(), high.copy()
            start[axis] = end[axis] = place
            found.append([*placed.at(start, scale), *placed.at(end, scale)])
    return Marks(lines=Lines.of(np.array(found).reshape(-1, 4), Role.GRID))


_NAMES: dict[ViewName, str] = {"side": tr("Side"), "front": tr("Front"), "plan": tr("Plan")}


def _dimensions(document: Document, placed: Placed, scale: float) -> Marks:
    """The overall size under and beside a view, with the view's name."""
    low, high = placed.view.low, placed.view.high
    (x0, y0), (x1, y1) = placed.at(low, scale), placed.at(high, scale)
    under, beside = y0 - _DIMENSION, x0 - _DIMENSION
    lines = [
        [x0, under, x1, under], [x0, under - _ARROW, x0, y0 - 1.0], [x1, under - _ARROW, x1, y0 - 1.0],
        [beside, y0, beside, y1], [beside - _ARROW, y0, x0 - 1.0, y0], [beside - _ARROW, y1, x0 - 1.0, y1],
    ]  # fmt: skip
    across, up = (format_length(round(float(d), 3), document.unit) for d in high - low)
    labels = (
        Label(across, (x0 + x1) / 2, under + 0.9, Role.LETTERING, NOBODY, anchor=0, size=_TEXT, free=_FREE),
        Label(up, beside - 1.2, (y0 + y1) / 2 - _TEXT / 3, Role.LETTERING, NOBODY, anchor=1, size=_TEXT, free=_FREE),
        Label(_NAMES[placed.view.name], x0, y1 + 2.2, Role.LETTERING, NOBODY, size=_TEXT, free=_FREE),
    )
    return Marks(lines=Lines.of(np.array(lines), Role.TICK), labels=Singles(labels))


def _nobody(words: str) -> None:
    """Hear what nobody asked for."""


def _told(stream: Sequence[Marks], notes: dict[str, str], say: Say) -> None:
    """Say what of the marks a format does not hold as it is."""
    for words in said_of(stream, notes):
        say(words)


def _svg(document: Document, tell: Tell, say: Say) -> bytes:
    from isometron.surfaces.painters.svg import svg_of

    page = plain_page(document, document.sheet.width, document.sheet.height)
    _told([page.marks], STRAIGHTENED, say)
    return svg_of(page).encode()


def _pdf(document: Document, tell: Tell, say: Say) -> bytes:
    from isometron.surfaces.painters.pdf import pdf_of

    page = plain_page(document, document.sheet.width, document.sheet.height)
    _told([page.marks], STRAIGHTENED, say)
    return pdf_of(with_check_bar(page))


def _dxf(document: Document, tell: Tell, say: Say) -> bytes:
    """The three views at full size in millimetres."""
    from isometron.surfaces.painters.dxf import DxfPainter

    views = _views(document)
    gap = 0.15 * max(float((view.high - view.low).max()) for view in views.values())
    side, front, plan = (views[name] for name in VIEWS)
    starts = {
        "side": np.zeros(2),
        "front": np.array([float(side.high[0] - side.low[0]) + gap, 0.0]),
        "plan": np.array([0.0, float(side.high[1] - side.low[1]) + gap]),
    }
    painter = DxfPainter(named_owners(document), gap)
    _told([view.marks for view in views.values()], painter.notes, say)
    for view in telling((side, front, plan), tell):
        paint([view.marks.placed(starts[view.name] - view.low)], painter)
    return painter.text().encode()


PLAIN_EXPORTS: dict[str, Callable[[Document, Tell, Say], bytes]] = {".pdf": _pdf, ".svg": _svg, ".dxf": _dxf}
"""Formats of the plain views by file ending; a new one is one line here."""


def plain_export(
    document: Document, out: Path, tell: Tell = unheard, *, say: Callable[[str], None] | None = None
) -> bytes:
    """Return the plain views in the format of a file's ending; raises `PlainSheetError` for an unknown one."""
    ending = out.suffix.lower()
    if ending not in PLAIN_EXPORTS:
        raise PlainSheetError(
            tr("{out}: the ending {ending!r} names no format of the plain views. Known endings: {names}.",
               out=out, ending=ending, names=", ".join(PLAIN_EXPORTS))
        )  # fmt: skip
    return PLAIN_EXPORTS[ending](document, tell, say or _nobody)
