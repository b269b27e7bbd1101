"""The outlines of openings, about their own place."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.shaft import CarveError
from isometron.geometry.outlines import Bend, Outline, arch_opening, cut_rectangle
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.cut.corners import outline_within
from isometron.volumes.marks.face_marks import ARCH_FORMS, OpeningMark
from isometron.wording import tr

__all__ = ["opening_outline"]


def opening_outline(mark: OpeningMark) -> Outline:
    """Return an opening's outline about its place (of an arch the middle of its foot), counter-clockwise, mm.

    Raises `CarveError` and `OutlineError` in words.
    """
    wide, high = mark.wide, mark.high
    if mark.form == "ring":
        high = high or wide
    if not (wide > CLOSE and high > CLOSE):
        raise CarveError(tr("An opening needs a width and a height."))
    if mark.form == "ring":
        first, second = np.array([wide / 2.0, 0.0]), np.array([0.0, high / 2.0])
        halves = {k: Bend(np.zeros(2), first, second, k * np.pi, np.pi) for k in (0, 1)}
        return Outline(np.array([first, -first]), halves)
    if mark.form in ARCH_FORMS:
        return _arch(mark)
    if mark.form == "outline":
        if mark.outline is None:
            raise CarveError(tr("This opening has no outline."))
        return _moved(outline_within(mark.outline, 0, (wide, high)), (-wide / 2.0, -high / 2.0))
    return _moved(cut_rectangle(wide, high, (mark.round,) * 4, round_=True), (-wide / 2.0, -high / 2.0))


def _moved(outline: Outline, by: tuple[float, float]) -> Outline:
    shift = np.array(by)
    bends = {k: Bend(b.centre + shift, b.first, b.second, b.start, b.sweep) for k, b in outline.bends.items()}
    return Outline(outline.corners + shift, bends)


def _arch(mark: OpeningMark) -> Outline:
    """Return an arch's outline: up its right side, over it to the left, and down."""
    _, over, bends = arch_opening(-mark.wide / 2.0, mark.wide, mark.high, mark.form, mark.rise)
    points = [(-mark.wide / 2.0, 0.0), (mark.wide / 2.0, 0.0)]
    first = 1 if over[0][1] <= CLOSE else 2
    points += over[::-1] if first == 2 else over[::-1][1:-1]
    back = [Bend(b.centre, b.first, b.second, b.start + b.sweep, -b.sweep) for b in reversed(bends)]
    return Outline(np.array(points), {first + k: bend for k, bend in enumerate(back)})
