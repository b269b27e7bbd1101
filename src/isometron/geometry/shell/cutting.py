"""What a plane cuts out of a shell: closed loops of straight pieces, arcs, and free curves as chords through exact places."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.shell.curves import forms
from isometron.geometry.shell.shell import ARC, FREE, Shell
from isometron.geometry.shell.surfaces import Surfaces, length, on_three, on_two, plane_row

__all__ = ["Run", "cut_by"]

_WITHIN = 0.004
"""mm that chords of a free curve may lie off it."""
_BESIDE = 1e-7
"""Of the size: a plane so near to a corner goes beside it, and never through it."""
_TIMES = 10


@dataclass(frozen=True)
class Run:
    """A part of a loop on one patch. points : (K, 3) from end to end, of an arc only its ends count; arc : (11,) centre, two half axes, start
    and sweep in radians, or None."""

    points: Floats
    arc: Floats | None
    patch: int


def cut_by(shell: Shell, place: Floats, normal: Floats) -> list[list[Run]]:
    """Return the loops in which a plane (a place (3,), a unit vector (3,), in the body's axes) cuts a shell, one run after the other, with the
    body on their left as seen from where the vector points to.

    A plane that lies on a face, or touches a corner, goes by it on the side that it looks to.
    """
    size = 1.0 + float(np.abs(shell.places).max(initial=0.0))
    off = (shell.places - place) @ normal
    # On its own side of all corners: those on the plane lie behind it.
    ahead = off > _BESIDE * size
    edge = np.where(np.abs(off) <= _BESIDE * size, -_BESIDE * size, off)
    surfaces = Surfaces.joined([shell.surfaces, Surfaces.of([plane_row(place, normal)])])
    own = len(surfaces) - 1
    between = {
        frozenset(pair): on for pair, on in zip(shell.curve_sides.tolist(), shell.curve_on.tolist(), strict=True)
    }
    found = []
    for triangles, starts in _loops(shell, ahead):
        first, second = starts[:, 0], starts[:, 1]
        part = edge[first] / (edge[first] - edge[second])
        places = shell.places[first] + part[:, None] * (shell.places[second] - shell.places[first])
        patch = shell.patch[triangles]
        loop = _settled(shell, surfaces, own, places, patch, between)
        if loop:
            found.append(loop)
    return found


def _loops(shell: Shell, ahead: np.ndarray) -> Iterator[tuple[Ints, Ints]]:
    """Yield the triangles of each loop in order, and the ends (K, 2) of the edges at which the loop enters them."""
    rows, count = shell.rows, len(shell.places)
    sides = ahead[rows]
    crossed = np.flatnonzero(sides.any(axis=1) & ~sides.all(axis=1))
    if not len(crossed):
        return
    start, end = rows[crossed], rows[crossed][:, [1, 2, 0]]
    enters, leaves = ahead[start] & ~ahead[end], ~ahead[start] & ahead[end]
    into, out = enters.argmax(axis=1), leaves.argmax(axis=1)
    each = np.arange(len(crossed))

    def key(column: Ints) -> Ints:
        a, b = start[each, column], end[each, column]
        return np.minimum(a, b) * count + np.maximum(a, b)

    by_key = {k: n for n, k in enumerate(key(into).tolist())}
    after = [by_key[k] for k in key(out).tolist()]
    seen = np.zeros(len(crossed), dtype=bool)
    for head in range(len(crossed)):
        if seen[head]:
            continue
        run, k = [], head
        while not seen[k]:
            seen[k] = True
            run.append(k)
            k = after[k]
        order = np.array(run, dtype=np.intp)
        yield crossed[order], np.column_stack([start[order, into[order]], end[order, into[order]]])


def _settled(
    shell: Shell, surfaces: Surfaces, own: int, places: Floats, patch: Ints, between: dict[frozenset[int], list[int]]
) -> list[Run]:
    """Return a loop as runs with exact places; none of one that is no wider than a hair."""
    change = np.flatnonzero(patch != np.roll(patch, 1))
    if len(change):
        places, patch = np.roll(places, -change[0], axis=0), np.roll(patch, -change[0])
        heads = np.flatnonzero(np.append(True, patch[1:] != patch[:-1]))
    else:
        heads = np.zeros(1, dtype=np.intp)
    exact = on_two(surfaces, np.column_stack([np.full(len(patch), own), shell.patch_surface[patch]]), places)
    if len(change):
        before = patch[heads - 1]
        three = [
            [
                own,
                *between.get(frozenset((int(a), int(b))), [int(shell.patch_surface[a]), int(shell.patch_surface[b])]),
            ]
            for a, b in zip(before, patch[heads], strict=True)
        ]
        exact[heads] = on_three(surfaces, np.array(three, dtype=np.intp), places[heads])
    ends = np.append(heads[1:], len(patch))
    runs = [
        np.concatenate([exact[a:b], exact[b % len(patch)][None]])
        for a, b in zip(heads.tolist(), ends.tolist(), strict=True)
    ]
    first = np.concatenate([[0], np.cumsum([len(run) for run in runs])]).astype(np.intp)
    pair = np.column_stack([np.full(len(heads), own), shell.patch_surface[patch[heads]]])
    kind, arcs = forms(surfaces, pair, np.concatenate(runs), first)
    found = []
    for k, run in enumerate(runs):
        free = kind[k] == FREE
        points = _finer(surfaces, pair[k], run) if free else run[[0, -1]]
        if free or kind[k] == ARC or float(length(points[1] - points[0])) > _BESIDE:
            found.append(Run(points, arcs[k] if kind[k] == ARC else None, int(patch[heads[k]])))
    return found


def _finer(surfaces: Surfaces, pair: Ints, points: Floats) -> Floats:
    """Return places along a free curve whose chords lie within a few thousandths of a mm of it."""
    points = points[np.append(True, length(np.diff(points, axis=0)) > _BESIDE)]
    for _ in range(_TIMES):
        middle = (points[1:] + points[:-1]) / 2.0
        true = on_two(surfaces, np.broadcast_to(pair, (len(middle), 2)), middle)
        far = np.flatnonzero(length(true - middle) > _WITHIN)
        if not len(far):
            break
        points = np.insert(points, far + 1, true[far], axis=0)
    return points
