"""A construction's steps as files: one SVG a step at true scale, and all of it as JSON."""

from __future__ import annotations

import json
from typing import Any

from isometron.construct.outcome import Construction, Step
from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.surfaces.painters.svg import svg_of
from isometron.surfaces.plate import Frame, plate, plate_page, step_frame

__all__ = ["construction_json", "construction_record", "step_svgs"]


def step_svgs(document: Document, construction: Construction) -> list[str]:
    """Return one SVG text a step, in mm of paper: the sheet and the points near it."""
    return [
        _svg(document, construction, number, step_frame(document, construction, number))
        for number in range(len(construction.steps))
    ]


def _svg(document: Document, construction: Construction, number: int, frame: Frame) -> str:
    marks = plate(document, construction, number, frame)
    page = plate_page(marks, frame, f"{construction.title} {number + 1}")
    return svg_of(page, told=construction.steps[number].sentence)


def construction_record(document: Document, construction: Construction) -> dict[str, Any]:
    """Return a construction as plain values; paper points in mm from the centre of vision and from the sheet's corner."""

    def point(name: str, u: float, v: float) -> dict[str, Any]:
        x, y = document.sheet.from_corner(u, v)
        return {"name": name, "u": _mm(u), "v": _mm(v), "from_left": _mm(x), "from_lower": _mm(y)}

    def record(step: Step) -> dict[str, Any]:
        return {
            "sentence": step.sentence,
            "why": step.why,
            "points": [point(spot.name, spot.u, spot.v) for spot in step.points],
            "lines": _rows(step.lines),
            "edges": _rows(step.edges),
            "arcs": _rows(step.arcs),
        }

    return {
        "format": "isometron construction",
        "school": construction.school,
        "title": construction.title,
        "volume": construction.volume,
        "scale": construction.scale,
        "setting_up": construction.setting_up,
        "steps": [record(step) for step in construction.steps],
        "ends": [point(name, u, v) for name, (u, v) in construction.ends.items()],
    }


def construction_json(document: Document, construction: Construction) -> str:
    """Return `construction_record` as JSON text."""
    return json.dumps(construction_record(document, construction), indent=1, ensure_ascii=False) + "\n"


def _mm(value: float) -> float:
    return round(value, 9) + 0.0


def _rows(rows: Floats) -> list[list[float]]:
    return [[_mm(float(value)) for value in row] for row in rows]
