"""What stands in an opening: a band round it, a sill, bars, and the line where a pane meets the wall."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

import msgspec
import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.flat import FlatFaces, no_faces
from isometron.geometry.faces.insets import inset
from isometron.geometry.faces.shaft import Shaft, chorded
from isometron.geometry.frames import Bools, Floats, square_to
from isometron.geometry.outlines import Outline, inside_parts
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured

__all__ = ["Fittings", "fittings_of"]

_SILL_HIGH = 0.5
"""Height of a sill, as a part of how far it stands out."""


@dataclass(frozen=True)
class Fittings:
    """Straight edges (E, 2, 3), soft : (E,) drawn as construction; rings : (G, 9), spans : (G, 2) in turns; faces that hide."""

    edges: Floats = field(default_factory=lambda: np.zeros((0, 2, 3)))
    rings: Floats = field(default_factory=lambda: np.zeros((0, 9)))
    spans: Floats = field(default_factory=lambda: np.zeros((0, 2)))
    faces: FlatFaces = field(default_factory=no_faces)

    @property
    def soft(self) -> Bools:
        """None of the edges is construction."""
        return np.zeros(len(self.edges), dtype=bool)

    @staticmethod
    def joined(parts: Sequence[Fittings]) -> Fittings:
        """Return all of them."""
        whole = [Fittings(), *parts]
        return Fittings(
            np.concatenate([part.edges for part in whole]),
            np.concatenate([part.rings for part in whole]),
            np.concatenate([part.spans for part in whole]),
            FlatFaces.joined([part.faces for part in whole]),
        )


def fittings_of(mark: OpeningMark, shaft: Shaft, rim: float) -> Fittings:
    """Return what stands in an opening whose rim lies so far back at most."""
    found = []
    if shaft.bent:
        # What stands in a bent wall stands behind the whole of its rim; a band on it is a line on the surface, see `rims`.
        mark = msgspec.structs.replace(mark, back=max(mark.back, rim))
    if mark.frame > 0.0 and not shaft.bent:
        found.append(_frame(mark, shaft))
    if mark.pane:
        found.append(_drawn(shaft, shaft.outline, mark.back))
    if mark.bars != (0, 0):
        found.append(_bars(mark, shaft))
    if mark.sill > 0.0:
        found.append(_sill(mark, shaft, rim))
    return Fittings.joined(found)


def _drawn(shaft: Shaft, outline: Outline, depth: float) -> Fittings:
    """Return an outline drawn on a plane so deep behind the face."""
    count = len(outline.corners)
    edges = [shaft.at(outline.corners[[k, (k + 1) % count]], depth) for k in range(count) if k not in outline.bends]
    rings = [
        np.concatenate([shaft.at(b.centre[None], depth)[0], *(h[0] * shaft.frame[3:6] + h[1] * shaft.frame[6:9] for h in (b.first, b.second))])
        for b in outline.bends.values()
    ]  # fmt: skip
    spans = [(b.start / (2 * np.pi), b.sweep / (2 * np.pi)) for b in outline.bends.values()]
    return Fittings(np.array(edges).reshape(-1, 2, 3), np.array(rings).reshape(-1, 9), np.array(spans).reshape(-1, 2))


def _frame(mark: OpeningMark, shaft: Shaft) -> Fittings:
    """Return the outer line of a band round an opening, on the face; a door's ends at the foot of the wall."""
    try:
        outer = inset(shaft.outline, -mark.frame)
    except OutlineError:
        return Fittings()
    found = _drawn(shaft, outer, 0.0)
    foot = float(chorded(shaft.outline)[:, 1].min())
    held = mark.at[1]
    if mark.form == "inset" or not isinstance(held, Measured) or held.mm + foot > HAIR:
        return found
    deep = (found.edges - shaft.at(np.array([[0.0, foot]]))[0]) @ shaft.frame[6:9]
    kept = []
    for edge, (a, b) in zip(found.edges, deep, strict=True):
        if max(a, b) > CLOSE:
            ends = [
                edge[k] if y >= 0.0 else edge[k] + y / (y - z) * (edge[1 - k] - edge[k])
                for k, y, z in ((0, a, b), (1, b, a))
            ]
            kept.append(ends)
    return replace(found, edges=np.array(kept).reshape(-1, 2, 3))


def _bars(mark: OpeningMark, shaft: Shaft) -> Fittings:
    """Return upright and level bars across an opening; where they cross their lines stop."""
    flat = chorded(shaft.outline)
    low, high = flat.min(axis=0), flat.max(axis=0)
    half = mark.bar / 2.0
    places = [
        [float(low[axis] + (high[axis] - low[axis]) * (k + 1) / (count + 1)) for k in range(count)]
        for axis, count in enumerate(mark.bars)
    ]
    edges, faces = [], []
    for axis in (0, 1):
        other = places[1 - axis]
        for at in places[axis]:
            for off in (-half, half) if half > CLOSE else (0.0,):
                one, two = np.empty(2), np.empty(2)
                one[axis] = two[axis] = at + off
                one[1 - axis], two[1 - axis] = low[1 - axis], high[1 - axis]
                for start, end in inside_parts(flat, one, two):
                    for a, b in _without(start, end, [(o - low[1 - axis]) / (high - low)[1 - axis] for o in other],
                                         half / (high - low)[1 - axis]):  # fmt: skip
                        edges.append(shaft.at(np.array([one + a * (two - one), one + b * (two - one)]), mark.back))
            if half > CLOSE:
                faces += _strip(shaft, flat, axis, at, half, mark.back)
    return Fittings(np.array(edges).reshape(-1, 2, 3), faces=FlatFaces.joined(faces))


def _without(start: float, end: float, places: Sequence[float], half: float) -> list[tuple[float, float]]:
    """Return what of a stretch lies beside so wide bars; lines without width cross."""
    if half <= 0.0:
        return [(start, end)]
    cuts = [start, *(cut for place in places for cut in (place - half, place + half)), end]
    return [(a, b) for a, b in list(pairwise(cuts))[::2] if b - a > CLOSE]


def _strip(shaft: Shaft, flat: Floats, axis: int, at: float, half: float, back: float) -> list[FlatFaces]:
    """Return both sides of a bar as faces, from rim to rim of the opening."""
    low, high = flat.min(axis=0)[1 - axis], flat.max(axis=0)[1 - axis]
    ends = []
    for off in (-half, half):
        one, two = np.empty(2), np.empty(2)
        one[axis] = two[axis] = at + off
        one[1 - axis], two[1 - axis] = low, high
        parts = inside_parts(flat, one, two)
        if not parts:
            return []
        ends.append([one + t * (two - one) for t in (parts[0][0], parts[-1][1])])
    loop = np.array([ends[0][0], ends[1][0], ends[1][1], ends[0][1]])
    return _two_sided(shaft, loop, back)


def _two_sided(shaft: Shaft, loop: Floats, back: float) -> list[FlatFaces]:
    places = shaft.at(loop, back)
    found = []
    for sign in (1.0, -1.0):
        frame = shaft.frame.copy()
        frame[:3] = shaft.at(np.zeros((1, 2)), back)[0]
        frame[9:] *= sign
        found.append(
            FlatFaces(
                frame[None], np.zeros(1), np.zeros(1, dtype=bool), np.array([len(loop)]),
                np.hstack([loop, np.roll(loop, -1, axis=0)]), places, np.zeros((len(loop), 7)),
            )
        )  # fmt: skip
    return found


def _sill(mark: OpeningMark, shaft: Shaft, rim: float) -> Fittings:
    """Return a sill: a board under the foot of an opening that stands out from the face, a little wider than it."""
    flat = chorded(shaft.outline)
    low, foot = flat.min(axis=0)
    right = flat[:, 0].max()
    out, high = mark.sill, _SILL_HIGH * mark.sill
    box = np.array(
        [[x, y, z] for z in (-rim, out) for y in (foot - high, foot) for x in (low - out / 2.0, right + out / 2.0)]
    )
    places = shaft.at(box[:, :2]) + box[:, 2:] * shaft.frame[9:]
    rows = [(a, b) for a in range(8) for b in range(a + 1, 8) if (a ^ b).bit_count() == 1]
    edges = np.array([places[[a, b]] for a, b in rows])
    loops = ([4, 5, 7, 6], [0, 1, 3, 2], [2, 3, 7, 6], [0, 1, 5, 4], [0, 2, 6, 4], [1, 3, 7, 5])
    middle = places.mean(axis=0)
    return Fittings(edges, faces=FlatFaces.joined([_of_loop(places[loop], middle) for loop in loops]))


def _of_loop(places: Floats, middle: Floats) -> FlatFaces:
    """Return a flat face round places (K, 3) that looks away from another one."""
    x = places[1] - places[0]
    x = x / np.sqrt(x @ x)
    y = places[-1] - places[0]
    y = y - (y @ x) * x
    y = y / np.sqrt(y @ y)
    outward = square_to(x, y)
    outward = outward if float(outward @ (places[0] - middle)) > 0.0 else -outward
    flat = np.stack([(places - places[0]) @ x, (places - places[0]) @ y], axis=1)
    return FlatFaces(
        np.concatenate([places[0], x, y, outward])[None], np.zeros(1), np.zeros(1, dtype=bool), np.array([len(places)]),
        np.hstack([flat, np.roll(flat, -1, axis=0)]), places, np.zeros((len(places), 7)),
    )  # fmt: skip
