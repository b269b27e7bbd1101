"""The cone of vision and the honest measure of distortion: how far a sphere's picture is stretched."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import EXACT
from isometron.view.eye import Eye

__all__ = ["off_axis", "outside_cone", "stretch"]


def off_axis(eye: Eye, paper: ArrayLike) -> Floats:
    """Return the angle (N,) in radians between the sight lines of paper points (N, 2) and the axis."""
    paper = np.asarray(paper, dtype=np.float64).reshape(-1, 2)
    angle: Floats = np.arctan2(np.hypot(paper[:, 0], paper[:, 1]), eye.viewing_distance)
    return angle


def stretch(eye: Eye, paper: ArrayLike) -> Floats:
    """Return 1 / cos(a) (N,): how far a sphere drawn at the paper point is stretched; 1.15 at 30 degrees."""
    return 1.0 / np.cos(off_axis(eye, paper))


def outside_cone(eye: Eye, paper: ArrayLike) -> np.ndarray:
    """Tell for each paper point (N, 2) whether it lies outside the cone of vision; NaN rows are not."""
    outside: np.ndarray = off_axis(eye, paper) > np.radians(eye.cone_deg) / 2 + EXACT
    return outside
