"""A thing's own sides: its front is chosen once, and rear, left side, right side, top and underside are said from it.

Left and right are the thing's own, as of somebody who sits in it and looks out of its front.
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from isometron.geometry.frames import Floats
from isometron.volumes.box import box_corners
from isometron.volumes.volume import Ahead, Volume
from isometron.wording import tr

__all__ = [
    "Heading",
    "corner_words",
    "front_ray",
    "heading_of",
    "side_name",
    "side_names",
    "side_seen",
    "turned_ahead",
    "view_word",
]

Heading = Literal["front", "rear", "left side", "right side", "underside", "top"]
_WORDS: dict[str, str] = {
    "front": tr("front"), "rear": tr("rear"), "left side": tr("left side"), "right side": tr("right side"),
    "underside": tr("underside"), "top": tr("top"),
}  # fmt: skip
_SIDES: dict[str, tuple[Heading, Heading, Heading, Heading]] = {
    "x0": ("front", "rear", "left side", "right side"),
    "x1": ("rear", "front", "right side", "left side"),
    "y0": ("right side", "left side", "front", "rear"),
    "y1": ("left side", "right side", "rear", "front"),
}
"""What the faces x0, x1, y0 and y1 are to a thing whose front lies at the key: left is up cross ahead."""


def heading_of(volume: Volume, face: int) -> Heading:
    """Return which of a thing's own sides a construction face is, by its number in `BOX_FACES`."""
    return ("underside", "top")[face - 4] if face > 3 else _SIDES[volume.ahead][face]


def side_name(volume: Volume, face: int) -> str:
    """Return the word for a construction face, by its number in `BOX_FACES`."""
    return _WORDS[heading_of(volume, face)]


def side_names(volume: Volume, axis: int) -> tuple[str, str]:
    """Return the words for both ends of an own direction, 0 long, 1 wide, 2 high."""
    return side_name(volume, 2 * axis), side_name(volume, 2 * axis + 1)


def corner_words(volume: Volume) -> str:
    """Return which of a volume's corners its position is that of: the one where its own directions start."""
    first, second = heading_of(volume, 0), heading_of(volume, 2)
    ends = [_WORDS[end] for end in (first, second) if end in ("front", "rear")]
    hands = [tr("left") if end == "left side" else tr("right") for end in (first, second) if end.endswith(" side")]
    return tr("its lower {end} {hand} corner", end=ends[0], hand=hands[0])


def view_word(volume: Volume, view: str) -> str:
    """Return what one of a volume's own views is called: the one along its front and rear shows its front."""
    if view == "plan":
        return tr("plan")
    along_wide = view == "side"  # the outline along its long direction, seen across it
    return tr("front view") if along_wide == (volume.ahead[0] == "y") else tr("side view")


def turned_ahead(ahead: Ahead) -> Ahead:
    """Return the side that is the front after a quarter turn to the left, as seen from above."""
    round_left: tuple[Ahead, ...] = ("x0", "y0", "x1", "y1")
    return round_left[(round_left.index(ahead) + 1) % 4]


def side_seen(volume: Volume, look: Floats) -> str:
    """Return the word for the side of a volume that faces somebody who looks along ``look`` (3,), a world direction."""
    _, rotations = box_corners([volume])
    facing = -look @ rotations[0]
    axis = int(np.argmax(np.abs(facing)))
    return side_name(volume, 2 * axis + int(facing[axis] > 0.0))


def front_ray(volume: Volume) -> Floats:
    """Return the ray (2, 3) from the middle of a volume's foot to the middle of the lower edge of its front."""
    corners, rotations = box_corners([volume])
    half = np.array(volume.size) * (0.5, 0.5, 0.0)
    axis, side = "xy".index(volume.ahead[0]), int(volume.ahead[1])
    reached = half.copy()
    reached[axis] = side * volume.size[axis]
    ray: Floats = corners[0, 0] + np.array([half, reached]) @ rotations[0].T
    return ray
