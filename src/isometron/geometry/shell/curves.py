"""What the curves between patches are: straight, arcs in closed form, or free ones through exact places; and how sharply patches turn there."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.shell.shell import ARC, FREE, STRAIGHT, Shell
from isometron.geometry.shell.surfaces import PLANE, Surfaces, cross, length, on_two
from isometron.geometry.tolerances import CLOSE, EXACT

__all__ = ["cubics", "forms", "turned_by"]

_TINY = 1e-300
_MOST_TIMES = 12
_NEAR_AXLE = 1e-7


def forms(s: Surfaces, pair: Ints, points: Floats, first: Ints) -> tuple[Ints, Floats]:
    """Return the kinds (C,) of curves on pairs of surfaces (C, 2), and of arcs (C, 11) centre, half axes, start and sweep."""
    swap = (s.kind[pair[:, 0]] > s.kind[pair[:, 1]])[:, None]
    pair = np.where(swap, pair[:, ::-1], pair)
    kind, arcs = np.full(len(pair), FREE, dtype=np.intp), np.zeros((len(pair), 11))
    if not len(pair):
        return kind, arcs
    plane = s.kind[pair[:, 0]] == PLANE
    kind[plane & (s.kind[pair[:, 1]] == PLANE)] = STRAIGHT
    _level(s, pair, points[first[:-1]], plane, kind, arcs)
    _cut_cylinders(s, pair, plane, kind, arcs)
    _beside(s, pair, kind)
    _cut_spheres(s, pair, points[first[:-1]], plane, kind, arcs)
    _spans(kind, arcs, points, first)
    return kind, arcs


def _level(s: Surfaces, pair: Ints, start: Floats, plane: Bools, kind: Ints, arcs: Floats) -> None:
    """Rings square to an axle: where a plane cuts a turned side so, or two turned about one axle meet."""
    a, b = s.form[pair[:, 0]], s.form[pair[:, 1]]
    turned = s.kind[pair[:, 1]] != PLANE
    along = np.einsum("nk,nk->n", s.axles[pair[:, 0]], s.axles[pair[:, 1]])
    off = a[:, :3] - b[:, :3]
    aside = length(off - np.einsum("nk,nk->n", off, s.axles[pair[:, 1]])[:, None] * s.axles[pair[:, 1]])
    alike = np.abs(
        a[:, 6:12] / np.maximum(length(a[:, 6:9]), _TINY)[:, None]
        - b[:, 6:12] / np.maximum(length(b[:, 6:9]), _TINY)[:, None]
    )
    one_axle = ~plane & (aside < CLOSE * (1.0 + length(b[:, :3]))) & (alike.max(axis=1) < CLOSE)
    one_axle |= ~plane & (aside < CLOSE * (1.0 + length(b[:, :3]))) & _circular(a) & _circular(b)
    n = np.flatnonzero(turned & (np.abs(along) > 1.0 - EXACT) & (plane | one_axle))
    form, own = b[n], pair[n, 1]
    centre = s.middles(own, start[n])
    off = start[n] - centre
    r = np.hypot(np.einsum("nk,nk->n", off, form[:, 6:9]), np.einsum("nk,nk->n", off, form[:, 9:12]))
    arcs[n, :3] = centre
    for at, half in zip((3, 6), s.rings, strict=True):
        arcs[n, at : at + 3] = r[:, None] * half[own]
    kind[n] = ARC


def _circular(form: Floats) -> Bools:
    one, two = length(form[:, 6:9]), length(form[:, 9:12])
    found: Bools = np.abs(one - two) <= CLOSE * one
    return found


def _cut_cylinders(s: Surfaces, pair: Ints, plane: Bools, kind: Ints, arcs: Floats) -> None:
    """Planes through cylinders: ellipses, or straight along them."""
    n = np.flatnonzero(plane & s.cylinders[pair[:, 1]] & (kind == FREE))
    normal, form, axis = s.form[pair[n, 0], 3:6], s.form[pair[n, 1]], s.axles[pair[n, 1]]
    lean = np.einsum("nk,nk->n", normal, axis)
    lies = np.abs(lean) < CLOSE
    kind[n] = np.where(lies, STRAIGHT, ARC)
    lean = np.where(lies, 1.0, lean)
    wide = (form[:, 14] / form[:, 13])[:, None]
    vectors = (
        form[:, :3] - s.form[pair[n, 0], :3],
        *(wide * form[:, at : at + 3] / (form[:, at : at + 3] ** 2).sum(axis=1)[:, None] for at in (6, 9)),
    )
    for at, vector in zip((0, 3, 6), vectors, strict=True):
        arcs[n, at : at + 3] = vector - (np.einsum("nk,nk->n", normal, vector) / lean)[:, None] * axis
    arcs[n, :3] += s.form[pair[n, 0], :3]


def _beside(s: Surfaces, pair: Ints, kind: Ints) -> None:
    """Cylinders whose axes are parallel meet in straight lines."""
    both = s.cylinders[pair].all(axis=1) & (kind == FREE)
    along = np.abs(np.einsum("nk,nk->n", s.axles[pair[:, 0]], s.axles[pair[:, 1]]))
    kind[both & (along > 1.0 - EXACT)] = STRAIGHT


def _cut_spheres(s: Surfaces, pair: Ints, start: Floats, plane: Bools, kind: Ints, arcs: Floats) -> None:
    """Planes through spheres: circles."""
    n = np.flatnonzero(plane & s.spheres[pair[:, 1]] & (kind == FREE))
    form, normal = s.form[pair[n, 1]], s.form[pair[n, 0], 3:6]
    middle = form[:, :3] + (form[:, 12] / np.maximum(length(form[:, 3:6]), _TINY))[:, None] * s.axles[pair[n, 1]]
    centre = middle - np.einsum("nk,nk->n", middle - s.form[pair[n, 0], :3], normal)[:, None] * normal
    arcs[n, :3], arcs[n, 3:6], arcs[n, 6:9] = centre, start[n] - centre, cross(normal, start[n] - centre)
    kind[n] = ARC


def _spans(kind: Ints, arcs: Floats, points: Floats, first: Ints) -> None:
    """Fill in where arcs start and how far they sweep, from the places along them."""
    own = np.repeat(np.arange(len(kind)), np.diff(first))
    u, v, off = arcs[own, 3:6], arcs[own, 6:9], points - arcs[own, :3]
    uu, uv, vv, ou, ov = (np.einsum("nk,nk->n", x, y) for x, y in ((u, u), (u, v), (v, v), (off, u), (off, v)))
    det = uu * vv - uv * uv
    det = np.where(det == 0.0, 1.0, det)
    t = np.arctan2((ov * uu - ou * uv) / det, (ou * vv - ov * uv) / det)
    step = np.append(np.diff(t), 0.0)
    step = (step + np.pi) % (2.0 * np.pi) - np.pi
    step[first[1:] - 1] = 0.0
    rows = np.flatnonzero(kind == ARC)
    arcs[rows, 9] = t[first[rows]]
    arcs[rows, 10] = np.add.reduceat(step, first[:-1])[rows]


def turned_by(s: Surfaces, surface: Ints, sign: Floats, points: Floats, first: Ints) -> Floats:
    """Return the sines (C,) of the angles between the patches on surfaces (C, 2) at curves' middles: positive where edges stand out."""
    if not len(surface):
        return np.zeros(0)
    mid = np.minimum((first[:-1] + first[1:]) // 2, first[1:] - 1)
    short = np.diff(first) == 2
    place = np.where(short[:, None], (points[first[:-1]] + points[first[1:] - 1]) / 2.0, points[mid])
    along = points[mid] - points[np.maximum(mid - 1, first[:-1])]
    along = along / np.maximum(length(along), _TINY)[:, None]
    normals = []
    for k in range(2):
        _, slope = s.at(surface[:, k], place)
        normals.append(slope * (sign[:, k] / np.maximum(length(slope), _TINY))[:, None])
    across = cross(normals[0], normals[1])
    size = length(across)
    found: Floats = np.where(np.einsum("nk,nk->n", across, along) < 0.0, -size, size)
    return found


def cubics(shell: Shell, number: int, within: float = 1e-3) -> Floats:
    """Return a free curve as cubics (K, 4, 3) in Bézier's form, through exact places with exact tangents, within so many mm of it."""
    pair, p = shell.curve_on[number], shell.curve(number)
    keep = np.append(length(np.diff(p, axis=0)) > CLOSE, True)
    p = p[keep]
    for _ in range(_MOST_TIMES):
        t = _tangents(shell.surfaces, pair, p)
        chord = length(np.diff(p, axis=0))[:, None]
        middle = (p[1:] + p[:-1]) / 2.0 + chord * (t[:-1] - t[1:]) / 8.0
        true = on_two(shell.surfaces, np.broadcast_to(pair, (len(middle), 2)), middle)
        bad = np.flatnonzero(length(true - middle) > within / 2.0)
        if not len(bad):
            break
        p = np.insert(p, bad + 1, true[bad], axis=0)
    t = _tangents(shell.surfaces, pair, p)
    third = length(np.diff(p, axis=0))[:, None] / 3.0
    return np.stack([p[:-1], p[:-1] + third * t[:-1], p[1:] - third * t[1:], p[1:]], axis=1)


def _tangents(s: Surfaces, pair: Ints, p: Floats) -> Floats:
    """Return unit tangents (N, 3) at places along a curve, square to both surfaces; where these touch, along the chords."""
    _, g = s.at(np.repeat(pair, len(p)), np.concatenate([p, p]))
    way = cross(g[: len(p)], g[len(p) :])
    size = length(way)
    chord = np.gradient(p, axis=0)
    chord = chord / np.maximum(length(chord), _TINY)[:, None]
    way = way / np.maximum(size, _TINY)[:, None]
    way = way * np.where(np.einsum("nk,nk->n", way, chord) < 0.0, -1.0, 1.0)[:, None]
    found: Floats = np.where((size < _NEAR_AXLE)[:, None], chord, way)
    return found
