"""Single sides of an outline moved inwards, and where two of them meet."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Bend, Outline
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.wording import tr

__all__ = ["line_inside", "no_room", "offset_polygons", "on_line_and_circle", "on_two_circles", "radius_inside"]

_MITRE = 50.0
"""Of the distance: sharp corners reach no farther than this."""


def no_room(by: float) -> OutlineError:
    """Return what refuses a distance that leaves nothing."""
    return OutlineError(tr("There is no room {by:.4g} mm inside the outline: take less.", by=by))


def offset_polygons(loop: Floats, by: float) -> list[Floats]:
    """Return what a counter-clockwise polygon (P, 2) comes to so far further in, by a well-kept library: rings (K, 2), none where nothing is left.

    Raises `OutlineError` where the library is not there.
    """
    try:
        from manifold3d import CrossSection, JoinType  # here, because few outlines need it
    except ImportError as error:
        raise OutlineError(
            tr(
                "The library that moves outlines inwards (manifold3d) is not there. Set the program up again with ./run demo."
            )
        ) from error
    return [np.asarray(ring) for ring in CrossSection([loop]).offset(-by, JoinType.Miter, _MITRE).to_polygons()]


def radius_inside(bend: Bend, by: float) -> float:
    """Return the radius of an arc so far further in."""
    size = float(np.hypot(*bend.first))
    if abs(size - float(np.hypot(*bend.second))) > HAIR * (1.0 + size):
        raise OutlineError(tr("A side of the outline is a flattened arc: it cannot be followed at a distance."))
    radius = size - by if bend.sweep > 0.0 else size + by
    if radius <= CLOSE:
        raise no_room(by)
    return radius


def line_inside(outline: Outline, k: int, by: float) -> tuple[Floats, Floats]:
    """Return a place (2,) on a straight side so far further in, and its direction (2,) of length one."""
    one, two = outline.corners[k], outline.corners[(k + 1) % len(outline.corners)]
    way = (two - one) / np.hypot(*(two - one))
    return one + by * np.array([-way[1], way[0]]), way


def on_line_and_circle(place: Floats, way: Floats, centre: Floats, radius: float) -> Floats:
    """Return where a line meets a circle (K, 2), K 0 or 2."""
    off = place - centre
    b, c = float(off @ way), float(off @ off) - radius * radius
    root = b * b - c
    if root < 0.0:
        return np.zeros((0, 2))
    return np.array([place + (-b + sign * root**0.5) * way for sign in (-1.0, 1.0)])


def on_two_circles(one: Floats, r: float, two: Floats, s: float) -> Floats:
    """Return where two circles, by middles and radii, meet (K, 2), K 0 or 2."""
    gap = two - one
    far = float(np.hypot(*gap))
    if far <= CLOSE or far > r + s or far < abs(r - s):
        return np.zeros((0, 2))
    along = (r * r - s * s + far * far) / (2.0 * far)
    off = max(r * r - along * along, 0.0) ** 0.5
    foot, side = one + along / far * gap, np.array([-gap[1], gap[0]]) / far
    return np.array([foot + off * side, foot - off * side])
