"""What is left on a shell of lines that were laid on a body before parts of it were taken."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.shell.over import over_triangles
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import Surfaces, cross, length, on_three, plane_row
from isometron.geometry.tolerances import EXACT, HAIR

__all__ = ["rings_left"]

_ON = 1e-6
_ABOUT = 0.1
"""Of a ring's size: so near to it a curve is looked at."""
_RIM = 1e-3


def rings_left(shell: Shell, rings: Floats, spans: Floats) -> tuple[Ints, Floats]:
    """Return the parts of rings (G, 9) with spans (G, 2) in turns that still lie on a shell: rows, and their spans."""
    found = [
        (row, start + low * sweep, (high - low) * sweep)
        for row, (start, sweep) in enumerate(spans.tolist())
        for low, high in _left(shell, rings[row], start, sweep)
    ]
    rows = np.array([row for row, _, _ in found], dtype=np.intp)
    return rows, np.array([part for _, *part in found]).reshape(-1, 2)


def _left(shell: Shell, ring: Floats, start: float, sweep: float) -> list[tuple[float, float]]:
    """Return the parts of one ring's span: it is cut where curves of the shell meet it, and each part asked in its middle."""
    centre, u, v = ring.reshape(3, 3)
    places, along = _met(shell, ring)
    turns = _turn_at(ring, places)
    parts = np.sort(((turns - start) * np.sign(sweep)) % 1.0 / abs(sweep))
    cuts = [0.0, *parts[(parts > HAIR) & (parts < 1.0 - HAIR)].tolist(), 1.0]
    found: list[tuple[float, float]] = []
    for low, high in pairwise(cuts):
        if high - low <= HAIR:
            continue
        turn = start + (low + high) / 2.0 * sweep
        angle = 2.0 * np.pi * turn
        place = centre + np.cos(angle) * u + np.sin(angle) * v
        if _covered(along, turn) or _on_patch(shell, place):
            if found and low - found[-1][1] <= HAIR:
                low = found.pop()[0]
            found.append((low, high))
    return found


def _met(shell: Shell, ring: Floats) -> tuple[Floats, list[tuple[float, float]]]:
    """Return where curves of a shell meet a ring (K, 3), and the stretches (from, sweep in turns) of those that run along it."""
    centre, u, v = ring.reshape(3, 3)
    normal = cross(u, v)
    normal = normal / np.sqrt(normal @ normal)
    size = float(np.sqrt(u @ u + v @ v))
    off = shell.points - centre
    high = off @ normal
    wide = np.hypot(off @ u / (u @ u), off @ v / (v @ v))
    own = np.repeat(np.arange(len(shell.curve_kind)), np.diff(shell.curve_first))
    flat = np.ones(len(shell.curve_kind), dtype=bool)
    np.logical_and.at(flat, own, (np.abs(high) <= _ON * (1.0 + size)) & (np.abs(wide - 1.0) <= _ON))
    along: list[tuple[float, float]] = []
    places: list[Floats] = []
    for number in np.flatnonzero(flat).tolist():
        path = shell.curve(number)
        turns = np.unwrap(_turn_at(ring, path), period=1.0)
        along.append((float(turns[0]), float(turns[-1] - turns[0])))
        places += [path[0], path[-1]]
    there = np.abs(wide - 1.0) <= _ABOUT
    crossing = np.flatnonzero(
        (own[1:] == own[:-1]) & ~flat[own[1:]] & ((high[1:] > 0.0) != (high[:-1] > 0.0)) & (there[1:] | there[:-1])
    )
    if len(crossing):
        table = Surfaces.joined([shell.surfaces, Surfaces.of([plane_row(centre, normal)])])
        part = high[crossing] / (high[crossing] - high[crossing + 1])
        about = shell.points[crossing] + part[:, None] * (shell.points[crossing + 1] - shell.points[crossing])
        on = np.column_stack([shell.curve_on[own[crossing]], np.full(len(crossing), len(shell.surfaces))])
        exact = on_three(table, on, about)
        off = exact - centre
        kept = np.abs(np.hypot(off @ u / (u @ u), off @ v / (v @ v)) - 1.0) <= _ON
        places += list(exact[kept])
    return np.array(places).reshape(-1, 3), along


def _turn_at(ring: Floats, places: Floats) -> Floats:
    centre, u, v = ring.reshape(3, 3)
    off = places - centre
    found: Floats = np.arctan2(off @ v / (v @ v), off @ u / (u @ u)) / (2.0 * np.pi)
    return found


def _covered(along: list[tuple[float, float]], turn: float) -> bool:
    return any(((turn - low) * np.sign(sweep)) % 1.0 <= abs(sweep) for low, sweep in along)


def _on_patch(shell: Shell, place: Floats) -> bool:
    """Tell whether a place (3,) lies on a patch: on its surface, and square over one of its triangles."""
    surface = shell.patch_surface[shell.patch]
    f, slope = shell.surfaces.at(np.arange(len(shell.surfaces)), np.tile(place, (len(shell.surfaces), 1)))
    size = np.maximum(length(slope), EXACT)
    rows = np.flatnonzero((np.abs(f) / size <= _ON * (1.0 + np.abs(place).max()))[surface])
    if not len(rows):
        return False
    way = slope[surface[rows]] / size[surface[rows], None]
    return bool(over_triangles(place, way, shell.places[shell.rows[rows]], _RIM).any())
