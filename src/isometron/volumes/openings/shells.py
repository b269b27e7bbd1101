"""Bodies as closed shells of flat faces, from which openings are cut; hollow ones with the faces of their inside."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.cutting import VIEW_AXES, CutFaces, TooMuchWork, cut_body, rectangle
from isometron.geometry.faces.flat import FlatFaces, faces_of
from isometron.geometry.faces.insets import inset
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.outlines import Outline
from isometron.volumes.arch import Arch, outline_of
from isometron.volumes.box import Box
from isometron.volumes.cut.body import used_outlines
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.cut.sides import bent_sides
from isometron.volumes.framed import Framed, framed_union
from isometron.volumes.lines.surfaces import RoundSurface
from isometron.volumes.openings.turned_shells import inner_rings, sides_of, turned_inside, turned_shell
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = ["Inside", "inside_of", "outlines_of", "shell_of"]


@dataclass(frozen=True)
class Inside:
    """The inside of a hollow body. faces : its walls, which look inwards; edges : (E, 2, 3), those that are tangent soft : (E,);
    rings : (G, 9), spans : (G, 2) in turns; sides : its round sides."""

    faces: FlatFaces
    edges: Floats
    soft: Bools
    rings: Floats
    spans: Floats
    sides: tuple[RoundSurface, ...] = ()


def outlines_of(volume: Volume) -> list[Outline] | None:
    """Return the three outlines that a body lies within; None of a body that is not cut so."""
    if isinstance(volume, CutBody):
        return list(used_outlines(volume.size, (volume.side, volume.plan, volume.front)))
    whole = [rectangle(volume.size[a], volume.size[b]) for a, b in VIEW_AXES]
    if isinstance(volume, Box):
        return whole
    if isinstance(volume, Arch):
        across = DIRECTIONS.index(volume.through)
        view = next(n for n, axes in enumerate(VIEW_AXES) if across not in axes)
        whole[view] = outline_of(volume)
        return whole
    return None


def shell_of(volume: Volume) -> FlatFaces | None:
    """Return the closed shell of a body in its own axes; None of one that openings cannot be cut from."""
    if isinstance(volume, Turned):
        return turned_shell(volume)
    if isinstance(volume, Framed):
        return framed_union(volume).faces
    outlines = outlines_of(volume)
    return None if outlines is None else faces_of(cut_body(*outlines))


def inside_of(volume: Volume) -> Inside | None:
    """Return the inside of a hollow body in its own axes; None of a solid one.

    Raises `OutlineError` in words where the wall leaves no room.
    """
    if volume.wall <= 0.0:
        return None
    if isinstance(volume, Turned):
        faces, drawn = turned_inside(volume), inner_rings(volume)
        none = np.zeros((0, 2, 3)), np.zeros(0, dtype=bool)
        return Inside(
            faces,
            *none,
            np.array(drawn).reshape(-1, 9),
            np.tile([0.0, 1.0], (len(drawn), 1)),
            tuple(sides_of(volume)[1:]),
        )
    outlines = outlines_of(volume)
    if outlines is None or isinstance(volume, Arch):
        raise OutlineError(tr("A body of this kind is always solid."))
    try:
        cut = cut_body(*(inset(outline, volume.wall) for outline in outlines))
    except TooMuchWork as error:
        raise OutlineError(tr("The outlines are too intricate for a hollow body: take corners out.")) from error
    if not len(cut.face):
        raise OutlineError(tr("A wall of {wall:.4g} mm leaves no room inside: take less.", wall=volume.wall))
    ends, soft = cut.edges
    rings, spans = cut.arcs
    return Inside(_inwards(cut), ends, soft, rings, spans / (2 * np.pi), tuple(bent_sides(cut).values()))


def _inwards(cut: CutFaces) -> FlatFaces:
    """Return the faces of a space as those of the wall round it. Chords of its rounds stand before what lies on them."""
    turned = replace(cut, span=-cut.span)
    faces = faces_of(turned)
    frames = faces.frames.copy()
    frames[:, 9:] *= -1.0
    return replace(faces, frames=frames)
