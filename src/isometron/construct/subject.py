"""What is constructed: a volume's bounding box as a sketcher names it (leading edge, right-going, left-going, upright)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.construct.outcome import NotHere
from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, PARALLEL
from isometron.view.eye import Eye
from isometron.view.vanishing import vanishing
from isometron.volumes.box import box_corners
from isometron.wording import tr

__all__ = ["FlatBox", "LevelBox", "TiltedBox", "flat_box", "level_box", "tilted_box"]

Place = tuple[float, float]


@dataclass(frozen=True)
class LevelBox:
    """An upright box turned to the paper, in a level view.

    right, left, high : true lengths of the edges, mm of paper at the leading edge's ``scale``; turn : angle in radians
    between the paper and the right-going edges; lead : the leading edge's ends, bottom and top; corners : the
    engine's own picture of every corner by name; axis_right, axis_left, axis_up : the own directions of these edges;
    lead_number : number of the leading edge's lower corner.
    """

    eye: Eye
    scale: float
    right: float
    left: float
    high: float
    vp_right: Place
    vp_left: Place
    lead: tuple[Place, Place]
    corners: dict[str, Place]
    axis_right: int = 0
    axis_left: int = 1
    axis_up: int = 2
    lead_number: int = 0

    def bit(self, axis: int) -> int:
        """Return at which end of an own direction the leading edge stands: 0 at its start, 1 at its end."""
        return self.lead_number >> axis & 1

    @property
    def sense_right(self) -> int:
        """1 when the own direction of the right-going edges runs away from the leading edge, else -1."""
        return 1 - 2 * self.bit(self.axis_right)

    @property
    def sense_left(self) -> int:
        """The same for the left-going edges."""
        return 1 - 2 * self.bit(self.axis_left)

    @property
    def turn(self) -> float:
        """Angle in radians between the picture plane and the right-going edges."""
        return float(np.arctan2(self.eye.viewing_distance, self.vp_right[0]))


@dataclass(frozen=True)
class FlatBox:
    """An upright box with its front parallel to the paper, in a level view: one-point.

    wide, deep, high : true lengths, mm of paper at the front's ``scale``; front : the lower corner of the front that
    is nearer to the centre of vision.
    """

    eye: Eye
    scale: float
    wide: float
    deep: float
    high: float
    front: Place
    corners: dict[str, Place]


@dataclass(frozen=True)
class TiltedBox:
    """A box with three vanishing points. lengths : of the edges to each of ``points``, at the nearest corner's scale."""

    eye: Eye
    scale: float
    lengths: tuple[float, float, float]
    points: tuple[Place, Place, Place]
    nearest: Place
    corners: dict[str, Place]


def level_box(document: Document, row: int) -> LevelBox | NotHere:
    """Return a volume as the two-point schools need it, or why they cannot draw it."""
    eye, corners, rotation = _measured(document, row)
    refused = _not_level(document, row, rotation) or _behind(eye, corners, document.volumes[row].name)
    if refused is not None:
        return refused
    up = int(np.argmax(np.abs(rotation[2])))
    level = [k for k in range(3) if k != up]
    if any(vanishing(eye, rotation[:, k]).at is None for k in level):
        words = tr("Turned 0° to the paper, {name} has one vanishing point only; the other is infinitely far.",
                   name=document.volumes[row].name)  # fmt: skip
        return NotHere(words, "one-point")
    paper, depth = eye.project(corners)
    foot = [i for i in range(8) if i >> up & 1 == (0 if rotation[2, up] > 0.0 else 1)]
    lead = min(foot, key=lambda i: depth[i])
    points = {k: vanishing(eye, rotation[:, k]).at or (0.0, 0.0) for k in level}
    right, left = sorted(level, key=lambda k: -points[k][0])
    scale = eye.lens.scale(float(depth[lead]))
    size = document.volumes[row].size
    names = {}
    for name, number in (
        ("lead", lead),
        ("right", lead ^ 1 << right),
        ("left", lead ^ 1 << left),
        ("back", lead ^ 1 << right ^ 1 << left),
    ):
        names[f"{name} bottom"], names[f"{name} top"] = _at(paper, number), _at(paper, number ^ 1 << up)
    return LevelBox(
        eye,
        scale,
        size[right] * scale,
        size[left] * scale,
        size[up] * scale,
        points[right],
        points[left],
        (names["lead bottom"], names["lead top"]),
        names,
        right,
        left,
        up,
        lead,
    )


def flat_box(document: Document, row: int) -> FlatBox | NotHere:
    """Return a volume as the one-point school needs it, or why it cannot draw it."""
    eye, corners, rotation = _measured(document, row)
    refused = _not_level(document, row, rotation) or _behind(eye, corners, document.volumes[row].name)
    if refused is not None:
        return refused
    up = int(np.argmax(np.abs(rotation[2])))
    away = [k for k in range(3) if k != up and vanishing(eye, rotation[:, k]).at is not None]
    if len(away) != 1:
        words = tr("{name} is turned to the paper, so no face of it is drawn flat.", name=document.volumes[row].name)
        return NotHere(words, "plan")
    deep = away[0]
    across = 3 - up - deep
    paper, depth = eye.project(corners)
    foot = [i for i in range(8) if i >> up & 1 == (0 if rotation[2, up] > 0.0 else 1)]
    near = min(float(depth[i]) for i in foot)
    front = [i for i in foot if depth[i] <= near * (1.0 + CLOSE)]
    first, second = sorted(front, key=lambda i: abs(paper[i, 0]))
    names = {}
    for name, number in (
        ("front", first),
        ("other front", second),
        ("back", first ^ 1 << deep),
        ("other back", second ^ 1 << deep),
    ):
        names[f"{name} bottom"], names[f"{name} top"] = _at(paper, number), _at(paper, number ^ 1 << up)
    scale, size = eye.lens.scale(near), document.volumes[row].size
    return FlatBox(
        eye,
        scale,
        size[across] * scale,
        size[deep] * scale,
        size[up] * scale,
        names["front bottom"],
        names,
    )


def tilted_box(document: Document, row: int) -> TiltedBox | NotHere:
    """Return a volume as the three-point school needs it, or why it cannot draw it."""
    eye, corners, rotation = _measured(document, row)
    name = document.volumes[row].name
    refused = _behind(eye, corners, name)
    if refused is not None:
        return refused
    found = [vanishing(eye, rotation[:, k]).at for k in range(3)]
    if any(at is None for at in found):
        words = tr(
            "{name} has fewer than three vanishing points: some of its edges are parallel to the paper.", name=name
        )
        return NotHere(words, "plan" if sum(at is not None for at in found) == 2 else "one-point")
    paper, depth = eye.project(corners)
    nearest = int(np.argmin(depth))
    scale, size = eye.lens.scale(float(depth[nearest])), document.volumes[row].size
    names = {
        "".join("abc"[k] for k in range(3) if (nearest ^ number) >> k & 1) or "nearest": _at(paper, number)
        for number in range(8)
    }
    a, b, c = ((float(at[0]), float(at[1])) for at in found if at is not None)
    lengths = (size[0] * scale, size[1] * scale, size[2] * scale)
    return TiltedBox(eye, scale, lengths, (a, b, c), _at(paper, nearest), names)


def _measured(document: Document, row: int) -> tuple[Eye, Floats, Floats]:
    corners, rotations = box_corners([document.volumes[row]])
    return document.eye, corners[0], rotations[0]


def _at(paper: Floats, number: int) -> Place:
    return float(paper[number, 0]), float(paper[number, 1])


def _behind(eye: Eye, corners: Floats, name: str) -> NotHere | None:
    if (eye.to_camera(corners)[:, 2] > 0.0).all():
        return None
    return NotHere(tr("{name} reaches behind the eye, where nothing has a picture. Step back first.", name=name))


def _not_level(document: Document, row: int, rotation: Floats) -> NotHere | None:
    name, axes = document.volumes[row].name, document.eye.axes
    if abs(axes[2, 2]) >= PARALLEL or abs(axes[0, 2]) >= PARALLEL:
        return NotHere(tr("The view is tilted, so the uprights have a vanishing point of their own."), "three-point")
    if np.abs(rotation[2]).max() < 1.0 - PARALLEL:
        return NotHere(tr("{name} does not stand upright on a level ground.", name=name), "three-point")
    return None
