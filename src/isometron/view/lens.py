"""The lens: how a camera's space becomes a picture on paper. All that is worked out outside the view in terms of paper asks it.

Camera coordinates are Xc right, Yc up, Zc depth, mm of the object; paper is u right, v up, mm from the centre of vision.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan, degrees

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Parts
from isometron.geometry.piece_loops import ArcPieces, LinePieces, ring_ellipses
from isometron.geometry.shadow_loops import paper_bounds, set_bounds
from isometron.geometry.tolerances import NO_DEPTH

__all__ = ["Rectilinear"]


@dataclass(frozen=True)
class Rectilinear:
    """The lens that keeps straight lines straight: u = f Xc / Zc, v = f Yc / Zc; ``distance`` is f, mm of paper."""

    distance: float

    def to_paper(self, camera: Floats) -> Floats:
        """Return paper points (N, 2) of camera points (N, 3); NaN where the depth is not positive."""
        seen = camera[:, 2] > NO_DEPTH
        paper: Floats = camera[:, :2] * (self.distance / np.where(seen, camera[:, 2], 1.0))[:, None]
        paper[~seen] = np.nan
        return paper

    def ray(self, u: float, v: float) -> Floats:
        """Return the camera direction (3,), not normalised, of the sight line through a paper point."""
        return np.array([u, v, self.distance])

    def scale(self, depth: float) -> float:
        """Return mm of paper per mm of what is parallel to the picture at a depth."""
        return self.distance / depth

    def bearing_deg(self, off: float) -> float:
        """Return the angle between the line of sight and that to a paper point ``off`` mm from the centre of vision."""
        return degrees(atan(off / self.distance))

    def lines(
        self, camera: Floats, ends: Ints, reach: float, hidden: Parts, spans: Parts, dashed: Bools
    ) -> tuple[Floats, Ints, Bools]:
        """Return the pictures of segments ``ends`` (N, 2) between camera points: lines (M, 4), their rows (M,), whether hidden.

        Clipped at the eye plane and to ``reach`` mm about the centre of vision; hidden : parts that are hidden, which are told
        apart where ``dashed`` (N,), else left out; spans : what is drawn at all.
        """
        pieces = LinePieces(camera, ends, self.distance, reach)
        points, rows, back = pieces.cut(hidden, spans, dashed.view(np.uint8))
        return points, rows, back

    def ellipses(self, rings: Floats) -> tuple[Floats, Bools]:
        """Return centre, semi-axes and angle (N, 5) of the pictures of camera rings (N, 9), and which are ellipses (N,)."""
        found: tuple[Floats, Bools] = ring_ellipses(rings, self.distance)
        return found

    def arcs(self, rings: Floats, span: Floats, shapes: Floats, round_: Bools) -> ArcPieces:
        """Return what cuts the pictures of camera rings (N, 9) of spans (N, 2) into seen and hidden pieces."""
        return ArcPieces(rings, span, shapes, round_.view(np.uint8), self.distance)

    def bounds(self, points: Floats, place: Floats, axes: Floats) -> Floats:
        """Return least u, v and greatest u, v (N, 4) of the pictures of sets of world points (N, K, 3), seen from a place."""
        found: Floats = paper_bounds(np.ascontiguousarray(points), place, axes, self.distance)[0]
        return found

    def bounds_of_sets(self, points: Floats, first: Ints, place: Floats, axes: Floats) -> Floats:
        """Return the same (N, 4) of world points (P, 3) of which set n has those from first[n] to first[n + 1]."""
        found: Floats = set_bounds(points, first, place, axes, self.distance)[0]
        return found
