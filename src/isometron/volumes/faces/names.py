"""What faces are called: by where they look in their volume, from its own front, numbered where there are several."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.faces.turned import ROUND_SIDE
from isometron.volumes.kinds import own_faces, own_sides
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.own_sides import Heading, heading_of, side_name
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["edge_name", "face_name", "face_names", "is_bent"]

_SLANT: dict[Heading, str] = {
    "front": tr("front slope"), "rear": tr("rear slope"), "left side": tr("left slope"), "right side": tr("right slope"),
    "underside": tr("underside slope"), "top": tr("top slope"),
}  # fmt: skip


def face_name(volume: Volume, face: FaceRef) -> str:
    """Return what a face is called; of one that is not there now, that."""
    if not isinstance(face, str):
        return side_name(volume, face)
    side = own_sides(volume).get(face)
    if side is not None:
        return tr("round side") if isinstance(volume, Turned) else _bent_name(volume, side)
    return face_names(volume).get(face, tr("a face that is not there now"))


def edge_name(volume: Volume, edge: RoundedEdge) -> str:
    """Return what a rounded edge is called: by its two faces."""
    one, two = (face_name(volume, face) for face in edge.between)
    return tr("{one} / {two}", one=one, two=two)


def is_bent(face: FaceRef) -> bool:
    """Whether a face is a round side, by its id."""
    return isinstance(face, str) and (face == ROUND_SIDE or face.endswith((".round", ".bow")))


def _bent_name(volume: Volume, side: RoundSurface) -> str:
    """Return the name of a bent side: by where its middle looks."""
    middle = side.turn / 2.0
    outward = np.cos(middle) * side.first + np.sin(middle) * side.second
    own = (-outward if side.hollow else outward) @ box_corners([volume])[1][0]
    axis = int(np.argmax(np.abs(own)))
    return tr("bent {side}", side=side_name(volume, 2 * axis + int(own[axis] > 0.0)))


def face_names(volume: Volume) -> dict[str, str]:
    """Return the names of a body's own faces by their ids; they may be numbered anew when the body changes."""
    faces = own_faces(volume)
    if not faces:
        return {}
    _, rotations = box_corners([volume])
    said: dict[str, list[tuple[float, str]]] = {}
    for face in faces.values():
        outward = face.outward @ rotations[0]
        far = float((face.corner - np.array(volume.corner)) @ face.outward)
        number = int(np.argmax(np.abs(outward)))
        side = side_name(volume, 2 * number + int(outward[number] > 0.0))
        if face.part:
            word = tr("{part}, {side}", part=face.part, side=side)
        else:
            word = side if isinstance(volume, Turned) else _word(volume, outward, far)
        said.setdefault(word, []).append((far, face.id))
    names = {}
    for word, same in said.items():
        for number, (_, name) in enumerate(sorted(same), 1):
            names[name] = word if len(same) == 1 else tr("{word} {number}", word=word, number=number)
    return names


def _word(volume: Volume, outward: Floats, far: float) -> str:
    """Return the word for a face that looks ``outward`` (3,) in own directions, its plane ``far`` mm from the corner."""
    axis, size = int(np.argmax(np.abs(outward))), volume.size
    number = 2 * axis + int(outward[axis] > 0.0)
    if abs(float(outward[axis])) < 1.0 - HAIR:
        # Slopes that look up more than aside are roofs: they go by the side that they fall to.
        if axis == 2 and outward[2] > 0.0:
            level = int(np.argmax(np.abs(outward[:2])))
            number = 2 * level + int(outward[level] > 0.0)
        return _SLANT[heading_of(volume, number)]
    if axis == 2 and number == 5 and far < size[2] - HAIR:
        return tr("tread")
    inner = far < size[axis] - HAIR if outward[axis] > 0.0 else far < -HAIR
    name = side_name(volume, number)
    return tr("inner {face}", face=name) if inner else name
