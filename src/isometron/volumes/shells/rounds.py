"""The rounded edges of a volume, as its outside with these edges rounded."""

from __future__ import annotations

import numpy as np

from isometron.geometry.faces.rolled_edges import Rounding
from isometron.geometry.frames import Floats
from isometron.geometry.shell.near import with_finer_rounds
from isometron.geometry.shell.rounded import with_rounded_edges
from isometron.geometry.shell.shell import Shell
from isometron.geometry.shell.surfaces import PLANE
from isometron.geometry.shell.united import Put, united
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed
from isometron.volumes.kinds import NoFace
from isometron.volumes.marks.places import face_on_planes
from isometron.volumes.shells.outside import chord_of
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["with_rounds"]


def with_rounds(volume: Volume, body: Put) -> tuple[Put, dict[int, str]]:
    """Return the outside of a volume with its rounded edges, and why some stay sharp, by their numbers."""
    if not isinstance(volume, Box | CutBody | Framed):
        words = tr("Edges of this kind of body stay sharp: round those of a block, a frame or a cut body.")
        return body, dict.fromkeys(range(len(volume.rounded)), words)
    chord = chord_of(volume)
    shell = with_finer_rounds(body, chord)
    refused: dict[int, str] = {}
    wishes, numbers = [], []
    flat = np.flatnonzero(shell.surfaces.kind[shell.patch_surface] == PLANE)
    outward = shell.surfaces.form[shell.patch_surface[flat], 3:6] * shell.patch_sign[flat, None]
    places = [_places(shell, patch) for patch in flat.tolist()]
    for number, edge in enumerate(volume.rounded):
        try:
            one, two = (int(flat[face_on_planes(volume, face, outward, places)]) for face in edge.between)
        except NoFace:
            refused[number] = tr("One of the faces of this rounded edge is not there now.")
            continue
        wishes.append(Rounding(one, two, edge.radius, edge.radius if edge.grows_to is None else edge.grows_to))
        numbers.append(number)
    part, sharp = with_rounded_edges(shell, wishes, chord)
    return body if part is None else united(part), refused | {numbers[k]: words for k, words in sharp.items()}


def _places(shell: Shell, patch: int) -> Floats:
    found: Floats = shell.places[np.unique(shell.rows[shell.patch == patch])]
    return found
