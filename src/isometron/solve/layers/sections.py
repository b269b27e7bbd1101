"""The lines along which kept planes cut what stands there, and the planes themselves as pale panes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from isometron.document.model import Document
from isometron.geometry.cubics import at, spline_through
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Curves
from isometron.solve.layers.curves import drawn_curves
from isometron.solve.layers.layer import Layer, Seen
from isometron.solve.layers.rounds import drawn_rings
from isometron.solve.marks import NOBODY, NOTHING, Fills, Lines, Marks, Role
from isometron.solve.picture import Picture, ruled
from isometron.volumes.box import box_corners
from isometron.volumes.sections.lines import cut_by
from isometron.volumes.sections.plane import KeptPlane, PlaneLine, line_on_plane, plane_at, plane_surface
from isometron.volumes.sections.solids import cutting_of

__all__ = ["SECTIONS"]

_PALE = 0.05
_MARGIN = 0.08
_ARC = 24
"""Cubic pieces of an arc on a plane."""
_MANY = 40
"""Volumes above which sections wait for the hand to let go."""


def _marks(seen: Seen) -> Marks:
    """Return the lines of all planes that cut, and the panes of those that are shown."""
    document = seen.document
    if not document.planes:
        return NOTHING
    found = [_pane(seen, plane) for plane in document.planes if plane.shown]
    found += [_line(seen, plane, line) for plane in document.planes for line in plane.lines]
    for soft in (False, True):
        planes = [plane for plane in document.planes if plane.cuts and plane.soft is soft]
        if planes and document.volumes:
            found.append(_cuts(seen, planes, soft=soft))
    return Marks.joined(found) if found else NOTHING


def _cuts(seen: Seen, planes: Sequence[KeptPlane], *, soft: bool) -> Marks:
    picture, scene = seen.picture, seen.picture.scene
    lines = cut_by(planes, seen.document.volumes, seen.document.cutting)
    first = np.cumsum(scene.unit_counts) - scene.unit_counts
    straight = _straight(seen, lines.straight, first[lines.owner], scene.turned[lines.owner], soft=soft)
    count = len(lines.rings)
    curves = Curves.rings(
        lines.rings,
        lines.spans,
        first[lines.ring_owner],
        np.ones(count, dtype=bool),
        -scene.turned[lines.ring_owner].astype(np.intp),
    )
    if not count:
        return Marks(lines=straight)
    arcs, more = drawn_rings(
        picture, curves, np.full(count, soft), np.ones(count, dtype=bool), seen.reach, hidden=seen.hidden
    )
    return Marks(
        arcs=replace(arcs, owner=_nobody(arcs.owner)),
        lines=Lines.joined([straight, replace(more, owner=_nobody(more.owner))]),
    )


def _nobody(owner: Ints) -> Ints:
    """A section lies over several volumes as one line: it belongs to none of them."""
    return np.full(len(owner), NOBODY)


def _straight(seen: Seen, ends: Floats, unit: Ints, turned: Bools, *, soft: bool) -> Lines:
    picture: Picture = seen.picture
    parts = picture.hiders.hidden(Curves.lines(ends, unit, np.ones(len(ends), dtype=bool), -turned.astype(np.intp)))
    points, line, back = ruled(picture.eye, ends, seen.reach, parts, with_hidden=seen.hidden and not soft)
    role = np.full(len(line), Role.CONSTRUCTION if soft else Role.OBJECT, dtype=np.int8)
    role[back] = Role.HIDDEN
    return Lines(points, role, _nobody(line), _nobody(line))


def _line(seen: Seen, plane: KeptPlane, line: PlaneLine) -> Marks:
    """Return a line drawn on a plane: hidden behind what stands before it."""
    surface = plane_surface(plane, {volume.id: volume for volume in seen.document.volumes})
    if surface is None:
        return NOTHING
    path, scene = line_on_plane(line), seen.picture.scene
    straight = np.array([surface.world(run) for run in path.lines()]).reshape(-1, 2, 3)
    pieces = [surface.world(path.cubic().reshape(-1, 2)).reshape(-1, 4, 3)]
    for bend in path.arcs():
        places = surface.world(bend.at(bend.start + bend.sweep * np.linspace(0.0, 1.0, _ARC + 1)))
        pieces.append(spline_through(places))
    curved = np.concatenate(pieces)
    asking = np.flatnonzero(~scene.only_hides[scene.unit_owner])
    if not len(asking):  # nothing stands that could hide it
        chords = at(curved, np.linspace(0.0, 1.0, 9))
        ends = np.concatenate([straight, np.stack([chords[:, :-1], chords[:, 1:]], axis=2).reshape(-1, 2, 3)])
        points, rows, _ = ruled(seen.picture.eye, ends, seen.reach)
        return (
            Marks(lines=Lines.of(points, Role.CONSTRUCTION if line.soft else Role.OBJECT)) if len(rows) else NOTHING
        )
    # As a mark of any one of the volumes, which hides its marks as it hides what is behind it.
    none, soft = np.zeros(len(straight), dtype=bool), np.full(len(curved), line.soft)
    lines = _straight(seen, straight, np.full(len(straight), asking[0]), none, soft=line.soft)
    found = (
        drawn_curves(seen, curved, np.full(len(curved), asking[0]), soft, np.zeros(len(curved), dtype=bool))
        if len(curved)
        else NOTHING
    )
    own = replace(found.lines, owner=_nobody(found.lines.owner))
    return Marks(lines=Lines.joined([lines, own]), curves=replace(found.curves, owner=_nobody(found.curves.owner)))


def _pane(seen: Seen, plane: KeptPlane) -> Marks:
    """Return a plane as a pale pane round what it goes with, or round all that stands."""
    document, eye = seen.document, seen.document.eye
    named = {volume.id: volume for volume in document.volumes}
    found = plane_at(plane, named)
    if found is None:
        return NOTHING
    about = [named[plane.of]] if plane.of in named else [v for v in document.volumes if not v.put_away]
    if not about:
        return NOTHING
    cutting = cutting_of(*found, about)
    corners = np.concatenate([box_corners([volume])[0][0] for volume in about]) - cutting.origin
    flat = np.column_stack([corners @ cutting.x, corners @ cutting.y])
    low, high = flat.min(axis=0), flat.max(axis=0)
    edge = _MARGIN * float((high - low).max())
    low, high = low - edge, high + edge
    ring = cutting.world(np.array([low, [high[0], low[1]], high, [low[0], high[1]]]))
    paper, depth = eye.project(ring)
    if not (depth > 0.0).all():
        return NOTHING
    points = np.hstack([paper, np.roll(paper, -1, axis=0)])
    return Marks(fills=Fills.of([[paper]], _PALE), lines=Lines.of(points, Role.GUIDE))


def _leans_on(document: Document, rows: Sequence[int]) -> bool:
    return bool(document.planes)


def _waits(document: Document) -> bool:
    return bool(document.planes) and (
        len(document.volumes) > _MANY or any(plane.cuts and plane.every > 0.0 for plane in document.planes)
    )


SECTIONS = Layer(_marks, leans_on=_leans_on, waits=_waits)
