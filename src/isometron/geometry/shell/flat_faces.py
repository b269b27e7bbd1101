"""The patches of a shell as flat faces, which hide."""

from __future__ import annotations

from math import ceil, pi

import numpy as np

from isometron.geometry.faces.flat import FlatFaces, no_faces
from isometron.geometry.frames import Floats, Ints, square_to
from isometron.geometry.shell.facets import looks_of
from isometron.geometry.shell.shell import ARC, STRAIGHT, Shell
from isometron.geometry.shell.surfaces import PLANE, cross, length

__all__ = ["flat_faces"]

_TINY = 1e-300
_ALIKE = 1e-7
_SLACK, _LEAST = 1.2, 1e-7
"""A chord stands farther before its round in its middle than where it is asked; and mm that are not worth moving for."""
_QUARTER = pi / 2.0 + 1e-9


def flat_faces(shell: Shell) -> FlatFaces:
    """Return what hides of a shell: each plane patch with its true arcs, and the flat facets of each round."""
    round_ = shell.surfaces.kind[shell.patch_surface] != PLANE
    loops: dict[int, list[int]] = {}
    for loop, patch in enumerate(shell.loop_patch.tolist()):
        loops.setdefault(patch, []).append(loop)
    plane = [_plane_face(shell, patch, loops.get(patch, [])) for patch in np.flatnonzero(~round_).tolist()]
    return FlatFaces.joined([*plane, _round_faces(shell, np.flatnonzero(round_[shell.patch]))])


def _plane_face(shell: Shell, patch: int, loops: list[int]) -> FlatFaces:
    form = shell.surfaces.form[shell.patch_surface[patch]]
    outward = form[3:6] * shell.patch_sign[patch]
    x = square_to(np.eye(3)[int(np.abs(outward).argmin())], outward)
    x = x / np.sqrt(x @ x)
    frame = np.concatenate([form[:3], x, np.cross(outward, x), outward])
    curves = [
        (int(shell.loop_curve[k]), bool(shell.loop_forward[k]))
        for loop in loops
        for k in range(int(shell.loop_first[loop]), int(shell.loop_first[loop + 1]))
    ]
    parts = [_sides(shell, curve, forward) for curve, forward in curves]
    if not parts:
        return no_faces()
    starts, ends, bows = (np.concatenate(column) for column in zip(*parts, strict=True))
    way = frame[3:9].reshape(2, 3).T
    flat = np.hstack([(starts - frame[:3]) @ way, (ends - frame[:3]) @ way])
    arcs = np.zeros((len(bows), 7))
    bent = np.flatnonzero(bows[:, 9])
    arcs[bent] = np.hstack(
        [(bows[bent, :3] - frame[:3]) @ way, bows[bent, 3:6] @ way, bows[bent, 6:9] @ way, bows[bent, 9:]]
    )
    straight = all(shell.curve_kind[curve] == STRAIGHT for curve, _ in curves)
    return FlatFaces(
        frame[None], np.zeros(1), np.array([not straight]), np.array([len(flat)], dtype=np.intp), flat, np.ascontiguousarray(starts), arcs
    )  # fmt: skip


def _sides(shell: Shell, curve: int, forward: bool) -> tuple[Floats, Floats, Floats]:
    """Return the sides of a curve: where they start (S, 3), where they end, and of arcs (S, 10) centre, the half axis to the start, the other
    one, the sweep."""
    path = shell.curve(curve)
    if shell.curve_kind[curve] == ARC:
        arc = shell.arcs[curve]
        count = max(ceil(abs(arc[10]) / _QUARTER), 1)
        parts = np.linspace(0.0, 1.0, count + 1)
        path = np.concatenate([path[:1], shell.at(curve, parts[1:-1]), path[-1:]])
        angle = arc[9] + parts * arc[10]
        if not forward:
            path, angle = path[::-1], angle[::-1]
        on = np.sign(angle[1] - angle[0])
        cos, sin = np.cos(angle[:-1, None]), np.sin(angle[:-1, None])
        to, other = cos * arc[3:6] + sin * arc[6:9], on * (cos * arc[6:9] - sin * arc[3:6])
        sweep = np.full((count, 1), abs(arc[10]) / count)
        return path[:-1], path[1:], np.hstack([np.tile(arc[:3], (count, 1)), to, other, sweep])
    if shell.curve_kind[curve] == STRAIGHT:
        path = path[[0, -1]]
    path = path if forward else path[::-1]
    return path[:-1], path[1:], np.zeros((len(path) - 1, 10))


def _round_faces(shell: Shell, rows: Ints) -> FlatFaces:
    """Return the facets of rounds (rows of the triangles), those that lie in one plane as one face. A hollow round's stand behind it and touch it."""
    if not len(rows):
        return no_faces()
    corners, places = _behind(shell, rows)
    normal = cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = length(normal)
    kept = size > _ALIKE * length(corners[:, 1] - corners[:, 0]) * length(corners[:, 2] - corners[:, 0])
    rows, corners, normal, places = rows[kept], corners[kept], normal[kept] / size[kept, None], places[kept]
    deep = np.einsum("nk,nk->n", normal, corners[:, 0])
    scale = 1.0 + float(np.abs(corners).max())
    key = np.column_stack([shell.patch[rows], np.round(normal / _ALIKE), np.round(deep / (_ALIKE * scale))])
    _, first, group = np.unique(key, axis=0, return_index=True, return_inverse=True)
    sides = places[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    ends = corners[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2, 3)
    own = np.repeat(group.reshape(-1), 3)
    # A side that the next facet of the same face has too, the other way round, is none.
    count = int(places.max()) + 1
    code = (own * count + sides.min(axis=1)) * count + sides.max(axis=1)
    _, place_of, number = np.unique(code, return_inverse=True, return_counts=True)
    outer = np.flatnonzero(number[place_of.reshape(-1)] == 1)
    outer = outer[np.argsort(own[outer], kind="stable")]
    faces, ends = own[outer], ends[outer]
    outward = normal[first]
    x = corners[first, 1] - corners[first, 0]
    x = x / length(x)[:, None]
    frames = np.hstack([corners[first, 0], x, cross(outward, x), outward])
    ways = frames[faces, 3:9].reshape(-1, 2, 3)
    flat = np.hstack([np.einsum("nwk,nk->nw", ways, ends[:, k] - frames[faces, :3]) for k in (0, 1)])
    return FlatFaces(
        frames, np.zeros(len(first)), np.zeros(len(first), dtype=bool), np.bincount(faces, minlength=len(first)).astype(np.intp), flat,
        np.ascontiguousarray(ends[:, 0]), np.zeros((len(flat), 7)),
    )  # fmt: skip


def _behind(shell: Shell, rows: Ints) -> tuple[Floats, Ints]:
    """Return the corners (N, 3, 3) of facets, put so far back that none stands out before its round, and numbers (N, 3) of them that
    facets of one patch share."""
    corners, looks = looks_of(shell, rows)
    patch = np.repeat(shell.patch[rows], 3)
    _, number = np.unique(np.column_stack([patch, shell.rows[rows].reshape(-1)]), axis=0, return_inverse=True)
    number = number.reshape(-1)
    surface, sign = shell.patch_surface[shell.patch[rows]], shell.patch_sign[shell.patch[rows]]
    before = np.zeros(len(rows))
    middles = (corners + np.roll(corners, -1, axis=1)) / 2.0
    for places in (middles[:, 0], middles[:, 1], middles[:, 2], corners.mean(axis=1)):
        f, slope = shell.surfaces.at(surface, places)
        before = np.maximum(before, _SLACK * sign * f / np.maximum(length(slope), _TINY))
    before[before < _LEAST] = 0.0
    normal = cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal = normal / np.maximum(length(normal), _TINY)[:, None]
    along = np.maximum(np.einsum("nck,nk->nc", looks, normal), 0.5)
    back = np.zeros(int(number.max()) + 1)
    np.maximum.at(back, number, (before[:, None] / along).reshape(-1))
    return corners - back[number].reshape(-1, 3, 1) * looks, number.reshape(-1, 3)
