"""The bent sides of a cut body, by ids that stay with the corners of its profiles."""

from __future__ import annotations

from functools import lru_cache, partial

import numpy as np

from isometron.geometry.faces.cutting import CutFaces
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.cut.body import cut_at_rest
from isometron.volumes.cut.faces import side_names
from isometron.volumes.cut.profiles import VIEWS, CutBody
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.volume import Volume

__all__ = ["bent_sides", "cut_sides"]


def cut_sides(volume: Volume) -> dict[str, RoundSurface]:
    """Return the round sides of a cut body in the world: each goes by its view, and the number of the corner that is rounded
    (``side.4.round``), or that the bowed side begins at (``side.4.bow``)."""
    assert isinstance(volume, CutBody)
    bounds, rotations = box_corners([volume])
    found = _at_rest(volume.size, volume.side, volume.plan, volume.front)
    return {name: side.placed(rotations[0], bounds[0, 0]) for name, side in found.items()}


@lru_cache(maxsize=128)
def _at_rest(*shape: object) -> dict[str, RoundSurface]:
    size, side, plan, front = shape
    volume = CutBody(id="cut", name="cut", corner=(0.0, 0.0, 0.0), size=size, side=side, plan=plan, front=front)  # type: ignore[arg-type]
    cut, _ = cut_at_rest(volume)
    names = [side_names(volume, view) for view in VIEWS]
    found: dict[str, RoundSurface] = {}
    for number, bent in bent_sides(cut).items():
        plane = int(np.flatnonzero(cut.bend == number)[0])
        own = [view[int(side)] for view, side in zip(names, cut.sides[plane], strict=True) if view and side >= 0]
        if own:
            found.setdefault(own[0], bent)
    return found


def bent_sides(cut: CutFaces) -> dict[int, RoundSurface]:
    """Return the rounds of a cut body of which something is left, and that are circles, as far along as they reach."""
    found = {}
    bend = cut.bend[cut.face]
    for number in np.unique(bend[bend >= 0]).tolist():
        centre, first, second, way = cut.rounds[number].reshape(4, 3)
        start, sweep = cut.span[number]
        radius = float(np.sqrt(first @ first))
        if abs(float(np.sqrt(second @ second)) - radius) > HAIR * radius:
            continue
        first, second = first / radius, second / radius
        places = cut.ends[bend == number].reshape(-1, 3) - centre
        low, high = float((places @ way).min()), float((places @ way).max())
        one = np.cos(start) * first + np.sin(start) * second
        two = np.sign(sweep) * (np.cos(start) * second - np.sin(start) * first)
        found[number] = RoundSurface(
            centre + low * way,
            way,
            one,
            two,
            radius,
            partial(_level, radius),
            long=high - low,
            turn=abs(float(sweep)),
            hollow=bool(sweep < 0.0),
        )
    return found


def _level(radius: float, along: Floats) -> tuple[Floats, Floats]:
    """Return the radius of a cylinder, and how it grows."""
    return np.full(len(along), radius), np.zeros(len(along))
