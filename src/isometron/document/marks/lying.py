"""Whether a new mark lies on the body, and not beside it: on a stepped, gabled, L-shaped or leaning one a face of the
bounding volume reaches farther than the body does."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
import numpy as np

from isometron.document.model import DocumentError
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import holds
from isometron.volumes.arch import Arch
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.plane import BodyFace
from isometron.volumes.kinds import AnyVolume, kind_of, own_faces
from isometron.volumes.marks.face_marks import CourseMark, FaceMark, OpeningMark, PathMark
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from isometron.volumes.marks.places import has_face, has_place
from isometron.wording import tr

__all__ = ["hold_on_body"]

_OFF = 0.05
"""mm: as far as a mark may stand off the body it lies on."""
_ALONG = np.linspace(0.02, 0.98, 13)


def hold_on_body(volume: AnyVolume, new: Iterable[FaceMark]) -> None:
    """Raise `DocumentError` for marks that would lie beside the volume's body; lines of a plain view may."""
    for mark in new:
        if has_face(volume, mark) and not has_place(volume, mark):
            raise DocumentError(_beyond(volume))
    if not isinstance(volume, Arch | CutBody):
        return
    plain = msgspec.structs.replace(volume, copies=(), mirror=None, marks=())
    kind = kind_of(type(volume))
    bodies = kind.solids([plain]).bodies if kind.filled is None else kind.filled(plain)
    for mark in new:
        if isinstance(mark, PathMark | OpeningMark | CourseMark):
            continue
        places = _places(msgspec.structs.replace(plain, marks=(mark,)))
        if isinstance(face := getattr(mark, "face", 0), str):
            if not has_face(volume, mark) or not _within(own_faces(plain)[face], places):
                raise DocumentError(_beside(volume))
            continue
        over = np.einsum("bfk,pk->bpf", bodies.normals, places) - bodies.offsets[:, None, :]
        real = (bodies.normals != 0.0).any(axis=2)
        over = np.where(real[:, None, :], over, -np.inf).max(axis=2)
        if len(places) and float(over.min(axis=0).max()) > _OFF:
            raise DocumentError(_beside(volume))


def _beyond(volume: AnyVolume) -> str:
    return tr("{volume}: this would lie beyond its face. Choose a place on the face.", volume=volume.name)


def _beside(volume: AnyVolume) -> str:
    return tr("{volume}: this would lie beside the body there. Choose a place on the body.", volume=volume.name)


def _within(face: BodyFace, places: Floats) -> bool:
    """Whether places (P, 3) all lie within a face's outline, and beside its holes."""
    flat = np.column_stack([(places - face.corner) @ face.x, (places - face.corner) @ face.y])
    return all(
        holds(face.loops[0], at, _OFF) and not any(holds(hole, at, -_OFF) for hole in face.loops[1:]) for at in flat
    )


def _places(volume: AnyVolume) -> Floats:
    """Return places (P, 3) along all that the marks of a volume draw."""
    ends, rounds = mark_edges(volume).ends, mark_rounds(volume, 0)
    straight = ends[:, :1] + _ALONG[:, None] * (ends[:, 1:] - ends[:, :1])
    turns = 2 * np.pi * (rounds.ring_span[:, :1] + _ALONG * rounds.ring_span[:, 1:])[..., None]
    rings = (
        rounds.rings[:, None, :3]
        + np.cos(turns) * rounds.rings[:, None, 3:6]
        + np.sin(turns) * rounds.rings[:, None, 6:]
    )
    return np.concatenate([straight.reshape(-1, 3), rings.reshape(-1, 3)])
