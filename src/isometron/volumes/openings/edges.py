"""The rounded edges of a body at rest."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

import msgspec
import numpy as np

from isometron.geometry.faces.cutting import VIEW_AXES, cut_body, rectangle
from isometron.geometry.faces.flat import FlatFaces, faces_of
from isometron.geometry.faces.meshes import RUNS_ON, mesh_of
from isometron.geometry.frames import Floats
from isometron.volumes.box import BOX_FACES, Box
from isometron.volumes.cut.body import used_outlines
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed, framed_union
from isometron.volumes.kinds import NoFace, own_faces
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.marks.places import face_on_planes
from isometron.volumes.openings.standing import stand_of, upright
from isometron.volumes.volume import Volume

__all__ = ["OuterEdge", "outer_edges"]


@dataclass(frozen=True)
class OuterEdge:
    """An edge that can be rounded: the two faces, its ends (2, 3) in the world, and the tangent of half the angle that the surface
    turns by there; ways : square to the edge into both faces, of length one."""

    between: tuple[FaceRef, FaceRef]
    ends: Floats
    half: float
    ways: tuple[Floats, Floats]


def outer_edges(volume: Volume) -> list[OuterEdge]:
    """Return the straight edges of a body in which two of its flat faces meet and stand out, as if none were rounded."""
    corner, rotation = stand_of(volume)
    return [
        replace(edge, ends=edge.ends @ rotation.T + corner, ways=(rotation @ edge.ways[0], rotation @ edge.ways[1]))
        for edge in _at_rest(_bare(volume))
    ]


def _bare(volume: Volume) -> Volume:
    return msgspec.structs.replace(
        upright(volume), id="edges", name="edges", marks=(), rounded=(), wall=0.0, copies=(), mirror=None, joined=None, says=(),
        keep=None, group="", see_through=False, put_away=False, locked=False, hangs=False, quiet=(),
    )  # fmt: skip


@lru_cache(maxsize=128)
def _at_rest(volume: Volume) -> list[OuterEdge]:
    shell = _faces_of(volume)
    if shell is None:
        return []
    names: dict[int, FaceRef] = {}
    for face in range(len(BOX_FACES)) if isinstance(volume, Box) else own_faces(volume):
        try:
            names.setdefault(_row_of(volume, shell, face), face)
        except NoFace:
            continue
    mesh = mesh_of(shell)
    found = []
    for (a, b), one in mesh.left.items():
        two = mesh.left.get((b, a))
        if two is None or a > b or one not in names or two not in names:
            continue
        normals, way = shell.normals[[one, two]], mesh.places[b] - mesh.places[a]
        cosine = float(np.clip(normals[0] @ normals[1], -1.0, 1.0))
        if mesh.stands_out((a, b)) and cosine < RUNS_ON:
            found.append(
                OuterEdge(
                    (names[one], names[two]),
                    mesh.places[[a, b]],
                    float(np.tan(np.arccos(cosine) / 2.0)),
                    _inward(normals, way),
                )
            )
    return found


def _faces_of(volume: Volume) -> FlatFaces | None:
    """Return the flat faces of a body whose edges can be rounded; None of others."""
    if isinstance(volume, Framed):
        return framed_union(volume).faces
    if isinstance(volume, CutBody):
        return faces_of(cut_body(*used_outlines(volume.size, (volume.side, volume.plan, volume.front))))
    if isinstance(volume, Box):
        return faces_of(cut_body(*(rectangle(volume.size[a], volume.size[b]) for a, b in VIEW_AXES)))
    return None


def _inward(normals: Floats, way: Floats) -> tuple[Floats, Floats]:
    """Return the ways into the faces beside an edge; the first lies to the left of ``way``."""
    unit = way / np.sqrt(way @ way)
    return np.cross(normals[0], unit), np.cross(unit, normals[1])


def _row_of(volume: Volume, shell: FlatFaces, face: FaceRef) -> int:
    """Return the row of a face of a body at rest in its shell: that on its plane; raises `NoFace` where there is none."""
    places = [shell.places[first:last] for first, last in pairwise(shell.first.tolist())]
    return face_on_planes(volume, face, shell.normals, places)
