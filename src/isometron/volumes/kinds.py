"""The register of kinds: a new kind is one new file and one line here."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass

from isometron.errors import IsometronError
from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.frames import Floats
from isometron.volumes.arch import Arch, arch_rounds, arch_solids
from isometron.volumes.box import Box, box_corners, box_solids
from isometron.volumes.cut.body import cut_corners, cut_rounds, cut_solids
from isometron.volumes.cut.faces import cut_faces
from isometron.volumes.cut.pieces import cut_pieces
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.cut.sides import cut_sides
from isometron.volumes.faces.arch import arch_faces
from isometron.volumes.faces.framed import framed_faces
from isometron.volumes.faces.plane import BodyFace, FacesById
from isometron.volumes.faces.turned import turned_faces, turned_sides
from isometron.volumes.framed import Framed, framed_solids
from isometron.volumes.keeping import Kept
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids
from isometron.volumes.turned import Turned, turned_rounds, turned_solids
from isometron.volumes.volume import Volume

__all__ = ["KINDS", "AnyVolume", "Kind", "NoFace", "kind_of", "own_corners", "own_faces", "own_sides"]

AnyVolume = Box | Turned | Arch | Framed | CutBody
"""The union of all kinds, for the file format."""


def _one(volume: Volume) -> Hashable:
    return None


def _alone(volume: Volume) -> Hashable:
    return volume.id


def _squared(volume: Volume) -> Hashable:
    """Squares round the ends are edges by the axle; steered or leant ones are edges of their own directions."""
    assert isinstance(volume, Turned)
    return volume.squared and (volume.axle, volume.steer_deg == 0.0 and volume.lean_deg == 0.0)


def _boxed(volumes: Sequence[Volume]) -> Floats:
    return box_corners(volumes)[0]


@dataclass(frozen=True)
class Kind:
    """What the solver asks of a kind.

    solids : builds volumes of one topology; topology : volumes with the same answer have the same one; rounds : round
    parts of a volume at a position, or None; corners : (N, 8, 3) the corners of the body itself, for marks on its faces; filled : the space of a
    volume whose solids are faces, as convex pieces, or None where they are its bodies; faces : the flat faces of a body whose faces are not those of `corners`, or None; sides : its
    round sides by their ids, or None.
    """

    solids: Callable[[Sequence[Volume]], Solids]
    topology: Callable[[Volume], Hashable] = _one
    rounds: Callable[..., RoundParts] | None = None
    corners: Callable[[Sequence[Volume]], Floats] = _boxed
    filled: Callable[[Volume], ConvexBodies] | None = None
    faces: Callable[[Volume], list[BodyFace]] | None = None
    sides: Callable[[Volume], dict[str, RoundSurface]] | None = None


KINDS: dict[type[Volume], Kind] = {
    Box: Kind(box_solids),
    Turned: Kind(turned_solids, _squared, turned_rounds, faces=turned_faces, sides=turned_sides),
    Arch: Kind(arch_solids, _alone, arch_rounds, faces=arch_faces),
    Framed: Kind(framed_solids, _alone, faces=framed_faces),
    CutBody: Kind(cut_solids, _alone, cut_rounds, cut_corners, filled=cut_pieces, faces=cut_faces, sides=cut_sides),
}


def kind_of(kind: type[Volume]) -> Kind:
    """Return what is known of a kind; raises `IsometronError` naming the known kinds."""
    if kind not in KINDS:
        known = ", ".join(k.__name__ for k in KINDS)
        raise IsometronError(f"Nothing is known of volumes of kind {kind.__name__}; known kinds: {known}.")
    return KINDS[kind]


def own_corners(volume: Volume) -> Floats:
    """Return the eight corners (8, 3) of a volume's body, in the box's order; bounding corners where it has none."""
    corners: Floats = kind_of(type(volume)).corners([volume])[0]
    return corners


class NoFace(IsometronError, LookupError):  # noqa: N818 (an answer, not a fault)
    """A body has no face of an id now; it may come back with the next edit."""


_FACES: Kept[FacesById] = Kept(256)
_NO_FACES = FacesById(())


def own_faces(volume: Volume) -> FacesById:
    """Return the flat faces of a volume's body by their ids; none of a kind whose faces are the construction faces."""
    faces = kind_of(type(volume)).faces
    return _NO_FACES if faces is None else _FACES.of((volume,), lambda: FacesById(faces(volume)))


_SIDES: Kept[dict[str, RoundSurface]] = Kept(256)


def own_sides(volume: Volume) -> dict[str, RoundSurface]:
    """Return the round sides of a volume's body by their ids."""
    sides = kind_of(type(volume)).sides
    return {} if sides is None else _SIDES.of((volume,), lambda: sides(volume))
