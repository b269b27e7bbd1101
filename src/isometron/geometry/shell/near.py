"""Near misses: chords of rounds decide who borders on whom, so where a round comes close to what it does not touch, it is parted finer."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Ints
from isometron.geometry.shell.over import over_triangles
from isometron.geometry.shell.restored import restored
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE
from isometron.geometry.shell.united import Put, put_together

__all__ = ["near_misses", "with_finer_rounds"]

_TIMES, _FINER = 3, 16.0
_LEAST, _RIM = 1e-3, 0.25


def with_finer_rounds(body: Put, chord: float) -> Shell:
    """Return the shell of a body; rounds that come within twice their chord of a patch that they do not border on are parted finer, at most
    to 0.001 mm. Raises `NoShellError`."""
    finer: dict[int, float] = {}
    shell = restored(put_together(body, chord))
    for _ in range(_TIMES):
        close = near_misses(shell, chord, finer)
        close = {row for row in close if finer.get(row, chord) > _LEAST}
        if not close:
            break
        finer |= {row: max(finer.get(row, chord) / _FINER, _LEAST) for row in close}
        shell = restored(put_together(body, chord, finer))
    return shell


def near_misses(shell: Shell, chord: float, finer: dict[int, float]) -> set[int]:
    """Return the round surfaces (rows) of which a place lies within twice the chord of a patch of another part that it does not border on."""
    bordering = {(int(a), int(b)) for a, b in shell.curve_sides} | {(int(b), int(a)) for a, b in shell.curve_sides}
    touching = _at_corners(shell) | bordering
    kinds = shell.surfaces.kind[shell.patch_surface]
    if not (kinds != PLANE).any():
        return set()
    own = _places_of(shell)
    low = np.array([shell.places[rows].min(axis=0) for rows in own])
    high = np.array([shell.places[rows].max(axis=0) for rows in own])
    found: set[int] = set()
    for k in np.flatnonzero(kinds != PLANE).tolist():
        row = int(shell.patch_surface[k])
        within = 2.0 * finer.get(row, chord)
        near = ((low[k] - high <= within) & (low - high[k] <= within)).all(axis=1)
        near &= (shell.patch_part != shell.patch_part[k]) & (shell.patch_surface != row)
        for other in np.flatnonzero(near).tolist():
            if (k, other) not in touching and _gap(shell, own[k], own[other], k, other, within):
                found.add(row)
                if kinds[other] != PLANE:
                    found.add(int(shell.patch_surface[other]))
    return found


def _places_of(shell: Shell) -> list[Ints]:
    """Return the places of each patch."""
    pairs = np.unique(np.column_stack([np.repeat(shell.patch, 3), shell.rows.reshape(-1)]), axis=0)
    return np.split(pairs[:, 1], np.flatnonzero(np.diff(pairs[:, 0])) + 1)


def _at_corners(shell: Shell) -> set[tuple[int, int]]:
    """Pairs of patches that meet in a corner."""
    at: dict[int, set[int]] = {}
    for rows, patch in zip(shell.rows.tolist(), shell.patch.tolist(), strict=True):
        for place in rows:
            at.setdefault(place, set()).add(patch)
    return {(a, b) for patches in at.values() if len(patches) > 2 for a in patches for b in patches if a != b}


def _gap(shell: Shell, mine: Ints, others: Ints, k: int, other: int, within: float) -> bool:
    """Whether two patches come close: places of the one near the surface of the other, and over a triangle of it."""
    for places, patch in ((shell.places[mine], other), (shell.places[others], k)):
        f, slope = shell.surfaces.at(np.full(len(places), shell.patch_surface[patch]), places)
        size = np.maximum(np.sqrt((slope * slope).sum(axis=1)), 1e-12)
        near = np.flatnonzero(np.abs(f) / size < within)
        if len(near):
            corners = shell.places[shell.rows[shell.patch == patch]]
            if any(over_triangles(places[n], slope[n] / size[n], corners, _RIM).any() for n in near):
                return True
    return False
