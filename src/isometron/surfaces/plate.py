"""Plates: one step of a construction as marks to paint, what is new strong, what was before faint."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import hypot

import numpy as np

from isometron.construct.outcome import Construction, Spot, Step
from isometron.document.lengths.units import format_paper
from isometron.document.model import Document
from isometron.geometry.clipping import clip_rows, rectangle_exit
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.solve.layers.labels import lay_labels
from isometron.solve.layers.photographs import pictures_on_sheet
from isometron.solve.lettering import lettering_width
from isometron.solve.marks import Arcs, Label, Lines, Marks, Role, Singles
from isometron.surfaces.page import Page
from isometron.wording import tr

__all__ = ["Frame", "plate", "plate_page", "set_up_frame", "set_up_plate", "step_frame", "whole_plate"]

_ROOM, _LEAST = 0.6, 0.15
"""Points farther from what is drawn than this part of its extent are shown at the frame's rim instead; and the least extent, as a
part of the sheet's diagonal."""
_FAR = 3.0
"""A step that finds only far points shows them, if they are nearer to the thing than this many of the sheet's diagonals."""
_ARROW = 3.2
"""Length of an arrow at the rim, in heights of its letters."""

_BROAD = 1.5
_TEXT = 2.6
_TICK = 1.3
_GAP = 0.7


@dataclass(frozen=True)
class Frame:
    """A window on the paper, mm from the centre of vision; lettering of ``text`` mm as it will stand on the page."""

    left: float
    lower: float
    right: float
    upper: float
    text: float = _TEXT

    @property
    def sides(self) -> tuple[float, float, float, float]:
        """Left, lower, right, upper."""
        return self.left, self.lower, self.right, self.upper

    @property
    def width(self) -> float:
        """Width in mm of paper."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Height in mm of paper."""
        return self.upper - self.lower

    def holds(self, spot: Spot) -> bool:
        """Whether a point lies in it."""
        return self.left <= spot.u <= self.right and self.lower <= spot.v <= self.upper


def set_up_frame(document: Document, construction: Construction) -> Frame:
    """Return the window that shows the sheet and every point of the steps that set up."""
    left, lower, right, upper = document.sheet.rectangle
    spots = [s.at for step in construction.steps[: construction.setting_up] for s in step.points]
    return _around(np.array([*spots, (left, lower), (right, upper)]), 0.0)


def step_frame(document: Document, construction: Construction, number: int) -> Frame:
    """Return the window for one step: what is drawn, large, and the points of the step that lie near it.

    Points farther off are told at its rim, by arrows with their distances.
    """
    shown = np.concatenate([_reached(construction, number), np.array(list(construction.ends.values()))])
    low, high = shown.min(axis=0), shown.max(axis=0)
    room = _ROOM * max(float((high - low).max()), _LEAST * document.sheet.diagonal)
    step = construction.steps[number]
    spots = np.array([spot.at for spot in (*step.points, *step.used)]).reshape(-1, 2)
    near = ((spots >= low - room) & (spots <= high + room)).all(axis=1)
    new = np.arange(len(spots)) < len(step.points)
    if new.any() and not (near & new).any():  # all that it finds lies far off: it is the far points that it is about
        near |= new & (np.hypot(*(spots - (low + high) / 2).T) <= _FAR * document.sheet.diagonal)
    return _around(np.concatenate([shown, spots[near]]), _BROAD)


def _reached(construction: Construction, number: int) -> Floats:
    """Return the ends of the object's edges that are drawn up to a step (N, 2)."""
    edges = [step.edges.reshape(-1, 2) for step in construction.steps[: number + 1]]
    found: Floats = np.concatenate([np.zeros((0, 2)), *edges])
    return found


def _around(points: Floats, broad: float) -> Frame:
    """Return a window round points, at least ``broad`` times as wide as high."""
    low, high = points.min(axis=0), points.max(axis=0)
    middle, half = (low + high) / 2, (high - low) / 2 + 0.05 * float((high - low).max())
    half[0] = max(half[0], broad * half[1])
    return Frame(*(float(x) for x in (*(middle - half), *(middle + half))))


def plate(document: Document, construction: Construction, number: int, frame: Frame) -> Marks:
    """Return step ``number`` (from 0) strong, with all steps before it faint, in mm from the centre of vision.

    Lines are clipped to the frame; arcs are left for the page to clip.
    """
    before, new = construction.steps[:number], construction.steps[number]
    lines = [Lines.of(_outline(document), Role.RIM), Lines.of(_joined([s.lines for s in before]), Role.EARLIER),
             Lines.of(_joined([s.edges for s in before]), Role.EARLIER_EDGE), Lines.of(new.lines, Role.STEP),
             Lines.of(new.edges, Role.STEP_EDGE)]  # fmt: skip
    arcs = [_arcs(before, Role.EARLIER), _arcs([new], Role.STEP)]
    named = [*new.points, *new.used]
    here = {spot.name for spot in named}
    old = [spot for step in before for spot in step.points if _lasting(spot) and spot.name not in here]
    return _plate(document, frame, [*lines, _ticks(new.points, frame)], arcs, named, old)


def whole_plate(document: Document, construction: Construction, frame: Frame) -> Marks:
    """Return all steps at once: the object's edges strong, all that led to them faint, every point by its name."""
    steps = construction.steps
    spots = [spot for step in steps for spot in step.points]
    lines = [Lines.of(_outline(document), Role.RIM), Lines.of(_joined([s.lines for s in steps]), Role.EARLIER),
             Lines.of(_joined([s.edges for s in steps]), Role.STEP_EDGE)]  # fmt: skip
    return _plate(document, frame, [*lines, _ticks(spots, frame)], [_arcs(steps, Role.EARLIER)], spots, [])


def set_up_plate(
    document: Document,
    construction: Construction,
    frame: Frame,
    only: Sequence[Spot] | None = None,
    *,
    strong: bool = True,
    beside: Sequence[Construction] = (),
) -> Marks:
    """Return what only lays out the sheet: the steps that set up, as one picture; of them ``only`` some points, if that is said.

    What comes of the constructions ``beside`` is drawn faintly.
    """
    steps = construction.steps[: construction.setting_up]
    role = Role.STEP if strong else Role.EARLIER
    spots = [spot for step in steps for spot in step.points]
    edges = _joined([s.edges for s in steps])
    if only is not None and len(only) < len(spots):
        names = {spot.name for spot in only}
        spots, edges = [spot for spot in spots if spot.name in names], edges[:0]
    lines = [Lines.of(_outline(document), Role.RIM), Lines.of(_joined([s.lines for s in steps if len(s.edges) == 0 or len(edges)]), role),
             Lines.of(edges, Role.STEP_EDGE), Lines.of(_joined([step.edges for each in beside for step in each.steps]), Role.EARLIER)]  # fmt: skip
    return _plate(document, frame, [*lines, _ticks(spots, frame)], [_arcs(steps, role)], spots, [])


def plate_page(marks: Marks, frame: Frame, title: str) -> Page:
    """Return a plate as a page of the frame's size."""
    return Page(frame.width, frame.height, title, marks.placed(np.array([-frame.left, -frame.lower])))


def _arcs(steps: Sequence[Step], role: Role) -> Arcs:
    return Arcs.of(np.concatenate([np.zeros((0, 7)), *(step.arcs for step in steps)]), role)


def _lasting(spot: Spot) -> bool:
    """Whether a point keeps its name in the steps after its own that do not use it: vanishing and measuring points do."""
    return spot.name.startswith(("VP", "MP"))


def _plate(
    document: Document, frame: Frame, lines: list[Lines], arcs: list[Arcs], new: list[Spot], old: list[Spot]
) -> Marks:
    ruled = np.concatenate([part.points for part in lines if len(part)])
    beyond = {spot.name: _rim(spot, frame, ruled) for spot in (*new, *old) if not frame.holds(spot)}
    points = Lines.joined([part for part in [*lines, _arrows(list(beyond.values()), frame)] if len(part)])
    clipped, rows = clip_rows(points.points, frame.left, frame.lower, frame.right, frame.upper)
    marks = Marks(lines=replace(points.select(rows), points=clipped), arcs=Arcs.joined(arcs))
    labels = lay_labels(list(_labels(document, frame, new, old, beyond)), [marks], frame.sides)
    return replace(marks, labels=Singles(labels), pictures=pictures_on_sheet(document))


def _outline(document: Document) -> Floats:
    left, lower, right, upper = document.sheet.rectangle
    corners = [(left, lower), (right, lower), (right, upper), (left, upper)]
    return np.array([[*corners[k - 1], *corners[k]] for k in range(4)])


def _joined(parts: list[Floats]) -> Floats:
    return np.concatenate([np.zeros((0, 4)), *parts])


def _ticks(spots: Sequence[Spot], frame: Frame) -> Lines:
    """Return a small cross at each point of the frame."""
    r = _TICK * frame.text / _TEXT
    at = np.array([spot.at for spot in spots if frame.holds(spot)]).reshape(-1, 2)
    level, upright = np.array([r, 0.0]), np.array([0.0, r])
    crosses = [np.hstack([at - way, at + way]) for way in (level, upright)]
    return Lines.of(np.concatenate(crosses), Role.STEP)


def _rim(spot: Spot, frame: Frame, lines: Floats) -> tuple[Floats, Floats]:
    """Return where at the frame's rim (2,) a point beyond it is told, and in which direction (2,) it lies from there.

    On a line (N, 4) that runs to it, if one leaves the frame; else straight from the frame's middle.
    """
    at = np.array(spot.at)
    ways = lines[:, 2:] - lines[:, :2]
    long = np.maximum(np.hypot(*ways.T), 1e-12)
    off = np.abs((at[0] - lines[:, 0]) * ways[:, 1] - (at[1] - lines[:, 1]) * ways[:, 0]) / long
    clipped, _ = clip_rows(lines[off < HAIR], frame.left, frame.lower, frame.right, frame.upper)
    if len(clipped):
        ends = clipped.reshape(-1, 2)
        tip = ends[np.hypot(*(ends - at).T).argmin()]
    else:
        middle = ((frame.left + frame.right) / 2, (frame.lower + frame.upper) / 2)
        tip = np.array(rectangle_exit(middle, spot.at, frame.sides))
    return tip, (at - tip) / np.hypot(*(at - tip))


def _arrows(tips: Sequence[tuple[Floats, Floats]], frame: Frame) -> Lines:
    """Return an arrow at each place of the rim: a shaft and two barbs."""
    strokes = []
    for tip, way in tips:
        side, long = np.array([-way[1], way[0]]), _ARROW * frame.text
        strokes += [(*(tip - long * way), *tip)]
        strokes += [(*(tip - 0.35 * long * way + 0.18 * long * s * side), *tip) for s in (-1.0, 1.0)]
    return Lines.of(np.array(strokes).reshape(-1, 4), Role.STEP)


def _labels(
    document: Document, frame: Frame, new: list[Spot], old: list[Spot], beyond: Mapping[str, tuple[Floats, Floats]]
) -> Iterator[Label]:
    """Yield each name beside its point; points off the frame are told at its rim."""
    gap = _GAP * frame.text
    for spot in [*new, *old]:
        if not spot.name:
            continue
        u, v, text = spot.u, spot.v, spot.name
        if spot.name in beyond:
            u, v = beyond[spot.name][0]
            far = format_paper(hypot(spot.u - u, spot.v - v), document.unit, decimals=0)
            text = tr("{point}  {far} further", point=spot.name, far=far)
        wide = lettering_width(text) * frame.text
        # At a rim it is moved inwards; elsewhere it may go all round its point.
        u = min(max(u + gap, frame.left + gap), frame.right - wide - gap)
        v = min(max(v + gap, frame.lower + gap), frame.upper - frame.text - gap)
        free = (wide + 2 * gap, 3.0 * frame.text)
        yield Label(text, u, v, Role.LETTERING, size=frame.text, free=free, spare=spot not in new)
