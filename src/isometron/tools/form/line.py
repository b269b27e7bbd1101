"""Lines drawn on faces and round sides, point by point."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from isometron.document.edits import Edit
from isometron.document.lengths.units import format_length
from isometron.document.marks.dividing import lay_mark
from isometron.document.model import DocumentError
from isometron.document.planes.plane_edits import draw_on_plane
from isometron.geometry.frames import Floats
from isometron.solve.pick import SideHit, pick_face, side_of_hit
from isometron.tools.form.on_face import CATCH, caught_on_face, face_near, lines_of
from isometron.tools.form.on_plane import next_on_plane, plane_under
from isometron.tools.marking import FaceUnder
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import rounded
from isometron.tools.pulls import step_at, typed_length
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.lines.on_volume import line_on, surface_of
from isometron.volumes.lines.paths import Path
from isometron.volumes.lines.surfaces import FlatSurface, Surface
from isometron.volumes.marks.face_marks import CurveMark, CurvePoint, FaceRef
from isometron.volumes.marks.holds import Measured
from isometron.volumes.sections.plane import PlaneLine, line_on_plane
from isometron.wording import tr

__all__ = ["LinePlan", "line_tool"]


@dataclass(frozen=True)
class LinePlan:
    """How a line goes on from point to point, and what it is."""

    then: Literal["straight", "smooth", "arc"] = "straight"
    bow: float = 0.3
    soft: bool = False
    mirrored: bool = False


_BEGIN = tr("Click on a face, a round side, a plane that is shown, or the ground, where the line begins.")
_ON = tr(
    "Click its next point; type how far it is from the last one. Enter ends it, a click on its start closes it. Escape takes a point back."
)


@dataclass(frozen=True)
class _Begun:
    """A line that is being drawn. places : (N, 2) mm on the surface; plane : of one on a kept plane, or on the ground, whose id is then the
    face."""

    owner: int
    face: FaceRef
    under: FaceUnder | None
    places: tuple[tuple[float, float], ...]
    plane: FlatSurface | None = None


def line_tool(context: ToolContext, plan: Callable[[], LinePlan]) -> Tool:
    """Draw lines, as ``plan`` says at that moment."""
    begun: _Begun | None = None
    shown = Preview(_BEGIN)
    while True:
        pencil = yield shown
        wish = plan()
        if pencil.act is Act.BACK:
            begun = None if begun is None or len(begun.places) < 2 else replace(begun, places=begun.places[:-1])
            shown = Preview(_BEGIN) if begun is None else _showing(context, begun, begun.places, wish, pencil, "")
            continue
        if begun is None:
            begun, shown = _begin(context, pencil)
            continue
        here, words = _next(context, begun, pencil)
        typed, wrong = typed_length(context, pencil.text)
        if typed is not None and here is not None:
            here = _as_far(begun.places[-1], here, typed)
        if pencil.act is Act.ENTER and not pencil.text.strip():
            done = _laid(context, begun, begun.places, wish, closed=False)
            if isinstance(done, Edit):
                return done
            shown = _showing(context, begun, begun.places, wish, pencil, done)
            continue
        places = begun.places if here is None else (*begun.places, here)
        if here == begun.places[-1]:
            places = begun.places
        # Letting go away from where it was pressed is a click too: so it is with the pencil carried by keys.
        away = pencil.act is Act.RELEASE and here is not None and _away(context, begun, here)
        takes = away or pencil.act is Act.PRESS or (pencil.act is Act.ENTER and typed is not None and not wrong)
        if takes and here is not None:
            if _closes(begun, here):
                done = _laid(context, begun, begun.places, wish, closed=True)
                if isinstance(done, Edit):
                    return done
                shown = _showing(context, begun, begun.places, wish, pencil, done)
                continue
            if here != begun.places[-1]:
                begun = replace(begun, places=places)
        shown = _showing(context, begun, places, wish, pencil, wrong if pencil.act is Act.ENTER else "", words)


def _volume(context: ToolContext, begun: _Begun) -> AnyVolume:
    return context.drawing.document.volumes[begun.owner]


def _begin(context: ToolContext, pencil: Pencil) -> tuple[_Begun | None, Preview]:
    """Return where a line begins once it is pressed, else what is shown."""
    side = _on_round(context, pencil)
    if side is not None:
        volume = context.drawing.document.volumes[side.owner]
        begun = _Begun(side.owner, side.face, None, (side.at,))
        said = tr("{face} of {volume}", face=face_name(volume, side.face), volume=volume.name)
        note = (Note(said, pencil.u, pencil.v),)
        return (begun, Preview(_ON, step=0)) if pencil.act is Act.PRESS else (None, Preview(_BEGIN, notes=note))
    under = face_near(context, pencil.u, pencil.v)
    met = plane_under(context, pencil, under)
    if met is not None:
        if pencil.act is Act.PRESS:
            return _Begun(-1, met.plane, None, (met.at,), met.surface), Preview(_ON, step=0)
        return None, Preview(_BEGIN, notes=(Note(met.words, pencil.u, pencil.v),))
    if under is None:
        words = tr("There is nothing here to draw on.") if pencil.act is Act.PRESS else ""
        return None, Preview(_BEGIN, refusal=words)
    volume = context.drawing.document.volumes[under.owner]
    caught = caught_on_face(context, volume, under, pencil)
    if caught is None:
        return None, Preview(_BEGIN)
    if pencil.act is Act.PRESS:
        return _Begun(under.owner, under.face, under, (caught.at,)), Preview(_ON, step=0)
    said = ", ".join(dict.fromkeys([face_name(volume, under.face), *(word for word in caught.words if word)]))
    return None, Preview(_BEGIN, notes=(Note(said, pencil.u, pencil.v),))


def _on_round(context: ToolContext, pencil: Pencil) -> SideHit | None:
    """Return the round side that the pencil points at, and the place there, along its axle rounded."""
    hit = pick_face(context.drawing, pencil.u, pencil.v, locked=False)
    found = None if hit is None else side_of_hit(context.drawing, hit)
    if hit is None or found is None:
        return None
    along = min(max(rounded(found.at[0], step_at(context, hit.place)), 0.0), found.side.long)
    return replace(found, at=(along, found.at[1]))


def _next(context: ToolContext, begun: _Begun, pencil: Pencil) -> tuple[tuple[float, float] | None, str]:
    """Return where the pencil is on the surface of a line, and what caught it in words."""
    if begun.plane is not None:
        return next_on_plane(context, pencil, begun.plane, begun.places)
    if begun.under is None:
        found = _on_round(context, pencil)
        if found is None or (found.owner, found.face) != (begun.owner, begun.face):
            return None, ""
        whole, last = 2.0 * np.pi * found.side.around, begun.places[-1][1]
        # The nearer way about the axle.
        along, about = found.at
        return (along, about + whole * round((last - about) / whole)), ""
    volume = _volume(context, begun)
    own = _own_catch(context, begun, pencil)
    if own is not None:
        return own, tr("at a point of its own")
    caught = caught_on_face(context, volume, begun.under, pencil)
    if caught is None:
        return None, ""
    at = caught.at
    if pencil.straight:  # along one direction only
        before = begun.places[-1]
        keep = 0 if abs(at[1] - before[1]) > abs(at[0] - before[0]) else 1
        at = (before[0], at[1]) if keep == 0 else (at[0], before[1])
    return at, ", ".join(dict.fromkeys(word for word in caught.words if word))


def _own_catch(context: ToolContext, begun: _Begun, pencil: Pencil) -> tuple[float, float] | None:
    """Return the line's own first point where the pencil is near it."""
    if len(begun.places) < 2 or begun.under is None:
        return None
    place = begun.under.met(context, pencil)
    if place is None:
        return None
    parts = begun.under.plane.parts_of(place)
    mm = parts[0] * begun.under.plane.wide, parts[1] * begun.under.plane.high
    first = begun.places[0]
    within = CATCH * context.per_step(begun.under.place)
    return first if abs(mm[0] - first[0]) <= within and abs(mm[1] - first[1]) <= within else None


def _closes(begun: _Begun, here: tuple[float, float]) -> bool:
    return len(begun.places) > 2 and here == begun.places[0]


def _away(context: ToolContext, begun: _Begun, here: tuple[float, float]) -> bool:
    surface = begun.plane or surface_of(_volume(context, begun), begun.face)[0]
    run = surface.world(np.array([begun.places[-1], here]))
    return _far(run) > CATCH * context.per_step(run[0])


def _as_far(last: tuple[float, float], here: tuple[float, float], typed: float) -> tuple[float, float]:
    """Return the place so far from the last point, the way the pencil lies."""
    way = np.subtract(here, last)
    size = float(np.hypot(*way))
    if size <= 0.0:
        way, size = np.array([1.0, 0.0]), 1.0
    found = np.asarray(last) + typed / size * way
    return float(found[0]), float(found[1])


def _mark(
    context: ToolContext, begun: _Begun, places: tuple[tuple[float, float], ...], wish: LinePlan, *, closed: bool
) -> CurveMark:
    _, reach = surface_of(_volume(context, begun), begun.face)
    points = tuple(
        CurvePoint(
            at=(place[0] / reach[0], place[1] / reach[1]), then=wish.then, bow=wish.bow if wish.then == "arc" else 0.0
        )
        for place in places
    )
    return CurveMark(face=begun.face, points=points, closed=closed, soft=wish.soft, mirrored=wish.mirrored)


def _laid(
    context: ToolContext, begun: _Begun, places: tuple[tuple[float, float], ...], wish: LinePlan, *, closed: bool
) -> Edit | str:
    if len(places) < 2:
        return tr("A line needs two points.")
    document = context.drawing.document
    try:
        if begun.plane is not None:
            return draw_on_plane(document, str(begun.face), _plane_line(places, wish, closed=closed))
        mark = _mark(context, begun, places, wish, closed=closed)
        return lay_mark(document, _volume(context, begun).id, mark)
    except DocumentError as error:
        return str(error)


def _plane_line(places: tuple[tuple[float, float], ...], wish: LinePlan, *, closed: bool) -> PlaneLine:
    bow = wish.bow if wish.then == "arc" else 0.0
    points = tuple(
        CurvePoint(at=(Measured(mm=round(x, 6)), Measured(mm=round(y, 6))), then=wish.then, bow=bow)
        for x, y in places
    )
    return PlaneLine(points=points, closed=closed, soft=wish.soft)


def _drawn(
    context: ToolContext, begun: _Begun, places: tuple[tuple[float, float], ...], wish: LinePlan
) -> tuple[Surface, Path]:
    """Return what a line is drawn on, and its path there."""
    if begun.plane is not None:
        return begun.plane, line_on_plane(_plane_line(places, wish, closed=False))
    return line_on(_mark(context, begun, places, wish, closed=False), _volume(context, begun))


def _showing(
    context: ToolContext,
    begun: _Begun,
    places: tuple[tuple[float, float], ...],
    wish: LinePlan,
    pencil: Pencil,
    refusal: str,
    words: str = "",
) -> Preview:
    """Return the line as it is now, and how long its last run is."""
    if len(places) < 2 or places[-1] == places[-2]:
        return Preview(_ON, refusal=refusal, step=len(begun.places) - 1)
    surface, path = _drawn(context, begun, places, wish)
    drawn = surface.world(path.at(np.linspace(0.0, 1.0, 25)).reshape(-1, 2))
    if begun.under is not None:
        drawn = np.array([begun.under.on_copy(place) for place in drawn])
    run = surface.world(np.array(places[-2:]))
    unit = context.drawing.document.unit
    said = format_length(round(_far(run), 1), unit)
    whole = format_length(round(path.true_length(surface), 1), unit)
    text = ", ".join(
        part for part in (said, tr("{whole} in all", whole=whole) if len(places) > 2 else "", words) if part
    )
    return Preview(_ON, live=lines_of(context, drawn, closed=False), notes=(Note(text, pencil.u, pencil.v),), refusal=refusal, step=len(begun.places) - 1)  # fmt: skip


def _far(run: Floats) -> float:
    return float(np.sqrt(((run[1] - run[0]) ** 2).sum()))
