"""Above, on, below: which faces of a volume show from this eye, and why, in words."""

from __future__ import annotations

import numpy as np

from isometron.document.lengths.units import format_length
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.solve.drawing import Drawing
from isometron.volumes.copies import placements
from isometron.volumes.kinds import own_faces
from isometron.wording import count_words, tr

__all__ = ["level_words", "visible_faces"]


def visible_faces(drawing: Drawing, owner: int) -> tuple[int, ...]:
    """Return the flat faces of a volume that the eye is in front of, by their number; of a box those of `BOX_FACES`."""
    return _faces_before(drawing, owner, drawing.document.eye.place)


def _faces_before(drawing: Drawing, owner: int, eye: Floats) -> tuple[int, ...]:
    scene = drawing.scene
    own = own_faces(drawing.document.volumes[owner])
    if own:
        return tuple(n for n, face in enumerate(own.values()) if float((eye - face.corner) @ face.outward) > CLOSE)
    corners, ways = scene.corners_of(owner), scene.rotations[owner]
    over = [sign * float((eye - corners[end]) @ ways[:, k]) for k in range(3) for end, sign in ((0, -1.0), (7, 1.0))]
    return tuple(number for number, height in enumerate(over) if height > CLOSE)


def level_words(drawing: Drawing, owner: int) -> str:
    """Return where a volume stands to the eye level, what shows of it, and the reason; of rows above each other, for each."""
    document = drawing.document
    volume = document.volumes[owner]
    corners = drawing.scene.corners_of(owner)
    low, high = float(corners[:, 2].min()), float(corners[:, 2].max())
    lifts = _lifts(drawing, owner)
    if len(lifts) == 1:
        return _level_words(drawing, owner, volume.name, low, high, len(visible_faces(drawing, owner)))
    told = []
    for number, (lift, along) in enumerate(lifts, start=1):
        name = tr("{volume}, row {number} of {count}", volume=volume.name, number=number, count=len(lifts))
        told.append(_level_words(drawing, owner, name, low + lift, high + lift, _shown(drawing, owner, along)))
    return "\n".join(told)


def _lifts(drawing: Drawing, owner: int) -> list[tuple[float, Floats]]:
    """Return how much higher each row of copies stands than the volume itself, mm, each once, lowest first, and one shift (3,) to it."""
    found: dict[float, Floats] = {}
    for ways, moved in placements(
        drawing.document.volumes[owner], lambda: {v.id: v for v in drawing.document.volumes}
    ):
        corner = np.array(drawing.document.volumes[owner].corner)
        shift = ways @ corner + moved - corner
        if np.allclose(ways, np.eye(3)):
            found.setdefault(round(float(shift[2]), 3), shift)
    return sorted(found.items())


def _shown(drawing: Drawing, owner: int, shift: Floats) -> int:
    """Return how many flat faces of a copy, shifted (3,) from the volume itself, the eye is in front of."""
    return len(_faces_before(drawing, owner, drawing.document.eye.place - shift))


def _level_words(drawing: Drawing, owner: int, name: str, low: float, high: float, count: int) -> str:
    document = drawing.document
    height = document.eye.position[2]
    words = {
        "volume": name,
        "eye": format_length(height, document.unit),
        "low": format_length(round(low, 3), document.unit),
        "high": format_length(round(high, 3), document.unit),
        "faces": count_words("{count} face shows.", "{count} faces show.", count),
    }
    if count == 0:
        return tr("{volume}: the eye is inside it, so no face shows.", **words)
    if low > height:
        return tr("{volume} is above eye level: its underside shows, because the eye ({eye}) is lower than it ({low}). "
                  "{faces}", **words)  # fmt: skip
    if high < height:
        return tr("{volume} is below eye level: its top shows, because the eye ({eye}) is higher than it ({high}). "
                  "{faces}", **words)  # fmt: skip
    return tr("{volume} stands across eye level ({eye}), from {low} to {high}: neither top nor underside shows. "
              "{faces}", **words)  # fmt: skip
