"""Where sight lines enter frusta: through their round sides, and through their flat ends."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.frusta import Frusta

__all__ = ["entered"]


def entered(frusta: Frusta, place: Floats, ray: Floats) -> tuple[Ints, Floats, Floats]:
    """Return where a ray from ``place`` (3,) along ``ray`` (3,) goes into frusta: rows (H,), how far (H,), ways outward (H, 3).

    A side is met where x^2 + y^2 = (r0 + (r1 - r0) z)^2 + bulge z (1 - z), a quadratic along the ray, with z from 0 to 1; an end
    where z is 0 or 1 and the point within its radius. Only places where the ray goes in, in front of ``place``, are returned.
    """
    if len(frusta) == 0:
        return np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros((0, 3))
    frames = np.stack([frusta.first, frusta.second, frusta.axle], axis=2)  # columns: local to world
    with np.errstate(all="ignore"):
        inverse = np.linalg.inv(frames)
        start = np.einsum("rij,rj->ri", inverse, place - frusta.base)
        way = inverse @ ray
        rows, far = _sides(frusta, start, way)
        more, farther = _ends(frusta, start, way)
    rows, far = np.concatenate([rows, more]), np.concatenate([far, farther])
    is_end = np.arange(len(rows)) >= len(rows) - len(more)
    local = start[rows] + far[:, None] * way[rows]
    steep = _swell(frusta, rows, local[:, 2])[1]
    normal = np.column_stack([2.0 * local[:, 0], 2.0 * local[:, 1], -steep])
    normal[is_end] = np.column_stack([np.zeros(len(more))] * 2 + [np.where(local[is_end, 2] > 0.5, 1.0, -1.0)])
    outward = np.einsum("rij,ri->rj", inverse[rows], normal)  # gradients go by the inverse transposed
    size = np.sqrt((outward**2).sum(axis=1))
    kept = (far > 0.0) & (size > 0.0) & (outward @ ray < 0.0)
    return rows[kept], far[kept], outward[kept] / size[kept, None]


def _swell(frusta: Frusta, rows: Ints, z: Floats) -> tuple[Floats, Floats]:
    """Return the square of the radius at heights z, and how it grows with z."""
    low, grow, bulge = frusta.low[rows], (frusta.high - frusta.low)[rows], frusta.bulge[rows]
    radius = low + grow * z
    return radius**2 + bulge * z * (1.0 - z), 2.0 * radius * grow + bulge * (1.0 - 2.0 * z)


def _sides(frusta: Frusta, start: Floats, way: Floats) -> tuple[Ints, Floats]:
    low, grow, bulge = frusta.low, frusta.high - frusta.low, frusta.bulge
    z, dz = start[:, 2], way[:, 2]
    a = (way[:, :2] ** 2).sum(axis=1) - (grow**2 - bulge) * dz**2
    b = 2.0 * (start[:, :2] * way[:, :2]).sum(axis=1) - dz * (2.0 * grow * (low + grow * z) + bulge * (1.0 - 2.0 * z))
    c = (start[:, :2] ** 2).sum(axis=1) - (low + grow * z) ** 2 - bulge * z * (1.0 - z)
    root = np.sqrt(b**2 - 4.0 * a * c)
    # The stable form (Press et al., Numerical Recipes, 5.6): no difference of two nearly equal numbers.
    q = -0.5 * (b + np.where(b < 0.0, -root, root))
    far = np.stack([q / a, c / q], axis=1)
    at = z[:, None] + far * dz[:, None]
    rows, column = np.nonzero(np.isfinite(far) & (at >= 0.0) & (at <= 1.0))
    return rows, far[rows, column]


def _ends(frusta: Frusta, start: Floats, way: Floats) -> tuple[Ints, Floats]:
    far = (np.array([0.0, 1.0]) - start[:, 2:]) / way[:, 2:]
    at = start[:, None, :2] + far[..., None] * way[:, None, :2]
    radius = np.column_stack([frusta.low, frusta.high])
    rows, column = np.nonzero(np.isfinite(far) & ((at**2).sum(axis=2) <= radius**2))
    return rows, far[rows, column]
