"""The report as JSON, CSV (one row an edge) and text for people."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterable, Sequence
from typing import Any

from isometron.document.lengths.units import UnitName, format_length, format_number

__all__ = ["TABLES", "csv_of", "csv_text", "json_text", "plain_text"]

Values = dict[str, Any]

CSV_COLUMNS = (
    "volume_id", "volume_name", "edge", "corner_from", "corner_to", "direction", "going", "true_mm", "drawn_mm",
    "foreshortening_percent", "slope_deg", "vanishing_u_mm", "vanishing_v_mm", "hidden_percent",
)  # fmt: skip


def json_text(report: Values) -> str:
    """Return the whole report as indented JSON."""
    return json.dumps(report, indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def csv_of(columns: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """Return a table as CSV. Text that a spreadsheet would take for a formula begins with an apostrophe: names are text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows([_harmless(cell) for cell in row] for row in rows)
    return out.getvalue()


def _harmless(cell: Any) -> Any:
    return f"'{cell}" if isinstance(cell, str) and cell.lstrip()[:1] in _FORMULA and cell.strip() else cell


_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def csv_text(report: Values) -> str:
    """Return one row an edge; what has no picture is an empty field."""
    rows = (
        _row(volume, number, edge)
        for volume in report["volumes"]
        for number, edge in enumerate(volume["edges"], start=1)
    )
    return csv_of(CSV_COLUMNS, rows)


def _row(volume: Values, number: int, edge: Values) -> list[Any]:
    vanishing = edge["vanishing"].get("at", ["", ""])
    hidden = sum(b - a for a, b in edge["hidden"])

    def rounded(value: float | None, digits: int = 6) -> Any:
        return "" if value is None else round(value, digits)

    percent = edge["foreshortening"]
    return [
        volume["id"], volume["name"], number, *edge["corners"], edge["direction"] or "", edge["going"],
        rounded(edge["true"]), rounded(edge["drawn"]), rounded(None if percent is None else 100 * percent, 4),
        rounded(edge["slope_deg"]), *(rounded(v) if v != "" else "" for v in vanishing), round(100 * hidden, 4),
    ]  # fmt: skip


def plain_text(report: Values, unit: UnitName = "mm") -> str:
    """Return the report for reading in a terminal; true lengths in ``unit``, paper in mm."""
    view, sheet = report["view"], report["sheet"]
    lines = [
        f"{report['title']}   {sheet['paper']}",
        f"eye {format_length(view['eye'][2], unit)} high, viewing distance {view['viewing_distance']:.1f} mm of paper, "
        f"cone {view['cone']['angle_deg']:g}° (radius {view['cone']['radius']:.1f} mm)",
    ]
    for standing in view["directions"]:
        turned = f"turned {standing['yaw_deg']:g}°" if standing["yaw_deg"] else "as the world"
        lines.append(f"directions {turned}: {standing['points']}-point")
        for name, point in standing["vanishing"].items():
            lines.append(f"  {name:<5} {_vanishing_words(point)}")
    for volume in report["volumes"]:
        size = " x ".join(format_length(s, unit, with_unit=False) for s in volume["size"])
        lines += ["", f"{volume['name']}   {size} {unit}{'   see-through' if volume['see_through'] else ''}"]
        lines.append("  edge   direction   going        true       drawn  foreshortened     slope  hidden")
        lines += [_edge_words(edge, unit) for edge in volume["edges"]]
    for picture in report.get("pictures", ()):
        lines += ["", *_picture_words(picture, unit)]
    lines += ["", f"{len(report['warnings'])} warnings"]
    lines += [f"  {warning['message']}" for warning in report["warnings"]]
    return "\n".join(lines) + "\n"


def _picture_words(picture: Values, unit: UnitName) -> list[str]:
    """Return a picture's lines: its focal length, the sizes of volumes on it, each with its plus-minus, and what is not known."""

    def figure(value: Values, write: Callable[[float], str]) -> str:
        return write(value["value"]) + (" (not known)" if value["pm95"] is None else f" ± {write(value['pm95'])}")

    lines = [f"picture {picture['picture']}"]
    if picture["focal_px"] is not None:
        lines.append(f"  focal length {figure(picture['focal_px'], lambda px: f'{px:.1f} px')}")
    for size in picture["sizes"]:
        said = ", ".join(
            f"{k} {figure(size[k], lambda mm: format_length(mm, unit))}" for k in ("long", "wide", "high")
        )
        lines.append(f"  {size['volume']}: {said}")
    return [*lines, *(f"  not known: {words}" for words in picture["free"])]


def _vanishing_words(point: Values) -> str:
    if not point["finite"]:
        return "parallel to the picture, no vanishing point"
    u, v = point["at"]
    off = f", {point['off_sheet']:.1f} mm off the sheet" if point["off_sheet"] else ", on the sheet"
    return f"vanishes at u {format_number(u, 1)}, v {format_number(v, 1)} mm{off}"


def _edge_words(edge: Values, unit: UnitName) -> str:
    def cell(value: float | None, suffix: str, factor: float = 1.0) -> str:
        return "-" if value is None else f"{value * factor:.1f}{suffix}"

    hidden = sum(b - a for a, b in edge["hidden"])
    return (
        f"  {edge['corners'][0]}-{edge['corners'][1]:<5}{edge['direction'] or '-':<12}{edge['going']:<8}"
        f"{format_length(edge['true'], unit):>12}{cell(edge['drawn'], ' mm'):>12}"
        f"{cell(edge['foreshortening'], ' %', 100):>15}{cell(edge['slope_deg'], '°'):>10}{100 * hidden:>6.0f} %"
    )


TABLES: dict[str, Callable[[Values, UnitName], str]] = {
    "json": lambda report, unit: json_text(report),
    "csv": lambda report, unit: csv_text(report),
    "text": plain_text,
}
"""Report formats by name."""
