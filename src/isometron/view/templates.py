"""The template rack: which plastic ellipse fits a drawn one best, and how far it is off.

Templates are laid centre on centre and axes on axes. The largest normal distance between two convex curves is the
largest difference of their support functions (Schneider, Convex Bodies, 1993, theorem 1.8.11); for ellipses
h(t) = sqrt(a^2 cos^2 t + b^2 sin^2 t), and its extremes are at the axes or where h2 / h1 is the ratio of a^2 - b^2.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import asin, degrees

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE

__all__ = ["USUAL_DEGREES", "USUAL_MAJORS", "Fit", "best_fit", "best_hole", "ellipse_gap"]

USUAL_DEGREES = tuple(float(d) for d in range(10, 85, 5))
USUAL_MAJORS = tuple(2.5 * n for n in range(2, 41))
"""A usual set: sheets every 5 degrees, holes by their major axis every 2.5 mm from 5 to 100 mm."""

_TIE = CLOSE


@dataclass(frozen=True)
class Fit:
    """The best template for an ellipse: degree, full major axis in mm, largest gap in mm.

    exact : the ellipse's own degree; equally_good : all [degree, major] with the least gap; runner_up : the next
    better-known choice (degree, major, gap), None in a rack with only ties; by_numbers : nearest degree and nearest
    major taken apart, with its gap.
    """

    exact: float
    degree: float
    major: float
    gap: float
    equally_good: tuple[tuple[float, float], ...]
    runner_up: tuple[float, float, float] | None
    by_numbers: tuple[float, float, float]


def ellipse_gap(a: float, b: float, other_a: ArrayLike, other_b: ArrayLike) -> Floats:
    """Return the largest normal distance (N,) between the ellipse (a, b) and others (N,), centre and axes shared."""
    p, q = np.atleast_1d(np.asarray(other_a, float)), np.atleast_1d(np.asarray(other_b, float))
    ends = np.maximum(np.abs(p - a), np.abs(q - b))
    mine, theirs = a * a - b * b, p * p - q * q
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = (theirs / mine) ** 2
        cosine = (ratio * b * b - q * q) / (theirs - ratio * mine)
    between = np.isfinite(cosine) & (cosine > 0.0) & (cosine < 1.0)
    c = np.where(between, cosine, 0.0)
    inner = np.abs(np.sqrt(a * a * c + b * b * (1 - c)) - np.sqrt(p * p * c + q * q * (1 - c)))
    gap: Floats = np.maximum(ends, np.where(between, inner, 0.0))
    return gap


def best_hole(a: float, b: float, degree: float, majors: ArrayLike = USUAL_MAJORS) -> tuple[float, float]:
    """Return the hole (full major axis, mm) of one sheet that fits an ellipse best, and its largest gap in mm."""
    m = np.asarray(majors, float)
    gap = ellipse_gap(a, b, m / 2, m / 2 * np.sin(np.radians(degree)))
    k = int(np.argmin(gap))
    return float(m[k]), float(gap[k])


def best_fit(a: float, b: float, degrees_: ArrayLike = USUAL_DEGREES, majors: ArrayLike = USUAL_MAJORS) -> Fit:
    """Return the template of a rack that lies nearest to the ellipse with semi-axes ``a`` >= ``b``, mm.

    degrees_, majors : what the rack has; every degree in every size.
    """
    d, m = np.asarray(degrees_, float), np.asarray(majors, float)
    grid_d, grid_m = (x.ravel() for x in np.meshgrid(d, m, indexing="ij"))
    gap = ellipse_gap(a, b, grid_m / 2, grid_m / 2 * np.sin(np.radians(grid_d)))
    exact = degrees(asin(min(b / a, 1.0)))
    least = float(gap.min())
    ties = np.flatnonzero(gap <= least + _TIE)
    best = int(ties[np.argmin(np.abs(grid_d[ties] - exact))])
    worse = np.flatnonzero(gap > least + _TIE)
    runner = int(worse[np.argmin(gap[worse])]) if len(worse) else None
    plain_d, plain_m = d[np.argmin(np.abs(d - exact))], m[np.argmin(np.abs(m - 2 * a))]
    plain = float(ellipse_gap(a, b, plain_m / 2, plain_m / 2 * np.sin(np.radians(plain_d)))[0])
    return Fit(
        exact,
        float(grid_d[best]),
        float(grid_m[best]),
        float(gap[best]),
        tuple((float(grid_d[k]), float(grid_m[k])) for k in ties),
        None if runner is None else (float(grid_d[runner]), float(grid_m[runner]), float(gap[runner])),
        (float(plain_d), float(plain_m), plain),
    )
