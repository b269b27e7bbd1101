"""Plates: one step of a construction as marks to paint, what is new strong, what was before faint."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np

from isometron.construct.outcome import Construction, Spot
from isometron.document.model import Document
from isometron.document.units import format_paper
from isometron.geometry.clipping import clip_to_rectangle, rectangle_exit
from isometron.geometry.frames import Floats
from isometron.surfaces.pens import Pen
from isometron.wording import tr

__all__ = ["FAINT", "NEW", "NEW_EDGE", "OLD_EDGE", "PAPER_EDGE", "Frame", "Plate", "plate", "set_up_frame",
           "set_up_plate", "step_frame"]  # fmt: skip

NEW = Pen(0.28, "#2F4A52", "#2F4A52")
FAINT = Pen(0.13, "#B7C2C3", "#B7C2C3")
NEW_EDGE = Pen(0.55, "#1F2424", "#1F2424")
OLD_EDGE = Pen(0.3, "#7E8684", "#7E8684")
PAPER_EDGE = Pen(0.18, "#9A9485", "#9A9485")

_ROOM = 0.35
"""Points off the sheet by more than this part of its diagonal are shown at the frame's rim instead."""
_FAR = 3.0
"""A step shows its own new points when they are nearer to the sheet than this many of its diagonals."""

_BROAD = 1.5
_TEXT = 2.6
_TICK = 1.3


@dataclass(frozen=True)
class Frame:
    """A window on the paper, mm from the centre of vision; lettering of ``text`` mm as it will stand on the page."""

    left: float
    lower: float
    right: float
    upper: float
    text: float = _TEXT

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


@dataclass(frozen=True)
class Plate:
    """Marks of one picture, mm from the centre of vision, clipped to the frame; arcs are left for the page to clip.

    labels : text, u, v, anchor (-1, 0, 1).
    """

    frame: Frame
    lines: tuple[tuple[Pen, Floats], ...]
    arcs: tuple[tuple[Pen, Floats], ...]
    labels: tuple[tuple[str, float, float, int], ...]


def set_up_frame(document: Document, construction: Construction) -> Frame:
    """Return the window that shows the sheet and every point of the steps that set up."""
    left, lower, right, upper = document.sheet.rectangle
    spots = [s.at for step in construction.steps[: construction.setting_up] for s in step.points]
    return _around(np.array([*spots, (left, lower), (right, upper)]), 0.0)


def step_frame(document: Document, construction: Construction, number: int) -> Frame:
    """Return the window for one step: the points on or near the sheet, and its own new points unless very far off."""
    left, lower, right, upper = document.sheet.rectangle
    low, high = np.array([left, lower]), np.array([right, upper])

    def within(points: Floats, room: float) -> Floats:
        kept: Floats = points[((points >= low - room) & (points <= high + room)).all(axis=1)]
        return kept

    diagonal = document.sheet.diagonal
    near = np.array([spot.at for step in construction.steps for spot in step.points])
    new = np.array([spot.at for spot in construction.steps[number].points]).reshape(-1, 2)
    parts = [within(near, _ROOM * diagonal), within(new, _FAR * diagonal), np.array(list(construction.ends.values()))]
    return _around(np.concatenate(parts), _BROAD)


def _around(points: Floats, broad: float) -> Frame:
    """Return a window round points, at least ``broad`` times as wide as high."""
    low, high = points.min(axis=0), points.max(axis=0)
    middle, half = (low + high) / 2, (high - low) / 2 + 0.05 * float((high - low).max())
    half[0] = max(half[0], broad * half[1])
    return Frame(*(float(x) for x in (*(middle - half), *(middle + half))))


def plate(document: Document, construction: Construction, number: int, frame: Frame) -> Plate:
    """Return step ``number`` (from 0) with all steps before it faint."""
    before, new = construction.steps[:number], construction.steps[number]
    lines = [(PAPER_EDGE, _outline(document)), (FAINT, _joined([s.lines for s in before])),
             (OLD_EDGE, _joined([s.edges for s in before])), (NEW, new.lines), (NEW_EDGE, new.edges)]  # fmt: skip
    arcs = [(FAINT, arc) for step in before for arc in step.arcs] + [(NEW, arc) for arc in new.arcs]
    old = [spot for step in before for spot in step.points if not _passing(spot)]
    named = [s for s in new.points if not _passing(s) or s.name in construction.ends]
    ticks = _joined([_tick(spot, frame) for spot in new.points if frame.holds(spot)])
    return _plate(document, frame, [*lines, (NEW, ticks)], arcs, named, old)


def set_up_plate(document: Document, construction: Construction, frame: Frame, *, strong: bool = True) -> Plate:
    """Return what only lays out the sheet: the steps that set up, as one picture."""
    steps = construction.steps[: construction.setting_up]
    lines = [(PAPER_EDGE, _outline(document)), (NEW if strong else FAINT, _joined([s.lines for s in steps])),
             (NEW_EDGE, _joined([s.edges for s in steps]))]  # fmt: skip
    spots = [spot for step in steps for spot in step.points]
    arcs = [(NEW if strong else FAINT, arc) for step in steps for arc in step.arcs]
    ticks = _joined([_tick(spot, frame) for spot in spots if frame.holds(spot)])
    return _plate(document, frame, [*lines, (NEW, ticks)], arcs, spots, [])


def _passing(spot: Spot) -> bool:
    """Whether a point is only passed through on the way: its name is said in its own step, not in later ones."""
    return " " in spot.name and not spot.name.startswith(("VP", "MP", "new VP"))


def _plate(
    document: Document,
    frame: Frame,
    lines: list[tuple[Pen, Floats]],
    arcs: list[tuple[Pen, Floats]],
    new: list[Spot],
    old: list[Spot],
) -> Plate:
    clipped = [
        (pen, clip_to_rectangle(points, frame.left, frame.lower, frame.right, frame.upper)) for pen, points in lines
    ]
    return Plate(frame, tuple(clipped), tuple(arcs), tuple(_labels(document, frame, new, old)))


def _outline(document: Document) -> Floats:
    left, lower, right, upper = document.sheet.rectangle
    corners = [(left, lower), (right, lower), (right, upper), (left, upper)]
    return np.array([[*corners[k - 1], *corners[k]] for k in range(4)])


def _joined(parts: list[Floats]) -> Floats:
    return np.concatenate([np.zeros((0, 4)), *parts])


def _tick(spot: Spot, frame: Frame) -> Floats:
    r = _TICK * frame.text / _TEXT
    return np.array([[spot.u - r, spot.v, spot.u + r, spot.v], [spot.u, spot.v - r, spot.u, spot.v + r]])


def _labels(
    document: Document, frame: Frame, new: list[Spot], old: list[Spot]
) -> list[tuple[str, float, float, int]]:
    """Set each name beside its point where it covers no other; points off the frame are told at its rim."""
    taken: list[tuple[float, float, float, float]] = []
    labels = []
    middle = ((frame.left + frame.right) / 2, (frame.lower + frame.upper) / 2)
    for spot in [*new, *old]:
        if not spot.name:
            continue
        u, v, text = spot.u, spot.v, spot.name
        if not frame.holds(spot):
            u, v = rectangle_exit(middle, spot.at, (frame.left, frame.lower, frame.right, frame.upper))
            far = format_paper(hypot(spot.u - u, spot.v - v), document.unit, decimals=0)
            text = tr("{point}  {far} further", point=spot.name, far=far)
        place = _free_place(text, u, v, frame, taken)
        if place is not None:
            labels.append((text, *place))
    return labels


def _free_place(
    text: str, u: float, v: float, frame: Frame, taken: list[tuple[float, float, float, float]]
) -> tuple[float, float, int] | None:
    size = frame.text
    wide, gap = 0.58 * size * len(text), 0.7 * size
    for du, dv, anchor in ((gap, gap, -1), (-gap, gap, 1), (gap, -gap - 0.7 * size, -1), (-gap, -gap - 0.7 * size, 1),
                           (0.0, 1.6 * gap, 0), (0.0, -1.6 * gap - 0.7 * size, 0)):  # fmt: skip
        x, y = u + du, v + dv
        low = x - wide * (anchor + 1) / 2
        box = (low, y - 0.2 * size, low + wide, y + size)
        inside = frame.left <= box[0] and box[2] <= frame.right and frame.lower <= box[1] and box[3] <= frame.upper
        if inside and not any(box[0] < t[2] and t[0] < box[2] and box[1] < t[3] and t[1] < box[3] for t in taken):
            taken.append(box)
            return x, y, anchor
    return None
