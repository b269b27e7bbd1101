"""The shell of a body: patches with names and surfaces, exact curves with the patch on either side, loops."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.shell.surfaces import Surfaces, on_two

__all__ = ["ARC", "FREE", "STRAIGHT", "Shell"]

STRAIGHT, ARC, FREE = range(3)


@dataclass(frozen=True)
class Shell:
    """A closed surface in the body's own axes, mm; copies and mirror images of a body are placings of it.

    Patches: patch_surface (F,) rows of ``surfaces``; patch_sign (F,) 1.0 where f grows outward, else -1.0; patch_name : the face that each is;
    patch_part (F,) the part that it comes from.
    Curves: curve_kind (C,) STRAIGHT, ARC, FREE; curve_sides (C, 2) the patches on the left and the right, seen from outside while going
    along; curve_on (C, 2) the surfaces that it is told by; curve_first (C + 1,) into points (P, 3), exact places from end to end; arcs (C, 11) of
    an ARC centre, two half axes, start and sweep in radians; curve_turn (C,) the sine of the angle between both patches: positive where the edge
    stands out, negative where it lies in, 0 where they run on.
    Loops: loop_first (L + 1,) into loop_curve, loop_forward (K,); loop_patch (L,).
    Triangles: places (V, 3), all of them on their surfaces; rows (T, 3); patch (T,). moved : mm that a place lay off its surfaces at most.
    """

    surfaces: Surfaces
    patch_surface: Ints
    patch_sign: Floats
    patch_name: tuple[str, ...]
    patch_part: Ints
    curve_kind: Ints
    curve_sides: Ints
    curve_on: Ints
    curve_first: Ints
    points: Floats
    arcs: Floats
    curve_turn: Floats
    loop_first: Ints
    loop_curve: Ints
    loop_forward: Bools
    loop_patch: Ints
    places: Floats
    rows: Ints
    patch: Ints
    moved: float

    @property
    def volume(self) -> float:
        """mm³, of the triangles."""
        a, b, c = (self.places[self.rows[:, k]] - self.places.mean(axis=0) for k in range(3))
        return float(np.einsum("nk,nk->n", a, np.cross(b, c)).sum() / 6.0)

    def curve(self, number: int) -> Floats:
        """Return the exact places (K, 3) along a curve."""
        found: Floats = self.points[self.curve_first[number] : self.curve_first[number + 1]]
        return found

    def at(self, number: int, parts: Floats) -> Floats:
        """Return places (K, 3) of a curve at parts of its way, from 0 to 1; each of them exact."""
        path = self.curve(number)
        if self.curve_kind[number] == ARC:
            arc = self.arcs[number]
            t = (arc[9] + np.asarray(parts) * arc[10])[:, None]
            found: Floats = arc[:3] + np.cos(t) * arc[3:6] + np.sin(t) * arc[6:9]
            return found
        far = np.concatenate([[0.0], np.cumsum(np.sqrt((np.diff(path, axis=0) ** 2).sum(axis=1)))])
        near = np.column_stack([np.interp(np.asarray(parts) * far[-1], far, path[:, k]) for k in range(3)])
        if self.curve_kind[number] == STRAIGHT:
            return near
        return on_two(self.surfaces, np.broadcast_to(self.curve_on[number], (len(near), 2)), near)

    def holds(self, places: Floats) -> Bools:
        """Tell which places (N, 3) lie within the triangles: wrong only within about a chord of a round side.

        By the winding number (van Oosterom and Strackee 1983).
        """
        found = np.zeros(len(places))
        corners = self.places[self.rows]
        for k, place in enumerate(places):
            a, b, c = (corners[:, n] - place for n in range(3))
            la, lb, lc = (np.sqrt((v * v).sum(axis=1)) for v in (a, b, c))
            box = np.einsum("nk,nk->n", a, np.cross(b, c))
            dots = (a * b).sum(axis=1) * lc + (b * c).sum(axis=1) * la + (c * a).sum(axis=1) * lb
            found[k] = np.arctan2(box, la * lb * lc + dots).sum() / (2.0 * np.pi)
        inside: Bools = found > 0.5
        return inside
