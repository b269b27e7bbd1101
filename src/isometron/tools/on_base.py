"""Pulls measured where the hand goes: the second in the base plane, the third along the edge that it sets off beside."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.tools.base import Base
from isometron.tools.pencil import Pencil
from isometron.tools.pulling import on_plane, paper_direction, pulled_length
from isometron.tools.pulls import Pull, end_of
from isometron.view.eye import Eye

__all__ = ["length_on_base", "nearest_edge"]

_FLAT = 0.03
"""Sine of the angle at which a sight line meets the base: below it a hair's breadth on paper is far on the plane."""


def length_on_base(eye: Eye, base: Base, done: list[Pull], axis: int, pencil: Pencil) -> float | None:
    """Return how far (mm) a second pull goes along an own direction: near edge, far edge and all between agree.

    It ends where the sight line meets the base plane; near the plane's horizon the nearer of the two edges along it counts.
    """
    place, normal, way = end_of(base, done), base.rotation[:, base.normal], base.rotation[:, axis]
    met = on_plane(eye, base.place, normal, pencil.u, pencil.v)
    ray = eye.ray(pencil.u, pencil.v)
    if met is not None and abs(float(normal @ ray)) > _FLAT * float(np.sqrt(ray @ ray)):
        return float((met - place) @ way)
    start = _nearest(eye, [place, base.place], way, pencil)
    return None if start is None else pulled_length(eye, start, way, pencil.u, pencil.v)


def nearest_edge(eye: Eye, base: Base, done: list[Pull], pencil: Pencil) -> Floats:
    """Return where (3,) the edge off the base begins that is nearest to the pencil on paper: one of the base's four corners."""
    one, other = ([pull.length * base.rotation[:, pull.axis]] for pull in done)
    corners = [base.place + one[0] + other[0], base.place, base.place + one[0], base.place + other[0]]
    found = _nearest(eye, corners, base.rotation[:, base.normal], pencil)
    return corners[0] if found is None else found


def _nearest(eye: Eye, starts: list[Floats], way: Floats, pencil: Pencil) -> Floats | None:
    """Return the start of the line along a direction that passes nearest to the pencil on paper; the first of equals."""
    best, least = None, np.inf
    for start in starts:
        paper, on_paper = eye.project(start)[0][0], paper_direction(eye, start, way)
        if on_paper is None:
            continue
        off = np.array([pencil.u, pencil.v]) - paper
        aside = abs(float(off[0] * on_paper[1] - off[1] * on_paper[0]))
        if aside < least - 1e-6:
            best, least = start, aside
    return best
