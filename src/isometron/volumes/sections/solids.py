"""Volumes as solids that a plane cuts: what regions of the plane have in common, see `sections.regions`."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.sections.pieces import Piece, arc, straight
from isometron.geometry.sections.planes import Cutting
from isometron.geometry.sections.regions import Region, Solid
from isometron.geometry.shell.cutting import Run, cut_by
from isometron.volumes.box import box_corners
from isometron.volumes.copies import copies_of
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.volume import Volume

__all__ = ["Standing", "cutting_of", "solids_of", "standing"]

_WITHIN = 0.01
"""mm that chords of a free curve may lie off its places: with these the line is within 0.015 mm of the true one."""


def cutting_of(place: Floats, normal: Floats, volumes: Sequence[Volume]) -> Cutting:
    """Return the plane through a place square to a direction, its own place brought near what stands there."""
    corners = np.concatenate([box_corners([volume])[0][0] for volume in volumes]) if volumes else np.zeros((1, 3))
    middle = (corners.min(axis=0) + corners.max(axis=0)) / 2.0
    normal = np.asarray(normal, dtype=float) / np.sqrt(np.dot(normal, normal))
    near = middle - float((middle - place) @ normal) * normal
    copies = (
        max(1.0, *(1.0 + sum(abs(r.pitch) * r.count for r in v.copies) / 1000.0 for v in volumes)) if volumes else 1.0
    )
    reach = 4.0 * (float(np.sqrt(((corners - near) ** 2).sum(axis=1)).max()) + 1.0) * copies
    return Cutting.through(near, normal, reach)


@dataclass(frozen=True)
class Standing:
    """A volume, or a copy or mirror image of it, that planes are to cut: what does not go by the plane is worked out once.

    owner : the place of its volume in the order.
    """

    volume: Volume
    owner: int

    def solids(self, cutting: Cutting) -> Iterator[Solid]:
        """Yield what a plane cuts out of it."""
        shell = shell_of(self.volume).shell
        if shell is None:
            return
        corner, rotation = self._stand
        place, normal = (cutting.origin - corner) @ rotation, cutting.normal @ rotation
        pieces = [
            piece for loop in cut_by(shell, place, normal) for run in loop for piece in self._pieces(cutting, run)
        ]
        if pieces:
            yield Solid((Region(tuple(pieces)),), (), self.owner, plain=True)

    def _pieces(self, cutting: Cutting, run: Run) -> list[Piece]:
        """Return a part of a loop on the plane."""
        corner, rotation = self._stand

        def flat(ways: Floats) -> Floats:
            turned = ways @ rotation.T
            return np.column_stack([turned @ cutting.x, turned @ cutting.y])

        ends = flat(run.points) + flat((corner - cutting.origin)[None] @ rotation)
        if run.arc is None:
            return [straight(one, two) for one, two in pairwise(_thinned(ends))]
        centre = flat((run.arc[:3] + (corner - cutting.origin) @ rotation)[None])[0]
        first, second = flat(run.arc[3:9].reshape(2, 3))
        return arc(centre, first, second, float(run.arc[9]), float(run.arc[10]))

    @cached_property
    def _stand(self) -> tuple[Floats, Floats]:
        return stand_of(self.volume)


def _thinned(places: Floats) -> Floats:
    """Return places (N, 2) without those that the chords of the others pass within a hair (Douglas and Peucker 1973)."""
    from shapely import LineString, simplify

    if len(places) < 3:
        return places
    found: Floats = np.asarray(simplify(LineString(places), _WITHIN, preserve_topology=False).coords)
    return found


def standing(volumes: Sequence[Volume], named: Mapping[str, Volume]) -> list[Standing]:
    """Return volumes, their copies and mirror images, as what planes are to cut."""
    return [Standing(copy, row) for row, v in enumerate(volumes) for copy in copies_of(v, lambda: named)]


def solids_of(bodies: Sequence[Standing], cutting: Cutting) -> list[Solid]:
    """Return what a plane cuts out of bodies; owners are theirs."""
    return [solid for body in bodies for solid in body.solids(cutting)]
