"""A turned body from its outline: a pull across its foot, then points up one side; over a picture its edges catch them."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass, field

import numpy as np

from isometron.document.edits import Edit, add_volume, fresh_id, fresh_name
from isometron.document.lengths.units import format_length
from isometron.document.pictures.placing import picture_under, to_paper, to_pixels
from isometron.errors import IsometronError
from isometron.geometry.frames import Floats
from isometron.match.outline import axle_between, profile_of_outline
from isometron.pictures.edges import caught_point
from isometron.pictures.rasters import grey_of
from isometron.tools.followed_outline import followed_outline
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.tools.pulling import on_plane
from isometron.volumes.turned import ProfileRing, Turned
from isometron.wording import tr

__all__ = ["outline_tool"]

_FOOT = tr("Pull across the foot of the body, from its left end to its right end on the ground.")
_SIDE = tr(
    "Click up one side of its outline, from the foot to the top, or press Enter at once: the picture's edge is followed. "
    "Shift: the side runs straight on from there. Enter: done."
)
_UP = np.array([0.0, 0.0, 1.0])
_LEAST = 6.0
_MOST = 58
_REACH = 5.0


@dataclass
class _Traced:
    """The axle's foot (3,), the right end of the foot on paper, and what was traced: places on paper and whether the side runs straight
    on; by_hand : foot and end as the hand laid them, where the first ``followed`` points were followed in the picture."""

    foot: Floats
    end: tuple[float, float]
    points: list[tuple[float, float]] = field(default_factory=list)
    straight: list[bool] = field(default_factory=list)
    by_hand: tuple[Floats, tuple[float, float]] | None = None
    followed: int = 0


def outline_tool(context: ToolContext) -> Tool:
    """Draw a turned body that stands upright on the ground by half of its outline."""
    pencil = yield Preview(_FOOT)
    while True:
        if pencil.act is not Act.PRESS:
            pencil = yield Preview(_FOOT)
            continue
        traced = yield from _foot(context, pencil)
        edit = None if traced is None else (yield from _side(context, traced))
        if edit is not None:
            return edit
        pencil = yield Preview(_FOOT)


def _foot(context: ToolContext, pressed: Pencil) -> Generator[Preview, Pencil, _Traced | None]:
    """Pull from one end of the foot to the other; return where the axle stands, or None when it was given up."""
    eye = context.drawing.document.eye
    start, pencil, refusal = (pressed.u, pressed.v), pressed, ""
    while True:
        ends = [on_plane(eye, np.zeros(3), _UP, u, v) for u, v in (start, (pencil.u, pencil.v))]
        far = float(np.hypot(pencil.u - start[0], pencil.v - start[1]))
        refusal = ""
        if ends[0] is None or ends[1] is None:
            refusal = tr("Above the horizon there is no ground. Press below it.")
        elif far > _LEAST * context.grain:
            foot = np.append(axle_between(eye, ends[0], ends[1]), 0.0)
            if pencil.act in (Act.RELEASE, Act.ENTER):
                return _Traced(foot, max(start, (pencil.u, pencil.v)))
        elif pencil.act is Act.RELEASE:
            return None
        line = np.array([[*start, pencil.u, pencil.v]])
        pencil = yield Preview(_FOOT, live=line, refusal=refusal, step=0)
        if pencil.act is Act.BACK:
            return None


def _side(context: ToolContext, traced: _Traced) -> Generator[Preview, Pencil, Edit | None]:
    refusal = ""
    pencil = yield _shown(context, traced, None, refusal)
    while True:
        refusal = ""
        if pencil.act is Act.BACK:
            if not _back(traced):
                return None
        elif pencil.act is Act.PRESS:
            at = _caught(context, traced, pencil)
            if len(traced.points) >= _MOST:
                refusal = tr("A profile has {most} rings at most. Press Enter.", most=_MOST)
            elif (
                not traced.points
                or np.hypot(at[0] - traced.points[-1][0], at[1] - traced.points[-1][1]) > context.grain
            ):
                traced.points.append(at)
                traced.straight.append(pencil.straight)
        elif pencil.act is Act.ENTER and not traced.points and _follows(context, traced):
            pass  # what was followed is shown, and may be gone on from
        elif pencil.act is Act.ENTER:
            try:
                return _edit(context, traced)
            except IsometronError as error:
                refusal = str(error)
        pencil = yield _shown(context, traced, pencil, refusal)


def _follows(context: ToolContext, traced: _Traced) -> bool:
    """Let the picture tell the outline and where the foot stands; False where it tells nothing."""
    found = followed_outline(context.drawing.document, traced.foot, traced.end)
    if found is None:
        return False
    traced.by_hand = (traced.foot, traced.end)
    traced.foot, traced.points, traced.straight = found.foot, found.points, found.straight
    traced.end, traced.followed = found.points[0], len(found.points)
    return True


def _back(traced: _Traced) -> bool:
    """Take back the last point, or in one step all that was followed; False where there is nothing to take back."""
    if traced.by_hand is not None and len(traced.points) == traced.followed:
        (traced.foot, traced.end), traced.by_hand = traced.by_hand, None
        traced.points, traced.straight = [], []
        return True
    if not traced.points:
        return False
    traced.points.pop()
    traced.straight.pop()
    return True


def _caught(context: ToolContext, traced: _Traced, pencil: Pencil) -> tuple[float, float]:
    """Return where a point of the outline is, on paper: at the picture's edge beside the pencil."""
    document = context.drawing.document
    picture = picture_under(document)
    grey = None if picture is None else grey_of(picture, document.file_of(picture))
    if picture is None or grey is None or not traced.points:
        return pencil.u, pencil.v
    here, before = to_pixels(picture, document.sheet, [[pencil.u, pencil.v], traced.points[-1]])
    way = here - before
    if not np.hypot(*way) > 1.0:
        return pencil.u, pencil.v
    reach = min(_REACH * max(context.grain / picture.pixel, 1.0), 20.0)
    caught = caught_point(grey, (float(here[0]), float(here[1])), way, reach)
    u, v = to_paper(picture, document.sheet, [caught])[0]
    return float(u), float(v)


def _body(context: ToolContext, traced: _Traced) -> Turned | None:
    """Return the body of what was traced, rings from its foot up; None while that is none."""
    document = context.drawing.document
    if len(traced.points) < 2:
        return None
    heights, radii = profile_of_outline(document.eye, traced.foot, np.array(traced.points))
    if traced.by_hand is not None:  # the foot's own rim, whose place is known
        heights[0], radii[0] = 0.0, _foot_radius(context, traced)
    rings = sorted(zip(heights.tolist(), radii.tolist(), traced.straight, strict=True), key=lambda ring: ring[0])
    heights, radii = np.array([ring[0] for ring in rings]), np.array([ring[1] for ring in rings])
    high, wide = float(heights[-1]), 2.0 * float(radii.max())
    if not (np.isfinite(heights).all() and np.isfinite(radii).all() and high > 0.01 and wide > 0.01):
        return None
    # The foot stands on the ground, whatever the hand's tremble says.
    at = np.clip((heights - heights[0]) / max(high - float(heights[0]), 0.01), 0.0, 1.0)
    profile = tuple(
        ProfileRing(
            at=round(float(a), 6), wide=round(float(2.0 * r / wide), 6), then="straight" if sharp else "smooth"
        )
        for a, r, (_, _, sharp) in zip(at, radii, rings, strict=True)
    )
    name = fresh_name(document, tr("Turned body"))
    x, y, _ = traced.foot
    corner = (round(float(x) - wide / 2.0, 6), round(float(y) - wide / 2.0, 6), 0.0)
    return Turned(id=fresh_id(document, name), name=name, corner=corner, size=(wide, wide, high), profile=profile)


def _foot_radius(context: ToolContext, traced: _Traced) -> float:
    """Return the radius (mm) of the foot's rim, whose end the sight line touches."""
    eye = context.drawing.document.eye
    place = on_plane(eye, np.zeros(3), _UP, *traced.end)
    to_axle = traced.foot[:2] - eye.place[:2]
    if place is None:
        return float("nan")
    to_end = place[:2] - eye.place[:2]
    across = to_axle[0] * to_end[1] - to_axle[1] * to_end[0]
    return abs(float(across)) / max(float(np.hypot(*to_end)), 1e-12)


def _edit(context: ToolContext, traced: _Traced) -> Edit:
    body = _body(context, traced)
    if body is None:
        raise OutlineRefused(tr("Click at least two points up one side, the last one at the top."))
    return add_volume(context.drawing.document, body)


class OutlineRefused(IsometronError, ValueError):  # noqa: N818 (said to a person, no fault)
    """An outline that is none yet."""


def _shown(context: ToolContext, traced: _Traced, pencil: Pencil | None, refusal: str) -> Preview:
    """Show what was traced, and the body that it would be."""
    points = np.array(traced.points).reshape(-1, 2)
    lines = np.hstack([points[:-1], points[1:]])
    axle, depth = context.drawing.document.eye.project(np.array([traced.foot, traced.foot + _UP]))
    guides = np.zeros((0, 4))
    if (depth > 0.0).all():
        way = (axle[1] - axle[0]) / max(float(np.hypot(*(axle[1] - axle[0]))), 1e-12)
        guides = np.array([[*axle[0], *(axle[0] + 400.0 * way)]])
    edit, notes = None, list[Note]()
    body = _body(context, traced)
    if body is not None:
        try:
            edit = add_volume(context.drawing.document, body)
        except IsometronError as error:
            refusal = refusal or str(error)
        if pencil is not None:
            unit = context.drawing.document.unit
            words = f"⌀ {format_length(round(body.size[0], 1), unit)} · {format_length(round(body.size[2], 1), unit)}"
            notes = [Note(words, pencil.u, pencil.v)]
    return Preview(
        _SIDE, live=lines, guides=guides, notes=tuple(notes), refusal=refusal, step=1 + len(points), edit=edit
    )
