"""A construction's steps as files: one SVG a step at true scale, and all of it as JSON."""

from __future__ import annotations

import json
from typing import Any
from xml.sax.saxutils import escape

import numpy as np

from isometron.construct.outcome import Construction, Step
from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.surfaces.plate import Frame, plate, step_frame
from isometron.surfaces.svg import arc_element, path_element

__all__ = ["construction_json", "construction_record", "step_svgs"]

_ANCHORS = {-1: "start", 0: "middle", 1: "end"}


def step_svgs(document: Document, construction: Construction) -> list[str]:
    """Return one SVG text a step, in mm of paper: the sheet and the points near it."""
    return [
        _svg(document, construction, number, step_frame(document, construction, number))
        for number in range(len(construction.steps))
    ]


def _svg(document: Document, construction: Construction, number: int, frame: Frame) -> str:
    shown = plate(document, construction, number, frame)
    width, height = f"{frame.width:.3f}", f"{frame.height:.3f}"
    shift = (-frame.left, -frame.lower)
    body = []
    for pen, arc in shown.arcs:
        moved = arc.copy()
        moved[:2] += shift
        body.append(_group(pen.colour, pen.width, arc_element(moved, frame.height)))
    for pen, points in shown.lines:
        if len(points):
            body.append(_group(pen.colour, pen.width, path_element(points + np.tile(shift, 2), frame.height)))
    for text, u, v, anchor in shown.labels:
        body.append(
            f'<text x="{u + shift[0]:.3f}" y="{frame.height - v - shift[1]:.3f}" font-size="{frame.text:g}" '
            f'font-family="\'Routed Gothic\', sans-serif" text-anchor="{_ANCHORS[anchor]}" '
            f'fill="#1F2424" stroke="none">{escape(text)}</text>'
        )
    step = construction.steps[number]
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}">\n'
        f"<title>{escape(construction.title)} {number + 1}</title>\n<desc>{escape(step.sentence)}</desc>\n"
        f'<clipPath id="frame"><rect width="{width}" height="{height}"/></clipPath>\n'
        '<g clip-path="url(#frame)" fill="none">\n' + "\n".join(body) + "\n</g>\n</svg>\n"
    )


def _group(colour: str, width: float, element: str) -> str:
    return f'<g stroke="{colour}" stroke-width="{width:g}">{element}</g>'


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
