"""The profile of a turned body from one half of its outline, as an eye sees it.

Where a sight line touches a body of radius r(z) about an upright axle, it is square to the surface's normal (cos a, sin a, -r') at the
angle a from the way to the eye: with the axle at the distance D and the eye e over the foot, cos a = (r - (z - e) r') / D. The outline
gives a line of sight for each point; angle and slope are found by turns, from the outline seen square to the sight.
"""

from __future__ import annotations

from math import cos

import numpy as np

from isometron.geometry.frames import Floats
from isometron.view.eye import Eye

__all__ = ["axle_between", "profile_of_outline"]

_TURNS = 60
_STEEPEST = 0.95


def axle_between(eye: Eye, left: Floats, right: Floats) -> Floats:
    """Return where the axle of a round foot stands (2,), from the two places (3,) at its level where sight lines touch it.

    With the half angle b that it is seen at, the middle of the two lies at D cos^2 b from the eye, and the axle at D.
    """
    one, other = (np.asarray(place)[:2] - eye.place[:2] for place in (left, right))
    middle = (one + other) / 2.0
    half = 0.5 * np.arccos(np.clip(float(one @ other) / float(np.hypot(*one) * np.hypot(*other)), -1.0, 1.0))
    found: Floats = eye.place[:2] + middle / cos(float(half)) ** 2
    return found


def profile_of_outline(eye: Eye, foot: Floats, paper: Floats) -> tuple[Floats, Floats]:
    """Return heights (N,) and radii (N,), mm, of the points (N, 2) on paper of a half outline, in their order; NaN where the sight
    line does not come near the axle.

    foot : (3,) where the axle stands.
    """
    rays = np.array([eye.ray(float(u), float(v)) for u, v in paper])
    off = eye.place - foot
    far = float(np.hypot(off[0], off[1]))
    towards = off[:2] / far
    aside = np.array([-towards[1], towards[0]])
    # In a frame with the axle upright at the origin, the eye at (far, 0, off z).
    ways = np.column_stack([rays[:, :2] @ towards, rays[:, :2] @ aside, rays[:, 2]])
    sense = np.sign(ways[:, 1].sum()) or 1.0
    cosine = np.zeros(len(paper))
    heights = radii = np.zeros(len(paper))
    for _ in range(_TURNS):
        sine = sense * np.sqrt(1.0 - cosine**2)
        # Each ray meets the half plane at its angle: its part square to that plane vanishes.
        across = -sine * ways[:, 0] + cosine * ways[:, 1]
        with np.errstate(divide="ignore", invalid="ignore"):
            along = np.where(np.abs(across) > 1e-12, sine * far / across, np.nan)
        x, y = far + along * ways[:, 0], along * ways[:, 1]
        heights, radii = off[2] + along * ways[:, 2], cosine * x + sine * y
        if len(paper) < 3:
            break
        rise, out = _slopes(heights), _slopes(radii)
        with np.errstate(divide="ignore", invalid="ignore"):
            new = (radii * rise - (heights - off[2]) * out) / (far * rise)
        new = np.clip(np.nan_to_num(new), -_STEEPEST, _STEEPEST)
        if np.abs(new - cosine).max() < 1e-12:
            break
        cosine = 0.5 * (cosine + new)
    return heights, np.maximum(radii, 0.0)


def _slopes(values: Floats) -> Floats:
    """Return how values change from point to point, of the parabola through three neighbours."""
    found: Floats = np.gradient(values, edge_order=2)
    return found
