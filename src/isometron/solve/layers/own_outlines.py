"""What turned bodies hide of their own outlines, asked of the curve that is turned, see `geometry.own_side_loops`."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.hiding import Parts
from isometron.geometry.own_side_loops import OwnSides
from isometron.geometry.turning import KNOTS, local_eye
from isometron.volumes.rounds import RoundParts

__all__ = ["own_domes", "own_outlines"]

_STRAIGHT, _RING = -1, -2
_COLUMNS = 11


def _nothing() -> Parts:
    return np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros(0)


def own_outlines(rounds: RoundParts, eye: Floats, straight: tuple[Floats, Ints], bent: tuple[Ints, Floats]) -> Parts:
    """Return what spun bodies hide of their own outlines.

    straight : (N, 2, 3) lines on straight sides, and the spun bodies (N,) that these are of; bent : the bent sides (M,) that lines behind
    them lie on, and the step along the curve and the angle at both ends (M, 4).
    """
    (ends, spun), (bend, params) = straight, bent
    body = _rows_of(rounds, np.concatenate([spun, rounds.bend_spun[bend]]))
    if not len(body) or body.max() < 0:
        return _nothing()
    lines = np.zeros((len(body), _COLUMNS))
    lines[: len(ends), :6] = _local(rounds, body[: len(ends)], ends).reshape(-1, 6)
    lines[len(ends) :, :4] = params
    return _asked(rounds, eye, body, np.concatenate([np.full(len(ends), _STRAIGHT), bend]), lines)


def own_domes(rounds: RoundParts, eye: Floats, domes: tuple[Floats, Ints], spans: Floats) -> Parts:
    """Return what spun bodies hide of the outlines of their domes: rings (G, 9), the bodies (G,), and spans (G, 2) in turns."""
    rings, spun = domes
    body = _rows_of(rounds, spun)
    if not len(body) or body.max() < 0:
        return _nothing()
    lines = np.zeros((len(rings), _COLUMNS))
    places = np.stack([rings[:, :3], rings[:, :3] + rings[:, 3:6], rings[:, :3] + rings[:, 6:9]], axis=1)
    local = _local(rounds, body, places)
    local[:, 1:] -= local[:, :1]
    lines[:, :9] = local.reshape(-1, 9)
    lines[:, 9:] = 2.0 * np.pi * spans
    return _asked(rounds, eye, body, np.full(len(rings), _RING), lines)


def _asked(rounds: RoundParts, eye: Floats, body: Ints, kind: Ints, lines: Floats) -> Parts:
    first = _first_of(rounds)
    begins = np.append(first, len(rounds.spindles)) * KNOTS
    knots, curves = np.ascontiguousarray(rounds.spindle_curve).reshape(-1, 4), np.ascontiguousarray(rounds.bend_curve)
    sides = OwnSides(local_eye(rounds.spindles[first], eye), begins, knots, curves, KNOTS)  # type: ignore[no-untyped-call]
    rows, stretches = sides.hidden(body, kind.astype(np.intp), lines)
    return rows, stretches[:, 0], stretches[:, 1]


def _first_of(rounds: RoundParts) -> Ints:
    """Return the first spindle of each spun body: those of one follow each other."""
    spun = rounds.spindle_spun
    return np.flatnonzero(np.append(True, spun[1:] != spun[:-1])) if len(spun) else spun


def _rows_of(rounds: RoundParts, spun: Ints) -> Ints:
    """Return the places (N,) of spun bodies in the order of their spindles; -1 for none."""
    own = rounds.spindle_spun[_first_of(rounds)]
    place = np.full(max(int(own.max(initial=0)), int(spun.max(initial=0))) + 1, -1, dtype=np.intp)
    place[own] = np.arange(len(own))
    return place[spun]


def _local(rounds: RoundParts, body: Ints, places: Floats) -> Floats:
    """Return world places (N, K, 3) in the measure of the halves and the axle of bodies (N,); nothing is asked of those of -1."""
    own = rounds.spindles[_first_of(rounds)][body]
    way = places - own[:, None, :3]
    ways = [own[:, None, 6:9], own[:, None, 9:], own[:, None, 3:6]]
    return np.stack([(way * one).sum(axis=2) / (one * one).sum(axis=2) for one in ways], axis=2)
