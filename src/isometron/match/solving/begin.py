"""Where the fit begins: a camera and turns found on a coarse grid; and the boxes, which are linear once the camera stands."""

from __future__ import annotations

from math import pi

import numpy as np

from isometron.match.solving.camera import AXES, Layout, Numbers, ideal
from isometron.match.solving.misfits import Misfits

__all__ = ["beginnings", "lay_boxes"]

_FOCAL = (0.45, 0.7, 1.0, 1.5, 2.3, 4.0)
"""Focal lengths to begin with, in the picture's longer side: from very wide to long."""
_PITCH = (-60.0, -40.0, -22.0, -8.0, 0.0, 8.0, 22.0, 40.0)
_MOST_TURNS = 10
_BEST = 4
_AGAIN, _NEAR, _AIM = 8, 0.02, 0.03
_NOBODY = "\0"


def beginnings(layout: Layout) -> list[Numbers]:
    """Return a few numbers (P,) to fit from, the most promising first."""
    side = max(layout.marks.width, layout.marks.height)
    found: list[tuple[float, int, Numbers]] = []
    for f in _FOCAL if layout.marks.focal_px == 0.0 else (layout.marks.focal_px / side,):
        for pitch in (0.0,) if layout.level else _PITCH:
            numbers = layout.start(f * side, np.radians(pitch), 0.0)
            cost = sum(_turned(layout, numbers, name) for name in layout.objects) + _rings(layout, numbers)
            found.append((cost, len(found), numbers))
    return [numbers for _, _, numbers in sorted(found)[:_BEST]]


def lay_boxes(layout: Layout, numbers: Numbers) -> None:
    """Set all boxes' corners and sizes from the camera and the turns, and settle their units."""
    for name in layout.boxes:
        _boxed(layout, numbers, name)
    for name in layout.objects:
        _faced(layout, numbers, name)
    layout.held(numbers)


def _turned(layout: Layout, numbers: Numbers, name: str) -> float:
    """Turn an object to where its lines fit best; return how badly they fit there, px.

    Under a camera each level line says by itself how its object is turned: its direction is level, and lies in the plane of its rays.
    """
    bare, row, camera = (
        Misfits(layout, boxes=False, only=name, rings=False),
        layout.turn_row(name),
        layout.camera(numbers),
    )
    turns = []
    for line in layout.marks.lines:
        if line.along == "high" or line.object != name:
            continue
        ends = ideal(camera, np.array(line.points))[[0, -1]]
        one, other = (np.array([x / camera.f, -y / camera.f, 1.0]) @ camera.axes for x, y in ends)
        level = np.cross(np.cross(one, other), (0.0, 0.0, 1.0))
        turns.append(float(np.arctan2(level[1], level[0])) - (pi / 2.0 if line.along == "wide" else 0.0))
    best = (np.inf, 0.0)
    for turn in turns[:_MOST_TURNS] or [0.0]:
        numbers[row] = turn
        off = bare.of(numbers)
        best = min(best, (float(np.minimum(np.abs(off), 60.0).sum()), turn))
    numbers[row] = best[1]
    return best[0]


def _rings(layout: Layout, numbers: Numbers) -> float:
    if not layout.marks.rings:
        return 0.0
    off = Misfits(layout, boxes=False, only=_NOBODY).of(numbers)
    return float(np.minimum(np.abs(off[np.isfinite(off)]), 60.0).sum())


def _faced(layout: Layout, numbers: Numbers, name: str) -> None:
    """Turn an object half round when its boxes came out with their lengths and widths below nothing: a line has no sense of its own."""
    own = [box for box, owner in layout.boxes.items() if owner == name]
    if sum(float(numbers[layout.box_rows(box)][3:5].sum()) for box in own) < 0.0:
        numbers[layout.turn_row(name)] += pi
        for box in own:
            _boxed(layout, numbers, box)


def _boxed(layout: Layout, numbers: Numbers, name: str) -> None:
    """Set a box's corner and sizes: each marked point's ray meets its edge, which is linear in them.

    With the ray r and the edge's direction d through P: (r x d) . P = 0.
    """
    camera, axes = layout.camera(numbers), layout.axes(numbers)[layout.objects.index(layout.boxes[name])]
    rows, places, aims = [], [], []
    for line in layout.marks.lines:
        if line.box != name:
            continue
        axis = AXES.index(line.along)
        ends = dict(zip((k for k in range(3) if k != axis), line.edge, strict=True))
        off = np.array([float(ends.get(k, "0")) for k in range(3)])
        for x, y in ideal(camera, np.array(line.points)):
            ray = np.array([x / camera.f, -y / camera.f, 1.0]) @ camera.axes
            across = np.cross(ray / np.sqrt(ray @ ray), axes[axis])
            rows.append([*across, *(off * (axes @ across))])
            places.append(off)
            # Edges through the eye would meet every ray: weakly, each edge also begins where it is looked at.
            beside = np.eye(3) - np.outer(ray, ray) / (ray @ ray)
            aims += [_AIM * np.array([*row, *(off * (axes @ row))]) for row in beside]
    system, corners = np.array(rows), np.array(places)
    told = np.append(np.abs(system).max(axis=0) > 0.0, True)[:6]
    weights, best = np.ones(len(rows)), (np.inf, np.zeros(6))
    for _ in range(_AGAIN):
        own = _solved(np.vstack([system * weights[:, None], aims]), told, camera.axes[2])
        far = own[:3] + (corners * own[3:]) @ axes
        away = np.maximum(np.sqrt((far**2).sum(axis=1)), _NEAR)
        # Sines of angles between rays and edges; what comes near the eye would else be right for nothing.
        cost = float((np.abs(system @ own) / away).sum())
        if cost < best[0]:
            best = cost, own
        weights = 1.0 / away
    numbers[layout.box_rows(name)] = best[1] / max(float(np.sqrt(best[1][:3] @ best[1][:3])), 1e-9)


def _solved(system: Numbers, told: Numbers, look: Numbers) -> Numbers:
    """Return the corner and sizes (6,) of least squares with the corner at the depth one; a size that no marked edge tells of is nothing."""
    whole = np.vstack([system, [*look, 0.0, 0.0, 0.0]])
    own = np.zeros(6)
    own[told] = np.linalg.lstsq(whole[:, told], np.append(np.zeros(len(system)), 1.0), rcond=None)[0]
    return own
