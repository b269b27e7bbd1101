"""The outlines of rounded edges: where the strips of a round turn away from the eye, and where the ball of a corner does."""

from __future__ import annotations

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
    if not len(caps):
        return np.zeros((0, 9)), np.zeros((0, 2)), np.zeros(0, dtype=np.intp)
    off, radius = eye - caps[:, :3], caps[:, 3:4]
    away = np.sqrt((off * off).sum(axis=1, keepdims=True))
    outside = np.flatnonzero(away[:, 0] > radius[:, 0] * (1.0 + HAIR))
    off, radius, away = off[outside], radius[outside], away[outside]
    look = off / away
    centre, wide = radius * radius / away * look, radius * np.sqrt(1.0 - (radius / away) ** 2)
    first = np.cross(look, np.eye(3)[np.abs(look).argmin(axis=1)])
    first *= wide / np.sqrt((first * first).sum(axis=1, keepdims=True))
    second = np.cross(look, first)
    ways = caps[outside, 4:].reshape(-1, 3, 3)
    found, start, sweep = _looking_along(*(np.einsum("cwk,ck->cw", ways, own) for own in (first, second, centre)))
    rings = np.hstack([caps[outside, :3] + centre, first, second])[found]
    return rings, np.column_stack([start, sweep]) / (2 * np.pi), outside[found]


def _looking_along(a: Floats, b: Floats, c: Floats) -> tuple[Ints, Floats, Floats]:
    """Return the arcs of rings on which all three a cos t + b sin t + c (R, 3) are more than nothing: rings, from where, how far on."""
    size = np.hypot(a, b)
    with np.errstate(divide="ignore", invalid="ignore"):
        half = np.arccos(np.where((size > CLOSE) & (np.abs(c) < size), -c / size, np.nan))
    middle = np.arctan2(b, a)
    ends = np.broadcast_to([0.0, 2.0 * np.pi], (len(a), 2))
    cuts = np.concatenate([ends, (middle + half) % (2 * np.pi), (middle - half) % (2 * np.pi)], axis=1)
    cuts = np.sort(np.where(np.isnan(cuts), 2.0 * np.pi, cuts), axis=1)
    t = ((cuts[:, 1:] + cuts[:, :-1]) / 2.0)[:, :, None]
    value = a[:, None] * np.cos(t) + b[:, None] * np.sin(t) + c[:, None]
    row, column = np.nonzero((value > 0.0).all(axis=2) & (np.diff(cuts, axis=1) > HAIR))
    return row.astype(np.intp), cuts[row, column], cuts[row, column + 1] - cuts[row, column]
