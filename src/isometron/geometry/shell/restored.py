"""The shell of triangles that know their surfaces: patches, corners and places on their surfaces, curves between patches, loops round them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.shell.curves import forms, turned_by
from isometron.geometry.shell.halves import after_in_patch, opposite_halves
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE, cross, length, on_three, on_two
from isometron.geometry.shell.united import Joined

__all__ = ["restored"]

_ACROSS = 1e-6


@dataclass(frozen=True)
class _Sides:
    """Half edges between two patches. half : (N,) 3 t + k, from corner k of triangle t to the next; own, other : (N,) the patches to
    the left and right; start, end : (N,) places; low, high : (N,) the surfaces that they are told by; after : (N,) the next one round the own patch; twin : (N,)."""

    half: Ints
    own: Ints
    other: Ints
    start: Ints
    end: Ints
    low: Ints
    high: Ints
    after: Ints
    twin: Ints


def restored(joined: Joined) -> Shell:
    """Return the shell; raises `NoShellError` where the triangles are not closed."""
    table, rows = joined.table, joined.rows
    surface = table.same[joined.surface]
    opposite = opposite_halves(rows, len(joined.places))
    patch = _patches(rows, opposite, 2 * surface + (joined.outward > 0.0))
    first = np.unique(patch, return_index=True)[1]
    of_patch, sign = surface[first], joined.outward[first]
    # A plane that looks the other way is the same surface: its own outward is told by its sign.
    sign = sign * np.where(_same_way(joined, first), 1.0, -1.0)
    names, part = _names(joined, patch, len(first))
    sides = _sides(joined, patch, opposite, of_patch)
    exact, moved, is_corner = _settled(joined, sides, patch, of_patch)
    curves, curve_of = _chained(sides, is_corner)
    loops, of_loop = _loops(sides, curves, curve_of)
    points, curve_first = _points(sides, curves, exact)
    heads = np.array([curve[0] for curve in curves], dtype=np.intp)
    two = np.column_stack([sides.low[heads], sides.high[heads]]).reshape(-1, 2)
    beside = np.column_stack([sides.own[heads], sides.other[heads]]).reshape(-1, 2)
    kind, arcs = forms(table.surfaces, two, points, curve_first)
    turn = turned_by(table.surfaces, of_patch[beside], sign[beside], points, curve_first)
    return Shell(
        table.surfaces,
        of_patch,
        sign,
        names,
        part,
        kind,
        beside,
        two,
        curve_first,
        points,
        arcs,
        turn,
        *loops,
        of_loop,
        exact,
        rows,
        patch,
        moved,
    )


def _same_way(joined: Joined, first: Ints) -> Bools:
    """Whether f of the first of equal surfaces grows the way in which that of the triangle's own does."""
    table = joined.table
    own = joined.surface[first]
    middle = joined.places[joined.rows[first]].mean(axis=1)
    _, one = table.surfaces.at(own, middle)
    _, two = table.surfaces.at(table.same[own], middle)
    return np.asarray(np.einsum("nk,nk->n", one, two) > 0.0)


def _patches(rows: Ints, opposite: Ints, key: Ints) -> Ints:
    """Return the patch of each triangle (T,): those that hang together on one surface and look the same way."""
    own = np.repeat(key, 3)
    inner = np.flatnonzero(own == own[opposite])
    one, two = inner // 3, opposite[inner] // 3
    found = np.arange(len(rows), dtype=np.intp)
    while True:  # each takes the least number that hangs together with it, and that one's own, until none changes
        least = found.copy()
        np.minimum.at(least, found[one], found[two])
        least = least[least[found]]
        if (least == found).all():
            break
        found = least
    return np.unique(found, return_inverse=True)[1].astype(np.intp)


def _names(joined: Joined, patch: Ints, count: int) -> tuple[tuple[str, ...], Ints]:
    """Return of each patch the name of the part's face that most of it comes from, and the part (F,)."""
    a, b, c = (joined.places[joined.rows[:, k]] for k in range(3))
    area = length(cross(b - a, c - a))
    own = np.zeros(count, dtype=np.intp)
    order = np.argsort(patch, kind="stable")
    starts = np.searchsorted(patch[order], np.arange(count + 1))
    for k in range(count):
        mine = order[starts[k] : starts[k + 1]]
        faces, which = np.unique(joined.surface[mine], return_inverse=True)
        own[k] = faces[np.bincount(which, area[mine]).argmax()]
    part: Ints = np.searchsorted(joined.table.base, own, side="right") - 1
    return tuple(joined.table.names[row] for row in own.tolist()), part


def _sides(joined: Joined, patch: Ints, opposite: Ints, of_patch: Ints) -> _Sides:
    rows, table = joined.rows, joined.table
    start, end = rows.reshape(-1), rows[:, [1, 2, 0]].reshape(-1)
    own = np.repeat(patch, 3)
    other = own[opposite]
    is_side = own != other
    half = np.flatnonzero(is_side)
    after = after_in_patch(half, opposite, is_side)
    pair = np.sort(np.column_stack([of_patch[own[half]], of_patch[other[half]]]), axis=1)
    low, high = pair[:, 0].copy(), pair[:, 1].copy()
    for (
        (one, two),
        third,
    ) in table.seams.items():  # where two surfaces only touch, what their seam runs on stands for the less simple one
        mine = (pair[:, 0] == one) & (pair[:, 1] == two)
        simple = one if table.surfaces.kind[one] <= table.surfaces.kind[two] else two
        low[mine], high[mine] = simple, third
    number = np.full(len(start), -1, dtype=np.intp)
    number[half] = np.arange(len(half))
    return _Sides(
        half, own[half], other[half], start[half], end[half], low, high, number[after], number[opposite[half]]
    )


def _settled(joined: Joined, sides: _Sides, patch: Ints, of_patch: Ints) -> tuple[Floats, float, Bools]:
    """Return all places on their surfaces, how far one was moved at most, and which are corners."""
    s, places = joined.table.surfaces, joined.places
    degree = np.bincount(sides.start, minlength=len(places))
    is_corner = (degree != 2) & (degree > 0)
    exact = places.copy()
    simple = np.flatnonzero(~is_corner[sides.start])
    # A place where the pair of surfaces changes (past a seam) is a corner, too.
    before = np.zeros(len(sides.start), dtype=np.intp)
    before[sides.after] = np.arange(len(sides.start))
    changes = simple[
        (sides.low[simple] != sides.low[before[simple]]) | (sides.high[simple] != sides.high[before[simple]])
    ]
    is_corner[sides.start[changes]] = True
    simple = np.flatnonzero(~is_corner[sides.start] & (sides.own < sides.other))
    bent = simple[(s.kind[sides.low[simple]] != PLANE) | (s.kind[sides.high[simple]] != PLANE)]
    at = sides.start[bent]
    exact[at] = on_two(s, np.column_stack([sides.low[bent], sides.high[bent]]), places[at])
    inside = np.flatnonzero(degree == 0)
    own = np.zeros(len(places), dtype=np.intp)
    own[joined.rows.reshape(-1)] = of_patch[np.repeat(patch, 3)]
    inside = inside[s.kind[own[inside]] != PLANE]
    if len(inside):
        exact[inside] = on_two(s, np.column_stack([own[inside], own[inside]]), places[inside])
    _settle_corners(joined, sides, exact, is_corner)
    return exact, float(length(exact - places).max(initial=0.0)), is_corner


def _settle_corners(joined: Joined, sides: _Sides, exact: Floats, is_corner: Bools) -> None:
    """Move corners on to the three of their surfaces that stand most across one another, or to two where no three do."""
    s = joined.table.surfaces
    mine = np.flatnonzero(is_corner[sides.start])
    if not len(mine):
        return
    both = np.column_stack([sides.low[mine], sides.high[mine]]).reshape(-1)
    pairs = np.unique(np.column_stack([np.repeat(sides.start[mine], 2), both]), axis=0)
    corners, begin, amount = np.unique(pairs[:, 0], return_index=True, return_counts=True)
    slot = np.minimum(np.arange(int(amount.max())), (amount - 1)[:, None]) + begin[:, None]
    some = pairs[slot, 1]  # (K, most), the last one repeated
    _, slope = s.at(some.reshape(-1), np.repeat(exact[corners], some.shape[1], axis=0))
    slope = slope.reshape(*some.shape, 3)
    slope = slope / np.maximum(length(slope), 1e-300)[..., None]
    each = np.arange(len(corners))
    across = cross(np.broadcast_to(slope[:, :1], slope.shape), slope)
    second = (across * across).sum(axis=2).argmax(axis=1)
    box = np.abs(np.einsum("nmk,nk->nm", slope, across[each, second]))
    third = box.argmax(axis=1)
    chosen = np.column_stack([some[:, 0], some[each, second], some[each, third]])
    full = box[each, third] > _ACROSS
    exact[corners[full]] = on_three(s, chosen[full], exact[corners[full]])
    exact[corners[~full]] = on_two(s, chosen[~full, :2], exact[corners[~full]])


def _chained(sides: _Sides, is_corner: Bools) -> tuple[list[list[int]], Ints]:
    """Return the sides of each curve in order, those with the lesser patch on their left, from corner to corner or all round; and the curve of each side, -1 for none."""
    forward, stops = sides.own < sides.other, is_corner[sides.start]
    follow, ends, mine = sides.after.tolist(), stops.tolist(), forward.tolist()
    owner = [-1] * len(follow)
    curves: list[list[int]] = []
    for head in np.concatenate([np.flatnonzero(forward & stops), np.flatnonzero(forward & ~stops)]).tolist():
        if owner[head] >= 0:
            continue
        run: list[int] = []
        k = head
        while owner[k] < 0 and mine[k] and not (run and ends[k]):
            owner[k] = len(curves)
            run.append(k)
            k = follow[k]
        curves.append(run)
    return curves, np.array(owner, dtype=np.intp)


def _loops(sides: _Sides, curves: list[list[int]], owner: Ints) -> tuple[tuple[Ints, Ints, Bools], Ints]:
    """Return the loops round patches as curves, each gone along or back, and the patch of each."""
    enters = {c[0]: (k, True) for k, c in enumerate(curves)} | {
        int(sides.twin[c[-1]]): (k, False) for k, c in enumerate(curves)
    }
    follow = sides.after.tolist()
    seen: set[int] = set()
    first, curve, ahead, patch = [0], [], [], []
    for head in enters:
        k = head
        while k not in seen:
            if k in enters:
                seen.add(k)
                curve.append(enters[k][0])
                ahead.append(enters[k][1])
            k = follow[k]
        if len(curve) > first[-1]:
            first.append(len(curve))
            patch.append(int(sides.own[head]))
    loops = np.array(first, dtype=np.intp), np.array(curve, dtype=np.intp), np.array(ahead, dtype=bool)
    return loops, np.array(patch, dtype=np.intp)


def _points(sides: _Sides, curves: list[list[int]], exact: Floats) -> tuple[Floats, Ints]:
    """Return the places along all curves, and where each begins."""
    first = np.concatenate([[0], np.cumsum([len(curve) + 1 for curve in curves])]).astype(np.intp)
    flat = np.array([k for curve in curves for k in (*curve, curve[-1])], dtype=np.intp)
    if not len(flat):
        return np.zeros((0, 3)), first
    at = sides.start[flat]
    at[first[1:] - 1] = sides.end[[curve[-1] for curve in curves]]
    return exact[at], first
