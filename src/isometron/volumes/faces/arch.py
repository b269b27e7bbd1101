"""The flat faces of an arch: its two walls with their opening, its outer sides, its top, its feet and the jambs."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline, flattened
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.arch import Arch, outline_of, plane_axes
from isometron.volumes.box import box_corners
from isometron.volumes.faces.plane import BodyFace, counter_clockwise, level_directions
from isometron.volumes.volume import Volume

__all__ = ["arch_faces", "outline_names"]


def arch_faces(volume: Volume) -> list[BodyFace]:
    """Return the flat faces of an arch; bent sides are surfaces, not faces.

    Walls and what lies in a side of the bounding volume go by that side (``y0``, ``z1``; a second foot ``z0/2``), the upright sides
    of the opening are ``jamb.0`` and ``jamb.1``.
    """
    assert isinstance(volume, Arch)
    bounds, rotations = box_corners([volume])
    corner, rotation = bounds[0, 0], rotations[0]
    outline = outline_of(volume)
    if len(outline.corners) == 0:
        return []
    a, b, k = plane_axes(volume.through)
    walls = [_wall(volume, flattened(outline), k, end) for end in (0, 1)]
    sides = [_side(volume, outline, n, name, (a, b, k)) for n, name in outline_names(volume, outline, a, b)]
    return [
        BodyFace(f.id, corner + rotation @ f.corner, rotation @ f.x, rotation @ f.y, rotation @ f.outward, f.loops)
        for f in (*walls, *sides)
    ]


def _wall(volume: Arch, loop: Floats, k: int, end: int) -> BodyFace:
    outward = np.zeros(3)
    outward[k] = 1.0 if end else -1.0
    a, b, _ = plane_axes(volume.through)
    corner, x, y = np.zeros(3), np.zeros(3), np.zeros(3)
    corner[k], x[a], y[b] = end * volume.size[k], 1.0, 1.0
    return BodyFace(f"{'xyz'[k]}{end}", corner, x, y, outward, (loop,))


def outline_names(volume: Arch, outline: Outline, a: int, b: int) -> list[tuple[int, str]]:
    """Return the straight sides of the outline by their number, with the ids of the faces that they make."""
    wide, high = volume.size[a], volume.size[b]
    found: list[tuple[int, str]] = []
    taken: dict[str, int] = {}
    count = len(outline.corners)
    for n in range(count):
        if n in outline.bends:
            continue
        (x, y), (to_x, to_y) = outline.corners[n], outline.corners[(n + 1) % count]
        if abs(x - to_x) <= CLOSE:
            outer = {0.0: f"{'xyz'[a]}0", wide: f"{'xyz'[a]}1"}
            name = next((own for at, own in outer.items() if abs(x - at) <= CLOSE), f"jamb.{int(x > wide / 2.0)}")
        elif abs(y - to_y) <= CLOSE:
            name = f"{'xyz'[b]}{int(y > high / 2.0)}"
        else:
            name = f"slope.{n}"
        taken[name] = taken.get(name, 0) + 1
        found.append((n, name if taken[name] == 1 else f"{name}/{taken[name]}"))
    return found


def _side(volume: Arch, outline: Outline, n: int, name: str, axes: tuple[int, int, int]) -> BodyFace:
    a, b, k = axes
    ends = np.zeros((2, 3))
    ends[:, [a, b]] = outline.corners[[n, (n + 1) % len(outline.corners)]]
    along = ends[1] - ends[0]
    outward = np.zeros(3)
    outward[a], outward[b] = along[b], -along[a]  # corners run counter-clockwise
    outward = outward / np.sqrt(outward @ outward)
    x, y = level_directions(outward)
    depth = np.zeros(3)
    depth[k] = volume.size[k]
    quad = np.array([ends[0], ends[1], ends[1] + depth, ends[0] + depth])
    flat = np.column_stack([quad @ x, quad @ y])
    corner = (ends[0] @ outward) * outward
    return BodyFace(name, corner, x, y, outward, (counter_clockwise(flat),))
