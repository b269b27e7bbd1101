"""DXF at full size: a layer for each volume, hidden parts on layers of their own, marks as few true entities."""

from __future__ import annotations

import io
from typing import Any, ClassVar

import numpy as np

from isometron.geometry.chains import chained, runs, straightened
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.solve.marks import Arcs, Curves, Fills, Label, Lines, Raster, Role, Singles
from isometron.surfaces.painters.within_paper import clipped_arcs, clipped_lines
from isometron.surfaces.pens import PENS, tone_colour
from isometron.wording import tr

__all__ = ["DXF_NOTES", "DxfPainter"]

DXF_NOTES = {"pictures": tr("DXF holds no pictures: they are left out.")}
_CHORD = 0.003
"""mm that chords of a fill's bent side may lie off it."""
_LIGHT = frozenset({Role.CONSTRUCTION, Role.SURFACE, Role.GUIDE, Role.GRID, Role.CONE})


_WEIGHTS = (0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211)
"""Line weights that the format knows, hundredths of a millimetre."""


def _weight(width: float) -> int:
    return min(_WEIGHTS, key=lambda each: abs(each - 100.0 * width))


def _around(shape: Floats) -> Floats:
    """Return places (N, 2) round an arc (7,)."""
    u, v, a, b, angle, first, last = (float(x) for x in shape)
    t = np.linspace(first, last, 49)
    x, y = a * np.cos(t), b * np.sin(t)
    return np.column_stack([u + x * np.cos(angle) - y * np.sin(angle), v + x * np.sin(angle) + y * np.cos(angle)])


class DxfPainter:
    """Adds marks to a drawing in millimetres; ``owners`` : id and name of each volume.

    unit : millimetres to which dashes are fitted: as many of them as on a hand's width of paper.
    """

    notes: ClassVar[dict[str, str]] = DXF_NOTES
    picks: ClassVar[bool] = False

    def __init__(self, owners: tuple[tuple[str, str], ...], unit: float) -> None:
        from ezdxf import units  # a fifth of a second, so only when a file of it is written
        from ezdxf.filemanagement import new

        self._drawing: Any = new("R2010", setup=("linetypes",))
        self._drawing.units = units.MM
        self._drawing.header["$LTSCALE"] = unit / 8.0
        self._space, self._owners = self._drawing.modelspace(), owners
        self._low, self._high = np.full(2, np.inf), np.full(2, -np.inf)
        self._within: tuple[float, float] | None = None

    def text(self) -> str:
        """Return the file."""
        if np.isfinite(self._low).all():
            self._space.dxf.extmin = self._drawing.header["$EXTMIN"] = (*self._low.tolist(), 0.0)
            self._space.dxf.extmax = self._drawing.header["$EXTMAX"] = (*self._high.tolist(), 0.0)
        out = io.StringIO()
        self._drawing.write(out)
        return out.getvalue()

    def rim(self, width: float, height: float) -> None:
        """Add the paper's edge, on a layer of its own; what is added from now on ends there."""
        self._within = width, height
        self._reach(np.array([[0.0, 0.0], [width, height]]))
        self._drawing.layers.add("sheet", color=9)
        corners = [(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]
        self._space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "sheet"})

    def _reach(self, places: Floats) -> None:
        """Note how far the drawing reaches."""
        self._low, self._high = np.minimum(self._low, places.min(axis=0)), np.maximum(self._high, places.max(axis=0))

    def _layer(self, owner: int, role: Role) -> dict[str, Any]:
        """Return the layer of a mark, made when it is first used; names hold only what every reader takes."""
        name = self._owners[owner][0] if owner >= 0 else "aids"
        hidden, light = role is Role.HIDDEN, role in _LIGHT
        layer = f"{name}-hidden" if hidden else f"{name}-light" if light else name
        if layer not in self._drawing.layers:
            self._drawing.layers.add(
                layer,
                linetype="DASHED" if hidden else "CONTINUOUS",
                color=8 if hidden else 9 if light else 7,
                lineweight=_weight(PENS[role].width),
            )
        return {"layer": layer}

    def pictures(self, role: Role, marks: Singles[Raster]) -> None:
        """Leave pictures out, as the notes say."""

    def fills(self, role: Role, marks: Fills) -> None:
        """Add polygons as solid hatches of their tone."""
        from ezdxf.colors import rgb2int

        marks = marks.straightened(_CHORD)
        for row, (tone, owner) in enumerate(zip(marks.tone.tolist(), marks.owner.tolist(), strict=True)):
            hatch = self._space.add_hatch(dxfattribs=self._layer(owner, role))
            colour = tone_colour(tone)
            hatch.dxf.true_color = rgb2int((int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)))
            for number, ring in enumerate(marks.rings(row)):
                hatch.paths.add_polyline_path(ring.tolist(), is_closed=True, flags=1 if number == 0 else 16)

    def lines(self, role: Role, marks: Lines) -> None:
        """Add edges as lines, each its own, and what runs on in short pieces as polylines."""
        kind = np.where(marks.edge >= 0, -1 - np.arange(len(marks)), marks.owner)
        own = np.arange(len(marks))
        lines = marks.points
        if self._within is not None:
            lines, own = clipped_lines(lines, *self._within)
        points, order = chained(lines, kind[own])
        order = own[order]
        if len(points):
            self._reach(points.reshape(-1, 2))
        begin = 0
        for run in runs(points, kind[order]):
            attributes = self._layer(int(marks.owner[order[begin]]), role)
            begin += len(run) - 1
            run = straightened(run)
            if len(run) == 2:
                self._space.add_line(tuple(run[0]), tuple(run[1]), dxfattribs=attributes)
            else:
                self._space.add_lwpolyline(run.tolist(), dxfattribs=attributes)

    def arcs(self, role: Role, marks: Arcs) -> None:
        """Add circles, arcs of circles, and ellipses."""
        shapes, own = marks.shape, np.arange(len(marks))
        if self._within is not None:
            shapes, own = clipped_arcs(shapes, *self._within)
        for shape, owner in zip(shapes, marks.owner[own], strict=True):
            self._reach(_around(shape))
            u, v, a, b, angle, first, last = (float(x) for x in shape)
            attributes = self._layer(int(owner), role)
            if last - first >= 2 * np.pi - CLOSE:
                first, last = 0.0, 2 * np.pi  # a whole ring, however its angles were counted
            if a - b > CLOSE * a:
                major = (a * np.cos(angle), a * np.sin(angle))
                self._space.add_ellipse(
                    (u, v), major, ratio=max(b / a, HAIR), start_param=first, end_param=last, dxfattribs=attributes
                )
            elif last - first >= 2 * np.pi - CLOSE:
                self._space.add_circle((u, v), a, dxfattribs=attributes)
            else:
                self._space.add_arc(
                    (u, v), a, np.degrees(first + angle), np.degrees(last + angle), dxfattribs=attributes
                )

    def curves(self, role: Role, marks: Curves) -> None:
        """Add cubic pieces as splines of the same four points."""
        for points, owner in zip(marks.points.reshape(-1, 4, 2), marks.owner, strict=True):
            self._space.add_open_spline(
                [(*point, 0.0) for point in points.tolist()], degree=3, dxfattribs=self._layer(int(owner), role)
            )

    def labels(self, role: Role, marks: Singles[Label]) -> None:
        """Add lettering."""
        from ezdxf.enums import TextEntityAlignment

        ways = {-1: TextEntityAlignment.LEFT, 0: TextEntityAlignment.CENTER, 1: TextEntityAlignment.RIGHT}
        for label in marks:
            text = self._space.add_text(label.text, height=label.size, dxfattribs=self._layer(label.owner, role))
            text.set_placement((label.u, label.v), align=ways[label.anchor])
