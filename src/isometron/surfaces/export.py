"""The register of export formats by file ending: a new format is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from isometron.errors import IsometronError
from isometron.progress import Tell, unheard
from isometron.solve.drawing import Drawing
from isometron.surfaces.painters.painting import said_of
from isometron.surfaces.painters.rasters import STRAIGHTENED
from isometron.wording import tr

__all__ = ["EXPORTS", "ExportError", "export_bytes"]


class ExportError(IsometronError, ValueError):
    """A file ending that names no export format."""


def _svg(drawing: Drawing, construction: bool, dpi: float, tell: Tell) -> bytes:
    from isometron.surfaces.painters.svg import svg_text

    return svg_text(drawing, construction=construction).encode()


def _pdf(drawing: Drawing, construction: bool, dpi: float, tell: Tell) -> bytes:
    from isometron.surfaces.painters.pdf import pdf_bytes

    return pdf_bytes(drawing, construction=construction)


def _png(drawing: Drawing, construction: bool, dpi: float, tell: Tell) -> bytes:
    from isometron.surfaces.offscreen import with_application
    from isometron.surfaces.png import png_bytes

    with with_application():
        return png_bytes(drawing, dpi=dpi, construction=construction, tell=tell)


def _csv(drawing: Drawing, construction: bool, dpi: float, tell: Tell) -> bytes:
    from isometron.solve.report import report
    from isometron.surfaces.tables import csv_text

    return csv_text(report(drawing, tell)).encode("utf-8-sig")  # the mark makes spreadsheets read it as UTF-8


def _json(drawing: Drawing, construction: bool, dpi: float, tell: Tell) -> bytes:
    from isometron.solve.report import report
    from isometron.surfaces.tables import json_text

    return json_text(report(drawing, tell)).encode()


EXPORTS: dict[str, Callable[[Drawing, bool, float, Tell], bytes]] = {
    ".svg": _svg,
    ".pdf": _pdf,
    ".png": _png,
    ".csv": _csv,
    ".json": _json,
}


NOTES: dict[str, dict[str, str]] = {".svg": STRAIGHTENED, ".pdf": STRAIGHTENED}
"""What a format does not hold as it is, by the kind of mark; formats that are not listed hold all, or no marks at all."""


def export_bytes(
    drawing: Drawing,
    out: Path,
    *,
    construction: bool = True,
    dpi: float = 300.0,
    tell: Tell = unheard,
    say: Callable[[str], None] | None = None,
) -> bytes:
    """Return the bytes of ``out`` in the format of its ending; raises `ExportError` for an unknown one.

    say : told in words what of the drawing the format resamples or leaves out.
    """
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
    if say is not None:
        for words in said_of(drawing.stream, NOTES.get(ending, {})):
            say(words)
    return EXPORTS[ending](drawing, construction, dpi, tell)
