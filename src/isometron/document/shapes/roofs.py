"""Roofs laid over blocks, and fences: ways to begin; from then on they are cut bodies and rows like others."""

from __future__ import annotations

from math import cos, radians, tan
from typing import Literal

import msgspec

from isometron.document.edits import Edit, fresh_id, fresh_name, with_volumes
from isometron.document.joins import joined_as_it_lies
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.companions import laid_by
from isometron.document.shapes.shaping import shared_fields
from isometron.volumes.box import Box
from isometron.volumes.cut.corners import CutProfile, ProfileCorner
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.holds import Held, Measured
from isometron.volumes.relations import Repeat
from isometron.wording import tr

__all__ = ["ROOFS", "RoofKind", "fence", "roof_over"]

RoofKind = Literal["gabled", "hipped", "lean-to"]
ROOFS: tuple[RoofKind, ...] = ("gabled", "hipped", "lean-to")
_START, _END = Measured(mm=0.0), Measured(from_="end", mm=0.0)


def roof_over(
    document: Document, volume_id: str, kind: RoofKind, *, slope_deg: float, eaves: float, gable: float, thick: float
) -> Edit:
    """Lay a roof over a block, its ridge along the longer side: overhang at the eaves and at the gables, and thickness, in mm.

    Under a gabled roof and a lean-to the walls go up to it; a hipped one is solid, as thick as that at its eaves. The roof is joined to the
    walls and follows their length and width. Raises `DocumentError` in words.
    """
    walls = document.volume(volume_id)
    if not isinstance(walls, Box) or not walls.upright:
        raise DocumentError(tr("A roof is laid over an upright block; {volume} is none.", volume=walls.name))
    if not (5.0 <= slope_deg <= 75.0 and thick > 0.0 and eaves >= 0.0 and gable >= 0.0):
        raise DocumentError(
            tr("A roof has a slope from 5° to 75° and a thickness, and overhangs of nothing or more.")
        )
    along = 0 if walls.size[0] >= walls.size[1] else 1
    slope = tan(radians(slope_deg))
    upright = thick / cos(radians(slope_deg))
    body: AnyVolume
    if kind == "hipped":
        body, roof = walls, _hipped(walls, along, slope, eaves, upright)
    else:
        body, roof = _pitched(walls, along, slope, eaves, gable, upright, lean=kind == "lean-to")
    names = tr("Roof of {walls}", walls=body.name), "roof"
    return laid_by(document, body, roof, names, (0, 1), tr("lay a roof over {volume}", volume=body.name))


def _profile(*corners: tuple[Held, Held]) -> CutProfile:
    return CutProfile.through(ProfileCorner(at=at) for at in corners)


def _end(mm: float) -> Measured:
    return Measured(from_="end", mm=round(mm, 6))


def _from(mm: float) -> Measured:
    return Measured(mm=round(mm, 6))


def _roof(
    walls: Box, along: int, over: tuple[float, float], low: float, high: float, **profiles: CutProfile
) -> CutBody:
    """Return a roof that reaches ``over`` (along, across) mm beyond the walls, from ``low`` over their top, so high."""
    out = over if along == 0 else over[::-1]
    fields = shared_fields(
        msgspec.structs.replace(walls, marks=(), wall=0.0, rounded=(), joined=None, keep=None, copies=(), mirror=None)
    )
    body = CutBody(**fields)  # type: ignore[arg-type]
    corner = _moved(walls, (-out[0], -out[1], walls.size[2] + low))
    size = (walls.size[0] + 2 * out[0], walls.size[1] + 2 * out[1], high)
    return msgspec.structs.replace(body, corner=corner, size=size, **profiles)


def _moved(walls: Box, by: tuple[float, float, float]) -> tuple[float, float, float]:
    yaw = radians(walls.yaw_deg)
    x, y, z = walls.corner
    return x + by[0] * cos(yaw) - by[1] * _sin(yaw), y + by[0] * _sin(yaw) + by[1] * cos(yaw), z + by[2]


def _sin(angle: float) -> float:
    return cos(angle - radians(90.0))


def _pitched(
    walls: Box, along: int, slope: float, eaves: float, gable: float, upright: float, *, lean: bool
) -> tuple[CutBody, CutBody]:
    """Return the walls that go up to the roof, and the roof: a slab of two slopes, or of one."""
    span = walls.size[1 - along]
    rise = slope * span if lean else slope * span / 2.0
    view = "front" if along == 0 else "side"
    below, above = slope * eaves, rise + slope * eaves
    if lean:
        gable_end = _profile((_START, _START), (_END, _START), (_END, _END), (_START, _end(rise)))
        slab = _profile((_START, _START), (_END, _end(upright)), (_END, _END), (_START, _from(upright)))
        high = below + above + upright
    else:
        gable_end = _profile((_START, _START), (_END, _START), (_END, _end(rise)), (0.5, _END), (_START, _end(rise)))
        slab = _profile((_START, _START), (0.5, _end(upright)), (_END, _START), (_END, _from(upright)), (0.5, _END), (_START, _from(upright)))  # fmt: skip
        high = below + rise + upright
    size = (walls.size[0], walls.size[1], walls.size[2] + rise)
    body = CutBody(**shared_fields(walls) | {"size": size, view: gable_end})  # type: ignore[arg-type]
    return body, _roof(walls, along, (gable, eaves), -below, high, **{view: slab})


def _hipped(walls: Box, along: int, slope: float, eaves: float, upright: float) -> CutBody:
    """Return a roof of four slopes on a board as thick as its eaves."""
    span = walls.size[1 - along] + 2 * eaves
    high = slope * span / 2.0 + upright
    hips = (_profile((_START, _START), (_END, _START), (_END, _from(upright)), (_end(span / 2.0), _END), (_from(span / 2.0), _END), (_START, _from(upright))))  # fmt: skip
    ends = _profile((_START, _START), (_END, _START), (_END, _from(upright)), (0.5, _END), (_START, _from(upright)))
    long, short = ("side", "front") if along == 0 else ("front", "side")
    return _roof(walls, along, (eaves, eaves), 0.0, high, **{long: hips, short: ends})


Spacing = Literal["posts", "pitch", "gap"]


def fence(
    document: Document,
    *,
    long: float,
    high: float,
    by: Spacing,
    apart: float,
    post: float,
    rails: int,
    thick: float,
    before: bool,
) -> Edit:
    """Lay a fence: square posts, and level rails between its ends, through the posts or before them; all in mm.

    by, apart : so many posts over the whole length, the pitch from one to the next, or the gap that is clear between two. Raises
    `DocumentError` in words.
    """
    if by == "posts" and not apart >= 2.0:
        raise DocumentError(tr("A fence has two posts or more."))
    pitch = {"posts": (long - post) / max(round(apart) - 1, 1), "pitch": apart, "gap": apart + post}[by]
    if not (long > post > 0.0 and high > 0.0 and pitch > post and thick > 0.0 and 0 <= rails <= 40):
        raise DocumentError(
            tr(
                "A fence is longer than a post is thick, there is a gap between its posts, and it has 40 rails at most."
            )
        )
    count = round(apart) if by == "posts" else int((long - post) / pitch + 1e-9) + 1
    if count > 400:
        raise DocumentError(
            tr("{count} posts are too many for a row; 400 is the most: make the pitch wider.", count=count)
        )
    y = min((volume.corner[1] for volume in document.volumes), default=0.0) - (
        2.0 * high if document.volumes else 0.0
    )
    reach = (count - 1) * pitch + post
    name, group = fresh_name(document, tr("Post")), fresh_name(document, tr("Fence"))
    posts = Box(
        id=fresh_id(document, "post"), name=name, corner=(0.0, y, 0.0), size=(post, post, high), group=group,
        copies=(Repeat(along="long", count=count, pitch=pitch),) if count > 1 else (),
    )  # fmt: skip
    made: list[AnyVolume] = [checked(posts, "post")]
    if rails:
        wide = 1.6 * thick
        deep = y - thick if before else y + (post - thick) / 2.0
        step = (high - wide) / rails
        rail = Box(
            id=fresh_id(document, "rail"), name=fresh_name(document, tr("Rail")), corner=(0.0, deep, 0.5 * step), group=group,
            size=(reach, thick, wide), copies=(Repeat(along="high", count=rails, pitch=step),) if rails > 1 else (),
        )  # fmt: skip
        joined = joined_as_it_lies(rail, posts) if before else None
        made.append(checked(msgspec.structs.replace(rail, joined=joined), "rail"))
    ids = tuple(volume.id for volume in made)
    return Edit(tr("lay a fence"), with_volumes(document, (*document.volumes, *made), ids), ids)
