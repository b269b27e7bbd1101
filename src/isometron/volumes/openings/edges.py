"""The rounded edges of a body at rest."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.rounding import Rounded, Rounding, round_edges
from isometron.geometry.tolerances import HAIR
from isometron.volumes.kinds import NoFace
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.marks.places import face_plane
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["rounded_shell", "row_of"]


def rounded_shell(volume: Volume, shell: FlatFaces) -> tuple[Rounded, dict[int, str]]:
    """Return the shell of a body at rest with its rounded edges, and why of some there are none, by their numbers."""
    refused: dict[int, str] = {}
    wishes, numbers = [], []
    for number, edge in enumerate(volume.rounded):
        try:
            one, two = (row_of(volume, shell, face) for face in edge.between)
        except NoFace:
            refused[number] = tr("One of the faces of this rounded edge is not there now.")
            continue
        wishes.append(Rounding(one, two, edge.radius, edge.radius if edge.grows_to is None else edge.grows_to))
        numbers.append(number)
    found = round_edges(shell, wishes)
    return found, refused | {numbers[k]: words for k, words in found.refused.items()}


def row_of(volume: Volume, shell: FlatFaces, face: FaceRef) -> int:
    """Return the row of a face of a body at rest in its shell: that on its plane; raises `NoFace` where there is none."""
    plane = face_plane(volume, face)
    alike = shell.normals @ plane.outward > 1.0 - HAIR
    off = np.abs(np.einsum("fk,fk->f", shell.frames[:, :3] - plane.middle, shell.normals))
    rows = np.flatnonzero(alike & (off <= 1e-6 * (1.0 + float(np.abs(plane.middle).max()))))
    if not len(rows):
        raise NoFace(tr("{volume} has no face {face} now.", volume=volume.name, face=face))
    return int(rows[0])
