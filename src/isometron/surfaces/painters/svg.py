"""SVG at true scale: millimetres for units, one named group per role, and in it one per volume."""

from __future__ import annotations

import base64
from collections.abc import Iterable, Sequence
from math import ceil, cos, pi, sin
from typing import ClassVar
from xml.sax.saxutils import escape as escaped
from xml.sax.saxutils import quoteattr

import numpy as np

from isometron.geometry.chains import runs
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import EXACT
from isometron.solve.drawing import Drawing
from isometron.solve.marks import NOBODY, Arcs, Bag, Curves, Fills, Label, Lines, Raster, Role, Singles
from isometron.surfaces.page import Page, sheet_page
from isometron.surfaces.painters.painting import paint
from isometron.surfaces.painters.rasters import STRAIGHTENED, laid
from isometron.surfaces.pens import PENS, tone_colour

__all__ = ["svg_of", "svg_text"]

_ANCHORS = {-1: "start", 0: "middle", 1: "end"}

_NO_XML = dict.fromkeys((*range(9), 11, 12, *range(14, 32), 65534, 65535), "�")


def escape(text: str) -> str:
    """Return text as XML holds it; control characters, which it cannot hold, are shown as missing ones."""
    return escaped(text.translate(_NO_XML))


def svg_text(drawing: Drawing, *, construction: bool = True) -> str:
    """Return the sheet as SVG text; one unit is one millimetre of paper, y down as SVG has it."""
    return svg_of(sheet_page(drawing, construction=construction))


def svg_of(page: Page, *, told: str = "") -> str:
    """Return a page as SVG text, grouped by role and by volume; told : what it shows, in words for who cannot see it."""
    painter = SvgPainter(page)
    paint([page.marks], painter)
    width, height = f"{page.width:.6g}", f"{page.height:.6g}"
    described = f"<desc>{escape(told)}</desc>\n" if told else ""
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" {_LAYERS} width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}">\n'
        f"<title>{escape(page.title)}</title>\n{described}"
        f'<clipPath id="sheet"><rect width="{width}" height="{height}"/></clipPath>\n'
        '<g clip-path="url(#sheet)" fill="none" stroke-linecap="butt" stroke-linejoin="round">\n'
        + "\n".join(painter.groups())
        + "\n</g>\n</svg>\n"
    )


def _opacity(raster: Raster) -> str:
    return "" if raster.strength == 1.0 else f' opacity="{raster.strength:.4g}"'


class SvgPainter:
    """Writes marks as elements of SVG."""

    notes: ClassVar[dict[str, str]] = STRAIGHTENED
    picks: ClassVar[bool] = False

    def __init__(self, page: Page) -> None:
        self._page, self._height = page, page.height
        self._made: dict[Role, dict[int, list[str]]] = {}
        self._clips = 0

    def groups(self) -> Iterable[str]:
        """Yield a group of elements for each role, what belongs to nobody first."""
        for role, own in self._made.items():
            parts = own.pop(NOBODY, [])
            lettering = own.pop(_LETTERING, [])
            for owner, elements in own.items():
                volume_id, name = self._page.owners[owner]
                parts.append(_volume_group(role, volume_id, name, elements))
            yield f"{_role_group(role)}\n" + "\n".join([*parts, *lettering]) + "\n</g>"

    def _put(self, role: Role, owner: int, element: str) -> None:
        self._made.setdefault(role, {}).setdefault(owner, []).append(element)

    def _by_owner(self, role: Role, marks: Bag, values: Floats) -> Iterable[tuple[int, Floats]]:
        for owner in np.unique(marks.owner):
            yield int(owner), values[marks.owner == owner]

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Embed pictures; a slanted one is resampled."""
        for raster in marks:
            found = laid(raster, (0.0, 0.0, self._page.width, self._page.height))
            if found is None:
                continue
            m = found.raster.place / found.raster.place[2, 2]
            height, width = found.raster.pixels.shape[:2]
            data = base64.b64encode(found.data).decode()
            turn = (m[0, 0], -m[1, 0], m[0, 1], -m[1, 1], m[0, 2], self._height - m[1, 2])
            self._put(
                role,
                raster.owner,
                self._clipped(
                    raster,
                    f'<image width="{width}" height="{height}" preserveAspectRatio="none"{_opacity(raster)} '
                    f'transform="matrix({" ".join(f"{value:.8g}" for value in turn)})" '
                    f'href="data:image/{found.kind};base64,{data}"/>',
                ),
            )

    def _clipped(self, raster: Raster, element: str) -> str:
        """Return an element that is seen only within a picture's polygons."""
        if not raster.within:
            return element
        self._clips += 1
        return (
            f'<clipPath id="seen-{self._clips}"><path clip-rule="evenodd" d="{self._path(raster.within)}"/></clipPath>'
            f'<g clip-path="url(#seen-{self._clips})">{element}</g>'
        )

    def _path(self, rings: tuple[Floats, ...]) -> str:
        return "".join(
            "M" + "L".join(f"{u:.4f} {self._height - v:.4f}" for u, v in ring.tolist()) + "Z" for ring in rings
        )

    def fills(self, role: Role, marks: Fills) -> None:
        """Fill polygons; a thin stroke of the same tone closes the hairline gaps between neighbours."""
        for row, (tone, owner) in enumerate(zip(marks.tone.tolist(), marks.owner.tolist(), strict=True)):
            path = "".join(_ring(corners, sides, self._height) for corners, sides in marks.sides_of(row))
            colour = tone_colour(tone)
            element = f'<path d="{path}" fill="{colour}" stroke="{colour}" stroke-width="0.05" fill-rule="evenodd"/>'
            self._put(role, owner, element)

    def lines(self, role: Role, marks: Lines) -> None:
        """Write the lines of each volume as one path; what runs on is not begun anew."""
        for owner, points in self._by_owner(role, marks, marks.points):
            self._put(role, owner, _path(points, self._height))

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Write arcs as ellipses or as paths."""
        for owner, shape in zip(marks.owner, marks.shape, strict=True):
            self._put(role, int(owner), _arc(shape, self._height))

    def curves(self, role: Role, marks: Curves) -> None:
        """Write the cubic pieces of each volume as one path."""
        for owner, points in self._by_owner(role, marks, marks.points):
            points = points.copy()
            points[:, 1::2] = self._height - points[:, 1::2]
            begins = np.ones(len(points), dtype=bool)
            begins[1:] = (points[1:, :2] != points[:-1, 6:]).any(axis=1)
            text = "".join(
                ("M{:.4f} {:.4f}".format(*piece[:2]) if new else "")
                + "C{:.4f} {:.4f} {:.4f} {:.4f} {:.4f} {:.4f}".format(*piece[2:])
                for piece, new in zip(points.tolist(), begins, strict=True)
            )
            self._put(role, owner, f'<path d="{text}"/>')

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Write lettering."""
        for label in marks:
            self._put(role, _LETTERING, _label(label, self._height))


_LETTERING = NOBODY - 1
"""Stands for the owner of lettering, which is put behind all else of its role."""


_LAYERS = 'xmlns:inkscape="http://www.inkscape.org/namespaces/inkscape"'
"""SVG has no layers of its own: editors show as one what this widely read extension calls one."""


def _layer(name: str) -> str:
    return f'inkscape:groupmode="layer" inkscape:label={quoteattr(name.translate(_NO_XML))}'


def _role_group(role: Role) -> str:
    pen = PENS[role]
    dash = "" if pen.dash is None else ' stroke-dasharray="' + " ".join(f"{d:g}" for d in pen.dash) + '"'
    layer = _layer(role.word.replace("_", " "))
    return f'<g id="{role.word}" {layer} stroke="{pen.colour}" stroke-width="{pen.width:g}"{dash}>'


def _volume_group(role: Role, volume_id: str, name: str, elements: list[str]) -> str:
    label = quoteattr(f"{role.word}-{volume_id}")
    return f"<g id={label} {_layer(name)}><title>{escape(name)}</title>{''.join(elements)}</g>"


def _path(points: Floats, height: float) -> str:
    """Return lines (N, 4) as one path, turned to y down on a page ``height`` mm high; what runs on is not begun anew."""
    flipped = np.column_stack([points[:, 0], height - points[:, 1], points[:, 2], height - points[:, 3]])
    on = (flipped[1:, :2] == flipped[:-1, 2:]).all(axis=1)
    if not on.any():
        text = ("M%.4f %.4fL%.4f %.4f" * len(flipped)) % tuple(flipped.ravel())
    else:
        text = "".join("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in run.tolist()) for run in runs(flipped))
    return f'<path d="{text}"/>'


_QUARTER = pi / 2


def _ring(corners: Floats, sides: Sequence[Floats | None], height: float) -> str:
    """Return a ring of a fill as a part of a path: its sides are straight, arcs or cubics."""
    parts = []
    after = np.roll(corners, -1, axis=0)
    for k, (bend, (u, v)) in enumerate(zip(sides, after.tolist(), strict=True)):
        if k == 0:
            parts.append(f"M{corners[0, 0]:.4f} {height - corners[0, 1]:.4f}")
        if bend is None:
            parts.append(f"L{u:.4f} {height - v:.4f}")
        elif np.isnan(bend[6]):
            a, b, c, d = bend[:4].tolist()
            parts.append(f"C{a:.4f} {height - b:.4f} {c:.4f} {height - d:.4f} {u:.4f} {height - v:.4f}")
        else:
            parts += _arc_runs(bend, height)
    return "".join(parts) + "Z"


def _arc(shape: Floats, height: float) -> str:
    """Return an arc (7,) as an ellipse or a path, turned to y down on a page ``height`` mm high."""
    u, v, a, b, angle, first, last = shape
    turn = -np.degrees(angle)
    if last - first >= 2 * np.pi - EXACT:
        return (
            f'<ellipse cx="{u:.4f}" cy="{height - v:.4f}" rx="{a:.4f}" ry="{b:.4f}" '
            f'transform="rotate({turn:.4f} {u:.4f} {height - v:.4f})"/>'
        )

    x, y = _on_arc(shape, first, height)
    return f'<path d="M{x:.4f} {y:.4f}{"".join(_arc_runs(shape, height))}"/>'


def _on_arc(shape: Floats, t: float, height: float) -> tuple[float, float]:
    u, v, a, b, angle = shape[:5]
    x, y = a * cos(t), b * sin(t)
    return u + x * cos(angle) - y * sin(angle), height - (v + x * sin(angle) + y * cos(angle))


def _arc_runs(shape: Floats, height: float) -> list[str]:
    """Return an arc (7,) from its first point on; from its ends alone one near half a turn is hardly told: a quarter turn at a time it is."""
    _, _, a, b, angle, first, last = shape
    count, parts = max(ceil(abs(last - first) / _QUARTER - EXACT), 1), []
    for k in range(1, count + 1):
        x, y = _on_arc(shape, first + (last - first) * k / count, height)
        parts.append(f"A{a:.4f} {b:.4f} {-np.degrees(angle):.5f} 0 {int(last < first)} {x:.4f} {y:.4f}")
    return parts


def _label(label: Label, height: float) -> str:
    colour = PENS[label.role].colour
    return (
        f'<text x="{label.u:.3f}" y="{height - label.v:.3f}" font-family="\'Routed Gothic\', sans-serif" '
        f'font-size="{label.size:g}" text-anchor="{_ANCHORS[label.anchor]}" fill="{colour}" stroke="none">'
        f"{escape(label.text)}</text>"
    )
