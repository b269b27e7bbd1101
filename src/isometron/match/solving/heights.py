"""How high rings of one upright axle stand, from the eye level, in diameters of the first of them.

In the plane at the distance one over or under the eye a ring at the height h has its centre at the foot of the axle by h, and its radius by h.
"""

from __future__ import annotations

import numpy as np

from isometron.match.solving.camera import Camera, Layout, Numbers, ideal, plane_frame, ring_off
from isometron.match.solving.misfits import is_straight

__all__ = ["axles_of", "heights_on", "own_spread"]

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
    return _heights(layout, numbers, rows)[0]


def own_spread(layout: Layout, numbers: Numbers, rows: list[int]) -> Numbers:
    """Return the variances (R,) of the heights that come of the rings' own points, for marks that stray by one pixel: their circles are
    fitted anew under each camera, so that what the camera's numbers say of the heights is not all."""
    heights, circles, spreads = _heights(layout, numbers, rows)
    found = np.zeros(len(rows))
    straight = circles[0] is None
    for k, (height, circle, spread) in enumerate(zip(heights.real, circles, spreads, strict=True)):
        if circle is None or height == 0.0:
            continue
        x, y, _ = circle.real
        # height = 1 / (far wide): by far, and by the width of the first, which is its radius by how far it is.
        by_far = np.array([-height * x, -height * y, 0.0]) / (x * x + y * y)
        found[k] = by_far @ spread.real @ by_far if k or straight else 0.0
        if circles[0] is not None:
            a, b, square = circles[0].real
            far = a * a + b * b
            by_wide = -height * np.array([-a / far, -b / far, 0.5 / square])
            by_wide = by_wide + by_far if k == 0 else by_wide
            found[k] += by_wide @ spreads[0].real @ by_wide
    return found


def _heights(
    layout: Layout, numbers: Numbers, rows: list[int]
) -> tuple[Numbers, list[Numbers | None], list[Numbers]]:
    camera = layout.camera(numbers)
    up = _UP + 0.0 * camera.f[..., None]
    look = camera.axes[..., 2, :]
    ahead = look @ plane_frame(_UP)[:2].T
    by_height: list[Numbers] = []
    circles: list[Numbers | None] = []
    spreads: list[Numbers] = []
    wide = None
    for row in rows:
        points = np.array(layout.marks.rings[row].points)
        pixels = ideal(camera, points)
        straight = is_straight(points)
        circle, _, spread = ring_off(camera, up, pixels, straight=straight)
        circles.append(None if straight else circle)
        spreads.append(spread)
        far = np.sqrt((circle[..., :2] ** 2).sum(axis=-1))
        if wide is None:
            # Its diameter by the distance of the axle's foot.
            wide = 2.0 * (_half_angle(camera, pixels) if straight else np.sqrt(circle[..., 2]) / far)
        sense = np.sign((circle[..., :2].real * ahead.real).sum(axis=-1))
        by_height.append(0.0 * far if straight else sense / far)
    heights = np.stack(by_height, axis=-1) / wide[..., None] if wide is not None else np.zeros(0)
    return heights, circles, spreads


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
