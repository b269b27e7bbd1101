"""Rolled rims: beads laid round a body at a height, as bodies of their own that are joined to it and follow it."""

from __future__ import annotations

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError
from isometron.document.shapes.companions import laid_by
from isometron.document.shapes.shaping import shared_fields
from isometron.geometry.faces.insets import polygon_inset
from isometron.geometry.frames import Floats
from isometron.volumes.box import Box, box_corners
from isometron.volumes.cut.corners import CutProfile, ProfileCorner
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.turned import round_side
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.edges import outer_edges
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.sections.lines import sections_of
from isometron.volumes.sections.plane import KeptPlane
from isometron.volumes.turned import ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = ["rolled_rim"]

_FLAT = 0.02
"""Of the radius: what stays flat between the rounds above and below, for which there must be room."""


def rolled_rim(document: Document, volume_id: str, high: float, radius: float) -> Edit:
    """Lay a bead of a radius round a body, its middle at a height over the foot, mm; of a turned body along its axle from its start.

    It goes round blocks, round cut bodies whose section there is one outline of straight sides, and round turned ones. Raises
    `DocumentError` in words.
    """
    volume = document.volume(volume_id)
    axis = DIRECTIONS.index(volume.axle) if isinstance(volume, Turned) else 2
    if not (radius > 0.0 and radius <= high <= volume.size[axis] - radius):
        raise DocumentError(
            tr(
                "A rim of this radius has its middle from {low:.6g} to {high:.6g} mm.",
                low=radius,
                high=volume.size[axis] - radius,
            )
        )
    if isinstance(volume, Turned):
        rim = _round_turned(volume, axis, high, radius)
    elif isinstance(volume, Box):
        rim = _rounded(
            _beside(Box, volume, (-radius, -radius, high - radius), _wider(volume.size, 2, radius)), radius
        )
    elif isinstance(volume, CutBody):
        rim = _rounded(_round_cut(volume, high, radius), radius)
    else:
        raise DocumentError(
            tr("A rim goes round blocks, cut bodies and turned ones; {volume} is none.", volume=volume.name)
        )
    follows = [] if isinstance(volume, CutBody) else [k for k in range(3) if k != axis]
    names = tr("Rim of {volume}", volume=volume.name), "rim"
    return laid_by(document, volume, rim, names, follows, tr("lay a rim round {volume}", volume=volume.name))


Size = tuple[float, float, float]


def _wider(size: Size, axis: int, radius: float) -> Size:
    """Return a size so much wider on both sides, and twice the radius along ``axis``."""
    x, y, z = (2 * radius if k == axis else s + 2 * radius for k, s in enumerate(size))
    return x, y, z


def _beside(
    kind: type, volume: Volume, start: tuple[float, float, float] | Floats, size: Size, **fields: object
) -> AnyVolume:
    """Return a bare volume that stands as another does, from a place (3,) of its own directions, mm."""
    corners, rotations = box_corners([volume])
    x, y, z = (corners[0, 0] + rotations[0] @ np.asarray(start, dtype=float)).tolist()
    bare = msgspec.structs.replace(
        volume, marks=(), wall=0.0, rounded=(), joined=None, keep=None, copies=(), mirror=None, says=()
    )
    made: AnyVolume = kind(**shared_fields(bare) | {"corner": (x, y, z), "size": size} | fields)
    return made


def _round_turned(volume: Turned, axis: int, high: float, radius: float) -> AnyVolume:
    side = round_side(volume)
    wide = float(side.radius(np.array([high]))[0][0]) / max(side.flattened)
    across = [k for k in range(3) if k != axis]
    start, size = np.zeros(3), [2 * radius] * 3
    for k in across:
        own = wide * volume.size[k] / max(volume.size[j] for j in across) * 2.0
        start[k], size[k] = (volume.size[k] - own) / 2.0 - radius, own + 2 * radius
    start[axis] = high - radius
    own = 1.0 - 2.0 * radius / max(size[k] for k in across)
    bead = (
        ProfileRing(at=0.0, wide=own, then="round"),
        ProfileRing(at=0.5, wide=1.0, then="round"),
        ProfileRing(at=1.0, wide=own),
    )
    return _beside(Turned, volume, start, (size[0], size[1], size[2]), axle=volume.axle, profile=bead,
                   steer_deg=volume.steer_deg, lean_deg=volume.lean_deg)  # fmt: skip


def _round_cut(volume: CutBody, high: float, radius: float) -> AnyVolume:
    plane = KeptPlane(id="rim", name="rim", of=volume.id, across="high", at=Measured(mm=high), only=(volume.id,))
    bare = msgspec.structs.replace(volume, marks=(), wall=0.0, copies=(), mirror=None)
    found = sections_of(plane, (bare,))
    pieces = [piece for outlined, _ in found for piece in outlined.pieces]
    loops = [loop for outlined, _ in found for loop in outlined.loops]
    if len(loops) != 1 or any(piece.sweep for piece in pieces):
        raise DocumentError(
            tr(
                "At this height {volume} has no outline of straight sides in one: a rim goes round such outlines.",
                volume=volume.name,
            )
        )
    cutting = found[0][1]
    corners, rotations = box_corners([volume])
    world = np.concatenate([cutting.world(piece.at(np.zeros(1))) for piece in loops[0]])
    flat = ((world - corners[0, 0]) @ rotations[0])[:, :2]
    outer = polygon_inset(flat, -radius)
    low, reach = outer.min(axis=0), np.ptp(outer, axis=0)
    plan = CutProfile.through(ProfileCorner(at=(float(x), float(y))) for x, y in (outer - low) / reach)
    return _beside(
        CutBody, volume, (low[0], low[1], high - radius), (float(reach[0]), float(reach[1]), 2 * radius), plan=plan
    )


def _rounded(rim: AnyVolume, radius: float) -> AnyVolume:
    """Return a slab with the edges round its top and its foot rounded."""
    rotation = box_corners([rim])[1][0]
    level = [edge for edge in outer_edges(rim) if abs(float((edge.ends[1] - edge.ends[0]) @ rotation[:, 2])) < radius]
    own = radius * (1.0 - _FLAT)
    return msgspec.structs.replace(
        rim, rounded=tuple(RoundedEdge(between=edge.between, radius=own) for edge in level)
    )
