"""Smooth lines on surfaces: cubic pieces on paper, what is hidden told apart; one that reaches behind the eye is drawn as chords."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from isometron.geometry import cubics
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves as Hidden
from isometron.geometry.hiding import Parts
from isometron.geometry.intervals import complement
from isometron.solve.layers.layer import Layer, Seen, own_bounds
from isometron.solve.marks import NOBODY, NOTHING, Curves, Lines, Marks, Role
from isometron.solve.picture import Picture, ruled
from isometron.view.eye import Eye

__all__ = ["CURVES", "drawn_curves", "hidden_of"]

_OFF = 0.002
"""mm of paper that the chords by which a curve is hidden lie off it."""
_MOST, _LEAST = 96, 4
_DEPTHS = 1.02
"""Of a piece on paper: its ends' depths differ by this factor at most; the picture of a cubic is then one, to some microns."""
_NEAR = 1e-6


def _marks(seen: Seen) -> Marks:
    """Return the marks of all smooth lines."""
    rounds = seen.picture.scene.unit_rounds
    if not len(rounds.curves):
        return NOTHING
    pieces = rounds.curves.reshape(-1, 4, 3)
    return drawn_curves(seen, pieces, rounds.curve_owner, rounds.curve_soft, rounds.curve_on_round)


def drawn_curves(seen: Seen, pieces: Floats, owner: Ints, soft: Bools, on_round: Bools) -> Marks:
    """Return the marks of cubic pieces (C, 4, 3) in the world; owners are units."""
    eye = seen.picture.eye
    camera = eye.to_camera(pieces.reshape(-1, 3)).reshape(-1, 4, 3)
    before = (camera[:, :, 2] > _NEAR * np.abs(camera).max(axis=(1, 2))[:, None]).all(axis=1)
    found, lines = [], []
    rows = np.flatnonzero(before)
    if len(rows):
        parts = hidden_of(seen.picture, pieces[rows], camera[rows], owner[rows], on_round[rows])
        found = _drawn(eye, camera[rows], owner[rows], soft[rows], parts, seen.hidden)
    rows = np.flatnonzero(~before)
    if len(rows):
        lines.append(_chords(seen, pieces[rows], owner[rows], soft[rows]))
    volume = seen.picture.scene.unit_owner
    marks = [Marks(curves=Curves(points, role, volume[own])) for points, role, own in found]
    marks += [Marks(lines=Lines(one.points, one.role, volume[one.owner], one.edge)) for one in lines]
    return Marks.joined(marks) if marks else NOTHING


def _steps(eye: Eye, camera: Floats) -> Ints:
    """Return how many chords (C,) each piece is hidden by: by the second differences of its control points on paper."""
    paper = eye.viewing_distance * camera[:, :, :2] / camera[:, :, 2:]
    bend = np.abs(np.diff(paper, 2, axis=1)).sum(axis=2).max(axis=1)
    found: Ints = np.clip(np.ceil(np.sqrt(0.75 * bend / _OFF)), _LEAST, _MOST).astype(np.intp)
    return found


def hidden_of(picture: Picture, pieces: Floats, camera: Floats, owner: Ints, on_round: Bools) -> Parts:
    """Return the hidden parts of pieces (C, 4, 3), t from 0 to 1 along each."""
    steps = _steps(picture.eye, camera)
    row = np.repeat(np.arange(len(pieces)), steps)
    number = np.arange(len(row)) - np.repeat(np.cumsum(steps) - steps, steps)
    ends = np.stack([_points(pieces[row], (number + k) / steps[row]) for k in (0, 1)], axis=1)
    chord, low, high = picture.hiders.hidden(
        Hidden.lines(ends, owner[row], np.ones(len(row), dtype=bool), -on_round[row].astype(np.intp))
    )
    own = row[chord]
    low, high = (number[chord] + low) / steps[own], (number[chord] + high) / steps[own]
    begins = np.ones(len(own), dtype=bool)
    begins[1:] = (own[1:] != own[:-1]) | (low[1:] > high[:-1] + _NEAR)
    first = np.flatnonzero(begins)
    last = np.append(first[1:], len(own)) - 1 if len(first) else first
    return own[first], low[first], high[last]


def _points(pieces: Floats, t: Floats) -> Floats:
    s = 1.0 - t
    weights = np.stack([s**3, 3.0 * s**2 * t, 3.0 * s * t**2, t**3], axis=1)
    found: Floats = np.einsum("ni,nik->nk", weights, pieces)
    return found


Drawn = tuple[Floats, NDArray[np.int8], Ints]


def _drawn(eye: Eye, camera: Floats, owner: Ints, soft: Bools, parts: Parts, with_hidden: bool) -> list[Drawn]:
    row, low, high = complement(len(camera), *parts)
    role = np.where(soft[row], np.int8(Role.CONSTRUCTION), np.int8(Role.OBJECT))
    found = [_on_paper(eye, cubics.part(camera[row], low, high), role, owner[row])]
    if with_hidden:
        shown = np.flatnonzero(~soft[parts[0]])
        row, low, high = parts[0][shown], parts[1][shown], parts[2][shown]
        role = np.full(len(row), Role.HIDDEN, dtype=np.int8)
        found.append(_on_paper(eye, cubics.part(camera[row], low, high), role, owner[row]))
    return [each for each in found if len(each[0])]


def _on_paper(eye: Eye, pieces: Floats, role: NDArray[np.int8], owner: Ints) -> Drawn:
    """Return pieces (C, 4, 3) about the eye as cubic pieces on paper (M, 8), roles and owners.

    The picture of a cubic is a rational one with its depths as weights; over a short piece, with the same ends and tangents, a cubic.
    """
    if not len(pieces):
        return np.zeros((0, 8)), role, owner
    depth = pieces[:, :, 2]
    ratio = np.log(depth.max(axis=1) / depth.min(axis=1))
    count = np.clip(np.ceil(ratio / np.log(_DEPTHS)), 1, _MOST).astype(np.intp)
    row = np.repeat(np.arange(len(pieces)), count)
    number = np.arange(len(row)) - np.repeat(np.cumsum(count) - count, count)
    cut = cubics.part(pieces[row], number / count[row], (number + 1) / count[row])
    depth = cut[:, :, 2:]
    paper = eye.viewing_distance * cut[:, :, :2] / depth
    one = paper[:, 0] + depth[:, 1] / depth[:, 0] * (paper[:, 1] - paper[:, 0])
    two = paper[:, 3] + depth[:, 2] / depth[:, 3] * (paper[:, 2] - paper[:, 3])
    return np.concatenate([paper[:, 0], one, two, paper[:, 3]], axis=1), role[row], owner[row]


def _chords(seen: Seen, pieces: Floats, owner: Ints, soft: Bools) -> Lines:
    """Draw pieces that reach behind the eye as short lines, as far as they lie before it."""
    t = np.linspace(0.0, 1.0, _MOST + 1)
    places = cubics.at(pieces, t)
    ends = np.stack([places[:, :-1], places[:, 1:]], axis=2).reshape(-1, 2, 3)
    row = np.repeat(np.arange(len(pieces)), _MOST)
    parts = seen.picture.hiders.hidden(Hidden.lines(ends, owner[row]))
    points, line, back = ruled(seen.picture.eye, ends, seen.reach, parts, with_hidden=seen.hidden)
    role = np.where(soft[row[line]], np.int8(Role.CONSTRUCTION), np.int8(Role.OBJECT))
    role[back] = Role.HIDDEN
    return Lines(points, role, owner[row[line]], np.full(len(line), NOBODY))


CURVES = Layer(_marks, own_bounds)
