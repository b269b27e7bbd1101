"""Above, on, below: which faces of a volume show from this eye, and why, in words."""

from __future__ import annotations

from isometron.document.lengths.units import format_length
from isometron.geometry.tolerances import CLOSE
from isometron.solve.drawing import Drawing
from isometron.volumes.kinds import own_faces
from isometron.wording import count_words, tr

__all__ = ["level_words", "visible_faces"]


def visible_faces(drawing: Drawing, owner: int) -> tuple[int, ...]:
    """Return the flat faces of a volume that the eye is in front of, by their number; of a box those of `BOX_FACES`."""
    scene, eye = drawing.scene, drawing.document.eye.place
    own = own_faces(drawing.document.volumes[owner])
    if own:
        return tuple(n for n, face in enumerate(own.values()) if float((eye - face.corner) @ face.outward) > CLOSE)
    corners, ways = scene.corners_of(owner), scene.rotations[owner]
    over = [sign * float((eye - corners[end]) @ ways[:, k]) for k in range(3) for end, sign in ((0, -1.0), (7, 1.0))]
    return tuple(number for number, height in enumerate(over) if height > CLOSE)


def level_words(drawing: Drawing, owner: int) -> str:
    """Return where a volume stands to the eye level, what shows of it, and the reason."""
    document = drawing.document
    volume, height = document.volumes[owner], document.eye.position[2]
    corners = drawing.scene.corners_of(owner)
    low, high = float(corners[:, 2].min()), float(corners[:, 2].max())
    count = len(visible_faces(drawing, owner))
    words = {
        "volume": volume.name,
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
