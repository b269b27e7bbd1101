"""How high rings of one upright axle stand, from the eye level, in diameters of the first of them.

In the plane at the distance one over or under the eye a ring at the height h has its centre at the foot of the axle by h, and its radius by h.
"""

from __future__ import annotations

import numpy as np

from isometron.match.solving.camera import Camera, Layout, Numbers, ideal, plane_frame, ring_off
from isometron.match.solving.misfits import is_straight

__all__ = ["axles_of", "heights_on"]

_UP = np.array([0.0, 0.0, 1.0])


def axles_of(layout: Layout) -> dict[str, list[int]]:
    """Return which rings of the marks stand on each axle, those that have enough points."""
    found: dict[str, list[int]] = {}
    for row, ring in enumerate(layout.marks.rings):
        if ring.axle and ring.square_to == "high" and len(ring.points) > 3:
            found.setdefault(ring.axle, []).append(row)
    return found


def heights_on(layout: Layout, numbers: Numbers, rows: list[int]) -> Numbers:
    """Return the heights (..., R) of the rings ``rows`` over the eye level; one that is seen straight lies at it."""
    camera = layout.camera(numbers)
    up = _UP + 0.0 * camera.f[..., None]
    look = camera.axes[..., 2, :]
    ahead = look @ plane_frame(_UP)[:2].T
    by_height = []
    wide = None
    for row in rows:
        points = np.array(layout.marks.rings[row].points)
        pixels = ideal(camera, points)
        straight = is_straight(points)
        circle, _ = ring_off(camera, up, pixels, straight=straight)
        far = np.sqrt((circle[..., :2] ** 2).sum(axis=-1))
        if wide is None:
            # Its diameter by the distance of the axle's foot.
            wide = 2.0 * (_half_angle(camera, pixels) if straight else np.sqrt(circle[..., 2]) / far)
        sense = np.sign((circle[..., :2].real * ahead.real).sum(axis=-1))
        by_height.append(0.0 * far if straight else sense / far)
    return np.stack(by_height, axis=-1) / wide[..., None] if wide is not None else np.zeros(0)


def _half_angle(camera: Camera, pixels: Numbers) -> Numbers:
    """Return the sine of half the angle that a ring at eye level is seen at: its radius by the distance of its centre."""
    f = camera.f[..., None]
    rays = np.stack([pixels[..., 0] / f, -pixels[..., 1] / f, 1.0 + 0.0 * pixels[..., 0]], axis=-1) @ camera.axes
    rays = rays / np.sqrt((rays**2).sum(axis=-1))[..., None]
    flat = pixels.real.reshape(-1, *pixels.shape[-2:])[0]
    order = np.argsort(flat @ (flat.max(axis=0) - flat.min(axis=0)))
    cosine = (rays[..., order[0], :] * rays[..., order[-1], :]).sum(axis=-1)
    half: Numbers = np.sqrt((1.0 - cosine) / 2.0)
    return half
