"""What runs round the patches of a shell: their corners in order, with the patch beyond each side."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.faces.meshes import Mesh
from isometron.geometry.frames import Floats
from isometron.geometry.shell.halves import after_in_patch, opposite_halves
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE

__all__ = ["Rims", "normals_at", "rims_of"]

_WIDTH = 12


@dataclass(frozen=True)
class Rims:
    """places, beyond : of each patch its loops, each as the rows of its places, counter-clockwise seen from outside (round holes the other way),
    and as the patch to the right of each of its sides."""

    places: tuple[tuple[tuple[int, ...], ...], ...]
    beyond: tuple[tuple[tuple[int, ...], ...], ...]

    def mesh(self, shell: Shell) -> Mesh:
        """Return the corners alone: where more than two patches meet. Frames are of flat patches, only the way out is told."""
        frames = np.zeros((len(self.places), _WIDTH))
        flat = shell.surfaces.kind[shell.patch_surface] == PLANE
        frames[flat, :3] = shell.surfaces.form[shell.patch_surface[flat], :3]
        frames[flat, 9:] = shell.surfaces.form[shell.patch_surface[flat], 3:6] * shell.patch_sign[flat, None]
        loops = tuple(
            tuple(
                tuple(v for k, v in enumerate(loop) if past[k - 1] != past[k])
                for loop, past in zip(loops, beyond, strict=True)
            )
            for loops, beyond in zip(self.places, self.beyond, strict=True)
        )
        return Mesh(shell.places, loops, frames)


def rims_of(shell: Shell) -> Rims:
    """Return what runs round the patches of a shell."""
    opposite = opposite_halves(shell.rows, len(shell.places))
    own = np.repeat(shell.patch, 3)
    is_side = own != own[opposite]
    half = np.flatnonzero(is_side)
    number = np.full(len(own), -1, dtype=np.intp)
    number[half] = np.arange(len(half))
    after = number[after_in_patch(half, opposite, is_side)].tolist()
    start, patch, past = shell.rows.reshape(-1)[half].tolist(), own[half].tolist(), own[opposite[half]].tolist()
    places: list[list[tuple[int, ...]]] = [[] for _ in shell.patch_surface]
    beyond: list[list[tuple[int, ...]]] = [[] for _ in shell.patch_surface]
    seen: set[int] = set()
    for head in range(len(half)):
        run, k = [], head
        while k not in seen:
            seen.add(k)
            run.append(k)
            k = after[k]
        if run:
            places[patch[head]].append(tuple(start[k] for k in run))
            beyond[patch[head]].append(tuple(past[k] for k in run))
    return Rims(tuple(map(tuple, places)), tuple(map(tuple, beyond)))


def normals_at(shell: Shell, patch: int, places: Floats) -> Floats:
    """Return the unit ways (N, 3) out of a patch at places (N, 3) on it."""
    _, slope = shell.surfaces.at(np.full(len(places), shell.patch_surface[patch]), places)
    found: Floats = slope * (shell.patch_sign[patch] / np.sqrt((slope * slope).sum(axis=1)))[:, None]
    return found
