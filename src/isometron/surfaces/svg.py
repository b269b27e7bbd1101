"""SVG at true scale: millimetres for units, one named group per role, and in it one per volume."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, sin
from xml.sax.saxutils import escape as escaped
from xml.sax.saxutils import quoteattr

import numpy as np

from isometron.geometry.chains import runs
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import NOBODY, Label, Role
from isometron.surfaces.pens import PENS
from isometron.surfaces.sheet_marks import SheetMarks, sheet_marks
from isometron.volumes.volume import Volume

__all__ = ["arc_element", "path_element", "svg_of", "svg_text"]

_ANCHORS = {-1: "start", 0: "middle", 1: "end"}


_NO_XML = dict.fromkeys((*range(9), 11, 12, *range(14, 32), 65534, 65535), "�")


def escape(text: str) -> str:
    """Return text as XML holds it; control characters, which it cannot hold, are shown as missing ones."""
    return escaped(text.translate(_NO_XML))


def svg_text(drawing: Drawing, *, construction: bool = True) -> str:
    """Return the sheet as SVG text; one unit is one millimetre of paper, y down as SVG has it."""
    return svg_of(sheet_marks(drawing, construction=construction), drawing.document.volumes)


def svg_of(marks: SheetMarks, volumes: Sequence[Volume]) -> str:
    """Return marks on a sheet as SVG text, grouped by role and by volume."""
    width, height = f"{marks.width:g}", f"{marks.height:g}"
    body = []
    for role in Role:
        own: dict[int, list[str]] = {}
        for r, owner, points in marks.lines:
            if r is role:
                own.setdefault(owner, []).append(path_element(points, marks.height))
        for r, owner, shape in marks.arcs:
            if r is role:
                own.setdefault(owner, []).append(arc_element(shape, marks.height))
        parts = own.pop(NOBODY, [])
        for owner, elements in own.items():
            parts.append(_volume_group(role, volumes[owner].id, volumes[owner].name, elements))
        parts += [_label(label, marks.height) for label in marks.labels if label.role is role]
        if parts:
            body.append(f"{_role_group(role)}\n" + "\n".join(parts) + "\n</g>")
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}">\n'
        f"<title>{escape(marks.title)}</title>\n"
        f'<clipPath id="sheet"><rect width="{width}" height="{height}"/></clipPath>\n'
        '<g clip-path="url(#sheet)" fill="none" stroke-linecap="butt" stroke-linejoin="round">\n'
        + "\n".join(body)
        + "\n</g>\n</svg>\n"
    )


def _role_group(role: Role) -> str:
    pen = PENS[role]
    dash = "" if pen.dash is None else ' stroke-dasharray="' + " ".join(f"{d:g}" for d in pen.dash) + '"'
    return f'<g id="{role.word}" stroke="{pen.colour}" stroke-width="{pen.width:g}"{dash}>'


def _volume_group(role: Role, volume_id: str, name: str, elements: list[str]) -> str:
    label = quoteattr(f"{role.word}-{volume_id}")
    return f"<g id={label}><title>{escape(name)}</title>{''.join(elements)}</g>"


def path_element(points: Floats, height: float) -> str:
    """Return lines (N, 4) as one path, turned to y down on a page ``height`` mm high; what runs on is not begun anew."""
    flipped = np.column_stack([points[:, 0], height - points[:, 1], points[:, 2], height - points[:, 3]])
    on = (flipped[1:, :2] == flipped[:-1, 2:]).all(axis=1)
    if not on.any():
        text = ("M%.4f %.4fL%.4f %.4f" * len(flipped)) % tuple(flipped.ravel())
    else:
        text = "".join("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in run.tolist()) for run in runs(flipped))
    return f'<path d="{text}"/>'


def arc_element(shape: Floats, height: float) -> str:
    """Return an arc (7,) as an ellipse or a path, turned to y down on a page ``height`` mm high."""
    u, v, a, b, angle, first, last = shape
    turn = -np.degrees(angle)
    if last - first >= 2 * np.pi - 1e-12:
        return (
            f'<ellipse cx="{u:.4f}" cy="{height - v:.4f}" rx="{a:.4f}" ry="{b:.4f}" '
            f'transform="rotate({turn:.4f} {u:.4f} {height - v:.4f})"/>'
        )

    def at(t: float) -> tuple[float, float]:
        x, y = a * cos(t), b * sin(t)
        return u + x * cos(angle) - y * sin(angle), height - (v + x * sin(angle) + y * cos(angle))

    (x0, y0), (x1, y1) = at(first), at(last)
    large = int(last - first > np.pi)
    return f'<path d="M{x0:.4f} {y0:.4f}A{a:.4f} {b:.4f} {turn:.4f} {large} 0 {x1:.4f} {y1:.4f}"/>'


def _label(label: Label, height: float) -> str:
    colour = PENS[label.role].colour
    return (
        f'<text x="{label.u:.3f}" y="{height - label.v:.3f}" font-family="\'Routed Gothic\', sans-serif" '
        f'font-size="{label.size:g}" text-anchor="{_ANCHORS[label.anchor]}" fill="{colour}" stroke="none">'
        f"{escape(label.text)}</text>"
    )
