"""Conics on paper: the picture of a circle, its ellipse, and where lines cross it.

A conic is a symmetric matrix C (3, 3) with x' C x = 0 for homogeneous paper points x = (u, v, 1). Hartley and
Zisserman, Multiple View Geometry (2004), sections 2.2.3 (conics and dual conics) and 2.3 (their mapping).
"""

from __future__ import annotations

from math import atan2, sqrt

import numpy as np

from isometron.geometry.frames import Floats

__all__ = ["circle_picture", "ellipse_of", "ellipse_through", "line_crossings"]


def circle_picture(plane: Floats) -> Floats:
    """Return the conic (3, 3) of the unit circle's picture under the homography ``plane`` (3, 3).

    The dual conic maps as H C* H', which needs no inverse; the result is scaled to the largest entry 1.
    """
    dual = plane @ np.diag([1.0, 1.0, -1.0]) @ plane.T
    conic = _adjugate(dual)
    conic = conic / np.abs(conic).max()
    symmetric: Floats = (conic + conic.T) / 2
    return symmetric


def ellipse_of(conic: Floats) -> tuple[float, float, float, float, float] | None:
    """Return centre u, v, semi-axes a >= b and the angle of a in radians; None when the conic is no ellipse."""
    a, b, c = conic[0, 0], conic[0, 1], conic[1, 1]
    det2 = a * c - b * b
    if not det2 > 0.0:
        return None
    u = (b * conic[1, 2] - c * conic[0, 2]) / det2
    v = (b * conic[0, 2] - a * conic[1, 2]) / det2
    level = conic[0, 2] * u + conic[1, 2] * v + conic[2, 2]
    spread = sqrt((a - c) ** 2 + 4 * b * b)
    one, two = (a + c - spread) / 2, (a + c + spread) / 2
    squares = (-level / one, -level / two)
    if not (squares[0] > 0.0 and squares[1] > 0.0):
        return None
    # The greater eigenvalue's axis lies at half the angle of (2b, a - c), without any difference of near numbers; the
    # long axis belongs to the eigenvalue that is smaller in size.
    greater = 0.5 * atan2(2 * b, a - c)
    angle = greater + (np.pi / 2 if abs(one) <= abs(two) else 0.0)
    axes = sorted((sqrt(squares[0]), sqrt(squares[1])))
    return float(u), float(v), axes[1], axes[0], float(angle)


def ellipse_through(points: Floats) -> Floats | None:
    """Return the conic (3, 3) of the ellipse that fits five or more points (N, 2) best; None where none does.

    The direct fit of Fitzgibbon, Pilu and Fisher (1999) in the form of Halir and Flusser (1998), points centred and scaled.
    """
    shift = points.mean(axis=0)
    size = float(np.sqrt(((points - shift) ** 2).sum(axis=1).mean()))
    if len(points) < 5 or not size > 0.0:
        return None
    x, y = ((points - shift) / size).T
    squares, rest = np.column_stack([x * x, x * y, y * y]), np.column_stack([x, y, np.ones_like(x)])
    s1, s2, s3 = squares.T @ squares, squares.T @ rest, rest.T @ rest
    if not np.linalg.cond(s3) < 1e12:
        return None
    back = -np.linalg.solve(s3, s2.T)
    reduced = s1 + s2 @ back
    reduced = np.array([reduced[2] / 2.0, -reduced[1], reduced[0] / 2.0])
    _, vectors = np.linalg.eig(reduced)
    vectors = np.real(vectors)
    ellipses = np.flatnonzero(4.0 * vectors[0] * vectors[2] - vectors[1] ** 2 > 0.0)
    if len(ellipses) == 0:
        return None
    a, b, c = vectors[:, ellipses[0]]
    d, e, f = back @ [a, b, c]
    own = np.array([[a, b / 2, d / 2], [b / 2, c, e / 2], [d / 2, e / 2, f]])
    carry = np.array([[1.0, 0.0, -shift[0]], [0.0, 1.0, -shift[1]], [0.0, 0.0, size]]) / size
    carried = carry.T @ own @ carry
    conic: Floats = carried / np.abs(carried).max()
    return conic


def line_crossings(conic: Floats, point: Floats, direction: Floats) -> tuple[float, float] | None:
    """Return how far along the line from ``point`` (2,) in ``direction`` (2,) it crosses the conic; None for a miss."""
    p, d = np.array([*point, 1.0]), np.array([*direction, 0.0])
    square, mixed, constant = float(d @ conic @ d), float(p @ conic @ d), float(p @ conic @ p)
    inner = mixed * mixed - square * constant
    if square == 0.0 or inner < 0.0:
        return None
    # The root of larger size first, the other from their product: no cancellation.
    larger = -(mixed + (sqrt(inner) if mixed >= 0.0 else -sqrt(inner)))
    if larger == 0.0:
        return 0.0, 0.0
    one, two = larger / square, constant / larger
    return (one, two) if one <= two else (two, one)


def _adjugate(m: Floats) -> Floats:
    return np.array(
        [
            [
                m[1, 1] * m[2, 2] - m[1, 2] * m[2, 1],
                m[0, 2] * m[2, 1] - m[0, 1] * m[2, 2],
                m[0, 1] * m[1, 2] - m[0, 2] * m[1, 1],
            ],
            [
                m[1, 2] * m[2, 0] - m[1, 0] * m[2, 2],
                m[0, 0] * m[2, 2] - m[0, 2] * m[2, 0],
                m[0, 2] * m[1, 0] - m[0, 0] * m[1, 2],
            ],
            [
                m[1, 0] * m[2, 1] - m[1, 1] * m[2, 0],
                m[0, 1] * m[2, 0] - m[0, 0] * m[2, 1],
                m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0],
            ],
        ]
    )
