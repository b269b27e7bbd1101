"""The round parts of a picture: rings as elliptical arcs, outlines, spokes, and what round bodies hide of straight edges."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.chains import chained
from isometron.geometry.faces.sheets import sheet_outlines
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import dome_contours
from isometron.geometry.hiding import Curves, Parts
from isometron.geometry.intervals import united
from isometron.geometry.piece_loops import camera_rings
from isometron.geometry.shell.facets import facet_outlines
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.geometry.turning import crease_contours, turning_lines
from isometron.solve.layers.layer import Layer, Seen, own_bounds
from isometron.solve.layers.own_outlines import own_domes, own_outlines
from isometron.solve.marks import NOBODY, NOTHING, Arcs, Lines, Marks, Role
from isometron.solve.picture import Picture, ruled
from isometron.view.eye import Eye
from isometron.volumes.rounds import RoundParts
from isometron.volumes.scene import Scene

__all__ = ["ROUNDS", "drawn_rings", "outlines_of"]

_ON_EDGE = HAIR
"""A ring whose picture is thinner than this part of its length is drawn as a line."""


def _marks(seen: Seen) -> Marks:
    """Return the marks of all turned bodies: arcs, and lines for outlines, spokes and rings that are no ellipses."""
    picture, reach, hidden = seen.picture, seen.reach, seen.hidden
    scene = picture.scene
    if len(scene.drawn_rounds) == 0:
        return NOTHING
    arcs, lines = _rings(picture, reach, hidden=hidden)
    outlines, unit, spun, behind = outlines_of(picture.eye, scene.unit_rounds)
    whole = np.arange(len(outlines)), np.zeros(len(outlines)), np.ones(len(outlines))
    sides = _straight(picture, outlines, unit, whole, reach, (spun, behind), hidden=hidden)
    parts = scene.unit_rounds
    strokes = _straight(
        picture,
        parts.strokes,
        parts.stroke_owner,
        scene.stroke_spans,
        reach,
        is_mark=parts.stroke_is_mark,
        hidden=hidden,
    )
    found = Lines.joined([lines, sides, strokes])
    volume = scene.unit_owner
    return Marks(arcs=replace(arcs, owner=volume[arcs.owner]), lines=replace(found, owner=volume[found.owner]))


def _roles(scene: Scene) -> NDArray[np.int8]:
    """Return the role (U,) of what is seen of each unit of a volume."""
    return np.where(scene.see_through[scene.unit_owner], np.int8(Role.CONSTRUCTION), np.int8(Role.OBJECT))


def outlines_of(eye: Eye, rounds: RoundParts) -> tuple[Floats, Ints, Ints, Parts]:
    """Return the lines (N, 2, 3) where sight lines touch the sides, their owners, the spun bodies (N,) that they are on, -1 for none,
    and what these hide of their own.

    A straight side has two of them; a rounded one as many as it has, see `turning`. Of a rounded edge the part of the round
    that is there counts.
    """
    frusta, skins = rounds.frusta, rounds.skins
    ends, rows = frusta.contours(rounds.whole_sides, rounds.straight, eye.place)
    lines, bend, params = turning_lines(rounds.bends, rounds.bend_curve, eye.place, eye.axes[2], eye.viewing_distance)
    edges, skin = skins.contours(rounds.skin_span, np.ones(len(skins), dtype=bool), eye.place)
    bent, sheet = sheet_outlines(rounds.sheets, eye.place)
    touched, facet = facet_outlines(rounds.facets, eye.place)
    owner = np.concatenate(
        [
            frusta.owner[rows],
            rounds.bend_owner[bend],
            skins.owner[skin],
            rounds.sheet_owner[sheet],
            rounds.facet_owner[facet],
        ]
    )
    shown = np.concatenate([ends, lines, edges, bent, touched])
    spun = np.full(len(shown), -1, dtype=np.intp)
    spun[: len(ends) + len(bend)] = np.concatenate([rounds.spun[rows], rounds.bend_spun[bend]])
    spun[spun == 0] = -1
    behind = own_outlines(rounds, eye.place, (ends, rounds.spun[rows]), (bend, params))
    return shown, owner, spun, behind


def _straight(
    picture: Picture,
    ends: Floats,
    owner: Ints,
    spans: tuple[Ints, Floats, Floats],
    reach: float,
    outline: tuple[Ints, Parts] | None = None,
    is_mark: Bools | None = None,
    *,
    hidden: bool,
) -> Lines:
    """Draw the spans of lines (N, 2, 3): an ``outline`` of bodies, with the spun ones that it is on (N,) and what these hide of it, or
    strokes on them, with which of those ``is_mark`` (N,)."""
    marks = np.full(len(ends), outline is None) if is_mark is None else is_mark
    parts = picture.hiders.hidden(Curves.lines(ends, owner, marks, None if outline is None else outline[0]))
    parts = parts if outline is None else united(parts, outline[1])
    points, line, back = ruled(picture.eye, ends, reach, parts, spans, with_hidden=hidden)
    role = _roles(picture.scene)[owner[line]]
    role[back] = Role.HIDDEN
    own = owner[line]
    # Outlines come in short pieces: as one run, so that dashes go on over the joints.
    points, order = chained(points, own * len(Role) + role)
    return Lines(points, role[order], own[order], np.full(len(line), NOBODY))


def _hole_bottoms(eye: Eye, holes: Floats) -> tuple[Floats, Floats, Ints]:
    """Return what shows of the bottoms of holes: rings (G, 9) and spans (G, 2) on the plane of the rim, and the holes (G,).

    From the eye the bottom is carried onto the rim's plane, where it is a ring again (the planes are parallel); what lies
    within the rim is seen through it. Two like ellipses are two circles in the rim's own measure, so they cross where the
    text-book crossing of two circles says.
    """
    if len(holes) == 0:
        return np.zeros((0, 9)), np.zeros((0, 2)), np.zeros(0, dtype=np.intp)
    down = holes[:, 9:12]
    to_rim = np.einsum("hk,hk->h", holes[:, :3] - eye.place, down)
    depth = np.einsum("hk,hk->h", down, down)
    # The eye is before the face when it must go on downward to reach the rim.
    rows = np.flatnonzero(to_rim > CLOSE * depth)
    part = to_rim[rows] / (to_rim[rows] + depth[rows])
    centre = eye.place + part[:, None] * (holes[rows, :3] + down[rows] - eye.place)
    first, second = holes[rows, 3:6], holes[rows, 6:9]
    gap = centre - holes[rows, :3]
    x = np.einsum("hk,hk->h", gap, first) / np.einsum("hk,hk->h", first, first)
    y = np.einsum("hk,hk->h", gap, second) / np.einsum("hk,hk->h", second, second)
    away = np.hypot(x, y)
    # Points of the small circle within the unit circle: about the direction back to the rim's centre.
    with np.errstate(divide="ignore", invalid="ignore"):
        cosine = (1.0 - part**2 - away**2) / (2.0 * part * away)
    half = np.where(away <= 1.0 - part, np.pi, np.pi - np.arccos(np.clip(cosine, -1.0, 1.0)))
    half = np.where(away >= 1.0 + part, 0.0, half)
    start = np.arctan2(y, x) + np.pi - half
    kept = np.flatnonzero(half > HAIR)
    rings = np.hstack([centre, part[:, None] * first, part[:, None] * second])[kept]
    span = np.column_stack([start, 2 * half])[kept] / (2 * np.pi)
    return rings, span, rows[kept]


def _ring_outlines(eye: Eye, parts: RoundParts) -> tuple[Floats, Floats, Ints, Ints]:
    """Return outlines that are rings (G, 9) with their spans (G, 2): of domes, and of rings at which a side bends without a corner; their
    owners, and the spun bodies (G,) that they are on."""
    domes, span, row = dome_contours(parts.frusta, parts.domes, eye.place)
    if not len(parts.creases):
        return domes, span, parts.frusta.owner[row], parts.spun[row]
    rings, ring_span, crease = crease_contours(parts.creases, eye.place)
    return (
        np.concatenate([domes, rings]),
        np.concatenate([span, ring_span]),
        np.concatenate([parts.frusta.owner[row], parts.crease_owner[crease]]),
        np.concatenate([parts.spun[row], parts.crease_spun[crease]]),
    )


def _rings(picture: Picture, reach: float, *, hidden: bool) -> tuple[Arcs, Lines]:
    """Return the marks of rings, of the bottoms of holes, and of the outlines of what bulges, which are rings too."""
    eye, parts = picture.eye, picture.scene.unit_rounds
    bottoms, bottom_span, hole = _hole_bottoms(eye, parts.holes)
    domes, dome_span, dome_owner, spun = _ring_outlines(eye, parts)
    if len(hole) + len(domes) == 0:
        return drawn_rings(
            picture, parts.ring_curves, parts.ring_soft, picture.scene.rings_once, reach, hidden=hidden
        )
    count = len(hole) + len(domes)
    first = len(parts.rings) + len(hole)
    behind = own_domes(parts, eye.place, (domes, spun), dome_span)
    lenient = np.zeros(len(parts.rings) + count, dtype=np.intp)
    lenient[first:] = -1
    lenient[first : first + len(domes)] = np.where(spun > 0, spun, -1)
    curves = Curves.rings(
        np.concatenate([parts.rings, bottoms, domes]),
        np.concatenate([parts.ring_span, bottom_span, dome_span]),
        np.concatenate([parts.ring_owner, parts.hole_owner[hole], dome_owner]),
        np.concatenate([parts.ring_is_mark, np.ones(len(hole), dtype=bool), np.zeros(len(domes), dtype=bool)]),
        lenient,
    )
    soft = np.concatenate([parts.ring_soft, np.zeros(count, dtype=bool)])
    once = np.concatenate([picture.scene.rings_once, np.ones(count, dtype=bool)])
    behind = (behind[0] + first, *behind[1:])
    return drawn_rings(picture, curves, soft, once, reach, behind, hidden=hidden)


def drawn_rings(
    picture: Picture,
    rings: Curves,
    soft: Bools,
    once: Bools,
    reach: float,
    behind: Parts | None = None,
    *,
    hidden: bool,
) -> tuple[Arcs, Lines]:
    """Return the arcs of rings, and lines for those that are no ellipses; owners are those of ``rings``.

    soft : (G,) drawn as construction; once : (G,) those that are drawn at all; behind : what is hidden by their own bodies beside what
    the hiders tell; hidden : whether what is hidden is.
    """
    eye, owner = picture.eye, rings.owner
    parts = picture.hiders.hidden(rings)
    parts = parts if behind is None else united(parts, behind)
    camera = camera_rings(rings.at, eye.place, eye.axes)
    shapes, round_ = eye.lens.ellipses(camera)
    round_ &= shapes[:, 3] > _ON_EDGE * shapes[:, 2]
    pieces = eye.lens.arcs(camera, rings.span, shapes, round_)
    # Of a ring where the side has no corner only the near half is drawn: it is a section, not an edge.
    dashed = ~soft & hidden
    (shape, ring, back), (stretch, bent, bent_back) = pieces.cut(parts, dashed.view(np.uint8))
    if not once.all():
        own, bent_own = once[ring], once[bent]
        shape, ring, back = shape[own], ring[own], back[own]
        stretch, bent, bent_back = stretch[bent_own], bent[bent_own], bent_back[bent_own]
    role = _roles(picture.scene)[owner]
    role[soft] = Role.CONSTRUCTION
    roles = role[ring]
    roles[back] = Role.HIDDEN
    lines = _bent(eye, rings, bent, stretch, np.where(bent_back, Role.HIDDEN, role[bent]), reach)
    return Arcs(shape, roles, owner[ring]), lines


def _bent(eye: Eye, rings: Curves, ring: Ints, stretch: Floats, role: Ints, reach: float) -> Lines:
    """Draw stretches of rings that are no ellipses (seen on edge, or reaching the eye plane) as many short lines."""
    if len(ring) == 0:
        return NOTHING.lines
    steps = np.linspace(0.0, 1.0, 97)
    t = stretch[:, :1] + steps * (stretch[:, 1:] - stretch[:, :1])
    points = rings.points_at(ring, t)
    ends = np.stack([points[:, :-1], points[:, 1:]], axis=2).reshape(-1, 2, 3)
    row = np.repeat(ring, len(steps) - 1)
    points, line, _ = ruled(eye, ends, reach)
    roles = np.repeat(role, len(steps) - 1)[line].astype(np.int8)
    return Lines(points, roles, rings.owner[row[line]], np.full(len(line), NOBODY))


ROUNDS = Layer(_marks, own_bounds)
