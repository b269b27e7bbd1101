"""The sheet of plain views: side, front and plan at a ruler's scale, with their dimensions; also as SVG and DXF."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from isometron.document.model import Document
from isometron.document.proportion import module_mm
from isometron.document.units import format_length, format_number
from isometron.errors import IsometronError
from isometron.geometry.chains import chained, runs, straightened
from isometron.geometry.frames import Floats
from isometron.progress import Tell, part_of, telling, unheard
from isometron.solve.marks import NOBODY, Label, Role
from isometron.solve.plain_views import VIEWS, PlainView, ViewName, plain_view
from isometron.surfaces.sheet_marks import SheetMarks, groups
from isometron.wording import tr

__all__ = ["PLAIN_EXPORTS", "Placed", "PlainSheetError", "lay_out", "plain_export", "plain_marks", "scale_for"]

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


def plain_marks(document: Document, width: float, height: float, scale: float | None = None) -> SheetMarks:
    """Return the sheet of plain views of a document on paper of a size, mm."""
    views = _views(document)
    scale = scale_for(views, width, height) if scale is None else scale
    lines: list[tuple[Role, int, Floats]] = []
    arcs: list[tuple[Role, int, Floats]] = []
    labels: list[Label] = []
    for placed in lay_out(views, width, height, scale):
        lines += _grid(document, placed, scale)
        shift = np.tile(placed.offset, 2)
        for role, owner, rows in groups(placed.view.lines):
            lines.append((role, owner, placed.view.lines.points[rows] / scale + shift))
        for role, owner, shape in zip(
            placed.view.arcs.role, placed.view.arcs.owner, placed.view.arcs.shape, strict=True
        ):
            moved = np.concatenate([shape[:2] / scale + placed.offset, shape[2:4] / scale, shape[4:]])
            arcs.append((Role(role), int(owner), moved))
        dimension_lines, words = _dimensions(document, placed, scale)
        lines.append((Role.TICK, NOBODY, dimension_lines))
        labels += words
    labels.append(
        Label(tr("{title}, scale 1 : {scale}", title=document.title, scale=format_number(scale, 2)), _MARGIN, height - 10.0,
              Role.LETTERING, NOBODY, size=3.5)
    )  # fmt: skip
    lines.sort(key=lambda part: part[0])
    return SheetMarks(width, height, document.title, tuple(lines), tuple(arcs), tuple(labels))


def _grid(document: Document, placed: Placed, scale: float) -> list[tuple[Role, int, Floats]]:
    """The module grid under a view, counted from its lower left corner."""
    module = module_mm(document)
    if module is None or module / scale < 1.5:
        return []
    low, high = placed.view.low, placed.view.high
    found = []
    for axis in (0, 1):
        for place in np.arange(low[axis], high[axis] + 1e-6, module):
            start, end = low.copy(), high.copy()
            start[axis] = end[axis] = place
            found.append([*placed.at(start, scale), *placed.at(end, scale)])
    return [(Role.GRID, NOBODY, np.array(found).reshape(-1, 4))]


_NAMES: dict[ViewName, str] = {"side": tr("Side"), "front": tr("Front"), "plan": tr("Plan")}


def _dimensions(document: Document, placed: Placed, scale: float) -> tuple[Floats, list[Label]]:
    """The overall size under and beside a view, with the view's name."""
    low, high = placed.view.low, placed.view.high
    (x0, y0), (x1, y1) = placed.at(low, scale), placed.at(high, scale)
    under, beside = y0 - _DIMENSION, x0 - _DIMENSION
    lines = [
        [x0, under, x1, under], [x0, under - _ARROW, x0, y0 - 1.0], [x1, under - _ARROW, x1, y0 - 1.0],
        [beside, y0, beside, y1], [beside - _ARROW, y0, x0 - 1.0, y0], [beside - _ARROW, y1, x0 - 1.0, y1],
    ]  # fmt: skip
    across, up = (format_length(round(float(d), 3), document.unit) for d in high - low)
    labels = [
        Label(across, (x0 + x1) / 2, under + 0.9, Role.LETTERING, NOBODY, anchor=0, size=_TEXT),
        Label(up, beside - 1.2, (y0 + y1) / 2 - _TEXT / 3, Role.LETTERING, NOBODY, anchor=1, size=_TEXT),
        Label(_NAMES[placed.view.name], x0, y1 + 2.2, Role.LETTERING, NOBODY, size=_TEXT),
    ]
    return np.array(lines), labels


def _svg(document: Document, tell: Tell) -> bytes:
    from isometron.surfaces.svg import svg_of

    sheet = document.sheet
    return svg_of(plain_marks(document, sheet.width, sheet.height), document.volumes).encode()


def _pdf(document: Document, tell: Tell) -> bytes:
    from isometron.surfaces.pdf import pdf_of

    sheet = document.sheet
    return pdf_of(plain_marks(document, sheet.width, sheet.height))


def _dxf(document: Document, tell: Tell) -> bytes:
    """The three views at full size in millimetres, a layer for each volume; hidden parts on layers of their own."""
    from ezdxf import units  # a fifth of a second, so only when a file of it is written
    from ezdxf.filemanagement import new

    drawing = new("R2010", setup=("linetypes",))
    drawing.units = units.MM
    space = drawing.modelspace()
    views = _views(document)
    gap = 0.15 * max(float((view.high - view.low).max()) for view in views.values())
    side, front, plan = (views[name] for name in VIEWS)
    starts = {
        "side": np.zeros(2),
        "front": np.array([float(side.high[0] - side.low[0]) + gap, 0.0]),
        "plan": np.array([0.0, float(side.high[1] - side.low[1]) + gap]),
    }
    # Dashes are in drawing units: as many of them along the object as along a hand's width of paper.
    drawing.header["$LTSCALE"] = gap / 8.0
    for number, view in enumerate((side, front, plan)):
        _add_view(
            drawing, space, document, view, starts[view.name] - view.low, part_of(tell, number / 3, (number + 1) / 3)
        )
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def _add_view(drawing: Any, space: Any, document: Document, view: PlainView, shift: Floats, tell: Tell) -> None:
    """Add a view's marks as few entities: runs of lines as polylines, rings as circles, arcs and ellipses."""
    lines, arcs = view.lines, view.arcs
    # Edges are lines of their own; only outlines, which come in short pieces, run on.
    kind = np.where(lines.edge >= 0, -1 - np.arange(len(lines)), lines.owner * len(Role) + lines.role)
    points, order = chained(lines.points + np.tile(shift, 2), kind)
    begin = 0
    for run in telling(runs(points, kind[order]), tell):
        row = int(order[begin])
        begin += len(run) - 1
        attributes = _layer(drawing, document, int(lines.owner[row]), Role(lines.role[row]))
        run = straightened(run)
        if len(run) == 2:
            space.add_line(tuple(run[0]), tuple(run[1]), dxfattribs=attributes)
        else:
            space.add_lwpolyline(run.tolist(), dxfattribs=attributes)
    for shape, role, owner in zip(arcs.shape, arcs.role, arcs.owner, strict=True):
        u, v, a, b, angle, first, last = (float(x) for x in shape)
        at, attributes = (u + shift[0], v + shift[1]), _layer(drawing, document, int(owner), Role(role))
        whole = last - first >= 2 * np.pi - 1e-9
        if a - b > 1e-9 * a:
            major = (a * np.cos(angle), a * np.sin(angle))
            space.add_ellipse(
                at, major, ratio=max(b / a, 1e-6), start_param=first, end_param=last, dxfattribs=attributes
            )
        elif whole:
            space.add_circle(at, a, dxfattribs=attributes)
        else:
            space.add_arc(at, a, np.degrees(first + angle), np.degrees(last + angle), dxfattribs=attributes)


def _layer(drawing: object, document: Document, owner: int, role: Role) -> dict[str, str]:
    """Return the layer of a mark, made when it is first used; names hold only what every reader takes."""
    name = document.volumes[owner].id if owner >= 0 else "aids"
    hidden = role in (Role.HIDDEN, Role.CONSTRUCTION)
    layer = f"{name}-hidden" if hidden else name
    layers = drawing.layers  # type: ignore[attr-defined]
    if layer not in layers:
        layers.add(layer, linetype="DASHED" if hidden else "CONTINUOUS", color=8 if hidden else 7)
    return {"layer": layer}


PLAIN_EXPORTS: dict[str, Callable[[Document, Tell], bytes]] = {".pdf": _pdf, ".svg": _svg, ".dxf": _dxf}
"""Formats of the plain views by file ending; a new one is one line here."""


def plain_export(document: Document, out: Path, tell: Tell = unheard) -> bytes:
    """Return the plain views in the format of a file's ending; raises `PlainSheetError` for an unknown one."""
    ending = out.suffix.lower()
    if ending not in PLAIN_EXPORTS:
        raise PlainSheetError(
            tr("{out}: the ending {ending!r} names no format of the plain views. Known endings: {names}.",
               out=out, ending=ending, names=", ".join(PLAIN_EXPORTS))
        )  # fmt: skip
    return PLAIN_EXPORTS[ending](document, tell)
