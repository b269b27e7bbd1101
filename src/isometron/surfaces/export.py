"""The register of export formats by file ending: a new format is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from isometron.errors import IsometronError
from isometron.progress import Tell, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.page import sheet_page
from isometron.surfaces.painters.dxf import DXF_NOTES
from isometron.surfaces.painters.painting import paint, said_of
from isometron.surfaces.painters.rasters import STRAIGHTENED
from isometron.wording import tr

__all__ = ["EXPORTS", "ExportError", "Wishes", "export_bytes"]


class ExportError(IsometronError, ValueError):
    """A file ending that names no export format."""


@dataclass(frozen=True)
class Wishes:
    """What is wanted of an export: construction lines; of a picture its dots per inch, and a clear ground; tiles : of a page the
    printer's paper that it is parted into, a name of `tiles.TILE_PAPERS`."""

    construction: bool = True
    dpi: float = 300.0
    clear: bool = False
    tiles: str | None = None


def _svg(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    from isometron.surfaces.painters.svg import svg_text

    return svg_text(drawing, construction=how.construction).encode()


def _pdf(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    from isometron.surfaces.painters.pdf import pdf_bytes
    from isometron.surfaces.tiles import tiled_pdf

    if how.tiles is not None:
        return tiled_pdf(drawing, construction=how.construction, paper=how.tiles, tell=tell)
    return pdf_bytes(drawing, construction=how.construction)


def _png(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    from isometron.surfaces.offscreen import with_application
    from isometron.surfaces.png import png_bytes

    with with_application():
        return png_bytes(drawing, dpi=how.dpi, construction=how.construction, clear=how.clear, tell=tell)


def _dxf(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    """The sheet as it is drawn, in mm from its lower left corner."""
    from isometron.surfaces.painters.dxf import DxfPainter

    page = sheet_page(drawing, construction=how.construction)
    painter = DxfPainter(page.owners, page.width / 4)
    painter.rim(page.width, page.height)
    paint([page.marks], painter)
    return painter.text().encode()


def _csv(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    from isometron.solve.report import report
    from isometron.surfaces.tables import csv_text

    return csv_text(report(drawing, tell)).encode("utf-8-sig")  # the mark makes spreadsheets read it as UTF-8


def _json(drawing: Drawing, how: Wishes, tell: Tell) -> bytes:
    from isometron.solve.report import report
    from isometron.surfaces.tables import json_text

    return json_text(report(drawing, tell)).encode()


EXPORTS: dict[str, Callable[[Drawing, Wishes, Tell], bytes]] = {
    ".svg": _svg,
    ".pdf": _pdf,
    ".png": _png,
    ".dxf": _dxf,
    ".csv": _csv,
    ".json": _json,
}


NOTES: dict[str, dict[str, str]] = {".svg": STRAIGHTENED, ".pdf": STRAIGHTENED, ".dxf": DXF_NOTES}
"""What a format does not hold as it is, by the kind of mark; formats that are not listed hold all, or no marks at all."""


def export_bytes(
    drawing: Drawing,
    out: Path,
    *,
    tell: Tell = unheard,
    say: Callable[[str], None] | None = None,
    **wishes: Any,
) -> bytes:
    """Return the bytes of ``out`` in the format of its ending; raises `ExportError` for an unknown one.

    say : told in words what of the drawing the format resamples or leaves out; wishes : fields of `Wishes`.
    """
    how = Wishes(**wishes)
    ending = out.suffix.lower()
    if ending not in EXPORTS:
        raise ExportError(
            tr(
                "{out}: the ending {ending!r} names no format. Known endings: {names}.",
                out=out,
                ending=ending,
                names=", ".join(EXPORTS),
            )
        )
    if how.tiles is not None and ending != ".pdf":
        raise ExportError(tr("Tiles are pages of a PDF: give a name that ends in .pdf."))
    if say is not None:
        for words in said_of(drawing.stream, NOTES.get(ending, {})):
            say(words)
    return EXPORTS[ending](drawing, how, tell)
