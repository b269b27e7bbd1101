"""The lines that help and are not the object: horizon, cone of vision, and the leading edge's lines to the vanishing points."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.marks import NOTHING, Arcs, Label, Lines, Marks, Role, Singles
from isometron.solve.picture import Picture
from isometron.view.vanishing import box_vanishing, horizon
from isometron.wording import tr

__all__ = ["AIDS_LAYER", "leading_edge"]

_HORIZON_INSET = 5.0


def _marks(seen: Seen) -> Marks:
    """Return the horizon with its lettering, the cone of vision, and each see-through volume's guides; nothing when the
    document leaves construction lines out."""
    if not seen.document.show.construction:
        return NOTHING
    picture, scene = seen.picture, seen.picture.scene
    lines = [_horizon(picture, seen.reach)]
    lines += [
        _guides(picture, row, seen.reach) for row in map(int, np.flatnonzero(scene.see_through & ~scene.put_away))
    ]
    return Marks(lines=Lines.joined(lines), arcs=_cone(picture), labels=_lettering(seen.document, picture))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return any(document.volumes[row].see_through for row in rows)


def _horizon(picture: Picture, reach: float) -> Lines:
    line = horizon(picture.eye)
    ends = np.zeros((0, 4)) if line is None else line.ends(2 * reach + abs(line.offset))[None]
    return Lines.of(clip_to_rectangle(ends, -reach, -reach, reach, reach), Role.HORIZON)


def leading_edge(picture: Picture, owner: int) -> int | None:
    """Return the row of the volume's upright nearest to the eye, or None when part of it is behind the eye plane."""
    rows = picture.scene.edges_of(owner)
    upright = np.arange(rows.start, rows.stop)[picture.scene.edge_axis[rows] == 2]
    if len(upright) == 0:
        return None
    depth = picture.camera[picture.scene.edges[upright], 2]
    edge = int(upright[np.argmin(depth.sum(axis=1))])
    return edge if np.isfinite(picture.paper[picture.scene.edges[edge]]).all() else None


def _guides(picture: Picture, owner: int, reach: float) -> Lines:
    edge = leading_edge(picture, owner)
    points = box_vanishing(picture.eye, picture.scene.rotations[owner])
    finite = [v.at for v in points[:2] if v.at is not None]
    if edge is None or not finite:
        return Lines.of(np.zeros((0, 4)), Role.GUIDE, owner)
    ends: Floats = picture.paper[picture.scene.edges[edge]]
    lines = np.array([[*end, *at] for end in ends for at in finite])
    return Lines.of(clip_to_rectangle(lines, -reach, -reach, reach, reach), Role.GUIDE, owner)


def _cone(picture: Picture) -> Arcs:
    """Return the circle of the cone of vision."""
    r = picture.eye.cone_radius
    return Arcs.of(np.array([[0.0, 0.0, r, r, 0.0, 0.0, 2 * np.pi]]), Role.CONE)


def _lettering(document: Document, picture: Picture) -> Singles[Label]:
    """Return the horizon's lettering, at the sheet's left edge if that is free."""
    line = horizon(picture.eye)
    if line is None or abs(line.normal[1]) <= 0.1:
        return Singles()
    left, lower, right, upper = document.sheet.rectangle
    v = line.height_at(left + _HORIZON_INSET)
    if not lower < v < upper:
        return Singles()
    words = tr("HL  eye level {height}", height=format_length(document.eye.position[2], document.unit))
    free = (right - left, 12.0)
    short = tr("HL {height}", height=format_length(document.eye.position[2], document.unit))
    return Singles((Label(words, left + _HORIZON_INSET, v - 4.6, Role.HORIZON, free=free, short=short),))


AIDS_LAYER = Layer(_marks, leans_on=_leans_on)
