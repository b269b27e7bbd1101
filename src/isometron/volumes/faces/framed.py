"""The flat faces of a frame: those of its slab, its legs and its rails that nothing of the frame covers."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import BOX_FACES, box_corners
from isometron.volumes.faces.plane import BodyFace, counter_clockwise, level_directions
from isometron.volumes.framed import Framed, framed_parts
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["framed_faces"]


def framed_faces(volume: Volume) -> list[BodyFace]:
    """Return the faces of a frame's parts, such as ``slab.z1``, ``leg.2.y0`` or ``rail.1.3.z1``.

    A face that another part covers whole, as the slab covers a leg's upper end, is none.
    """
    assert isinstance(volume, Framed)
    bounds, rotations = box_corners([volume])
    corner, rotation = bounds[0, 0], rotations[0]
    parts = framed_parts(volume)
    boxes = np.array(list(parts.values()), dtype=np.float64).reshape(-1, 2, 3)
    found = []
    for row, name in enumerate(parts):
        for axis, end in BOX_FACES:
            if not _covered(boxes, row, axis, end):
                face = _face(boxes[row], axis, end, f"{name}.{'xyz'[axis]}{end}", _words(name))
                found.append(
                    BodyFace(face.id, corner + rotation @ face.corner, rotation @ face.x, rotation @ face.y,
                             rotation @ face.outward, face.loops, face.part)
                )  # fmt: skip
    return found


def _words(name: str) -> str:
    """Return what a part of a frame is called."""
    kind, *numbers = name.split(".")
    if kind == "slab":
        return tr("slab")
    if kind == "leg":
        return tr("leg {number}", number=numbers[0])
    return tr("rail {number}", number=4 * (int(numbers[0]) - 1) + int(numbers[1]))


def _covered(boxes: Floats, row: int, axis: int, end: int) -> bool:
    """Whether another box of the frame lies against the whole of a face."""
    others = [k for k in range(3) if k != axis]
    low, high = boxes[row]
    at = boxes[row, end, axis]
    for n, (start, stop) in enumerate(boxes):
        if n == row or not start[axis] - HAIR <= at <= stop[axis] + HAIR:
            continue
        beyond = stop[axis] > at + HAIR if end else start[axis] < at - HAIR
        if beyond and all(start[k] <= low[k] + HAIR and stop[k] >= high[k] - HAIR for k in others):
            return True
    return False


def _face(box: Floats, axis: int, end: int, name: str, words: str) -> BodyFace:
    outward = np.zeros(3)
    outward[axis] = 1.0 if end else -1.0
    x, y = level_directions(outward)
    quad = np.repeat(box[:1], 4, axis=0)
    one, two = (k for k in range(3) if k != axis)
    quad[[1, 2], one], quad[[2, 3], two], quad[:, axis] = box[1, one], box[1, two], box[end, axis]
    flat = np.column_stack([quad @ x, quad @ y])
    return BodyFace(
        name, (box[end, axis] * outward[axis]) * outward, x, y, outward, (counter_clockwise(flat),), words
    )
