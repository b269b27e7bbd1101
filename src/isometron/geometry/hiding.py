"""Which stretches of lines and rings convex bodies, frusta and flat faces hide from an eye.

What a convex body hides of a line is one interval, because the region behind it is convex (see `bodies.shadows`). Non-convex
things are unions of convex bodies, so unions of intervals, or are bounded by flat faces with holes. The loops are in `sight`.
"""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass
from typing import Any

import numpy as np

from isometron.geometry.bodies import ConvexBodies, shadows
from isometron.geometry.faces.flat import FlatFaces, holds_place
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.frusta import AROUND, Frusta
from isometron.geometry.shadow_loops import arc_hulls, joined_bounds, paper_bounds, set_bounds
from isometron.geometry.sight.sight import Sight
from isometron.geometry.tolerances import TOUCH

__all__ = ["Curves", "Hiders", "Parts"]

_GRID = 2.0
"""The grid on paper reaches so many viewing distances from the centre of vision: a cone of more than 120 degrees."""

Parts = tuple[Ints, Floats, Floats]
"""Hidden parts as (curve, t0, t1), sorted and disjoint, with t from 0 to 1 along each curve."""


def _eyes_of(faces: FlatFaces, eye: Floats) -> Floats:
    """Return the eye (F, 3) in each face's own two directions, and its height over the plane."""
    found: Floats = np.einsum("fik,fk->fi", faces.frames[:, 3:].reshape(-1, 3, 3), eye - faces.frames[:, :3])
    return found


def _towards(faces: FlatFaces, eyes: Floats) -> tuple[Floats, Floats]:
    """Return the frames (F, 12) and the eyes (F, 3) of faces, those that hide from behind turned towards it."""
    turned = np.flatnonzero(faces.both & (eyes[:, 2] < 0.0))
    if not len(turned):
        return faces.frames, eyes
    frames, eyes = faces.frames.copy(), eyes.copy()
    frames[turned, 9:] *= -1.0
    eyes[turned, 2] *= -1.0
    return frames, eyes


def _looked_at(faces: FlatFaces, eyes: Floats, owner: Ints, eye: Floats) -> tuple[Bools, Ints]:
    """Tell which faces (F,) look at the eye, but for those of bodies that it is inside of, and whose these are."""
    if len(faces) == 0:
        return np.zeros(0, dtype=bool), np.zeros(0, dtype=np.intp)
    least = TOUCH * np.abs(eyes).max(axis=1)
    looks: Bools = (eyes[:, 2] > least) | (faces.both & (eyes[:, 2] < -least))
    first = np.flatnonzero(np.append(True, owner[1:] != owner[:-1]))
    start, ends = faces.first[first], np.append(first[1:], len(owner))
    low, high = np.minimum.reduceat(faces.places, start), np.maximum.reduceat(faces.places, start)
    holding = []
    for row in np.flatnonzero(((low < eye) & (eye < high)).all(axis=1)):
        own = np.arange(first[row], ends[row])
        if holds_place(faces.select(own), eye):
            looks[own] = False
            holding.append(owner[first[row]])
    return looks, np.array(holding, dtype=np.intp)


_NO_SPAN = np.zeros((0, 2))


@dataclass(frozen=True)
class Curves:
    """Lines, or rings, in the world. owner : (N,) the volumes they belong to; is_mark : (N,) those that a see-through volume
    does not hide, though it hides its own back edges; lenient : (N,) -1 for those on their own volume's rounded side, and from 1 on those on
    a spun body, which tells by itself where it hides them, see `Hiders`; 0 for all others.

    at : (N, 9) a ring's centre and two half axes, or (N, 6) a line's start and its way to the end; span : (N, 2) start and
    sweep of a ring in turns; bounds : (N, K, 3) points whose hull encloses a ring, of a short arc its ends and between them
    where its tangents meet, of a line both ends. Lines have no span.
    """

    at: Floats
    ring: bool
    span: Floats
    owner: Ints
    is_mark: Bools
    lenient: Ints
    bounds: Floats

    @staticmethod
    def lines(ends: Floats, owner: Ints, is_mark: Bools | None = None, lenient: Ints | None = None) -> Curves:
        """Return lines between ``ends`` (N, 2, 3)."""
        at = np.ascontiguousarray(ends).reshape(-1, 6).copy()
        at[:, 3:] -= at[:, :3]
        is_mark = np.ones(len(ends), dtype=bool) if is_mark is None else is_mark
        lenient = np.zeros(len(ends), dtype=np.intp) if lenient is None else lenient
        return Curves(at, False, _NO_SPAN, owner, is_mark, lenient, ends)

    @staticmethod
    def rings(at: Floats, span: Floats, owner: Ints, is_mark: Bools, lenient: Ints | None = None) -> Curves:
        """Return rings, or the parts of them that their spans say."""
        lenient = np.zeros(len(at), dtype=np.intp) if lenient is None else lenient
        return Curves(at, True, span, owner, is_mark, lenient, arc_hulls(at, span, AROUND))

    def points_at(self, ring: Ints, t: Floats) -> Floats:
        """Return the points (P, K, 3) of rings (P,) at parts (P, K) of their spans."""
        angle = 2 * np.pi * (self.span[ring, :1] + t * self.span[ring, 1:])[..., None]
        one, two = self.at[ring, None, 3:6], self.at[ring, None, 6:9]
        points: Floats = self.at[ring, None, :3] + np.cos(angle) * one + np.sin(angle) * two
        return points


class Hiders:
    """All that hides, seen by one eye.

    Args:
        eye: (3,) where it stands; axes : (3, 3) rows right, up, look; distance : of the picture plane, mm.
        bodies: with the volume each belongs to, body_owner : (B,); those of volumes in ``without`` (N,) hide nothing.
        frusta: round pieces, which know their owners.
        faces: flat faces of closed bodies, with the volume each belongs to, face_owner : (F,), ascending; an eye inside such a
            body is hidden nothing by it.
        solid: (N,) volumes that hide what is behind them; others hide only their own lines.
        own_least: (R,) mm that a sight line must run inside a frustum for it to hide a lenient line of its own volume: a
            rounded side is made of straight pieces that stand out from its outline by a little.
        spun: (R,) which spun body each frustum is of, 0 for none; it hides no line of that one.
        only_hides: (N,) volumes whose own lines and rings nobody asks about; they are told as seen.

    ``around`` are the rows of bodies that the eye is within, or on; ``holding`` the owners of faces that it is inside of.
    """

    def __init__(
        self,
        eye: Floats,
        axes: Floats,
        distance: float,
        bodies: ConvexBodies,
        body_owner: Ints,
        frusta: Frusta,
        faces: FlatFaces,
        face_owner: Ints,
        solid: Bools,
        without: Bools,
        own_least: Floats,
        spun: Ints,
        only_hides: Bools,
    ) -> None:
        self._eye, self._axes, self._distance = eye, np.ascontiguousarray(axes), distance
        self._only_hides = only_hides
        region = shadows(bodies, eye)
        owner = np.concatenate((body_owner, frusta.owner, face_owner))
        frusta_seen = np.column_stack([frusta.seen_from(eye), frusta.low, frusta.high, frusta.bulge])
        eyes = _eyes_of(faces, eye)
        box, near, far, side_boxes = self._bounds_of(bodies, frusta, faces)
        hiding: Bools = far > 0.0
        hiding[: len(bodies)] &= region.active & ~without[body_owner]
        looks, self.holding = _looked_at(faces, eyes, face_owner, eye)
        hiding[len(bodies) + len(frusta) :] &= looks
        self.around = np.flatnonzero(~region.active)
        order = np.argsort(near, kind="stable")
        self._sight: Any = Sight(  # type: ignore[no-untyped-call]
            region.planes, region.begins, region.touch, frusta_seen, own_least, spun,
            (*_towards(faces, eyes), faces.near, faces.sides, faces.bow_forms, faces.first, side_boxes), owner,
            solid[owner].view(np.uint8), box, near, order[hiding[order]], len(solid), _GRID * distance,
        )  # fmt: skip

    def twin(self) -> Hiders:
        """Return another that hides the same, for a second thread: one asks about one set of curves at a time."""
        other = copy(self)
        other._sight = self._sight.twin()
        return other

    def _bounds_of(
        self, bodies: ConvexBodies, frusta: Frusta, faces: FlatFaces
    ) -> tuple[Floats, Floats, Floats, Floats]:
        """Return bounds on paper (H, 4), least and greatest depths (H,) of all that hides, and bounds (S, 4) of the faces' sides."""
        own = bodies.packed
        parts = [set_bounds(own.vertices, own.first[0], self._eye, self._axes, self._distance)]
        sides = np.zeros((0, 4))
        if len(frusta):
            parts.append(self._paper_bounds(frusta.hulls))
        if len(faces):
            begins = np.arange(0, 3 * len(faces.sides) + 1, 3)
            sides, near, far = set_bounds(faces.hulls, begins, self._eye, self._axes, self._distance)
            parts.append(joined_bounds(sides, near, far, faces.first))
        box, near, far = (np.concatenate(part) for part in zip(*parts, strict=True))
        return box, near, far, sides

    def _paper_bounds(self, points: Floats) -> tuple[Floats, Floats, Floats]:
        return paper_bounds(np.ascontiguousarray(points), self._eye, self._axes, self._distance)

    def hidden(self, curves: Curves) -> Parts:
        """Return the hidden parts of all curves."""
        box, _, far = self._paper_bounds(curves.bounds)
        found: Parts = self._sight.hidden(
            self._eye, box, far, curves.at, curves.ring, curves.span, curves.owner,
            curves.is_mark.view(np.uint8), curves.lenient, self._only_hides.view(np.uint8), curves.bounds,
        )  # fmt: skip
        return found
