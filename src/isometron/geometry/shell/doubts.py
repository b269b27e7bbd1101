"""What is not to be believed of a shell: walls without thickness, places that had to be moved far, loops that do not close."""

from __future__ import annotations

import numpy as np

from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE
from isometron.wording import tr

__all__ = ["doubled", "doubts"]

_AREA, _MOVED = 1e-3, 8.0
"""mm² of a wall without thickness; times the chord."""
_CLOSED = 1e-6


def doubts(shell: Shell, chord: float) -> list[str]:
    """Return words for each thing that is doubtful of a shell whose rounds were made with so long chords, mm; none of a sound one."""
    found = []
    area = doubled(shell)
    if area > _AREA:
        found.append(
            tr(
                "{area:.4g} mm² of its walls have no thickness: move what lies on one plane apart, or on to each other.",
                area=area,
            )
        )
    if shell.moved > _MOVED * chord:
        found.append(
            tr(
                "A corner came out {far:.3g} mm from where it was made: rounds nearly touch there. Move them apart.",
                far=shell.moved,
            )
        )
    if _open_loops(shell):
        found.append(tr("{count} of its faces do not close.", count=_open_loops(shell)))
    return found


def doubled(shell: Shell) -> float:
    """Return how many mm² of flat patches lie on patches that look the other way: 0 of a sound shell."""
    import shapely

    area = 0.0
    for row in np.unique(shell.patch_surface).tolist():
        mine = np.flatnonzero(shell.patch_surface == row)
        if shell.surfaces.kind[row] != PLANE or len(np.unique(shell.patch_sign[mine])) < 2:
            continue
        flat = np.delete(shell.places, int(np.abs(shell.surfaces.form[row, 3:6]).argmax()), axis=1)
        sides = []
        for sign in (1.0, -1.0):
            own = np.isin(shell.patch, mine[shell.patch_sign[mine] == sign])
            sides.append(shapely.union_all(shapely.polygons(flat[shell.rows[own]])))
        area += float(sides[0].intersection(sides[1]).area)
    return area


def _open_loops(shell: Shell) -> int:
    """Return how many loops have a curve that does not begin where the one before it ends."""
    found = 0
    for start, end in zip(shell.loop_first[:-1].tolist(), shell.loop_first[1:].tolist(), strict=True):
        ends = []
        for curve, forward in zip(
            shell.loop_curve[start:end].tolist(), shell.loop_forward[start:end].tolist(), strict=True
        ):
            path = shell.curve(curve)
            ends.append((path[0], path[-1]) if forward else (path[-1], path[0]))
        gaps = [float(np.abs(ends[k - 1][1] - ends[k][0]).max()) for k in range(len(ends))]
        found += max(gaps) > _CLOSED
    return found
