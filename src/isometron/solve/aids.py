"""The lines that help and are not the object: horizon, cone of vision, and the leading edge's lines to the vanishing points."""

from __future__ import annotations

import numpy as np

from isometron.document.model import Document
from isometron.document.units import format_length
from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats, Ints
from isometron.solve.edge_ticks import fan_lines, tick_labels, tick_lines
from isometron.solve.grid import grid_lines
from isometron.solve.marks import NOBODY, Arcs, Label, Lines, Role
from isometron.solve.picture import Picture
from isometron.view.vanishing import box_vanishing, horizon
from isometron.wording import tr

__all__ = ["aid_arcs", "aid_labels", "aid_lines", "leading_edge", "lean_on"]


def aid_lines(document: Document, picture: Picture, reach: float) -> Lines:
    """Return the horizon, and for each see-through volume the lines from its leading edge to its vanishing points."""
    parts = [_horizon(picture, reach)]
    if document.show.grid_module > 0.0:
        parts.insert(0, grid_lines(document, picture, reach))
    if document.show.fan:
        parts.append(fan_lines(document, guide_directions(document, picture)))
    if document.show.edge_ticks:
        parts.append(tick_lines(document, guide_directions(document, picture)))
    scene = picture.scene
    parts += [
        _guides(picture, owner, reach) for owner in map(int, np.flatnonzero(scene.see_through & ~scene.put_away))
    ]
    return Lines.joined(parts)


def lean_on(document: Document, rows: Ints) -> bool:
    """Tell whether the aid lines or the lettering depend on any of the volumes ``rows``."""
    show, own = document.show, [document.volumes[row] for row in rows]
    return (
        show.names
        or show.grid_module > 0.0
        or any(volume.see_through or volume.id == show.guides_of for volume in own)
    )


def guide_directions(document: Document, picture: Picture) -> Floats:
    """Return the directions (columns) that ticks and fan serve: of the volume they were asked for, or the world's."""
    row = document.index_of(document.show.guides_of)
    return np.eye(3) if row is None else picture.scene.rotations[row]


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


def aid_arcs(picture: Picture) -> Arcs:
    """Return the circle of the cone of vision."""
    r = picture.eye.cone_radius
    shape = np.array([[0.0, 0.0, r, r, 0.0, 0.0, 2 * np.pi]])
    return Arcs(shape, np.array([Role.CONE], np.int8), np.array([NOBODY]))


def aid_labels(document: Document, picture: Picture) -> list[Label]:
    """Return the horizon's lettering at the sheet's left edge, and names of volumes where they are shown."""
    labels: list[Label] = []
    line = horizon(picture.eye)
    if document.show.construction and line is not None and abs(line.normal[1]) > 0.1:
        left, lower, _, upper = document.sheet.rectangle
        v = line.height_at(left + 5.0)
        if lower < v < upper:
            height = format_length(document.eye.position[2], document.unit)
            labels.append(Label(tr("HL  eye level {height}", height=height), left + 5.0, v - 4.6, Role.HORIZON))
    if document.show.construction and document.show.edge_ticks:
        labels += tick_labels(document, guide_directions(document, picture))
    if document.show.names:
        labels += _names(document, picture)
    return labels


def _names(document: Document, picture: Picture) -> list[Label]:
    labels = []
    for owner, volume in enumerate(document.volumes):
        if volume.put_away:
            continue
        rows = picture.scene.corner_rows[owner]
        if np.isfinite(picture.paper[rows]).all():
            u, v = picture.paper[rows].mean(axis=0)
            labels.append(Label(volume.name, float(u), float(v), Role.LETTERING, owner, anchor=0))
    return labels
