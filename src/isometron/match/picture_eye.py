"""The eye of a picture on the sheet: found from its marks, put into the world, and followed by the document's eye."""

from __future__ import annotations

from collections import OrderedDict
from math import degrees

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.document.pictures.picture_edits import with_picture
from isometron.document.pictures.placing import in_place, matched_eye
from isometron.document.pictures.sheet_picture import Camera, SheetPicture
from isometron.errors import IsometronError
from isometron.geometry.frames import Floats, half_turn
from isometron.match.answer import Answer, followed_by, matched
from isometron.match.marks import MarksError, PictureMarks
from isometron.match.scale import eye_height, on_ground
from isometron.match.solving.camera import Layout

__all__ = ["answer_of", "camera_by", "camera_of", "marked", "marks_of", "with_eye"]

_MOST = 40
_ANSWERS: OrderedDict[tuple[object, ...], Answer | str] = OrderedDict()
"""The latest answers, by what they answer; and the words where there is none."""


def marks_of(picture: SheetPicture, focal_px: float = 0.0) -> PictureMarks:
    """Return what is marked on a picture as `matched` takes it."""
    return PictureMarks(
        width=float(picture.width), height=float(picture.height), whole=picture.whole, focal_px=focal_px,
        lines=picture.lines, rings=picture.rings,
    )  # fmt: skip


def _key(picture: SheetPicture) -> tuple[object, ...]:
    return picture.file, picture.page, picture.whole, picture.focal_px, picture.lines, picture.rings


def answer_of(picture: SheetPicture, *, moving: bool = False) -> Answer | str:
    """Return what a picture's marks say, or why they say nothing yet.

    moving : a hand is dragging a mark: the latest answer is followed by a few steps. What the file itself tells of its focal
    length is used where the marks leave it open.
    """
    key = _key(picture)
    if key in _ANSWERS:
        _ANSWERS.move_to_end(key)
        return _ANSWERS[key]
    latest = next((a for k, a in reversed(_ANSWERS.items()) if k[:3] == key[:3] and isinstance(a, Answer)), None)
    marks = marks_of(picture)
    if moving and latest is not None and _same_kind(latest.marks, marks):
        return followed_by(msgspec.structs.replace(marks, focal_px=latest.marks.focal_px), latest)
    found = _answered(picture, marks, latest)
    _ANSWERS[key] = found
    while len(_ANSWERS) > _MOST:
        _ANSWERS.popitem(last=False)
    return found


def _same_kind(one: PictureMarks, other: PictureMarks) -> bool:
    """Whether two sets of marks differ only in where their points lie."""
    return [(m.object, m.along, len(m.points)) for m in one.lines] == [
        (m.object, m.along, len(m.points)) for m in other.lines
    ] and [len(r.points) for r in one.rings] == [len(r.points) for r in other.rings]


def _answered(picture: SheetPicture, marks: PictureMarks, latest: Answer | None) -> Answer | str:
    try:
        found = matched(marks, latest)
        if not found.focal.known and picture.focal_px > 0.0:
            found = matched(marks_of(picture, picture.focal_px))
    except MarksError as error:
        return str(error)
    except np.linalg.LinAlgError:
        return str(MarksError())
    return found


def camera_of(picture: SheetPicture, answer: Answer) -> Camera:
    """Return the eye of an answer in the world, see `camera_by`."""
    return camera_by(picture, answer.fit.layout, answer.fit.numbers)


def camera_by(picture: SheetPicture, layout: Layout, numbers: Floats) -> Camera:
    """Return the eye that numbers (P,) of a fit stand for, in the world: the first thing's long direction runs along x, its wide one
    along y; the leading corner's foot, or the lowest mark, stands on the ground over the world's origin."""
    camera = layout.camera(numbers)
    turn = 0.0
    if layout.objects:
        axes = np.real(layout.axes(numbers))[0]
        turn = degrees(float(np.arctan2(axes[0, 1], axes[0, 0])))
        if axes[0, 1] + axes[1, 1] < 0.0:
            turn += 180.0  # both directions lead away from the eye
    found = Camera(
        focal_px=float(camera.f), centre=(float(camera.centre[0]), float(camera.centre[1])),
        yaw_deg=half_turn(-turn), pitch_deg=degrees(float(camera.pitch)), roll_deg=degrees(float(camera.roll)),
        bend=float(camera.bend), position=(0.0, 0.0, 0.0),
    )  # fmt: skip
    height = eye_height(picture, found)
    x, y = _standing(picture, found, height)
    return msgspec.structs.replace(found, position=(x, y, height))


def _standing(picture: SheetPicture, camera: Camera, height: float) -> tuple[float, float]:
    """Return where the eye stands in plan, mm, so that the foot of the leading corner is the world's origin."""
    foot = picture.corner or _lowest(picture)
    there = on_ground(camera, np.array([foot]), height)[0] if foot is not None else None
    if there is None or not np.isfinite(there).all():
        return 0.0, -4.0 * height
    return -float(there[0]) + 0.0, -float(there[1]) + 0.0


def _lowest(picture: SheetPicture) -> tuple[float, float] | None:
    points = [at for line in picture.lines for at in line.points] + [
        at for ring in picture.rings for at in ring.points
    ]
    return max(points, key=lambda at: at[1], default=None)


def with_eye(document: Document, picture: SheetPicture, *, moving: bool = False) -> Document:
    """Return the document with a picture whose marks have changed: its eye is found anew, and where the document was seen by that
    eye, or the picture had none, the document is seen by the new one."""
    old = document.picture(picture.id)
    answer = answer_of(picture, moving=moving)
    follows = old is None or in_place(document, old)
    if isinstance(answer, str) or not answer.usable:
        return with_picture(document, picture)
    try:
        camera = camera_of(picture, answer)
        if moving and picture.camera is not None and picture.camera.centre == camera.centre:
            # While a hand drags, the picture is not straightened anew for every hair that its bend changes.
            kept = picture.camera.bend * (camera.focal_px / picture.camera.focal_px) ** 2
            camera = msgspec.structs.replace(camera, bend=kept)
        found = msgspec.structs.replace(picture, camera=camera)
        changed = with_picture(document, found)
        return matched_eye(changed, found) if follows else changed
    except IsometronError:
        # No eye that a sheet can show: the marks stay, and what they say is told.
        return with_picture(document, picture)


def marked(document: Document, picture: SheetPicture, what: str, *, moving: bool = False, merges: str = "") -> Edit:
    """Return the edit that marks a picture otherwise, its eye found anew."""
    return Edit(what, with_eye(document, picture, moving=moving), merges=merges)
