"""The round parts of a picture: rings as elliptical arcs, outlines, spokes, and what round bodies hide of straight edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.clipping import clip_to_window
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import Frusta, contour_angles, dome_contours, turning_lines
from isometron.geometry.hiding import Curves
from isometron.geometry.intervals import complement
from isometron.solve.marks import NOBODY, Arcs, Lines, Role
from isometron.solve.picture import Picture
from isometron.view.eye import Eye
from isometron.view.ring_picture import rings_to_ellipses
from isometron.volumes.scene import Scene

__all__ = ["RoundMarks", "round_marks"]

Parts = tuple[Ints, Floats, Floats]


@dataclass(frozen=True)
class RoundMarks:
    """Marks of the round parts: elliptical arcs, and lines for outlines, spokes and rings that are no ellipses."""

    arcs: Arcs
    lines: Lines


def round_marks(picture: Picture, reach: float, *, hidden: bool) -> RoundMarks:
    """Return the marks of all turned bodies, hidden parts as marks of their own role or left out."""
    eye, scene = picture.eye, picture.scene
    if len(scene.rounds) == 0:
        nothing = Arcs(np.zeros((0, 7)), np.zeros(0, np.int8), np.zeros(0, np.intp))
        return RoundMarks(nothing, Lines.joined([]))
    arcs, lines = _rings(picture, reach, hidden=hidden)
    outlines, owner = _outlines(eye, scene)
    rounds = scene.rounds
    skins, skin_owner = _skin_outlines(eye, scene)
    ends = np.concatenate([outlines, skins, rounds.strokes])
    owners = np.concatenate([owner, skin_owner, rounds.stroke_owner])
    straight = _straight(picture, ends, owners, reach, hidden=hidden)
    return RoundMarks(arcs, Lines.joined([lines, straight]))


def _role(scene: Scene, owner: Ints) -> Ints:
    return np.where(scene.see_through[owner], Role.CONSTRUCTION, Role.OBJECT)


def _outlines(eye: Eye, scene: Scene) -> tuple[Floats, Ints]:
    """Return the lines (N, 2, 3) where sight lines touch the sides, and their owners.

    A straight side has two of them, exactly. On a rounded one the outline is where the normal, averaged at the rings
    between two pieces, turns away from the eye.
    """
    frusta, smooth = scene.rounds.frusta, scene.rounds.smooth
    straight = np.flatnonzero(~smooth.any(axis=1) & (frusta.bulge == 0.0))
    angles = contour_angles(frusta.select(straight), eye.place)
    ends = [np.zeros((0, 2, 3))]
    owner = [np.zeros(0, dtype=np.intp)]
    for k in (0, 1):
        seen = np.isfinite(angles[:, k])
        rows, angle = straight[seen], angles[seen, k]
        low = _ring_point(frusta.base, frusta.low, frusta, rows, angle)
        high = _ring_point(frusta.base + frusta.axle, frusta.high, frusta, rows, angle)
        ends.append(np.stack([low, high], axis=1))
        owner.append(frusta.owner[rows])
    rounded = np.flatnonzero(smooth.any(axis=1) & (frusta.bulge == 0.0))
    lines, rows = turning_lines(frusta, smooth, rounded, eye.place)
    return np.concatenate([*ends, lines]), np.concatenate([*owner, frusta.owner[rows]])


def _skin_outlines(eye: Eye, scene: Scene) -> tuple[Floats, Ints]:
    """Return the outlines (N, 2, 3) of rounded edges, where sight lines touch within the part of the round that is there."""
    skins, span = scene.rounds.skins, scene.rounds.skin_span
    if len(skins) == 0:
        return np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp)
    angles = contour_angles(skins, eye.place)
    with np.errstate(invalid="ignore"):
        seen = np.isfinite(angles) & ((angles - span[:, :1]) % (2 * np.pi) <= span[:, 1:])
    rows, column = np.nonzero(seen)
    angle = angles[rows, column]
    low = _ring_point(skins.base, skins.low, skins, rows, angle)
    high = _ring_point(skins.base + skins.axle, skins.high, skins, rows, angle)
    return np.stack([low, high], axis=1), skins.owner[rows]


def _ring_point(centre: Floats, radius: Floats, frusta: Frusta, rows: Ints, angle: Floats) -> Floats:
    out = np.cos(angle)[:, None] * frusta.first[rows] + np.sin(angle)[:, None] * frusta.second[rows]
    points: Floats = centre[rows] + radius[rows, None] * out
    return points


def _straight(picture: Picture, ends: Floats, owner: Ints, reach: float, *, hidden: bool) -> Lines:
    spans = picture.hiders.hidden(Curves.lines(ends, owner), lenient=True)
    eye, shown = picture.eye, complement(len(ends), *spans)
    parts = [_on_paper(eye, ends, shown, owner, _role(picture.scene, owner), reach)]
    if hidden:
        parts.insert(0, _on_paper(eye, ends, spans, owner, np.full(len(ends), Role.HIDDEN), reach))
    return Lines.joined(parts)


def _on_paper(eye: Eye, ends: Floats, spans: Parts, owner: Ints, role: Ints, reach: float) -> Lines:
    line, low, high = spans
    a, b = eye.to_camera(ends[line, 0]), eye.to_camera(ends[line, 1])
    start, end = a + low[:, None] * (b - a), a + high[:, None] * (b - a)
    t0, t1 = clip_to_window(start, end, eye.viewing_distance, reach)
    kept = t1 > t0
    start, along, line = start[kept], (end - start)[kept], line[kept]
    paper = [eye.picture(start + t[kept][:, None] * along) for t in (t0, t1)]
    points = np.hstack(paper) if len(line) else np.zeros((0, 4))
    seen = np.isfinite(points).all(axis=1)
    line = line[seen]
    return Lines(points[seen], role[line].astype(np.int8), owner[line], np.full(len(line), NOBODY))


@dataclass(frozen=True)
class _Drawn:
    """Rings to be drawn: (G, 9) with their spans (G, 2) in turns, owners and whether they are sections (G,)."""

    rings: Floats
    span: Floats
    owner: Ints
    soft: Bools

    def points_at(self, curve: Ints, t: Floats) -> Floats:
        """Return the points (P, K, 3) of rings (P,) at parts (P, K) of their spans."""
        angle = 2 * np.pi * (self.span[curve, :1] + t * self.span[curve, 1:])[..., None]
        one, two = self.rings[curve, None, 3:6], self.rings[curve, None, 6:9]
        points: Floats = self.rings[curve, None, :3] + np.cos(angle) * one + np.sin(angle) * two
        return points


def _hole_bottoms(eye: Eye, holes: Floats) -> tuple[Floats, Floats, Ints]:
    """Return what shows of the bottoms of holes: rings (G, 9) and spans (G, 2) on the plane of the rim, and the holes (G,).

    From the eye the bottom is carried onto the rim's plane, where it is a ring again (the planes are parallel); what lies
    within the rim is seen through it. Two like ellipses are two circles in the rim's own measure, so they cross where the
    text-book crossing of two circles says.
    """
    down = holes[:, 9:12]
    to_rim = np.einsum("hk,hk->h", holes[:, :3] - eye.place, down)
    depth = np.einsum("hk,hk->h", down, down)
    # The eye is before the face when it must go on downward to reach the rim.
    rows = np.flatnonzero(to_rim > 1e-9 * depth)
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
    kept = np.flatnonzero(half > 1e-6)
    rings = np.hstack([centre, part[:, None] * first, part[:, None] * second])[kept]
    span = np.column_stack([start, 2 * half])[kept] / (2 * np.pi)
    return rings, span, rows[kept]


def _rings(picture: Picture, reach: float, *, hidden: bool) -> tuple[Arcs, Lines]:
    eye, parts = picture.eye, picture.scene.rounds
    bottoms, bottom_span, hole = _hole_bottoms(eye, parts.holes)
    rings = _Drawn(
        np.concatenate([parts.rings, bottoms]),
        np.concatenate([parts.ring_span, bottom_span]),
        np.concatenate([parts.ring_owner, parts.hole_owner[hole]]),
        np.concatenate([parts.ring_soft, np.zeros(len(hole), dtype=bool)]),
    )
    domes, span, row = dome_contours(parts.frusta, np.flatnonzero(parts.frusta.bulge > 0.0), eye.place)
    outlines = _Drawn(domes, span, parts.frusta.owner[row], np.zeros(len(row), dtype=bool))
    drawn = [
        _drawn(picture, own, reach, hidden=hidden, lenient=lenient)
        for own, lenient in ((rings, False), (outlines, True))
    ]
    return _joined([arcs for arcs, _ in drawn]), Lines.joined([lines for _, lines in drawn])


def _drawn(picture: Picture, drawn: _Drawn, reach: float, *, hidden: bool, lenient: bool) -> tuple[Arcs, Lines]:
    eye, rings, owner = picture.eye, drawn.rings, drawn.owner
    spans = picture.hiders.hidden(Curves.rings(rings, drawn.span, owner), lenient=lenient)
    shapes, round_ = rings_to_ellipses(eye, rings[:, :3], rings[:, 3:6], rings[:, 6:9])
    role = np.where(drawn.soft, Role.CONSTRUCTION, _role(picture.scene, owner))
    pieces = [(complement(len(rings), *spans), role)]
    if hidden:
        # Of a ring where the side has no corner only the near half is drawn: it is a section, not an edge.
        edge = ~drawn.soft[spans[0]]
        back = (spans[0][edge], spans[1][edge], spans[2][edge])
        pieces.insert(0, (back, np.full(len(rings), Role.HIDDEN)))
    arcs, lines = [], []
    for spans_, role in pieces:
        ring, low, high = _over_the_seam(spans_, np.abs(drawn.span[:, 1]) >= 1.0 - 1e-12)
        flat = round_[ring] & (shapes[ring, 3] > 1e-6 * shapes[ring, 2])
        arcs.append(_arcs(eye, drawn, shapes, (ring[flat], low[flat], high[flat]), role))
        lines.append(_bent(eye, drawn, (ring[~flat], low[~flat], high[~flat]), role, reach))
    return _joined(arcs), Lines.joined(lines)


def _over_the_seam(spans: Parts, closed: Bools) -> Parts:
    """Join the stretch of a closed ring that ends at parameter 1 with the one that begins at 0: it has no seam."""
    ring, low, high = spans
    begins = {int(r): k for k, (r, at) in enumerate(zip(ring, low, strict=True)) if at <= 0.0}
    kept = np.ones(len(ring), dtype=bool)
    high = high.copy()
    for k in np.flatnonzero((high >= 1.0) & (low > 0.0) & closed[ring]):
        first = begins.get(int(ring[k]))
        if first is not None:
            high[k] += high[first]
            kept[first] = False
    return ring[kept], low[kept], high[kept]


def _joined(parts: list[Arcs]) -> Arcs:
    return Arcs(
        np.concatenate([p.shape for p in parts]),
        np.concatenate([p.role for p in parts]),
        np.concatenate([p.owner for p in parts]),
    )


def _arcs(eye: Eye, drawn: _Drawn, shapes: Floats, spans: Parts, role: Ints) -> Arcs:
    """Turn stretches of rings into stretches of their ellipses: the ends by where they are drawn, the sense by the middle."""
    ring, low, high = spans
    if len(ring) == 0:
        return Arcs(np.zeros((0, 7)), np.zeros(0, np.int8), np.zeros(0, np.intp))
    parameters = np.column_stack([low, (low + high) / 2, high])
    paper = eye.picture(eye.to_camera(drawn.points_at(ring, parameters))).reshape(len(ring), 3, 2)
    u, v, a, b, angle = shapes[ring].T
    gap = paper - np.column_stack([u, v])[:, None, :]
    cos, sin = np.cos(angle)[:, None], np.sin(angle)[:, None]
    x, y = gap[..., 0] * cos + gap[..., 1] * sin, gap[..., 1] * cos - gap[..., 0] * sin
    t = np.arctan2(y / b[:, None], x / a[:, None])
    forward, to_middle = (t[:, 2] - t[:, 0]) % (2 * np.pi), (t[:, 1] - t[:, 0]) % (2 * np.pi)
    whole = (high - low) * np.abs(drawn.span[ring, 1]) >= 1.0 - 1e-12
    counter = to_middle <= forward
    first = np.where(counter, t[:, 0], t[:, 2])
    sweep = np.where(whole, 2 * np.pi, np.where(counter, forward, 2 * np.pi - forward))
    shape = np.column_stack([u, v, a, b, angle, first, first + sweep])
    return Arcs(shape, role[ring].astype(np.int8), drawn.owner[ring])


def _bent(eye: Eye, drawn: _Drawn, spans: Parts, role: Ints, reach: float) -> Lines:
    """Draw stretches of rings that are no ellipses (seen on edge, or reaching the eye plane) as many short lines."""
    ring, low, high = spans
    steps = np.linspace(0.0, 1.0, 97)
    t = low[:, None] + steps * (high - low)[:, None]
    points = drawn.points_at(ring, t) if len(ring) else np.zeros((0, 97, 3))
    ends = np.stack([points[:, :-1], points[:, 1:]], axis=2).reshape(-1, 2, 3)
    row = np.repeat(ring, len(steps) - 1)
    whole = (np.arange(len(ends)), np.zeros(len(ends)), np.ones(len(ends)))
    return _on_paper(eye, ends, whole, drawn.owner[row], role[row], reach)
