"""Openings in round sides as gaps in what is drawn of these: where a side has an opening it has no outline."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.faces.shaft import Shaft, chorded
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.intervals import complement, turning_point
from isometron.geometry.outlines import holds, inside_parts
from isometron.geometry.tolerances import HAIR

__all__ = ["CORNERS", "beside_gaps", "gap_of", "part_of", "rings_beside"]

_STEPS = 360
"""Places round a ring at which it is asked whether it lies in a gap."""

CORNERS = 128
"""Of the outline of a gap; one of fewer ends with its last corner again and again."""


def gap_of(shaft: Shaft, low: float, high: float) -> Floats:
    """Return the row of a shaft's gap in a side that lies so deep in it, see `RoundParts`."""
    chords = 24
    flat = chorded(shaft.outline, chords)
    while len(flat) > CORNERS and chords > 1:
        chords //= 2
        flat = chorded(shaft.outline, chords)
    flat = flat[np.unique(np.linspace(0, len(flat) - 1, min(len(flat), CORNERS)).round().astype(np.intp))]
    padded = np.concatenate([flat, np.repeat(flat[-1:], CORNERS - len(flat), axis=0)])
    return np.concatenate([shaft.frame, [low, high], padded.reshape(-1)])


def part_of(lines: Floats, low: Floats, high: Floats) -> Floats:
    """Return parts (N,) to (N,) of lines (N, 2, 3)."""
    way = lines[:, 1] - lines[:, 0]
    found: Floats = np.stack([lines[:, 0] + low[:, None] * way, lines[:, 0] + high[:, None] * way], axis=1)
    return found


def rings_beside(rings: Floats, spans: Floats, gaps: Floats) -> tuple[Ints, Floats]:
    """Return the parts of rings (G, 9) with spans (G, 2) in turns that lie beside gaps: rows, and their spans."""
    rows, parts = np.arange(len(rings)), spans
    for gap in gaps:
        found: list[tuple[int, float, float]] = []
        for row, (start, sweep) in zip(rows.tolist(), parts, strict=True):
            found += [
                (row, start + low * sweep, (high - low) * sweep)
                for low, high in _beside(rings[row], start, sweep, gap)
            ]
        rows = np.array([row for row, _, _ in found], dtype=np.intp)
        parts = np.array([part for _, *part in found]).reshape(-1, 2)
    return rows, parts


def _beside(ring: Floats, start: float, sweep: float, gap: Floats) -> list[tuple[float, float]]:
    """Return the parts of a ring's span that lie beside a gap."""
    outline = gap[14:].reshape(-1, 2)
    slack = _slack(gap, outline)

    def off(t: Floats) -> Floats:
        angle = 2 * np.pi * (start + t[:, None] * sweep)
        places: Floats = ring[:3] + np.cos(angle) * ring[3:6] + np.sin(angle) * ring[6:9] - gap[:3]
        return places

    def within(t: float) -> bool:
        here = off(np.array([t]))[0]
        deep = -float(here @ gap[9:12])
        return gap[12] - slack <= deep <= gap[13] + slack and holds(
            outline, np.array([here @ gap[3:6], here @ gap[6:9]]), 0.0
        )

    steps = np.linspace(0.0, 1.0, _STEPS + 1)
    about = off(steps)
    flat = np.stack([about @ gap[3:6], about @ gap[6:9]], axis=1)
    near = ((flat >= outline.min(axis=0)) & (flat <= outline.max(axis=0))).all(axis=1)
    inside = [bool(is_near) and within(t) for t, is_near in zip(steps, near, strict=True)]
    turns = [turning_point(within, steps[k], steps[k + 1]) for k in range(_STEPS) if inside[k] is not inside[k + 1]]
    return [(a, b) for a, b in pairwise([0.0, *turns, 1.0]) if b - a > HAIR and not within((a + b) / 2.0)]


def _slack(gap: Floats, outline: Floats) -> float:
    """Return how far, mm, something on a side may lie off the depths that its chords have in a gap."""
    return float(0.05 * (gap[13] - gap[12]) + 1e-2 * np.ptp(outline, axis=0).max())


def beside_gaps(lines: Floats, owner: Ints, gaps: Floats, gap_owner: Ints) -> tuple[Ints, Floats, Floats]:
    """Return the parts of lines (N, 2, 3) that lie beside the gaps in their own body's sides: rows, from, to."""
    taken: list[tuple[int, float, float]] = []
    for gap, whose in zip(gaps, gap_owner, strict=True):
        rows = np.flatnonzero(owner == whose)
        off = lines[rows] - gap[:3]
        flat = np.stack([off @ gap[3:6], off @ gap[6:9]], axis=2)
        deep = -(off @ gap[9:12])
        outline = gap[14:].reshape(-1, 2)
        slack = _slack(gap, outline)
        near = (deep.min(axis=1) <= gap[13] + slack) & (deep.max(axis=1) >= gap[12] - slack)
        near &= (flat.min(axis=1) < outline.max(axis=0)).all(axis=1) & (flat.max(axis=1) > outline.min(axis=0)).all(
            axis=1
        )
        corners = outline[: 1 + int(np.flatnonzero(np.abs(np.diff(outline, axis=0)).max(axis=1) > 0.0)[-1] + 1)]
        for k in np.flatnonzero(near):
            for low, high in inside_parts(corners, flat[k, 0], flat[k, 1]):
                middle = deep[k, 0] + (low + high) / 2.0 * (deep[k, 1] - deep[k, 0])
                if gap[12] - slack <= middle <= gap[13] + slack and high - low > HAIR:
                    taken.append((int(rows[k]), low, high))
    taken.sort()
    parts = (
        np.array([t[0] for t in taken], dtype=np.intp),
        np.array([t[1] for t in taken]),
        np.array([t[2] for t in taken]),
    )
    return complement(len(lines), *parts)
