"""Rounds as facets that know their surface: where they turn away from the eye."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import LINE, PLANE, WIDTH, Surfaces, cross, length

__all__ = ["FACET", "facet_outlines", "facets_of", "looks_of", "placed_facets"]

FACET = 19 + WIDTH
"""Three places, which way the round looks at each, of length one, and the surface: its kind and form."""
_TINY = 1e-300
_FLAT = 1e-7
_PIECE = np.radians(0.7)
"""A round turns by no more along one piece of an outline."""
_MOST_PIECES = 16
_TIMES, _STEPS = 6, 3
_STRAIGHT = 1e-9


def facets_of(shell: Shell) -> Floats:
    """Return the facets (K, `FACET`) of a shell's rounds."""
    surface = shell.patch_surface[shell.patch]
    rows = np.flatnonzero(shell.surfaces.kind[surface] != PLANE)
    corners, looks = looks_of(shell, rows)
    kind, form = shell.surfaces.kind[surface[rows], None], shell.surfaces.form[surface[rows]]
    found: Floats = np.hstack([corners.reshape(-1, 9), looks.reshape(-1, 9), kind, form])
    return found


def looks_of(shell: Shell, rows: Ints) -> tuple[Floats, Floats]:
    """Return the corners (N, 3, 3) of triangles, and which way their round looks there."""
    corners = shell.places[shell.rows[rows]]
    patch = np.repeat(shell.patch[rows], 3)
    _, slope = shell.surfaces.at(shell.patch_surface[patch], corners.reshape(-1, 3))
    slope = (slope * shell.patch_sign[patch][:, None]).reshape(-1, 3, 3)
    surfaces = shell.surfaces
    tip = np.stack(
        [
            _tips(surfaces.kind[own].astype(np.intp), surfaces.form[own], slope[:, k])
            for k, own in enumerate(shell.patch_surface[patch].reshape(-1, 3).T)
        ],
        axis=1,
    )
    # The tip of a cone looks no way: it stands for what lies between its two neighbours.
    beside = np.roll(slope, 1, axis=1) + np.roll(slope, -1, axis=1)
    slope = np.where(tip[:, :, None], beside, slope).reshape(-1, 3)
    slope = slope / np.maximum(length(slope), _TINY)[:, None]
    return corners, slope.reshape(-1, 3, 3)


def placed_facets(facets: Floats, rotation: Floats, corner: Floats) -> Floats:
    """Return facets (K, `FACET`) turned about the origin, and moved."""
    found = facets.copy()
    for at in range(0, 18, 3):
        found[:, at : at + 3] = facets[:, at : at + 3] @ rotation.T + (corner if at < 9 else 0.0)
    found[:, 19:] = _surfaces(facets).placed(rotation, corner).form
    return found


def _surfaces(facets: Floats) -> Surfaces:
    return Surfaces(facets[:, 18].astype(np.int8), facets[:, 19:])


def facet_outlines(facets: Floats, eye: Floats) -> tuple[Floats, Ints]:
    """Return the lines (N, 2, 3) along which sight lines touch facets (K, `FACET`), and the facets (N,).

    Where the round looks square to the sight line is found along the sides of each facet, by the rule of false position
    on the surface itself. Only where the round bulges along the sight line does that touch it from outside: there its
    normal leans forward on the way.
    """
    none = np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp)
    if not len(facets):
        return none
    places, looks = facets[:, :9].reshape(-1, 3, 3), facets[:, 9:18].reshape(-1, 3, 3)
    seen = np.einsum("nck,nck->nc", looks, eye - places) > 0.0
    rows = np.flatnonzero(seen.any(axis=1) & ~seen.all(axis=1))
    rows = rows[_bulges(places[rows], looks[rows], eye)]
    if not len(rows):
        return none
    # The corner that is alone on its side of the outline; both sides of the facet from it cross the outline.
    alone = np.where(seen[rows].sum(axis=1) == 1, seen[rows].argmax(axis=1), seen[rows].argmin(axis=1))
    surfaces, n = _surfaces(facets[rows]), np.arange(len(rows))
    ends = [_at_tips(surfaces, places[rows, alone], places[rows, (alone + step) % 3], eye) for step in (1, 2)]
    ways = [_unit(surfaces.at(n, end)[1]) for end in ends]
    turn = np.arccos(np.clip((ways[0] * ways[1]).sum(axis=1), -1.0, 1.0))
    count = np.clip(np.ceil(turn / _PIECE - _STRAIGHT), 1, _MOST_PIECES).astype(np.intp)
    piece = np.repeat(n, count)
    number = np.arange(len(piece)) - np.repeat(np.cumsum(count) - count, count)
    whole = Surfaces(surfaces.kind[piece], surfaces.form[piece])
    lines = []
    for k in (0, 1):
        part = ((number + k) / count[piece])[:, None]
        between = (number + k > 0) & (number + k < count[piece])
        along = ends[0][piece] + part * (ends[1] - ends[0])[piece]
        lines.append(np.where(between[:, None], _on(whole, along), along))
    return np.stack(lines, axis=1), rows[piece]


def _unit(way: Floats) -> Floats:
    found: Floats = way / np.maximum(length(way), _TINY)[:, None]
    return found


def _on(surfaces: Surfaces, places: Floats) -> Floats:
    """Return places (N, 3) moved on to surfaces (N), each on its own, by Newton's method."""
    n, p = np.arange(len(places)), places
    for _ in range(_STEPS):
        f, slope = surfaces.at(n, p)
        p = p - (f / np.maximum((slope * slope).sum(axis=1), _FLAT))[:, None] * slope
    return p


def _tips(kind: Ints, form: Floats, slope: Floats) -> Bools:
    """Tell which places are tips of cones, where these look along their axles."""
    axle = form[:, 3:6]
    found: Bools = (kind == LINE) & (length(cross(axle, slope)) <= _FLAT * length(axle) * length(slope))
    return found


def _at_tips(surfaces: Surfaces, one: Floats, two: Floats, eye: Floats) -> Floats:
    """Return where the outline crosses the sides between places (N, 3): what ends at the tip of a cone does so there, as a cone looks one way
    all along a line through it."""
    found, n = _turning(surfaces, one, two, eye), np.arange(len(one))
    for end in (one, two):
        tip = _tips(surfaces.kind.astype(np.intp), surfaces.form, surfaces.at(n, end)[1])
        found = np.where(tip[:, None], end, found)
    return found


def _turning(surfaces: Surfaces, one: Floats, two: Floats, eye: Floats) -> Floats:
    """Return the places (N, 3) on surfaces (N) above the sides between two places at which the surface looks square to the sight line: by
    false position, the end that stays counting half (the Illinois rule, Dowell and Jarratt 1971)."""
    n, way = np.arange(len(one)), two - one
    low, high = np.zeros(len(one)), np.ones(len(one))
    at_low, at_high = (np.einsum("nk,nk->n", surfaces.at(n, end)[1], eye - end) for end in (one, two))
    before = np.zeros(len(one))
    place = one
    for _ in range(_TIMES):
        step = at_high - at_low
        part = np.clip(high - at_high * (high - low) / np.where(step == 0.0, 1.0, step), low, high)
        place = _on(surfaces, one + part[:, None] * way)
        here = np.einsum("nk,nk->n", surfaces.at(n, place)[1], eye - place)
        upper = (here > 0.0) == (at_high > 0.0)
        at_low = np.where(upper, np.where(before > 0.0, at_low / 2.0, at_low), here)
        at_high = np.where(upper, here, np.where(before < 0.0, at_high / 2.0, at_high))
        low, high = np.where(upper, low, part), np.where(upper, part, high)
        before = np.where(upper, 1.0, -1.0)
    return place


def _bulges(places: Floats, looks: Floats, eye: Floats) -> Ints:
    """Return the facets (rows) whose round bends away from the sight line on either side."""
    sight = _unit(places.mean(axis=1) - eye)
    u, v = places[:, 1] - places[:, 0], places[:, 2] - places[:, 0]
    uu, uv, vv, su, sv = ((a * b).sum(axis=1) for a, b in ((u, u), (u, v), (v, v), (sight, u), (sight, v)))
    det = np.maximum(uu * vv - uv * uv, _TINY)
    a, b = ((su * vv - sv * uv) / det)[:, None], ((sv * uu - su * uv) / det)[:, None]
    leans = a * (looks[:, 1] - looks[:, 0]) + b * (looks[:, 2] - looks[:, 0])
    return np.flatnonzero((leans * sight).sum(axis=1) > 0.0)
