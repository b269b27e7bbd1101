"""What is hidden, found the slow way: every sight line against every body, with no bounds, grids, planes or roots."""

import numpy as np


def behind_bodies(bodies, rows, eye, points, grown):
    """Whether each point (P, 3) has a body of ``rows`` before it, all faces moved out by ``grown`` mm."""
    way = points - eye
    found = np.zeros(len(points), dtype=bool)
    for row in rows:
        real = np.any(bodies.normals[row] != 0.0, axis=1)
        normals = bodies.normals[row, real]
        over, along = bodies.offsets[row, real] + grown - normals @ eye, way @ normals.T
        with np.errstate(divide="ignore", invalid="ignore"):
            at = over / along
        enters = np.where(along < 0.0, at, -np.inf).max(axis=1)
        leaves = np.where(along > 0.0, at, np.inf).min(axis=1)
        beside = ((along == 0.0) & (over <= 0.0)).any(axis=1)
        found |= ~beside & (np.minimum(leaves, 1.0) > np.maximum(enters, 0.0)) & ~(over > 0.0).all()
    return found


def behind_frusta(frusta, rows, eye, points, least):
    """Whether each point (P, 3) has a frustum of ``rows`` before it, for at least that part of its sight line."""
    found = np.zeros(len(points), dtype=bool)
    for row in rows:
        found |= covered(frusta, np.array([row]), eye, points[None], np.full(1, least))[0]
    return found


def covered(frusta, rows, eye, points, least):
    """Tell for each point (P, K, 3) whether the frustum of its pair ``rows`` (P,) lies before it, seen from ``eye``.

    least : (P,) the part of the sight line that must run inside; what only touches hides nothing.
    """
    e = frusta.local(rows, np.broadcast_to(eye, (len(rows), 1, 3)))
    d = frusta.local(rows, points) - e
    # The square of the radius at the height z is base + linear z + square z^2.
    k, bulge = ((frusta.high - frusta.low)[rows][:, None], frusta.bulge[rows][:, None])
    base, linear, square = frusta.low[rows][:, None] ** 2, 2 * frusta.low[rows][:, None] * k + bulge, k * k - bulge
    a = d[..., 0] ** 2 + d[..., 1] ** 2 - square * d[..., 2] ** 2
    b = e[..., 0] * d[..., 0] + e[..., 1] * d[..., 1] - (linear / 2 + square * e[..., 2]) * d[..., 2]
    c = e[..., 0] ** 2 + e[..., 1] ** 2 - (base + linear * e[..., 2] + square * e[..., 2] ** 2)
    low, high = slab(e[..., 2], d[..., 2])
    inner = b * b - a * c
    with np.errstate(divide="ignore", invalid="ignore"):
        q = -(b + np.copysign(np.sqrt(np.maximum(inner, 0.0)), b))
        one, two = q / a, c / q
    one, two = np.where(np.isnan(one), 0.0, one), np.where(np.isnan(two), 0.0, two)
    near, far = np.minimum(one, two), np.maximum(one, two)
    # Opening nappes (a < 0): inside is before the nearer root or past the farther; only one of them is in the slab.
    before, past = np.minimum(high, near) - low, high - np.maximum(low, far)
    between = np.minimum(high, far) - np.maximum(low, near)
    outside = np.where(inner < 0.0, high - low, np.maximum(before, past))
    within = np.where(inner < 0.0, -1.0, between)
    run = np.where(a < 0.0, outside, within)
    return run > least[:, None]


def slab(e, d):
    """Return the stretch of the sight line, within 0 to 1, that lies between both end planes."""
    with np.errstate(divide="ignore", invalid="ignore"):
        one, two = -e / d, (1.0 - e) / d
    level = d == 0.0
    inside = (e > 0.0) & (e < 1.0)
    low = np.where(level, np.where(inside, 0.0, 2.0), np.minimum(one, two))
    high = np.where(level, 1.0, np.maximum(one, two))
    return np.maximum(low, 0.0), np.minimum(high, 1.0)
