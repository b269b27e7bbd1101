"""Whether places lie over triangles of a shell."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Bools, Floats
from isometron.geometry.shell.surfaces import cross, length
from isometron.geometry.tolerances import CLOSE

__all__ = ["over_triangles"]

_REACH = 0.5
"""Of a triangle's size: no farther before or behind it a place of its patch lies."""


def over_triangles(place: Floats, way: Floats, corners: Floats, rim: float) -> Bools:
    """Tell over which triangles (T, 3, 3) a place (3,) lies along a way (3,), or ways (T, 3), ``rim`` parts of them beyond their sides included
    (Moeller and Trumbore 1997)."""
    one, two, off = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0], place - corners[:, 0]
    way = np.broadcast_to(way, one.shape)
    across = cross(way, two)
    det = np.einsum("nk,nk->n", one, across)
    det = np.where(np.abs(det) < CLOSE * length(one) * length(two), np.inf, det)
    s = np.einsum("nk,nk->n", off, across) / det
    other = cross(off, one)
    t = np.einsum("nk,nk->n", other, way) / det
    far = np.abs(np.einsum("nk,nk->n", other, two) / det)
    reach = _REACH * np.maximum(length(one), length(two))
    found: Bools = np.isfinite(det) & (s >= -rim) & (t >= -rim) & (s + t <= 1.0 + rim) & (far <= reach)
    return found
