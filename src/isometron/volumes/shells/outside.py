"""The outside of each kind of volume, solid and without openings, as parts in its own axes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np

from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.shell.parts import Part, block
from isometron.geometry.shell.prisms import Prism
from isometron.geometry.shell.spun import Side, Spun
from isometron.geometry.shell.surfaces import cross
from isometron.geometry.shell.united import NoShellError, Put, united
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.arch import Arch, outline_of, plane_axes
from isometron.volumes.box import Box
from isometron.volumes.cut.body import used_outlines
from isometron.volumes.cut.faces import side_names
from isometron.volumes.cut.profiles import VIEWS, CutBody
from isometron.volumes.faces.arch import outline_names
from isometron.volumes.framed import Framed, framed_parts
from isometron.volumes.profile import profile_sides
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = ["BOX_NAMES", "chord_of", "cut_by_outlines", "outside_of"]

BOX_NAMES = ("x0", "x1", "y0", "y1", "z0", "z1")
_OVER = 1.0
"""mm that an outline is carried beyond what it cuts, so that no end of it lies on a face."""
_CHORD, _BOTH_WAYS, _FINEST, _COARSEST = 1.0 / 9600.0, 1.0 / 2400.0, 0.02, 2.0


def chord_of(volume: Volume) -> float:
    """Return how far chords may lie within rounds of a volume, mm: they tell who borders on whom, not where."""
    # What bends both ways has chords both ways: as many as both squared.
    part = (
        _BOTH_WAYS
        if isinstance(volume, Turned) and any(side.kind != "straight" for side in profile_sides(volume.profile))
        else _CHORD
    )
    return float(np.clip(part * np.sqrt(sum(s * s for s in volume.size)), _FINEST, _COARSEST))


def outside_of(volume: Volume) -> Put:
    """Return the parts of a volume's outside; raises `NoShellError` in words for a body that has none."""
    return _OUTSIDE[type(volume)](volume)


def _box(volume: Volume) -> Put:
    return united(block(np.zeros(3), np.array(volume.size), BOX_NAMES))


def _framed(volume: Volume) -> Put:
    assert isinstance(volume, Framed)
    parts = framed_parts(volume).items()
    return united(
        *(
            block(np.array(low), np.array(high), tuple(f"{name}.{side}" for side in BOX_NAMES))
            for name, (low, high) in parts
        )
    )


def _arch(volume: Volume) -> Put:
    assert isinstance(volume, Arch)
    outline = outline_of(volume)
    if not len(outline.corners):
        raise NoShellError(tr("The opening leaves nothing of the arch: make its piers or its crown thicker."))
    a, b, k = plane_axes(volume.through)
    straight = dict(outline_names(volume, outline, a, b))
    names = tuple(straight.get(n, f"bend.{n}") for n in range(len(outline.corners)))
    return united(_carried(outline, (a, b), (0.0, volume.size[k]), names, (f"{'xyz'[k]}0", f"{'xyz'[k]}1")))


def _carried(
    outline: Outline, axes: tuple[int, int], reach: tuple[float, float], sides: Sequence[str], ends: tuple[str, str]
) -> Prism:
    """Return an outline in two own directions carried along the third one from ``reach[0]`` to ``reach[1]``."""
    x, y = np.eye(3)[axes[0]], np.eye(3)[axes[1]]
    k = 3 - sum(axes)
    back = cross(x, y)[k] < 0.0
    place = np.zeros(3)
    place[k] = reach[1] if back else reach[0]
    return Prism(outline, place, x, y, reach[1] - reach[0], tuple(sides), ends[::-1] if back else ends)


def _cut(volume: Volume) -> Put:
    assert isinstance(volume, CutBody)
    outlines = used_outlines(volume.size, (volume.side, volume.plan, volume.front))
    names = [side_names(volume, view) for view in VIEWS]
    return cut_by_outlines(volume.size, outlines, names)


def cut_by_outlines(
    size: Sequence[float], outlines: Sequence[Outline], names: Sequence[Sequence[str]], low: float = 0.0
) -> Put:
    """Return what the outlines of the three views leave of a block from ``low`` on all sides; names of their sides, none of a view that cuts nothing."""
    cutting = [k for k in range(3) if len(names[k])]
    bounds = np.array([[low, s - low] for s in size])
    for k in cutting:  # what a view bounds the block leaves to it
        for axis in VIEW_AXES[k]:
            bounds[axis] += (-_OVER, _OVER)
    parts: list[Part] = []
    for k in cutting:
        along = 3 - sum(VIEW_AXES[k])
        reach = float(bounds[along, 0]) - _OVER, float(bounds[along, 1]) + _OVER
        parts.append(_carried(outlines[k], VIEW_AXES[k], reach, names[k], ("", "")))
    whole = block(bounds[:, 0], bounds[:, 1], BOX_NAMES)
    return Put("common", (*parts, whole)) if parts else united(whole)


def _turned(volume: Volume) -> Put:
    assert isinstance(volume, Turned)
    k = DIRECTIONS.index(volume.axle)
    half, axes = np.array(volume.size) / 2.0, np.eye(3)
    first, second = (half[(k + step) % 3] * axes[(k + step) % 3] for step in (1, 2))
    middle = half * (np.arange(3) != k)
    return spun_body(_sides(volume), middle, volume.size[k] * axes[k], first, second, chord_of(volume))


def spun_body(sides: Sequence[Side], place: Floats, axle: Floats, first: Floats, second: Floats, chord: float) -> Put:
    """Return a profile turned about an axle; where it has no width for a place or a stretch, several bodies."""
    runs: list[list[Side]] = [[]]
    for side in sides:
        if max(side.one[1], side.two[1]) <= CLOSE:
            runs.append([])
            continue
        if side.one[1] <= CLOSE and runs[-1]:
            runs.append([])
        runs[-1].append(side)
    bodies = [
        Spun(tuple(run), place, axle, first, second, chord, ("end.0", "end.1")) for run in runs if _has_room(run)
    ]
    if not bodies:
        raise NoShellError(tr("The profile has no width: make one of its rings wider."))
    return united(*bodies)


def _has_room(run: Sequence[Side]) -> bool:
    return bool(run) and run[-1].two[0] - run[0].one[0] > CLOSE


def _sides(volume: Turned) -> list[Side]:
    found: list[Side] = []
    for side in profile_sides(volume.profile):
        one, two = (side.one.at, _wide(side.one.wide)), (side.two.at, _wide(side.two.wide))
        if abs(two[0] - one[0]) <= CLOSE and abs(two[1] - one[1]) <= CLOSE:
            continue
        if side.kind == "round" and abs(two[0] - one[0]) > CLOSE and abs(two[1] - one[1]) > CLOSE:
            middle = (two[0], one[1]) if two[1] >= one[1] else (one[0], two[1])
            found.append(Side(one, two, middle=middle))
        elif side.kind == "smooth" and abs(two[0] - one[0]) > CLOSE:
            found.append(Side(one, two, slopes=side.slopes))
        else:
            found.append(Side(one, two))
    for before, after in pairwise(found):
        if before.two != after.one:
            raise NoShellError(tr("The profile is not in one piece: its rings lie in no order."))
    return found


def _wide(wide: float) -> float:
    return 0.0 if wide <= HAIR else wide


_OUTSIDE: dict[type[Volume], Callable[[Volume], Put]] = {
    Box: _box,
    Framed: _framed,
    Arch: _arch,
    CutBody: _cut,
    Turned: _turned,
}
