"""The template rack: the plastic ellipses a person owns, by degree and hole size, as CSV."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta

from isometron.document.lengths.units import LengthError, parse_length
from isometron.document.model import DocumentError
from isometron.view.templates import USUAL_DEGREES, USUAL_MAJORS
from isometron.wording import tr

__all__ = ["Rack", "rack_from_csv", "rack_to_csv"]

Degree = Annotated[float, Meta(gt=0.0, le=90.0, description="degrees")]
Major = Annotated[float, Meta(gt=0.0, le=2000.0, description="mm")]


class Rack(msgspec.Struct, frozen=True, kw_only=True):
    """Sheets by degree, and the major axes of the holes that every sheet has, mm. A usual set to begin with."""

    degrees: Annotated[tuple[Degree, ...], Meta(min_length=1, max_length=90)] = USUAL_DEGREES
    majors: Annotated[tuple[Major, ...], Meta(min_length=1, max_length=400)] = USUAL_MAJORS


def rack_to_csv(rack: Rack) -> str:
    """Return a rack as two rows, ``degrees`` and ``majors`` in mm."""
    rows = (("degrees", rack.degrees), ("majors", rack.majors))
    return "".join(f"{name},{','.join(f'{value:g}' for value in values)}\n" for name, values in rows)


def rack_from_csv(text: str) -> Rack:
    """Return a rack from rows ``degrees, 10, 15 ...`` and ``majors, 5, 7.5 ...``; sizes in mm or such as ``1 1/4 in``.

    Raises `DocumentError` naming the cell that is wrong.
    """
    found: dict[str, tuple[float, ...]] = {}
    for line in text.splitlines():
        cells = [cell.strip() for cell in line.replace(";", ",").split(",") if cell.strip()]
        if len(cells) > 1 and cells[0].lower() in ("degrees", "majors"):
            name = cells[0].lower()
            found[name] = tuple(sorted({_number(cell, name) for cell in cells[1:]}))
    if set(found) != {"degrees", "majors"}:
        raise DocumentError(
            tr("A rack needs a row of degrees and a row of majors: degrees, 10, 15 … and majors, 5, 7.5 …")
        )
    try:
        return msgspec.convert(found, Rack)
    except msgspec.ValidationError as error:
        raise DocumentError(tr("The rack cannot be used: {error}.", error=error)) from error


def _number(cell: str, row: str) -> float:
    try:
        return float(cell.removesuffix("°")) if row == "degrees" else round(parse_length(cell, "mm"), 6)
    except (ValueError, LengthError) as error:
        raise DocumentError(tr("{cell!r} in the row of {row} is no number.", cell=cell, row=row)) from error
