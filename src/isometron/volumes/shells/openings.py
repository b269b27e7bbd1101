"""Openings of a volume as what is taken out of its body, each put together in the frame of the face that it is in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from isometron.geometry.faces.shaft import Shaft
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.shell.prisms import Prism
from isometron.geometry.shell.surfaces import cross, length
from isometron.geometry.shell.united import Joined, Put
from isometron.geometry.tolerances import EXACT, HAIR
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.wording import tr

__all__ = ["Opening", "deeper_than", "shafts_cut"]

_OVER = 1e-3
"""mm that a cutter stands out of the face that it begins at: ends that lie on a face leave walls without thickness."""
_BEYOND = 0.1
"""Of an opening's size: so far its cutter goes on beyond the wall that it comes out of."""
_SQUARE = 1.0 - 1e-9
_SAMPLES = 9


@dataclass(frozen=True)
class Opening:
    """An opening as it is told. number : of its mark, mark : itself, of a row one alone; shaft : its outline on the face and how deep it goes."""

    number: int
    mark: OpeningMark
    shaft: Shaft


def shafts_cut(openings: Sequence[Opening], body: Joined, size: Sequence[float]) -> list[Put]:
    """Return what openings take out of a body, those of one slanted face united in its frame; ``body`` is without them, hollow where it is."""
    far = 2.0 * float(np.sqrt(sum(s * s for s in size)))
    groups: dict[tuple[float, ...], list[tuple[Opening, float]]] = {}
    for opening in openings:
        groups.setdefault(_key(opening.shaft), []).append((opening, _deep(opening.shaft, body, far)))
    found = []
    for members in groups.values():
        frame = _own_frame(members[0][0].shaft)
        found.append(Put("add", [_prism(one, deep, frame, far) for one, deep in members], frame))
    return found


def deeper_than(shaft: Shaft, body: Joined) -> str:
    """Return words where a pocket is as deep as its body, or the wall that it is in; none where it has a bottom."""
    if not np.isfinite(shaft.depth):
        return ""
    middle = shaft.at(_samples(shaft.outline)[-1:])
    (crossings,) = _crossings(body, middle + _OVER * shaft.frame[9:], -shaft.frame[9:])
    there = crossings[1] - _OVER if len(crossings) > 1 else np.inf
    if shaft.depth < there - HAIR:
        return ""
    return tr(
        "The opening is {deep:.4g} mm deep, and the body only {there:.4g} mm there: let it go through, or make it less deep.",
        deep=shaft.depth, there=there,
    )  # fmt: skip


def _key(shaft: Shaft) -> tuple[float, ...]:
    """Return what is alike for openings that are put together in one frame: the way out of their face, and the plane of it."""
    outward = shaft.frame[9:]
    return (*np.round(outward, 9).tolist(), round(float(shaft.frame[:3] @ outward), 6))


def _own_frame(shaft: Shaft) -> tuple[Floats, Floats] | None:
    """Return the axes (columns) and the place of a slanted face; None of one that is square to the body's axes."""
    x, y, outward = shaft.frame[3:6], shaft.frame[6:9], shaft.frame[9:]
    if all(np.abs(way).max() > _SQUARE for way in (x, y, outward)):
        return None
    return np.column_stack([x, y, outward]), shaft.frame[:3]


def _prism(opening: Opening, deep: float, frame: tuple[Floats, Floats] | None, far: float) -> Prism:
    shaft = opening.shaft
    place, x, y, outward = shaft.frame.reshape(4, 3)
    if frame is not None:
        place = (place - frame[1]) @ frame[0]
        x, y, outward = (_snapped(way @ frame[0]) for way in (x, y, outward))
    else:
        x, y, outward = (_snapped(way) for way in (x, y, outward))
    # A face that is bent falls away from the plane that touches it: nothing of the body lies above that.
    over = far if shaft.bent else _OVER
    outline = shaft.outline
    if float(cross(x, y) @ outward) < 0.0:
        outline = _turned_over(outline)
        y = -y
    names = tuple(f"opening.{opening.number}.{k}" for k in range(len(outline.corners)))
    return Prism(outline, place - deep * outward, x, y, deep + over, names, (f"opening.{opening.number}.bottom", ""))


def _snapped(way: Floats) -> Floats:
    """Return a unit vector whose last digits are those of an axis where it runs along one."""
    near = np.round(way)
    return near if np.abs(way - near).max() < EXACT * 1e3 else way


def _turned_over(outline: Outline) -> Outline:
    """Return an outline's mirror image about its first direction, counter-clockwise again."""
    flip = np.array([1.0, -1.0])
    corners = (outline.corners * flip)[::-1]
    count = len(corners)
    bends = {}
    for k, bend in outline.bends.items():
        back = type(bend)(
            bend.centre * flip, bend.first * flip, bend.second * flip, bend.start + bend.sweep, -bend.sweep
        )
        bends[(count - 2 - k) % count] = back
    return Outline(corners, bends)


def _deep(shaft: Shaft, body: Joined, far: float) -> float:
    """Return how deep a shaft is cut, mm: to its bottom, right through, or between the walls that it goes through and the next one."""
    if np.isfinite(shaft.depth):
        return float(shaft.depth)
    if shaft.walls == 0:
        return far
    outs, ins = [], []
    for crossings in _crossings(body, shaft.at(_samples(shaft.outline)) + _OVER * shaft.frame[9:], -shaft.frame[9:]):
        leaves = 2 * shaft.walls - 1
        if len(crossings) > leaves:
            outs.append(crossings[leaves])
            ins.append(crossings[leaves + 1] if len(crossings) > leaves + 1 else far)
    # What runs on in the thickness of another wall does not say how thick this one is.
    there = [out for out in outs if out < min(ins)] or outs
    if not there:
        return far
    if not shaft.bent:
        return float(max(there)) + _OVER
    # Chords and samples tell where a round wall ends to a little: the cut ends in the middle of what is free, or a little beyond.
    room = max(min(ins) - max(there), 0.0) / 2.0
    return float(max(there)) + max(min(room, _BEYOND * float(np.ptp(shaft.outline.corners, axis=0).max())), _OVER)


def _samples(outline: Outline) -> Floats:
    """Return places (K, 2) of an outline's corners, drawn in by a hair, and its middle."""
    corners = [outline.corners]
    corners += [
        bend.at(bend.start + bend.sweep * np.linspace(0.0, 1.0, _SAMPLES)[1:-1]) for bend in outline.bends.values()
    ]
    flat = np.concatenate(corners)
    middle = (flat.min(axis=0) + flat.max(axis=0)) / 2.0
    return np.concatenate([middle + (1.0 - 1e-6) * (flat - middle), middle[None]])


def _crossings(body: Joined, places: Floats, way: Floats) -> list[list[float]]:
    """Return how far along lines from places (K, 3), a unit vector ``way``, a body's surface is crossed, mm, ascending (Moeller and Trumbore 1997)."""
    a, b, c = (body.places[body.rows[:, k]] for k in range(3))
    one, two = b - a, c - a
    p = cross(np.broadcast_to(way, two.shape), two)
    det = np.einsum("nk,nk->n", one, p)
    det = np.where(np.abs(det) < EXACT * length(cross(one, two)), np.inf, det)
    found = []
    for place in places:
        off = place - a
        u = np.einsum("nk,nk->n", off, p) / det
        near = np.flatnonzero(np.isfinite(det) & (u >= 0.0) & (u <= 1.0))  # few are
        q = cross(off[near], one[near])
        v, t = (q @ way) / det[near], np.einsum("nk,nk->n", two[near], q) / det[near]
        hit = (v >= 0.0) & (u[near] + v <= 1.0) & (t > 0.0)
        far = np.sort(t[hit])
        found.append(far[np.diff(far, prepend=-np.inf) > 1e-6].tolist())
    return found
