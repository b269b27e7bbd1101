"""What a sketcher would measure on an edge: true and drawn length, foreshortening, slope, vanishing point."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot

import numpy as np

from isometron.document.model import Document
from isometron.geometry.clipping import rectangle_exit
from isometron.geometry.intervals import complement
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.solve.picture import Picture
from isometron.view.eye import Eye
from isometron.view.vanishing import Vanishing, horizon, vanishing
from isometron.wording import tr

__all__ = ["EdgeMeasure", "edge_measures", "going", "going_words", "off_sheet"]

Interval = tuple[float, float]


@dataclass(frozen=True)
class EdgeMeasure:
    """Measures of one edge. Lengths in mm; angles in degrees; what has no picture is None.

    corners : the two corner numbers; axis : 0 long, 1 wide, 2 high, -1 slanted; true : length of the object's edge;
    drawn : length on paper; unforeshortened : what it would measure on the true line of measure, that is held
    parallel to the picture at the depth of its nearer end; foreshortening : drawn / unforeshortened; slope_deg :
    from the horizontal, -90 < slope <= 90, counter-clockwise positive; going : left, right, upright, across
    or away; visible and hidden : parameters along the true edge from the first corner.
    """

    corners: tuple[int, int]
    axis: int
    going: str
    true: float
    drawn: float | None
    unforeshortened: float | None
    foreshortening: float | None
    slope_deg: float | None
    vanishing: Vanishing
    visible: tuple[Interval, ...]
    hidden: tuple[Interval, ...]


def edge_measures(document: Document, picture: Picture, owner: int) -> list[EdgeMeasure]:
    """Measure every edge of one volume."""
    scene = picture.scene
    rows = scene.edges_of(owner)
    first = int(np.searchsorted(scene.vertex_owner, owner))
    points = [vanishing(picture.eye, scene.rotations[owner][:, k]) for k in range(3)]
    hidden, visible = _parts(picture, rows)
    ends = scene.edges[rows]
    ways = scene.vertices[ends[:, 1]] - scene.vertices[ends[:, 0]]
    lengths = np.sqrt((ways**2).sum(axis=1)).tolist()
    depths = picture.camera[ends, 2].min(axis=1).tolist()
    steps = (picture.paper[ends[:, 1]] - picture.paper[ends[:, 0]]).tolist()
    axes, corners = scene.edge_axis[rows].tolist(), (ends - first).tolist()
    measures = []
    # Plain numbers one by one: of a few edges that is quicker than arrays.
    for number, (axis, true) in enumerate(zip(axes, lengths, strict=True)):
        drawn, full, slope = _on_paper(picture.eye, steps[number], depths[number], true)
        # A slanted edge runs to a vanishing point of its own.
        point = points[axis] if axis >= 0 else vanishing(picture.eye, ways[number])
        measures.append(
            EdgeMeasure(
                corners=(corners[number][0], corners[number][1]),
                axis=axis,
                going=going(point),
                true=true,
                drawn=drawn,
                unforeshortened=full,
                foreshortening=None if drawn is None or full is None else drawn / full,
                slope_deg=slope,
                vanishing=point,
                visible=visible[number],
                hidden=hidden[number],
            )
        )
    return measures


def _on_paper(
    eye: Eye, step: list[float], near: float, true: float
) -> tuple[float | None, float | None, float | None]:
    """Return length on paper, length if it were not foreshortened, and slope, of an edge that goes ``step`` on paper."""
    if not near > 0.0:
        return None, None, None
    du, dv = step
    drawn = hypot(du, dv)
    slope = degrees(atan2(dv, du))
    slope = slope - 180.0 if slope > 90.0 else slope + 180.0 if slope <= -90.0 else slope
    return drawn, true * eye.lens.scale(near), slope if drawn > 0.0 else None


def _parts(picture: Picture, rows: slice) -> tuple[list[tuple[Interval, ...]], list[tuple[Interval, ...]]]:
    edge, start, end = picture.hidden
    lo, hi = np.searchsorted(edge, [rows.start, rows.stop])
    hidden = edge[lo:hi] - rows.start, start[lo:hi], end[lo:hi]
    count = rows.stop - rows.start
    return _by_edge(count, *hidden), _by_edge(count, *complement(count, *hidden))


def _by_edge(count: int, edge: np.ndarray, start: np.ndarray, end: np.ndarray) -> list[tuple[Interval, ...]]:
    parts: list[list[Interval]] = [[] for _ in range(count)]
    for e, a, b in zip(edge, start, end, strict=True):
        parts[e].append((float(a), float(b)))
    return [tuple(part) for part in parts]


_GOING_WORDS = {
    "left": tr("left-going"),
    "right": tr("right-going"),
    "up": tr("up-going"),
    "down": tr("down-going"),
    "upright": tr("upright"),
    "across": tr("across"),
    "away": tr("away"),
}


def going_words(way: str) -> str:
    """Return the field's word for a direction on paper."""
    return _GOING_WORDS[way]


def going(point: Vanishing) -> str:
    """Return the sketcher's word for a direction on paper: left, right, up, down, away; across or upright when
    it has no vanishing point."""
    if point.at is None:
        assert point.direction is not None
        du, dv = point.direction
        return "upright" if abs(dv) > abs(du) else "across"
    u, v = point.at
    if hypot(u, v) < CLOSE:
        return "away"
    if abs(u) >= abs(v):
        return "left" if u < 0 else "right"
    return "up" if v > 0 else "down"


def off_sheet(document: Document, at: tuple[float, float]) -> float:
    """Return how far outside the sheet a vanishing point lies, as a ruler laid on its line reads; 0 on the sheet.

    mm from where the line leaves the sheet: the horizon for a point on it, else the line to the centre of vision. A line
    that does not cross the sheet is replaced by the one to the sheet's middle.
    """
    left, lower, right, upper = document.sheet.rectangle
    if left <= at[0] <= right and lower <= at[1] <= upper:
        return 0.0
    sheet, middle = document.sheet.rectangle, ((left + right) / 2, (lower + upper) / 2)
    for inside in (_on_horizon(document, at, middle), (0.0, 0.0), middle):
        if inside is not None and left <= inside[0] <= right and lower <= inside[1] <= upper:
            edge = rectangle_exit(inside, at, sheet)
            return hypot(at[0] - edge[0], at[1] - edge[1])
    return 0.0


def _on_horizon(
    document: Document, at: tuple[float, float], middle: tuple[float, float]
) -> tuple[float, float] | None:
    """Return the horizon's point nearest to the sheet's middle, when ``at`` is on the horizon."""
    line = horizon(document.eye)
    if line is None:
        return None
    a, b = line.normal
    if abs(a * at[0] + b * at[1] - line.offset) > HAIR * (abs(at[0]) + abs(at[1]) + 1.0):
        return None
    off = a * middle[0] + b * middle[1] - line.offset
    return middle[0] - off * a, middle[1] - off * b
