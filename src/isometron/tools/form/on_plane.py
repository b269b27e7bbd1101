"""Lines drawn on kept planes that are shown, and on the ground: what the pencil meets there, and what catches."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.document.lengths.units import format_length
from isometron.geometry.frames import Floats
from isometron.solve.pick import pick_face
from isometron.tools.form.on_face import CATCH
from isometron.tools.marking import FaceUnder
from isometron.tools.pencil import Pencil, ToolContext
from isometron.tools.pulling import on_plane, rounded
from isometron.tools.pulls import step_at
from isometron.volumes.box import box_corners
from isometron.volumes.lines.surfaces import FlatSurface
from isometron.volumes.sections.plane import GROUND, plane_surface
from isometron.wording import tr

__all__ = ["PlaneUnder", "next_on_plane", "plane_under"]

_BEYOND = 1.5
"""Of what a pane goes with: so far from its middle it is met."""


@dataclass(frozen=True)
class PlaneUnder:
    """A plane under the pencil: its id, what is drawn on, the place there, mm, and words."""

    plane: str
    surface: FlatSurface
    at: tuple[float, float]
    words: str


def plane_under(context: ToolContext, pencil: Pencil, under: FaceUnder | None) -> PlaneUnder | None:
    """Return the plane that is met first: a pane that is shown, before what stands there, else, beside everything, the ground."""
    document, eye = context.drawing.document, context.drawing.document.eye
    named = {volume.id: volume for volume in document.volumes}
    hit = pick_face(context.drawing, pencil.u, pencil.v, locked=False)
    far = np.inf if hit is None else float(np.sqrt(((hit.place - eye.place) ** 2).sum())) * (1.0 + 1e-9)
    best: tuple[float, str, FlatSurface, str] | None = None
    for plane in document.planes:
        surface = plane_surface(plane, named) if plane.shown else None
        place = None if surface is None else _met(context, surface, pencil)
        if surface is None or place is None or not _about(context, place, plane.of):
            continue
        away = float(np.sqrt(((place - eye.place) ** 2).sum()))
        if away <= far and (best is None or away < best[0]):
            best = away, plane.id, surface, plane.name
    if best is None and under is None:
        kept = next((plane for plane in document.planes if plane.id == GROUND), None)
        ground = FlatSurface(np.zeros(3), np.eye(3)[0], np.eye(3)[1]) if kept is None else plane_surface(kept, named)
        if ground is not None and _met(context, ground, pencil) is not None:
            best = 0.0, GROUND, ground, tr("on the ground")
    if best is None:
        return None
    _, name, surface, words = best
    at, said = next_on_plane(context, pencil, surface, ())
    return None if at is None else PlaneUnder(name, surface, at, ", ".join(word for word in (words, said) if word))


def _met(context: ToolContext, surface: FlatSurface, pencil: Pencil) -> Floats | None:
    normal = np.cross(surface.x, surface.y)
    return on_plane(context.drawing.document.eye, surface.origin, normal, pencil.u, pencil.v)


def _about(context: ToolContext, place: Floats, of: str) -> bool:
    """Whether a place lies about what a pane goes with, or about all that stands."""
    volumes = [v for v in context.drawing.document.volumes if (v.id == of if of else not v.put_away)]
    if not volumes:
        return True
    corners = np.concatenate([box_corners([volume])[0][0] for volume in volumes])
    low, high = corners.min(axis=0), corners.max(axis=0)
    reach = _BEYOND * float(np.sqrt(((high - low) ** 2).sum())) / 2.0
    return float(np.sqrt(((place - (low + high) / 2.0) ** 2).sum())) <= reach


def next_on_plane(
    context: ToolContext, pencil: Pencil, surface: FlatSurface, places: tuple[tuple[float, float], ...]
) -> tuple[tuple[float, float] | None, str]:
    """Return where the pencil is on a plane, and what caught it: the line's own start, and along each of the plane's two directions
    the ends and the middle of everything that stands, wherever it stands."""
    place = _met(context, surface, pencil)
    if place is None:
        return None, ""
    off = place - surface.origin
    here = [float(off @ surface.x), float(off @ surface.y)]
    within, step = CATCH * context.per_step(place), step_at(context, place)
    if len(places) > 2 and max(abs(a - b) for a, b in zip(here, places[0], strict=True)) <= within:
        return places[0], tr("at a point of its own")
    words: list[str] = []
    for column, way in enumerate((surface.x, surface.y)):
        caught = None if pencil.straight else _caught(context, surface, way, here[column], within)
        if caught is None:
            here[column] = rounded(here[column], step)
        else:
            here[column] = caught[0]
            words.append(caught[1])
    unit = context.drawing.document.unit
    words.append(" / ".join(format_length(round(value, 1), unit) for value in here))
    return (here[0], here[1]), ", ".join(dict.fromkeys(words))


def _caught(
    context: ToolContext, surface: FlatSurface, way: Floats, here: float, within: float
) -> tuple[float, str] | None:
    """Return the end or the middle of a volume along a way that is nearest, within reach."""
    best: tuple[float, float, str] | None = None
    for volume in context.drawing.document.volumes:
        if volume.put_away:
            continue
        along = (box_corners([volume])[0][0] - surface.origin) @ way
        low, high = float(along.min()), float(along.max())
        for at, said in ((low, tr("level with {volume}", volume=volume.name)), (high, tr("level with {volume}", volume=volume.name)),
                         ((low + high) / 2.0, tr("level with the middle of {volume}", volume=volume.name))):  # fmt: skip
            if abs(at - here) <= within and (best is None or abs(at - here) < best[0]):
                best = abs(at - here), at, said
    return None if best is None else (best[1], best[2])
