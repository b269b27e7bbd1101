"""The template list as CSV, as text to lay beside the sheet, and as JSON."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import asdict

from isometron.document.lengths.units import format_length, format_paper
from isometron.document.model import Document
from isometron.document.rack import Rack
from isometron.solve.drawing import Drawing
from isometron.solve.template_list import TemplateLine, template_list
from isometron.surfaces.tables import csv_of
from isometron.wording import tr

__all__ = ["TEMPLATE_ENDINGS", "TEMPLATE_TABLES", "axis_words", "template_table"]

COLUMNS = (
    "where", "ring", "true_diameter_mm", "degree", "major_mm", "minor_mm", "axis_deg", "centre_from_left_mm", "centre_from_lower_edge_mm",
    "template_degree", "hole_mm", "gap_mm",
)  # fmt: skip


def _csv(document: Document, lines: list[TemplateLine]) -> str:
    """One row a centre: what is drawn with the same template stands in as many rows, each with its own place."""
    rows: list[list[object]] = []
    for line in lines:
        fit = [
            "" if value is None else f"{value:g}"
            for value in (line.template_degree, line.hole, None if line.gap is None else round(line.gap, 3))
        ]
        rows += [
            [
                ", ".join(line.where), number, round(line.diameter, 3), round(line.degree, 2), round(line.major, 3),
                round(line.minor, 3), round(line.axis, 2), round(left, 2), round(lower, 2), *fit,
            ]
            for number, (left, lower) in enumerate(line.centres, 1)
        ]  # fmt: skip
    return csv_of(COLUMNS, rows)


def _json(document: Document, lines: list[TemplateLine]) -> str:
    values = {"title": document.title, "sheet": [document.sheet.width, document.sheet.height],
              "templates": [asdict(line) for line in lines]}  # fmt: skip
    return json.dumps(values, indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def _text(document: Document, lines: list[TemplateLine]) -> str:
    """One block a line, in the order of the volumes; paper lengths as the document's ruler has them."""
    unit = document.unit
    said = [tr("{title}: templates", title=document.title), ""]
    if not lines:
        said.append(tr("No ring is drawn as an ellipse."))
    for line in lines:
        many = f"{len(line.centres)} x " if len(line.centres) > 1 else ""
        said.append(
            tr("{many}{where}, ⌀ {diameter}", many=many, where=", ".join(line.where),
               diameter=format_length(round(line.diameter, 3), unit))
        )  # fmt: skip
        said.append("  " + _template_words(document, line))
        said.append(
            "  "
            + tr("ellipse {degree}°, {major} x {minor}, its long axis {axis}", degree=f"{line.degree:.1f}",
                 major=format_paper(line.major, unit), minor=format_paper(line.minor, unit), axis=axis_words(line.axis))
        )  # fmt: skip
        said += [
            "  "
            + tr("centre {left} from the left edge, {lower} from the lower edge", left=format_paper(left, unit),
                 lower=format_paper(lower, unit))
            for left, lower in line.centres
        ]  # fmt: skip
        said.append("")
    return "\n".join(said).rstrip() + "\n"


def _template_words(document: Document, line: TemplateLine) -> str:
    if line.template_degree is None or line.hole is None or line.gap is None:
        return tr("no template comes near: draw it by its axes")
    return tr(
        "template {degree:g}°, hole {hole}, off by {gap} at most", degree=line.template_degree,
        hole=format_paper(line.hole, document.unit), gap=format_paper(line.gap, document.unit, decimals=2),
    )  # fmt: skip


def axis_words(axis: float) -> str:
    """Return how an axis lies: level, upright, or how far it climbs and to which side."""
    if abs(axis) < 0.05:
        return tr("level")
    if abs(axis) > 89.95:
        return tr("upright")
    side = tr("to the right") if axis > 0 else tr("to the left")
    return tr("climbing {angle}° {side}", angle=f"{abs(axis):.1f}", side=side)


TEMPLATE_TABLES: dict[str, Callable[[Document, list[TemplateLine]], str]] = {
    "text": _text,
    "csv": _csv,
    "json": _json,
}
"""Forms of the template list, by name."""

TEMPLATE_ENDINGS = {".txt": "text", ".csv": "csv", ".json": "json"}
"""Forms of the template list, by the ending of their file."""


def template_table(drawing: Drawing, form: str, rack: Rack | None = None) -> str:
    """Return the template list of a drawing in a form of `TEMPLATE_TABLES`, for a person's rack or the usual one."""
    return TEMPLATE_TABLES[form](drawing.document, template_list(drawing, rack))
