"""The outlines of rounded edges: where the strips of a round turn away from the eye, and where the ball of a corner does."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["cap_outlines", "panel_outlines"]


def panel_outlines(panels: Floats, eye: Floats) -> tuple[Floats, Ints]:
    """Return the lines (N, 2, 3) along which sight lines touch panels (K, 18), and the panels (N,); see `RoundParts`.

    Along a straight line of a round its normal stays the same, so the round turns away where the normal stands square to the way to the
    eye; between two lines close to each other that is taken as even.
    """
    if not len(panels):
        return np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp)
    one, two, one_end, two_end, looks, looks_on = (panels[:, 3 * k : 3 * k + 3] for k in range(6))
    here, there = (((eye - place) * way).sum(axis=1) for place, way in ((one, looks), (two, looks_on)))
    rows = np.flatnonzero((here > 0.0) != (there > 0.0))
    part = (here[rows] / (here[rows] - there[rows]))[:, None]
    ends = [
        _between(first[rows], second[rows], (one_end - one)[rows], looks[rows], looks_on[rows], part)
        for first, second in ((one, two), (one_end, two_end))
    ]
    return np.stack(ends, axis=1), rows


def _between(one: Floats, two: Floats, along: Floats, looks: Floats, looks_on: Floats, part: Floats) -> Floats:
    """Return the places (N, 3) a part (N, 1) of the way from one line of a round to the next, on the round and not on its chord: over a
    chord c that turns by d an arc stands c / 2 tan(d / 4) high."""
    turn = np.arccos(np.clip((looks * looks_on).sum(axis=1), -1.0, 1.0))
    way = two - one
    # Aslant a cut runs along the round too, which takes nothing off it.
    way = way - ((way * along).sum(axis=1) / np.maximum((along * along).sum(axis=1), 1e-300))[:, None] * along
    chord = np.sqrt((way * way).sum(axis=1))
    high = (2.0 * chord * np.tan(turn / 4.0))[:, None] * part * (1.0 - part)
    way = looks + looks_on
    found: Floats = one + part * (two - one) + high * way / np.sqrt((way * way).sum(axis=1))[:, None]
    return found


def cap_outlines(caps: Floats, eye: Floats) -> tuple[Floats, Floats, Ints]:
    """Return the outlines of pieces of balls (K, 13): rings (G, 9), spans (G, 2) in turns, and the caps (G,).

    Sight lines from the distance d touch a ball of radius r on the circle of radius r sqrt(1 - r^2 / d^2) in the plane r^2 / d before its
    middle (pole and polar, e.g. Coxeter, Projective Geometry, chapter 9); of it counts what looks along the cap's three ways.
    """
    rings, spans, rows = [], [], []
    for row, cap in enumerate(caps):
        middle, radius, ways = cap[:3], cap[3], cap[4:].reshape(3, 3)
        off = eye - middle
        away = float(np.sqrt(off @ off))
        if away <= radius * (1.0 + HAIR):
            continue
        look = off / away
        centre = radius * radius / away * look
        wide = radius * float(np.sqrt(1.0 - (radius / away) ** 2))
        first = np.cross(look, np.eye(3)[int(np.argmin(np.abs(look)))])
        first *= wide / float(np.sqrt(first @ first))
        second = np.cross(look, first)
        for start, sweep in _within(centre, first, second, ways):
            rings.append(np.concatenate([middle + centre, first, second]))
            spans.append((start, sweep))
            rows.append(row)
    return np.array(rings).reshape(-1, 9), np.array(spans).reshape(-1, 2) / (2 * np.pi), np.array(rows, dtype=np.intp)


def _within(centre: Floats, first: Floats, second: Floats, ways: Floats) -> list[tuple[float, float]]:
    """Return the arcs, from where and over how many radians, of a ring that look along all of some ways (3, 3)."""
    cuts = [0.0, 2.0 * np.pi]
    forms = [(float(way @ first), float(way @ second), float(way @ centre)) for way in ways]
    for a, b, c in forms:  # where a cos t + b sin t + c changes its sign
        size = float(np.hypot(a, b))
        if size > CLOSE and abs(c) < size:
            middle, half = float(np.arctan2(b, a)), float(np.arccos(-c / size))
            cuts += [(middle + half) % (2 * np.pi), (middle - half) % (2 * np.pi)]
    cuts.sort()
    found: list[tuple[float, float]] = []
    for low, high in pairwise(cuts):
        t = (low + high) / 2.0
        if high - low > HAIR and all(a * np.cos(t) + b * np.sin(t) + c > 0.0 for a, b, c in forms):
            if found and abs(found[-1][0] + found[-1][1] - low) <= HAIR:
                found[-1] = (found[-1][0], high - found[-1][0])
            else:
                found.append((low, high - low))
    return found
